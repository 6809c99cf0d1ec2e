package dev.cantina.cli;

import dev.cantina.cli.Screen.Tone;
import dev.cantina.testing.CaseResult;
import dev.cantina.testing.CaseResult.Verdict;
import dev.cantina.testing.Difference;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Shows what came of cases: a line each, and under those that failed every difference. */
final class TestView {
    private final Screen screen;
    private final Optional<String> server;

    TestView(Screen screen) {
        this(screen, Optional.empty());
    }

    /**
     * @param server that the cases were run on
     */
    TestView(Screen screen, Optional<String> server) {
        this.screen = screen;
        this.server = server;
    }

    void show(List<CaseResult> results, double elapsedMillis, boolean quiet) {
        String file = "";
        for (CaseResult result : results) {
            boolean bad = result.verdict() == Verdict.FAILED || result.verdict() == Verdict.BROKEN;
            if (quiet && !bad) {
                continue;
            }
            if (!result.testCase().file().equals(file)) {
                file = result.testCase().file();
                screen.line((screen.tone(Tone.STRONG, file)));
            }
            line(result);
        }
        screen.line();
        summary(results, elapsedMillis);
    }

    private void line(CaseResult result) {
        Tone tone =
                switch (result.verdict()) {
                    case PASSED -> Tone.GOOD;
                    case FAILED, BROKEN -> Tone.BAD;
                    case SKIPPED -> Tone.FAINT;
                };
        String word = Screen.padded(result.verdict().name().toLowerCase(Locale.ROOT), 8);
        String time =
                result.verdict() == Verdict.PASSED || result.verdict() == Verdict.FAILED
                        ? String.format(Locale.ROOT, "%7.1f ms  ", result.elapsedMillis())
                        : " ".repeat(12);
        String why = result.testCase().skip().map(s -> "  (" + s + ")").orElse("");
        screen.line(
                "  "
                        + screen.tone(tone, word)
                        + screen.tone(Tone.FAINT, time)
                        + result.testCase().name()
                        + screen.tone(Tone.FAINT, why));
        differences(result, "      ");
    }

    /** What was expected and what was, one under the other. */
    void differences(CaseResult result, String indent) {
        result.problem()
                .ifPresent(
                        p -> {
                            screen.line(
                                    indent
                                            + screen.tone(Tone.STRONG, p.span().place())
                                            + ": "
                                            + p.message());
                            p.hint()
                                    .ifPresent(
                                            m ->
                                                    screen.line(
                                                            indent
                                                                    + screen.tone(
                                                                            Tone.FAINT, "hint: ")
                                                                    + m));
                        });
        new DifferenceView(screen).show(result.differences(), indent);
    }

    private void summary(List<CaseResult> results, double elapsedMillis) {
        List<String> parts = new ArrayList<>();
        for (Verdict verdict : Verdict.values()) {
            long count = results.stream().filter(r -> r.verdict() == verdict).count();
            if (count > 0) {
                Tone tone =
                        verdict == Verdict.PASSED
                                ? Tone.GOOD
                                : verdict == Verdict.SKIPPED ? Tone.FAINT : Tone.BAD;
                parts.add(screen.tone(tone, count + " " + verdict.name().toLowerCase(Locale.ROOT)));
            }
        }
        screen.line(
                screen.tone(
                                Tone.STRONG,
                                results.size() + (results.size() == 1 ? " case: " : " cases: "))
                        + String.join(", ", parts)
                        + screen.tone(
                                Tone.FAINT,
                                String.format(Locale.ROOT, "  (%.1f s)", elapsedMillis / 1000)));
        seen(results);
        Set<String> again = new LinkedHashSet<>();
        results.stream()
                .filter(r -> r.verdict() == Verdict.FAILED || r.verdict() == Verdict.BROKEN)
                .forEach(r -> again.add(r.testCase().file()));
        if (!again.isEmpty()) {
            String where = server.map(name -> " --on " + name).orElse("");
            screen.line(
                    again.size() > 3 && where.isEmpty()
                            ? "  again: cantina test --failed"
                            : "  again: cantina test "
                                    + String.join(" ", again.stream().map(Screen::typed).toList())
                                    + where);
            results.stream()
                    .filter(r -> r.verdict() == Verdict.FAILED)
                    .filter(r -> r.testCase().atOnce().isEmpty())
                    .findFirst()
                    .ifPresent(
                            r ->
                                    screen.line(
                                            "  look:  cantina debug --case "
                                                    + Screen.typed(r.testCase().name())
                                                    + where));
        }
    }

    /** What nobody has judged yet is not forgotten. */
    private void seen(List<CaseResult> results) {
        List<CaseResult> seen = results.stream().filter(r -> r.testCase().seen()).toList();
        if (!seen.isEmpty()) {
            List<String> files = seen.stream().map(r -> r.testCase().file()).distinct().toList();
            screen.line(
                    "  "
                            + (seen.size() == 1
                                    ? "1 case expects what was only seen"
                                    : seen.size() + " cases expect what was only seen")
                            + ", in "
                            + String.join(", ", files.subList(0, Math.min(3, files.size())))
                            + (files.size() > 3 ? " …" : "")
                            + ": where it is right, move it out from under seen:");
        }
    }

    static Map<String, Object> json(List<CaseResult> results) {
        Map<String, Object> object = new LinkedHashMap<>();
        List<Object> cases = new ArrayList<>();
        for (CaseResult result : results) {
            Map<String, Object> one = new LinkedHashMap<>();
            one.put("file", result.testCase().file());
            one.put("case", result.testCase().name());
            one.put("routine", result.testCase().routine());
            one.put("verdict", result.verdict().name().toLowerCase(Locale.ROOT));
            one.put("elapsed_ms", Json.millis(result.elapsedMillis()));
            List<Object> differences = new ArrayList<>();
            for (Difference difference : result.differences()) {
                Map<String, Object> d = new LinkedHashMap<>();
                d.put("at", difference.at());
                d.put("expected", difference.expected());
                d.put("actual", difference.actual());
                difference.writer().ifPresent(w -> d.put("writer", w.place().place()));
                differences.add(d);
            }
            one.put("differences", differences);
            if (result.testCase().seen()) {
                one.put("seen", true);
            }
            result.problem()
                    .ifPresent(p -> one.put("problem", p.span().place() + ": " + p.message()));
            cases.add(one);
        }
        object.put("cases", cases);
        for (Verdict verdict : Verdict.values()) {
            object.put(
                    verdict.name().toLowerCase(Locale.ROOT),
                    results.stream().filter(r -> r.verdict() == verdict).count());
        }
        return object;
    }
}
