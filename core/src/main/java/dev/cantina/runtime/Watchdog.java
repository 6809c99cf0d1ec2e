package dev.cantina.runtime;

import java.util.concurrent.Future;
import java.util.concurrent.ScheduledThreadPoolExecutor;
import java.util.concurrent.TimeUnit;

/** Ends statements of the database that outlast their session's limit of seconds. */
final class Watchdog {
    private static final double LONGEST_SECONDS = 1e9;

    private final ScheduledThreadPoolExecutor timer =
            new ScheduledThreadPoolExecutor(
                    1,
                    work -> {
                        Thread thread = new Thread(work, "limits");
                        thread.setDaemon(true);
                        return thread;
                    });

    Watchdog() {
        timer.setRemoveOnCancelPolicy(true);
        timer.setKeepAliveTime(1, TimeUnit.SECONDS);
        timer.allowCoreThreadTimeOut(true);
    }

    /** Does this after so many seconds, unless it is cancelled before. */
    Future<?> after(double seconds, Runnable action) {
        long millis = (long) (Math.min(seconds, LONGEST_SECONDS) * 1000) + 1;
        return timer.schedule(action, millis, TimeUnit.MILLISECONDS);
    }
}
