package dev.cantina.cli;

import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;

/**
 * Ctrl-C ends what runs in good order: the process waits a moment for the rollback and for what is
 * still to be said, and then ends with 130.
 */
final class Interrupts {
    private static final int PATIENCE_SECONDS = 5;

    private final CountDownLatch done = new CountDownLatch(1);
    private volatile Runnable action;

    /** Makes an interrupt of this process do what {@link #during} says. */
    Interrupts install() {
        Runtime.getRuntime().addShutdownHook(new Thread(this::interrupted, "interrupt"));
        return this;
    }

    private void interrupted() {
        Runnable what = action;
        if (what == null || done.getCount() == 0) {
            return;
        }
        what.run();
        try {
            if (!done.await(PATIENCE_SECONDS, TimeUnit.SECONDS)) {
                System.err.println("cantina: interrupted while the database was busy");
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    /** From now on an interrupt does this. */
    void during(Runnable what) {
        action = what;
    }

    /** Does now what an interrupt does, and goes on. */
    void now() {
        Runnable what = action;
        if (what != null) {
            what.run();
        }
    }

    /** Nothing runs any more, and all is said. */
    void finished() {
        done.countDown();
    }
}
