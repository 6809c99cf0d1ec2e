package dev.cantina.drafting;

import dev.cantina.project.ProjectException;
import dev.cantina.testing.CaseRunner;
import dev.cantina.types.Values;
import java.time.LocalDateTime;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** A file of cases in which what was seen of runs is expected, until a person has judged it. */
public final class SeenCases {
    private SeenCases() {}

    /**
     * Writes one.
     *
     * @param head comment lines that it begins with, ended by line ends
     * @param runs one case each; the names tell how it differs from the first arguments
     * @param base the first arguments
     * @param second makes each once more, in a session of its own: what differs is any value
     */
    public static Written of(
            String head,
            String routine,
            Optional<String> fixture,
            Optional<LocalDateTime> clock,
            List<ArgumentSearch.Run> runs,
            Map<String, Object> base,
            ArgumentSearch search,
            CaseRunner second)
            throws ProjectException {
        StringBuilder text = new StringBuilder(head);
        text.append(head(routine, fixture, clock));
        text.append("cases:\n");
        Set<String> names = new HashSet<>();
        List<Map<String, Object>> unsteady = new ArrayList<>();
        for (ArgumentSearch.Run run : runs) {
            Optional<Map<String, Object>> seen =
                    SeenOutcome.expected(
                            SeenOutcome.of(run.outcome()),
                            SeenOutcome.of(search.again(second, run.arguments())));
            if (clock.isEmpty()) {
                seen = seen.map(s -> SeenOutcome.timeless(s, LocalDateTime.now()));
            }
            if (seen.isEmpty()) {
                unsteady.add(run.arguments());
                continue;
            }
            String name = name(run, base);
            for (int i = 2; !names.add(name); i++) {
                name = name(run, base) + " (" + i + ")";
            }
            text.append("  - case: ").append(YamlText.text(name)).append('\n');
            text.append("    pass: ").append(YamlText.of(run.arguments())).append('\n');
            text.append("    seen:\n").append(seen(seen.get())).append('\n');
        }
        return new Written(text.toString().stripTrailing() + "\n", unsteady);
    }

    /**
     * The text of a file.
     *
     * @param unsteady arguments of calls that are left out: one run ended in a condition, and
     *     another did not
     */
    public record Written(String text, List<Map<String, Object>> unsteady) {}

    /** What holds for all cases of a file. */
    public static String head(
            String routine, Optional<String> fixture, Optional<LocalDateTime> clock) {
        return "routine: "
                + YamlText.text(routine)
                + "\n"
                + fixture.map(f -> "fixture: " + YamlText.text(f) + "\n").orElse("")
                + clock.map(c -> "clock: " + moment(c) + "\n").orElse("");
    }

    /** A moment as {@code clock:} has it. */
    public static String moment(LocalDateTime moment) {
        return moment.format(DateTimeFormatter.ofPattern("uuuu-MM-dd HH:mm:ss"));
    }

    /** What stands under {@code seen:}. */
    public static String seen(Map<?, ?> seen) {
        StringBuilder text = new StringBuilder();
        seen.forEach(
                (k, v) ->
                        text.append("      ")
                                .append(YamlText.block(String.valueOf(k), v, "      "))
                                .append('\n'));
        return text.toString();
    }

    /** What tells a run from the first. */
    private static String name(ArgumentSearch.Run run, Map<String, Object> base) {
        String ends = run.outcome().condition().map(c -> " ends in " + c.sqlstate()).orElse("");
        return others(run, base) + ends;
    }

    /** The arguments of a run that are other than those of the first, in words. */
    public static String others(ArgumentSearch.Run run, Map<String, Object> base) {
        List<String> parts = new ArrayList<>();
        run.arguments()
                .forEach(
                        (name, value) -> {
                            boolean same =
                                    base.containsKey(name)
                                            && YamlText.of(base.get(name))
                                                    .equals(YamlText.of(value));
                            if (!same || run.arguments() == base) {
                                parts.add(name + " " + shown(value));
                            }
                        });
        return parts.isEmpty() ? "as it is" : String.join(", ", parts);
    }

    /** Arguments in words. */
    public static String words(Map<String, Object> arguments) {
        List<String> parts = new ArrayList<>();
        arguments.forEach((name, value) -> parts.add(name + " " + shown(value)));
        return String.join(", ", parts);
    }

    private static String shown(Object value) {
        String text = value == null ? "NULL" : Values.text(value);
        String brief =
                text.codePointCount(0, text.length()) > 30
                        ? text.substring(0, text.offsetByCodePoints(0, 30)) + "…"
                        : text;
        return brief.isBlank() ? "'" + brief + "'" : brief;
    }
}
