package dev.cantina.debugging;

/**
 * A moment of a run, which comes again when the run is repeated.
 *
 * @param statement the number of the statement that it is about: how many had begun with it
 * @param begun how many have begun by then; those that the statement set off are among them
 */
public record ExecutionPoint(long statement, Phase phase, long begun) {
    /** What stands still at a moment. */
    public enum Phase {
        /** The statement is about to begin. */
        BEFORE,
        /** It has raised a condition, which nothing has taken yet. */
        RAISED,
        /** It has changed rows, and has not ended yet. */
        WRITTEN,
        /** It was the last of its routine, which is about to give what it gives. */
        END
    }

    static ExecutionPoint before(long statement) {
        return new ExecutionPoint(statement, Phase.BEFORE, statement);
    }

    boolean isAfter(ExecutionPoint other) {
        return begun > other.begun || begun == other.begun && phase.compareTo(other.phase) > 0;
    }
}
