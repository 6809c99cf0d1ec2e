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

/** {@code mutants}. */
class MutantsCommandTest {
    @TempDir Path folder;
    private Cli cli;

    @BeforeEach
    void winery() throws Exception {
        cli = Cli.winery(folder);
        cli.write(
                "routines/room.sql",
                """
                -- How much goes into a vessel still.
                CREATE FUNCTION room (vessel VARCHAR(8)) RETURNS DECIMAL(8, 1)
                READS SQL DATA
                BEGIN
                  DECLARE litres DECIMAL(8, 1);
                  SET litres = (SELECT v.capacity_l - v.level_l FROM vessel v WHERE v.code = vessel);
                  IF litres IS NULL THEN
                    SIGNAL SQLSTATE '45003' SET MESSAGE_TEXT = 'no such vessel';
                  END IF;
                  RETURN litres;
                END;
                """);
        cli.write(
                "cases/room.yaml",
                "routine: room\ncases:\n  - case: of an empty one\n    pass: { vessel: T2 }\n"
                        + "    returns: 1000.0\n");
    }

    @Test
    void whatNobodyNoticesStandsAsADifference() {
        Cli.Result result = cli.run("mutants", "room");
        assertEquals(1, result.code(), result.out() + result.err());
        assertTrue(
                result.out()
                        .contains(
                                """
                                routines/room.sql:6  an operator exchanged
                                 -   SET litres = (SELECT v.capacity_l - v.level_l FROM vessel v WHERE v.code = vessel);
                                 +   SET litres = (SELECT v.capacity_l + v.level_l FROM vessel v WHERE v.code = vessel);
                                   the one case that runs through it does not notice
                                   would notice: room with vessel B1; with the mistake returns is"""),
                result.out());
        assertTrue(
                result.out()
                        .contains(
                                """
                                routines/room.sql:8  no case runs through it, with 2 mistakes
                                       SIGNAL SQLSTATE '45003' SET MESSAGE_TEXT = 'no such vessel';
                                   would notice: room with vessel\s"""),
                result.out());
        assertTrue(
                result.out().contains(" mistakes are noticed, ")
                        && result.out().contains("; no case runs through "),
                result.out());
        assertTrue(
                result.err().contains("1 case does not pass as it is, and can notice nothing: two"),
                result.err());
    }

    @Test
    void casesThatWouldNoticeAreWrittenAndDo() throws Exception {
        Cli.Result result = cli.run("mutants", "room", "--to", "cases/more.yaml");
        assertTrue(result.out().contains("wrote cases/more.yaml\n"), result.out());
        Cli.Result test = cli.run("test", "cases/more.yaml");
        assertEquals(0, test.code(), test.out() + test.err());
        Cli.Result again = cli.run("mutants", "room", "--at-least", "100");
        assertEquals(0, again.code(), again.out());
        assertTrue(again.out().contains(" noticed, 100.0 %\n"), again.out());
        String before = Files.readString(cli.path("cases/more.yaml"));
        Cli.Result third = cli.run("mutants", "room", "--to", "cases/more.yaml");
        assertEquals(2, third.code());
        assertTrue(third.err().contains("is there already; --to names another file"), third.err());
        assertEquals(before, Files.readString(cli.path("cases/more.yaml")));
    }

    @Test
    void jsonFitsItsSchemaAndHoldsEachMistake() throws Exception {
        Cli.Result result = cli.run("mutants", "room", "--json");
        JsonNode report = new ObjectMapper().readTree(result.out());
        assertEquals(0, SchemasTest.problems("mutants", report).size(), result.out());
        assertTrue(report.get("results").size() >= 8, result.out());
        long unnoticed = 0;
        for (JsonNode one : report.get("results")) {
            unnoticed += one.get("verdict").asText().startsWith("un") ? 1 : 0;
        }
        assertEquals(unnoticed, report.get("mistakes").asLong() - report.get("noticed").asLong());
    }

    @Test
    void whatIsAsBeforeIsLeftOut() {
        cli.run("mutants", "room", "grade_for");
        Cli.Result again = cli.run("mutants", "room", "grade_for", "--changed");
        assertTrue(
                again.err().contains("2 routines are as before, and not tried again"), again.err());
        assertFalse(again.out().contains("routines/room.sql"), again.out());
        assertEquals(0, cli.run("mutants", "room", "--changed", "--at-least", "40").code());
        assertEquals(1, cli.run("mutants", "room", "--changed", "--at-least", "99").code());
    }

    /** With --all those that were noticed stand there, too, by whom. */
    @Test
    void allAreShownWhereThatIsAskedFor() {
        Cli.Result result = cli.run("mutants", "grade_for", "--all");
        assertEquals(0, result.code(), result.out());
        assertTrue(
                result.out().contains("routines/grade_for.sql:8  a bound moved\n"), result.out());
        assertTrue(result.out().contains("   noticed by "), result.out());
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "nothing_like_it | there is no routine, module or trigger nothing_like_it with a body",
                "rooom | did you mean room?",
                "room --at-least 101 | --at-least takes a number from 0 to 100: --at-least 90",
                "room --at-least much | --at-least takes a number from 0 to 100",
                "room --within soon | --within takes a number of seconds",
                "room --on press | mutants has no option --on",
                "check_digit | there is no routine, module or trigger check_digit with a body"
            })
    void whatCantBeIsSaid(String line, String said) {
        Cli.Result result = cli.run(("mutants " + line).split(" "));
        assertEquals(2, result.code(), result.out() + result.err());
        assertTrue(result.err().contains(said), result.err());
    }

    @Test
    void aProjectWithoutCasesIsTold() throws Exception {
        try (var files = Files.list(cli.path("cases"))) {
            for (Path file : files.toList()) {
                Files.delete(file);
            }
        }
        Cli.Result result = cli.run("mutants");
        assertEquals(2, result.code());
        assertTrue(
                result.err().contains("cantina draft cases ROUTINE writes first ones"),
                result.err());
    }

    @Test
    void casesAtOnceAreLeftOutAndNamed() throws Exception {
        cli.write(
                "cases/at_once.yaml",
                "cases:\n  - case: both\n    calls:\n      - { routine: room, pass: { vessel: T2 } }\n"
                        + "      - { routine: room, pass: { vessel: T1 } }\n    at_once: {}\n");
        Cli.Result result = cli.run("mutants", "room");
        assertTrue(result.err().contains("1 case with at_once is left out"), result.err());
    }
}
