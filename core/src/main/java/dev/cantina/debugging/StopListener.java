package dev.cantina.debugging;

/** Is told of each stop, and decides how the run goes on. */
public interface StopListener {
    /** Called on the session's thread, which waits for the answer. */
    Resume stopped(Stop stop);

    /** A breakpoint's condition could not be worked out, which counts as not true. */
    default void troubled(Breakpoint breakpoint, String message) {}
}
