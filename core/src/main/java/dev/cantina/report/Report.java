package dev.cantina.report;

import dev.cantina.observe.Coverage;
import dev.cantina.testing.CaseResult;
import dev.cantina.testing.Difference;
import dev.cantina.types.Values;
import dev.cantina.types.Words;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * What a report is made of.
 *
 * @param results in the order of the files
 * @param coverage where it was measured
 */
public record Report(
        String project,
        Instant at,
        double elapsedMillis,
        List<CaseResult> results,
        Optional<Coverage> coverage) {
    /** A difference in one line. */
    static String line(Difference difference) {
        String by =
                difference
                        .writer()
                        .map(w -> " (by " + w.routine() + ", " + w.place().place() + ")")
                        .orElse("");
        return difference.at()
                + ": expected "
                + shown(difference.expected())
                + ", actual "
                + shown(difference.actual())
                + by;
    }

    static String shown(Object value) {
        return value instanceof Words words ? words.text() : Values.literal(value);
    }

    /** Why a case did not pass, a line each. */
    static List<String> reasons(CaseResult result) {
        if (result.problem().isPresent()) {
            return List.of(
                    result.problem().get().span().place()
                            + ": "
                            + result.problem().get().message());
        }
        return result.differences().stream().map(Report::line).toList();
    }

    long count(CaseResult.Verdict verdict) {
        return results.stream().filter(r -> r.verdict() == verdict).count();
    }
}
