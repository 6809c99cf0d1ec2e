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
 * @param moment by which it can be come back to
 * @param changed the variables of this frame that have changed since the last stop in it
 * @param rows the rows that have changed since the last stop
 * @param condition what was raised, where that is the reason
 * @param breakpoint which one, where that is the reason
 * @param notes what else there is to say: what going back has undone, for one
 */
public record Stop(
        Reason reason,
        Frame frame,
        ExecutionPoint moment,
        List<VariableChange> changed,
        List<TableChanges> rows,
        Optional<Condition> condition,
        Optional<Breakpoint> breakpoint,
        List<String> notes) {
    /**
     * The line that it stands at: of its statement, or of the END of a routine that is about to
     * end.
     */
    public int line() {
        return moment.phase() == ExecutionPoint.Phase.END
                ? Breakpoints.endLine(frame.routine())
                : frame.place().span().line();
    }

    /** Why a run stands still. */
    public enum Reason {
        START,
        STEP,
        /** Somebody has broken in. */
        BREAK_IN,
        BREAKPOINT,
        CONDITION,
        /** A variable has changed: the first of {@link #changed}. */
        CHANGE,
        /** A table was written to: the first of {@link #rows}. */
        WRITE,
        END,
        BACK,
        /** A moment that was asked for from outside. */
        ASKED
    }

    /**
     * A variable's value at the last stop in its frame and now; the first stop has none before.
     *
     * @param line of the statement that changed it, where that is known; otherwise 0
     */
    public record VariableChange(
            String name, boolean isFirst, Object before, Object after, int line) {}
}
