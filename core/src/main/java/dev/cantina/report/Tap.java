package dev.cantina.report;

import dev.cantina.syntax.Visible;
import dev.cantina.testing.CaseResult;
import dev.cantina.testing.CaseResult.Verdict;
import java.util.List;

/** The Test Anything Protocol, version 14. */
public final class Tap {
    private Tap() {}

    public static String of(Report report) {
        StringBuilder text = new StringBuilder("TAP version 14\n");
        text.append("1..").append(report.results().size()).append('\n');
        int number = 0;
        for (CaseResult result : report.results()) {
            boolean ok = result.verdict() == Verdict.PASSED || result.verdict() == Verdict.SKIPPED;
            text.append(ok ? "ok " : "not ok ")
                    .append(++number)
                    .append(" - ")
                    .append(escaped(result.testCase().id()));
            if (result.verdict() == Verdict.SKIPPED) {
                text.append(" # SKIP ").append(escaped(result.testCase().skip().orElse("")));
            }
            text.append('\n');
            if (!ok) {
                reasons(text, result);
            }
        }
        return text.toString();
    }

    private static void reasons(StringBuilder text, CaseResult result) {
        List<String> lines = Report.reasons(result);
        text.append("  ---\n");
        text.append("  severity: ")
                .append(result.verdict() == Verdict.BROKEN ? "broken" : "fail")
                .append('\n');
        text.append("  message: |\n");
        for (String line : lines) {
            text.append("    ").append(Visible.line(line)).append('\n');
        }
        text.append("  ...\n");
    }

    /** A description may not hold what the protocol gives a meaning to. */
    private static String escaped(String text) {
        String line = text.replaceAll("[\\r\\n]+", " ");
        return Visible.line(line).replace("\\", "\\\\").replace("#", "\\#");
    }
}
