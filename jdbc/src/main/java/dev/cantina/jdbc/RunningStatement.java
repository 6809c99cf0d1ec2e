package dev.cantina.jdbc;

import dev.cantina.programs.ProgramConnection;
import java.sql.SQLException;
import java.sql.SQLTimeoutException;
import java.util.concurrent.Future;
import java.util.concurrent.ScheduledThreadPoolExecutor;
import java.util.concurrent.TimeUnit;

/** What a statement runs just now, if anything: it can be cancelled, and may take its time only. */
final class RunningStatement {
    private static final ScheduledThreadPoolExecutor TIMER = timer();

    private boolean runs;
    private boolean late;

    /** Work that takes time. */
    interface Work<T> {
        T run() throws SQLException;
    }

    private static ScheduledThreadPoolExecutor timer() {
        ScheduledThreadPoolExecutor timer =
                new ScheduledThreadPoolExecutor(
                        1,
                        work -> {
                            Thread thread = new Thread(work, "cantina-jdbc-timeouts");
                            thread.setDaemon(true);
                            return thread;
                        });
        timer.setRemoveOnCancelPolicy(true);
        timer.setKeepAliveTime(1, TimeUnit.SECONDS);
        timer.allowCoreThreadTimeOut(true);
        return timer;
    }

    /**
     * Does something that {@link #cancel} ends, or the end of so many seconds; 0 for no end.
     *
     * @throws SQLTimeoutException where it has taken too long
     */
    <T> T during(ProgramConnection program, int seconds, Work<T> work) throws SQLException {
        synchronized (this) {
            runs = true;
            late = false;
        }
        Future<?> end =
                seconds == 0
                        ? null
                        : TIMER.schedule(() -> expire(program), seconds, TimeUnit.SECONDS);
        try {
            return work.run();
        } catch (SQLException e) {
            if (isLate()) {
                throw new SQLTimeoutException(
                        "it took longer than the "
                                + seconds
                                + (seconds == 1 ? " second" : " seconds")
                                + " of the statement's timeout",
                        "UL002",
                        e);
            }
            throw e;
        } finally {
            synchronized (this) {
                runs = false;
            }
            if (end != null) {
                end.cancel(false);
            }
        }
    }

    private synchronized boolean isLate() {
        return late;
    }

    private synchronized void expire(ProgramConnection program) {
        if (runs) {
            late = true;
            program.caller().interrupt();
        }
    }

    /** Ends what runs; from any thread. */
    synchronized void cancel(ProgramConnection program) {
        if (runs) {
            program.caller().interrupt();
        }
    }
}
