package dev.cantina.runtime;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * Which statement wrote what: the places of the transaction's log from which on another statement
 * was the writer.
 */
final class Writers {
    /** From {@code position} on, {@code frame}'s routine wrote, at its statement {@code at}. */
    private record Turn(long position, RoutineCode code, int at, StackEntry entry) {}

    private final List<Turn> turns = new ArrayList<>();

    /** Whether the last writer was this statement already. */
    boolean continues(Frame frame) {
        return frame != null
                && !turns.isEmpty()
                && turns.get(turns.size() - 1).code == frame.code()
                && turns.get(turns.size() - 1).at == frame.at;
    }

    /** From here on the changes are those of a frame's statement; of nobody's where it is null. */
    void begin(long position, Frame frame) {
        RoutineCode code = frame == null ? null : frame.code();
        int at = frame == null ? 0 : frame.at;
        if (!turns.isEmpty()) {
            Turn last = turns.get(turns.size() - 1);
            if (last.code == code && last.at == at) {
                return;
            }
            if (last.position == position) {
                turns.remove(turns.size() - 1);
            }
        }
        turns.add(new Turn(position, code, at, frame == null ? null : frame.entry()));
    }

    /** What was written after a position has been taken back. */
    void truncate(long position) {
        while (!turns.isEmpty() && turns.get(turns.size() - 1).position > position) {
            turns.remove(turns.size() - 1);
        }
    }

    /** The writer of what stands right after a position. */
    Optional<StackEntry> at(long position) {
        int low = 0;
        int high = turns.size() - 1;
        while (low <= high) {
            int middle = (low + high) >>> 1;
            if (turns.get(middle).position <= position) {
                low = middle + 1;
            } else {
                high = middle - 1;
            }
        }
        return high < 0 ? Optional.empty() : Optional.ofNullable(turns.get(high).entry);
    }

    void clear() {
        turns.clear();
    }
}
