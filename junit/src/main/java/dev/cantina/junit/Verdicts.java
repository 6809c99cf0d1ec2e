package dev.cantina.junit;

import dev.cantina.testing.CaseResult;
import dev.cantina.testing.Difference;
import dev.cantina.types.Values;
import dev.cantina.types.Words;
import java.util.stream.Collectors;
import org.junit.platform.engine.TestExecutionResult;
import org.opentest4j.AssertionFailedError;

/** What came of a case, as the platform tells it. */
final class Verdicts {
    private Verdicts() {}

    static TestExecutionResult of(CaseResult result) {
        return switch (result.verdict()) {
            case PASSED, SKIPPED -> TestExecutionResult.successful();
            case BROKEN ->
                    TestExecutionResult.failed(
                            new AssertionFailedError(
                                    "the case can't be run: "
                                            + result.problem()
                                                    .map(p -> p.span().place() + ": " + p.message())
                                                    .orElse("")));
            case FAILED -> TestExecutionResult.failed(failed(result));
        };
    }

    private static AssertionFailedError failed(CaseResult result) {
        String message =
                result.testCase().place().place()
                        + "\n"
                        + result.differences().stream()
                                .map(Verdicts::line)
                                .collect(Collectors.joining("\n"));
        if (result.differences().size() == 1) {
            Difference only = result.differences().get(0);
            return new AssertionFailedError(message, shown(only.expected()), shown(only.actual()));
        }
        return new AssertionFailedError(message);
    }

    private static String line(Difference d) {
        return d.at()
                + ": expected "
                + shown(d.expected())
                + ", actual "
                + shown(d.actual())
                + d.writer()
                        .map(w -> " (by " + w.routine() + ", " + w.place().place() + ")")
                        .orElse("");
    }

    private static String shown(Object value) {
        return value instanceof Words words ? words.text() : Values.literal(value);
    }
}
