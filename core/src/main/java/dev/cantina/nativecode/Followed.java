package dev.cantina.nativecode;

import com.fasterxml.jackson.databind.JsonNode;
import dev.cantina.runtime.Frame;
import java.util.Optional;

/** The routines whose probes are heard, and the frames that they make. */
public interface Followed {
    /** A frame for a routine, by its number. */
    Frame frame(int routine);

    /** Whether a statement is the first of what handles a condition, and says so by itself. */
    boolean beginsHandler(int routine, int statement);

    /** Takes what is told of a frame's variables at a statement. */
    void take(Frame frame, int routine, int statement, JsonNode values);

    /** Takes what a routine that has ended has told of what it gives. */
    default void gives(Frame frame, int routine, JsonNode values) {}

    /**
     * What has been changed in a frame that stands, in JSON; empty where that is not known by the
     * frame.
     */
    default Optional<String> answer(Frame frame) {
        return Optional.empty();
    }

    /** Whether a routine says that it has come to its end, and what it gives. */
    default boolean saysItsEnd(int routine) {
        return isSetOff();
    }

    /** Whether all frames are those of routines that a statement sets off, and none is called. */
    default boolean isSetOff() {
        return false;
    }

    /** Begins a task on another thread. */
    default void start(Runnable task) {
        Thread thread = new Thread(task, "server");
        thread.setDaemon(true);
        thread.start();
    }
}
