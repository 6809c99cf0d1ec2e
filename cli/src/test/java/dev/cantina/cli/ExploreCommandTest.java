package dev.cantina.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** {@code explore}. */
class ExploreCommandTest {
    @TempDir Path folder;
    private Cli cli;

    @BeforeEach
    void winery() throws Exception {
        cli = Cli.winery(folder);
        cli.write(
                "routines/part.sql",
                "CREATE FUNCTION part (total INTEGER, parts INTEGER) RETURNS INTEGER\n  RETURN total / parts;\n");
    }

    @Test
    void whatIsFoundStandsWithItsPlaceAndItsCommand() {
        Cli.Result result = cli.run("explore", "part");
        assertEquals(1, result.code(), result.out() + result.err());
        assertTrue(
                result.out()
                        .contains(
                                "22012  division by zero\n"
                                        + "     at: part 2  RETURN total / parts\n"
                                        + "   with: total 1, parts 0\n"
                                        + "   look: cantina debug part total=1 parts=0\n"),
                result.out());
        Cli.Result debug =
                cli.typing(
                        "pause on exception\ncontinue\ncontinue\n",
                        "debug",
                        "part",
                        "total=1",
                        "parts=0");
        assertTrue(debug.out().contains("22012"), debug.out());
        assertEquals(0, cli.run("explore", "grade_for").code());
    }

    @Test
    void invariantsOfItsCasesAreLookedAt() throws Exception {
        cli.write(
                "routines/lose.sql",
                "CREATE PROCEDURE lose (IN c VARCHAR(8))\n"
                        + "  UPDATE vessel SET level_l = 0 WHERE code = c;\n");
        cli.write(
                "cases/lose.yaml",
                "routine: lose\n"
                        + "invariants: { wine stays: { same: SELECT SUM(level_l) FROM vessel } }\n"
                        + "cases:\n  - case: of none\n    pass: { c: none }\n");
        JsonNode report = new ObjectMapper().readTree(cli.run("explore", "lose", "--json").out());
        assertEquals("invariant", report.get("findings").get(0).get("kind").asText());
        assertTrue(report.get("findings").get(0).get("what").asText().contains("'wine stays'"));
        assertEquals(0, SchemasTest.problems("explore", report).size(), report.toString());
    }

    @Test
    void findingsAreWrittenAsCasesAndNothingIsWrittenOver() throws Exception {
        Cli.Result result = cli.run("explore", "part", "--to", "cases/found.yaml");
        assertTrue(result.out().contains("wrote cases/found.yaml"), result.out());
        Cli.Result test = cli.run("test", "cases/found.yaml");
        assertEquals(1, test.code(), test.out());
        assertTrue(test.out().contains("22012"), test.out());
        String before = Files.readString(cli.path("cases/found.yaml"));
        Cli.Result again = cli.run("explore", "part", "--to", "cases/found.yaml");
        assertEquals(2, again.code());
        assertTrue(again.err().contains("is there already; --to names another file"), again.err());
        assertEquals(before, Files.readString(cli.path("cases/found.yaml")));
        cli.run("explore", "grade_for", "--to", "cases/none.yaml");
        assertFalse(Files.exists(cli.path("cases/none.yaml")), "there is nothing to write");
    }

    @Test
    void allLinesOfTheDemoAreReached() throws Exception {
        for (String routine : new String[] {"blend", "count_of", "move_wine", "settle_vintage"}) {
            JsonNode report =
                    new ObjectMapper().readTree(cli.run("explore", routine, "--json").out());
            assertEquals(0, report.get("unreached").size(), routine + ": " + report);
        }
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "explore | explore takes the name of a routine",
                "explore part parts=1 | its arguments are what it looks for",
                "explore nosuch | there is no routine nosuch",
                "explore part --seconds soon | --seconds is a number of seconds, not soon",
                "explore part --fixture nosuch | nosuch",
                "explore part --on nosuch | nosuch"
            })
    void whatIsWrongIsSaid(String line, String says) {
        Cli.Result result = cli.run(line.split(" "));
        assertEquals(2, result.code(), result.out());
        assertTrue(result.err().contains(says), result.err());
        assertFalse(result.err().contains("defect"), result.err());
    }
}
