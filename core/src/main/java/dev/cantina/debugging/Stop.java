package dev.cantina.debugging;

import dev.cantina.runtime.Frame;
import dev.cantina.runtime.TableChanges;
import dev.cantina.types.Condition;
import java.util.List;
import java.util.Optional;

/**
 * A moment at which a run stands still.
 *
 * @param frame good until the run goes on
 * @param changed the variables of this frame that have changed since the last stop in it
 * @param rows the rows that have changed since the last stop
 * @param condition what was raised, where that is the reason
 * @param breakpoint which one, where that is the reason
 */
public record Stop(
        Reason reason,
        Frame frame,
        List<VariableChange> changed,
        List<TableChanges> rows,
        Optional<Condition> condition,
        Optional<Breakpoint> breakpoint) {
    /** Why a run stands still. */
    public enum Reason {
        START,
        STEP,
        BREAKPOINT,
        CONDITION
    }

    /** A variable's value at the last stop in its frame and now; the first stop has none before. */
    public record VariableChange(String name, boolean isFirst, Object before, Object after) {}
}
