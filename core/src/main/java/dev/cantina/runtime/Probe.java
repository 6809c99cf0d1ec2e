package dev.cantina.runtime;

import dev.cantina.types.Condition;

/**
 * Watches a run. All calls come on the session's thread, while the run waits; whatever a method
 * throws ends the run. Each method does nothing by default.
 */
public interface Probe {
    /** A frame is on the stack, its parameters filled, before its first statement. */
    default void entered(Frame frame) {}

    /** A statement that is watched is about to run: {@code frame.at}. */
    default void reached(Frame frame) {}

    /** A frame is about to leave the stack; the condition is null where it completed. */
    default void left(Frame frame, Condition condition) {}

    /** A condition was raised, whether or not a handler takes it. */
    default void raised(Frame frame, Condition condition) {}
}
