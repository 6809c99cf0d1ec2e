package dev.cantina.debugging;

import dev.cantina.runtime.Frame;

/** Is told of each stop, and decides how the run goes on. */
public interface StopListener {
    /** Called on the session's thread, which waits for the answer. */
    Resume stopped(Stop stop);

    /** A breakpoint's condition could not be worked out, which counts as not true. */
    default void troubled(Breakpoint breakpoint, String message) {}

    /** A breakpoint that only tells something was reached. */
    default void told(Breakpoint breakpoint, Frame frame, String text) {}

    /** The run has said something. */
    default void said(String message) {}
}
