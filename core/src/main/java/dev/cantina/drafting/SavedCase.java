package dev.cantina.drafting;

import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.syntax.Source;
import dev.cantina.testing.CaseFiles;
import dev.cantina.testing.CaseRunner;
import dev.cantina.testing.TestCase;
import java.sql.SQLException;
import java.time.LocalDateTime;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;

/**
 * What a person has done by hand, to be a case.
 *
 * @param before statements that were run before the calls
 * @param calls one or more
 */
public record SavedCase(List<String> before, List<Call> calls) {
    /** A call and its arguments, by parameter. */
    public record Call(String routine, Map<String, Object> pass) {}

    private static final DateTimeFormatter MOMENT =
            DateTimeFormatter.ofPattern("uuuu-MM-dd HH:mm:ss");

    /**
     * The text of a case file. What is expected is what comes of it when it is run as a case,
     * twice; what differs between the two may be anything.
     *
     * @param fixture said in the file; empty for the project's own
     * @param clock what the current time is in it; empty where it can't be set
     * @param runners gives a new runner each time
     * @throws ProjectException where it can't be run as a case
     */
    public String text(
            Project project,
            String name,
            Optional<String> fixture,
            Optional<LocalDateTime> clock,
            Supplier<CaseRunner> runners)
            throws ProjectException, SQLException {
        StringBuilder head = new StringBuilder();
        head.append("routine: ").append(YamlText.text(calls.get(0).routine)).append('\n');
        fixture.ifPresent(f -> head.append("fixture: ").append(YamlText.text(f)).append('\n'));
        clock.ifPresent(c -> head.append("clock: ").append(c.format(MOMENT)).append('\n'));
        head.append("cases:\n  - case: ").append(YamlText.text(name)).append('\n');
        if (!before.isEmpty()) {
            head.append("    before: |\n");
            before.stream()
                    .flatMap(String::lines)
                    .forEach(l -> head.append("      ").append(l).append('\n'));
        }
        List<Map<String, Object>> seen = seen(project, head + text(List.of()), runners);
        if (clock.isEmpty()) {
            seen.replaceAll(one -> SeenOutcome.timeless(one, LocalDateTime.now()));
        }
        return head + text(seen);
    }

    private List<Map<String, Object>> seen(
            Project project, String text, Supplier<CaseRunner> runners)
            throws ProjectException, SQLException {
        CaseFiles.Found found = CaseFiles.read(project, new Source("the case", text));
        if (!found.broken().isEmpty()) {
            throw new ProjectException(found.broken().get(0).problem().orElseThrow());
        }
        TestCase one = found.cases().get(0);
        List<Map<String, Object>> seen = new ArrayList<>();
        for (int turn = 0; turn < 2; turn++) {
            try (CaseRunner runner = runners.get()) {
                List<CaseRunner.Called> called = runner.calls(one);
                for (int i = 0; i < called.size(); i++) {
                    Map<String, Object> outcome = SeenOutcome.of(called.get(i).outcome());
                    if (turn == 0) {
                        seen.add(outcome);
                    } else {
                        String routine = calls.get(i).routine;
                        seen.set(
                                i,
                                SeenOutcome.expected(seen.get(i), outcome)
                                        .orElseThrow(
                                                () ->
                                                        new ProjectException(
                                                                "two runs of "
                                                                        + routine
                                                                        + " came to different ends,"
                                                                        + " one of them in a"
                                                                        + " condition: no case can"
                                                                        + " expect both")));
                    }
                }
            }
        }
        return seen;
    }

    /** The calls, with what was seen of each; without where nothing was yet. */
    private String text(List<Map<String, Object>> seen) {
        StringBuilder text = new StringBuilder();
        if (calls.size() == 1) {
            text.append("    pass: ").append(YamlText.of(calls.get(0).pass)).append('\n');
            if (!seen.isEmpty()) {
                text.append("    seen:\n");
                seen(seen.get(0), "      ", text);
            }
            return text.toString();
        }
        text.append("    calls:\n");
        for (int i = 0; i < calls.size(); i++) {
            text.append("      - routine: ")
                    .append(YamlText.text(calls.get(i).routine))
                    .append("\n        pass: ")
                    .append(YamlText.of(calls.get(i).pass))
                    .append('\n');
            if (!seen.isEmpty()) {
                text.append("        seen:\n");
                seen(seen.get(i), "          ", text);
            }
        }
        return text.toString();
    }

    private static void seen(Map<?, ?> seen, String indent, StringBuilder text) {
        seen.forEach(
                (k, v) ->
                        text.append(indent)
                                .append(YamlText.block(String.valueOf(k), v, indent))
                                .append('\n'));
    }
}
