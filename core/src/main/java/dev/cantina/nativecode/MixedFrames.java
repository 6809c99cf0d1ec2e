package dev.cantina.nativecode;

import com.fasterxml.jackson.databind.JsonNode;
import dev.cantina.runtime.Frame;
import java.util.Optional;

/**
 * The frames of routines of which some are copies of routines in the standard language, and some in
 * the server's own: the numbers of the copies come first.
 *
 * @param copied how many copies there are
 */
public record MixedFrames(int copied, PlacedFrames copies, NativeFrames own) implements Followed {
    /**
     * The frames of routines in a server's own language, and of copies where there are some.
     *
     * @param values how the server tells those of copies
     */
    public static Followed of(
            Optional<PlacedRoutines> copies, PlacedFrames.Values values, NativeFrames own) {
        return copies.isEmpty()
                ? own
                : new MixedFrames(
                        copies.get().count(), new PlacedFrames(copies.get(), values), own);
    }

    @Override
    public Frame frame(int routine) {
        return routine < copied ? copies.frame(routine) : own.frame(routine - copied);
    }

    @Override
    public boolean beginsHandler(int routine, int statement) {
        return routine >= copied && own.beginsHandler(routine - copied, statement);
    }

    @Override
    public void take(Frame frame, int routine, int statement, JsonNode values) {
        if (routine < copied) {
            copies.take(frame, routine, statement, values);
        } else {
            own.take(frame, routine - copied, statement, values);
        }
    }

    @Override
    public void gives(Frame frame, int routine, JsonNode values) {
        if (routine < copied) {
            copies.gives(frame, routine, values);
        } else {
            own.gives(frame, routine - copied, values);
        }
    }

    @Override
    public Optional<String> answer(Frame frame) {
        return frame.isElsewhere() ? copies.answer(frame) : Optional.empty();
    }

    @Override
    public boolean saysItsEnd(int routine) {
        return routine < copied || own.saysItsEnd(routine - copied);
    }
}
