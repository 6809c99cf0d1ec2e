package dev.cantina.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What {@code cantina test} takes beside a selector. */
class TestOptionsTest {
    @TempDir Path temporary;

    @Test
    void testChoosesByWhatHappenedBefore() throws IOException {
        Cli cli = Cli.winery(temporary);
        assertTrue(cli.run("test", "--list", "topping_loss").out().contains("two months"));
        assertEquals(1, cli.run("test").code());
        Cli.Result failed = cli.run("test", "--failed");
        assertTrue(failed.out().contains("1 case: 1 failed"), failed.out());
        Cli.Result changed = cli.run("test", "--changed");
        assertTrue(changed.out().contains("1 case: 1 failed"), changed.out());
        cli.write(
                "routines/grade_for.sql",
                Files.readString(cli.path("routines/grade_for.sql")).replace("22", "22.0"));
        Cli.Result after = cli.run("test", "--changed");
        assertTrue(after.out().contains("cases/grades.yaml"), after.out());
        assertFalse(after.out().contains("cases/move_wine.yaml"), after.out());
        int all = 0;
        for (int part = 1; part <= 3; part++) {
            String list = cli.run("test", "--list", "--shard", part + "/3").out();
            all += (int) list.lines().filter(l -> l.startsWith("  ")).count();
        }
        assertEquals(46, all);
    }

    @Test
    void partsThatRunOneAfterTheOtherMissNoCaseAndRunNoneTwice() throws IOException {
        Cli cli = Cli.winery(temporary);
        // Measured times, so that the parts are cut by them; running a part must not move the cuts.
        cli.run("test", "--quiet");
        List<String> names = new ArrayList<>();
        for (int part = 1; part <= 3; part++) {
            String out = cli.run("test", "--json", "--shard", part + "/3").out();
            new ObjectMapper()
                    .readTree(out)
                    .path("cases")
                    .forEach(
                            c ->
                                    names.add(
                                            c.path("file").asText()
                                                    + " "
                                                    + c.path("case").asText()));
        }
        assertEquals(46, names.size());
        assertEquals(46, Set.copyOf(names).size());
    }

    @Test
    void testShufflesStopsAndMeasures() throws IOException {
        Cli cli = Cli.winery(temporary);
        Cli.Result shuffled = cli.run("test", "--shuffle", "3", "--jobs", "2");
        assertTrue(shuffled.err().contains("--shuffle 3 repeats the order"), shuffled.err());
        assertTrue(shuffled.out().contains("46 cases: 45 passed, 1 failed"), shuffled.out());
        Cli.Result measured =
                cli.run("test", "move_wine", "--coverage", "--coverage-at-least", "90");
        assertEquals(1, measured.code());
        assertTrue(measured.out().contains("never fired"), measured.out());
        assertTrue(measured.err().contains("90.0 % are asked for"), measured.err());
        assertEquals(0, cli.run("test", "move_wine", "--coverage-at-least", "5").code());
        assertEquals(0, cli.run("test", "move_wine", "--first").code());
    }

    @Test
    void testWritesReports() throws IOException {
        Cli cli = Cli.winery(temporary);
        cli.run(
                "test",
                "topping_loss",
                "--report",
                "junit=out/j.xml",
                "--report",
                "tap=out/t.tap",
                "--report",
                "lcov=out/l.info",
                "--report",
                "html=out/h.html");
        assertTrue(Files.readString(cli.path("out/j.xml")).contains("<failure"));
        assertTrue(Files.readString(cli.path("out/t.tap")).startsWith("TAP version 14"));
        assertTrue(Files.readString(cli.path("out/l.info")).contains("end_of_record"));
        assertTrue(Files.readString(cli.path("out/h.html")).contains("What did not pass"));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "--report pdf=x | --report takes KIND=FILE",
                "--report html | needs a file",
                "--shard 4/3 | --shard takes a part",
                "--shard x | --shard takes a part",
                "--jobs 0 | --jobs takes a number",
                "--shuffle x | --shuffle takes a number",
                "--coverage-at-least 101 | takes a percentage",
                "no_such_case | no case fits no_such_case",
            })
    void testSaysWhatIsWrongOnItsLine(String line, String message) throws IOException {
        Cli cli = Cli.winery(temporary);
        List<String> words = new ArrayList<>(List.of("test"));
        words.addAll(List.of(line.strip().split(" ")));
        Cli.Result result = cli.run(words.toArray(String[]::new));
        assertEquals(2, result.code());
        assertTrue(result.err().contains(message.strip()), result.err());
    }

    /** The lines of docs/ci that run it, part for part. */
    @Test
    void theFilesForContinuousIntegrationRunWhatThereIs() throws IOException {
        Cli cli = Cli.winery(temporary);
        for (String file : List.of("gitlab", "github")) {
            String text = Files.readString(Path.of("../docs/ci/" + file + ".yml"));
            int ran = 0;
            for (String line : text.lines().toList()) {
                int at = line.indexOf("cantina ");
                String before = at < 0 ? "" : line.substring(0, at).strip();
                if (at < 0 || !(before.equals("-") || before.equals("- run:"))) {
                    continue;
                }
                String said =
                        line.substring(at + "cantina ".length())
                                .replace("\"", "")
                                .replaceAll("\\$CI_NODE_INDEX|\\$\\{\\{ matrix.part }}", "1")
                                .replace("$CI_NODE_TOTAL", "2");
                Cli.Result result = cli.run(said.split(" "));
                // The demo has a mistake in it, which one part finds.
                assertTrue(
                        List.of(ExitCode.WELL, ExitCode.FAILED).contains(result.code()),
                        said + result.err());
                ran++;
            }
            assertEquals(2, ran, file);
            assertTrue(Files.readString(cli.path("junit.xml")).contains("<testsuites"), file);
            Files.delete(cli.path("junit.xml"));
        }
    }
}
