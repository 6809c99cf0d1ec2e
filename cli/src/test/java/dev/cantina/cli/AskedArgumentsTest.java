package dev.cantina.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.project.ProjectReader;
import dev.cantina.project.Workspace;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Arguments that are asked for, and those of last time. */
class AskedArgumentsTest {
    @TempDir Path folder;

    /** What a person types, and what was offered to them. */
    private static final class Person implements Words {
        final Deque<String> lines = new ArrayDeque<>();
        final StringBuilder prompts = new StringBuilder();
        final StringBuilder offered = new StringBuilder();

        Person(String... lines) {
            this.lines.addAll(List.of(lines));
        }

        @Override
        public Optional<String> next(String prompt) {
            prompts.append(prompt);
            return Optional.ofNullable(lines.poll());
        }

        @Override
        public void offer(List<String> first) {
            offered.append(first);
        }

        @Override
        public void close() {}
    }

    private String asked(
            String routine, Person person, Map<String, Object> given, Map<String, Object> last)
            throws Exception {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        PrintStream print = new PrintStream(out, true, StandardCharsets.UTF_8);
        try (Workspace workspace =
                Workspace.open(ProjectReader.read(Cli.WINERY), Optional.of("cellar"))) {
            new AskedArguments(
                            new Screen(print, print, false, true),
                            person,
                            workspace.routine(routine, List.of()),
                            workspace,
                            last)
                    .ask(given);
        }
        return out.toString(StandardCharsets.UTF_8);
    }

    @Test
    void whatIsMissingIsAskedForUntilItFits() throws Exception {
        Person person = new Person("T1", "", "C7", "much", "12.5");
        Map<String, Object> given = new LinkedHashMap<>();
        String out = asked("move_wine", person, given, Map.of());
        assertEquals("{source=T1, target=C7, litres=12.5}", given.toString());
        assertTrue(out.contains("one of B1, B2, C7, T1, T2"), out);
        assertTrue(out.contains("a value is needed"), out);
        assertTrue(out.contains("the value of litres does not fit"), out);
        assertEquals("source = target = target = litres = litres = ", person.prompts.toString());
        assertTrue(person.offered.toString().contains("[B1, B2, C7, T1, T2]"));
    }

    @Test
    void enterTakesLastTimesValueOrTheDefault() throws Exception {
        Map<String, Object> given = new LinkedHashMap<>(Map.of("litres", "1"));
        String out =
                asked(
                        "move_wine",
                        new Person("", "= SELECT MAX(code) FROM vessel"),
                        given,
                        Map.of("source", "T2", "litres", "9"));
        assertEquals("{litres=1, source=T2, target=T2}", given.toString());
        assertTrue(out.contains("Enter takes T2, as last time"), out);
        given = new LinkedHashMap<>();
        out = asked("record_intake", new Person("10", "50", ""), given, Map.of());
        assertEquals("{plot=10, kilograms=50}", given.toString());
        assertTrue(out.contains("Enter takes its default, NULL"), out);
        given = new LinkedHashMap<>();
        asked("register_grower", new Person("null", "''"), given, Map.of());
        assertEquals(null, given.get("name"));
        assertEquals("", given.get("village"));
    }

    @Test
    void whoLeavesRunsNothing() {
        UsageException left =
                assertThrows(
                        UsageException.class,
                        () ->
                                asked(
                                        "move_wine",
                                        new Person("T1"),
                                        new LinkedHashMap<>(),
                                        Map.of()));
        assertTrue(left.getMessage().contains("no value for parameter target; nothing was run"));
    }

    @Test
    void lastTimesArgumentsAreTakenAgain() throws IOException {
        Cli cli = Cli.winery(folder);
        Cli.Result first = cli.run("call", "move_wine", "--again");
        assertEquals(ExitCode.USAGE, first.code());
        assertTrue(first.err().contains("was not called here yet"), first.err());
        assertEquals(
                ExitCode.WELL,
                cli.run("call", "move_wine", "source=T1", "target=C7", "litres=10").code());
        Cli.Result again = cli.run("call", "move_wine", "--again", "litres=20");
        assertTrue(again.out().contains("moved = 20.0"), again.out());
        assertTrue(cli.run("trace", "move_wine", "--again").out().contains("T1"));
        // In a pipe what is missing stays an error.
        Cli.Result missing = cli.typing("T1\n", "call", "move_wine");
        assertEquals(ExitCode.USAGE, missing.code());
        assertTrue(missing.err().contains("no value for parameter source"), missing.err());
        Files.writeString(cli.path(".cantina/arguments.json"), "{ \"move_wine\": 5");
        assertEquals(
                ExitCode.WELL,
                cli.run("call", "move_wine", "source=T1", "target=C7", "litres=10").code());
    }
}
