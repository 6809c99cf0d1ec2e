package dev.cantina.cli;

import dev.cantina.agree.Agreement;
import dev.cantina.agree.Agreement.Compared;
import dev.cantina.agree.Agreement.Verdict;
import dev.cantina.agree.ObservedResult;
import dev.cantina.cli.Screen.Tone;
import dev.cantina.testing.TestCase;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/** Shows cases in several ways: a row a case, a column a way, and under a row what differs. */
final class AgreeView {
    private static final int NAME = 58;

    /** No narrower than that, and no line wider than this with the columns. */
    private static final int LEAST = 28;

    private static final int LINE = 116;
    private static final String ITSELF = " itself";

    private final Invocation call;
    private final Screen screen;
    private final List<String> ways;
    private final int width;
    private final int name;
    private String file = "";

    AgreeView(Invocation call, List<String> ways) {
        this.call = call;
        this.screen = call.screen();
        this.ways = ways;
        this.width =
                Math.max(11, ways.stream().mapToInt(w -> first(w).length()).max().orElse(0) + 2);
        this.name = Math.max(LEAST, Math.min(NAME, LINE - width * ways.size()));
    }

    /** The head of a column has two lines: a server's name, and whether it is by itself. */
    private static String first(String way) {
        return way.endsWith(ITSELF) ? way.substring(0, way.length() - ITSELF.length()) : way;
    }

    private String padded(String text) {
        return String.format("%-" + width + "s", text);
    }

    /** A case as soon as it has been run. */
    void show(Compared compared) {
        if (call.json() || call.quiet() && compared.verdict() == Verdict.AGREES) {
            return;
        }
        TestCase testCase = compared.testCase();
        if (file.isEmpty()) {
            StringBuilder head = new StringBuilder(" ".repeat(name + 4));
            StringBuilder below = new StringBuilder(head);
            for (String way : ways) {
                head.append(padded(first(way)));
                below.append(padded(way.endsWith(ITSELF) ? ITSELF.strip() : ""));
            }
            screen.line(screen.tone(Tone.FAINT, head.toString().stripTrailing()));
            screen.line(screen.tone(Tone.FAINT, below.toString().stripTrailing()));
        }
        if (!testCase.file().equals(file)) {
            file = testCase.file();
            screen.line(screen.tone(Tone.STRONG, file));
        }
        StringBuilder line = new StringBuilder("  ");
        line.append(String.format("%-" + (name + 2) + "s", shortened(testCase.name())));
        for (String way : ways) {
            Optional<ObservedResult> seen = compared.seen().get(way);
            String cell = padded(seen.map(ObservedResult::ended).orElse("–"));
            boolean differs =
                    compared.differences().values().stream()
                            .anyMatch(
                                    d ->
                                            d.containsKey(way)
                                                    && !d.get(way)
                                                            .equals(d.get(Agreement.EMBEDDED)));
            line.append(
                    differs
                            ? screen.tone(Tone.BAD, cell)
                            : seen.isEmpty()
                                    ? screen.tone(Tone.FAINT, cell)
                                    : screen.tone(Tone.GOOD, cell));
        }
        screen.line(line.toString().stripTrailing());
        compared.problem().ifPresent(p -> new ProblemView(screen).toOutput(p));
        compared.differences().forEach(this::difference);
    }

    private int longest() {
        return ways.stream().mapToInt(String::length).max().orElse(0) + 2;
    }

    private void difference(String at, Map<String, String> values) {
        screen.line("      " + screen.tone(Tone.STRONG, at));
        values.forEach(
                (way, value) ->
                        screen.line(
                                "        "
                                        + screen.tone(
                                                Tone.FAINT,
                                                String.format("%-" + longest() + "s", way))
                                        + (value.length() > 300
                                                ? value.substring(0, 299) + "…"
                                                : value)));
    }

    private String shortened(String text) {
        return text.length() <= name ? text : text.substring(0, name - 1) + "…";
    }

