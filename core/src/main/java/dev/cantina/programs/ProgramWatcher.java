package dev.cantina.programs;

import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.Probe;

/** Watches what a program runs: a debugger that somebody may attach. */
public interface ProgramWatcher {
    /** What watches the runs of one more connection. */
    Watch connection();

    /** Watches the runs of one connection. */
    interface Watch {
        /** The probe of its session. */
        Probe probe();

        /**
         * Makes a run.
         *
         * @return what the last one came to, where it was repeated
         */
        Outcome watch(Run run);
    }

    /** A run that can be made again, from where it began. */
    interface Run {
        Outcome once();

        /** Whether all that it did can still be taken back. */
        boolean canGoBack();

        /** Takes back what it did. */
        void undo();

        /** Ends it as soon as it can be ended; may be called from any thread. */
        void interrupt();
    }
}
