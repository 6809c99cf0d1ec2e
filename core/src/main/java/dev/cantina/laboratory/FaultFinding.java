package dev.cantina.laboratory;

import dev.cantina.project.Invariants;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.TableChanges;
import java.util.List;

/**
 * What became of a run in which something went wrong.
 *
 * @param faults what went wrong, in order: the second behind the first
 * @param statement the text of the statement that the last of them came to, on one line
 * @param rows what of the data stayed changed
 * @param left those rows
 * @param isTold whether the caller can know of it: by a condition, or by other values
 * @param isLeftOpen whether a transaction was open at the end that is not without the fault
 * @param broken the invariants that do not hold afterwards
 * @param outcome of the run
 */
public record FaultFinding(
        List<Fault> faults,
        String statement,
        Rows rows,
        List<TableChanges> left,
        boolean isTold,
        boolean isLeftOpen,
        List<Invariants.Broken> broken,
        Outcome outcome) {
    /** What of the data a run has changed, beside what it changes when nothing goes wrong. */
    public enum Rows {
        /** Nothing. */
        NONE,
        /** The same. */
        ALL,
        /** Rows that are not changed when nothing goes wrong: a line in a log. */
        OTHERS,
        /** A part of it, or something else in the same rows. */
        PART
    }

    /** How bad it is; 0 where there is nothing to find. */
    public int weight() {
        if (!broken.isEmpty()) {
            return 5;
        }
        if (rows == Rows.PART) {
            return isTold ? 3 : 4;
        }
        if (rows != Rows.ALL && !isTold) {
            return 2;
        }
        return isLeftOpen ? 1 : 0;
    }

    /** What is bad about it, in words. */
    public String verdict() {
        if (!broken.isEmpty()) {
            return "breaks '" + broken.get(0).invariant().name() + "'";
        }
        return switch (weight()) {
            case 4 -> "a part stays, and the caller is told that all went well";
            case 3 -> "a part stays";
            case 2 -> "not done, and the caller is told that all went well";
            case 1 -> "a transaction is left open";
            default ->
                    rows == Rows.ALL
                            ? "done all the same"
                            : "nothing stays, and the caller is told";
        };
    }
}
