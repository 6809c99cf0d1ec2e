package dev.cantina.runtime;

import dev.cantina.types.Condition;

/**
 * Watches a run. All calls come on the session's thread, while the run waits; whatever a method
 * throws ends the run. Each method does nothing by default.
 */
public interface Probe {
    /** How much a probe wants of a routine that a server runs. */
    enum Detail {
        /** It may hold the run at each statement, and change something in it. */
        HOLD,
        /** It hears of each statement, with the variables. */
        VALUES,
        /**
         * It hears of each statement; of those that can set off no routine, when they have run some
         * times already, only how often they did between others.
         */
        ORDER,
        /** It hears how often each statement was reached. */
        COUNTS
    }

    /** How much it wants of a routine that a server runs. */
    default Detail detail() {
        return Detail.HOLD;
    }

    /** A statement was reached some more times, beside those that were told one by one. */
    default void counted(Frame frame, int statement, long times) {}

    /**
     * Statements of a frame have run since something was told last, before what is told next: how
     * often each, by its number.
     */
    default void passed(Frame frame, long[] times) {
        for (int i = 0; i < times.length; i++) {
            if (times[i] > 0) {
                counted(frame, i, times[i]);
            }
        }
    }

    /**
     * A condition is about to end a frame, and some of the last runs of its statements were not
     * told.
     */
    default void cutShort(Frame frame) {}

    /** A frame is on the stack, its parameters filled, before its first statement. */
    default void entered(Frame frame) {}

    /** A statement that is watched is about to run: {@code frame.at}. */
    default void reached(Frame frame) {}

    /**
     * Whether {@link #performing} and {@link #performed} are wanted just now; to put together what
     * they tell takes time in each statement.
     */
    default boolean wantsData() {
        return true;
    }

    /** A statement is about to send something to the database; the rows are not known yet. */
    default void performing(Frame frame, Performed performed) {}

    /**
     * A statement has sent something to the database, which has done it; what it set off is told
     * before it.
     */
    default void performed(Frame frame, Performed performed) {}

    /** A message has come, from REPORT, or from code of the server's own. */
    default void said(String message) {}

    /** Whether anybody hears of what happens just now. */
    default boolean listens() {
        return true;
    }

    /** A body has run to its end; what it gives can be looked at and changed still. */
    default void ending(Frame frame) {}

    /** A frame is about to leave the stack; the condition is null where it completed. */
    default void left(Frame frame, Condition condition) {}

    /**
     * A condition was raised, whether or not a handler takes it; NOT FOUND and warnings, which end
     * nothing, are among them.
     */
    default void raised(Frame frame, Condition condition) {}
}
