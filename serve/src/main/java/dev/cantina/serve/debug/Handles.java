package dev.cantina.serve.debug;

import dev.cantina.debugging.DebugException;
import dev.cantina.runtime.Frame;
import dev.cantina.workbench.Shown;
import java.util.HashMap;
import java.util.Map;

/** The numbers by which an editor asks for more of a stop; they are good until the run goes on. */
final class Handles {
    /**
     * Something that can be unfolded.
     *
     * @param frame in which it is
     * @param isOfVariables whether what is in it can be set, and watched for changes
     */
    record Held(Frame frame, boolean isOfVariables, Shown.Parts parts, int size) {}

    private final Map<Integer, Held> held = new HashMap<>();
    private final Map<Integer, Frame> frames = new HashMap<>();
    private int next = 1;

    /** The run goes on: nothing that was given is good any more. */
    void clear() {
        held.clear();
        frames.clear();
    }

    int add(Held more) {
        held.put(next, more);
        return next++;
    }

    int add(Frame frame) {
        frames.put(next, frame);
        return next++;
    }

    Held held(int number) throws DebugException {
        Held found = held.get(number);
        if (found == null) {
            throw new DebugException("the run has gone on since; this is no longer there");
        }
        return found;
    }

    Frame frame(int number) throws DebugException {
        Frame found = frames.get(number);
        if (found == null) {
            throw new DebugException("the run has gone on since; this frame is no longer there");
        }
        return found;
    }
}
