package dev.cantina.testing;

import dev.cantina.runtime.Outcome;
import dev.cantina.syntax.Problem;
import java.util.List;
import java.util.Optional;

/**
 * What came of a case.
 *
 * @param differences between what was expected and what was; empty unless it failed
 * @param problem why the case could not be run, where it is broken
 * @param outcome of the routine, where it was run
 */
public record CaseResult(
        TestCase testCase,
        Verdict verdict,
        double elapsedMillis,
        List<Difference> differences,
        Optional<Problem> problem,
        Optional<Outcome> outcome) {
    /** The same without the outcome, which holds rows that a suite has no use for. */
    CaseResult withoutOutcome() {
        return new CaseResult(
                testCase, verdict, elapsedMillis, differences, problem, Optional.empty());
    }

    /** How a case ends. Broken means that the case itself could not be run. */
    public enum Verdict {
        PASSED,
        FAILED,
        BROKEN,
        SKIPPED
    }
}