    /** After the last. */
    void end(List<Compared> all) {
        if (call.json()) {
            json(all);
            return;
        }
        Map<String, List<String>> reasons = new LinkedHashMap<>();
        for (Compared compared : all) {
            compared.reasons()
                    .forEach(
                            (way, reason) ->
                                    reasons.computeIfAbsent(
                                                    way + ": " + reason, r -> new ArrayList<>())
                                            .add(compared.testCase().name()));
        }
        if (!call.quiet() && !reasons.isEmpty()) {
            screen.line();
            reasons.forEach(
                    (reason, cases) ->
                            screen.line(
                                    screen.tone(
                                            Tone.FAINT,
                                            "  – "
                                                    + ShipView.count(cases.size(), "case")
                                                    + " not on "
                                                    + reason)));
        }
        screen.line();
        boolean fewer =
                all.stream()
                        .filter(c -> c.verdict() == Verdict.AGREES)
                        .anyMatch(c -> c.seen().values().stream().anyMatch(Optional::isEmpty));
        screen.line(
                verdict(all)
                        + (fewer ? " in 2 to " : " in ")
                        + ShipView.count(ways.size(), "way")
                        + ": "
                        + String.join(", ", ways));
    }

    private static long count(List<Compared> all, Verdict verdict) {
        return all.stream().filter(c -> c.verdict() == verdict).count();
    }

    /** Only what ran in two ways or more is counted as agreeing. */
    private String verdict(List<Compared> all) {
        long agree = count(all, Verdict.AGREES);
        long differ = count(all, Verdict.DIFFERS);
        long broken = count(all, Verdict.BROKEN);
        long alone = count(all, Verdict.ALONE);
        if (agree == all.size()) {
            return screen.tone(
                    Tone.GOOD, agree == 1 ? "the case agrees" : "all " + agree + " cases agree");
        }
        List<String> parts = new ArrayList<>();
        if (differ > 0) {
            parts.add(differ + (differ == 1 ? " differs" : " differ"));
        }
        if (broken > 0) {
            parts.add(broken + (broken == 1 ? " is broken" : " are broken"));
        }
        if (alone > 0) {
            parts.add(alone + " ran in one way alone, which compares nothing");
        }
        parts.add(agree + (agree == 1 ? " agrees" : " agree"));
        boolean well = differ == 0 && broken == 0 && agree > 0;
        return screen.tone(
                well ? Tone.GOOD : Tone.BAD,
                "of " + ShipView.count(all.size(), "case") + " " + String.join(", ", parts));
    }

    private void json(List<Compared> all) {
        Map<String, Object> object = new LinkedHashMap<>();
        object.put("ways", ways);
        List<Map<String, Object>> cases = new ArrayList<>();
        for (Compared compared : all) {
            Map<String, Object> one = new LinkedHashMap<>();
            one.put("file", compared.testCase().file());
            one.put("case", compared.testCase().name());
            Map<String, Object> ended = new LinkedHashMap<>();
            compared.seen()
                    .forEach(
                            (way, seen) ->
                                    ended.put(way, seen.map(ObservedResult::ended).orElse(null)));
            one.put("verdict", compared.verdict().name().toLowerCase(Locale.ROOT));
            compared.problem()
                    .ifPresent(p -> one.put("problem", p.span().place() + ": " + p.message()));
            one.put("ended", ended);
            one.put("not_run", compared.reasons());
            List<Map<String, Object>> differences = new ArrayList<>();
            compared.differences()
                    .forEach(
                            (at, values) -> {
                                Map<String, Object> difference = new LinkedHashMap<>();
                                difference.put("at", at);
                                difference.put("values", values);
                                differences.add(difference);
                            });
            one.put("differences", differences);
            cases.add(one);
        }
        object.put("cases", cases);
        object.put("agree", count(all, Verdict.AGREES));
        object.put("differ", count(all, Verdict.DIFFERS));
        object.put("broken", count(all, Verdict.BROKEN));
        object.put("alone", count(all, Verdict.ALONE));
        screen.line(Json.text(object));
    }
}
