package dev.cantina.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
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

/** {@code race}. */
class RaceCommandTest {
    private static final String ONE = "top_up vessel=T2 litres=10";
    private static final String TWO = "top_up vessel=T2 litres=20";

    @TempDir Path folder;
    private Cli cli;

    @BeforeEach
    void winery() throws Exception {
        cli = Cli.winery(folder);
        cli.write(
                "routines/top_up.sql",
                """
                CREATE PROCEDURE top_up (IN vessel VARCHAR(8), IN litres DECIMAL(8, 1))
                BEGIN
                  DECLARE held DECIMAL(8, 1);
                  SET held = (SELECT v.level_l FROM vessel v WHERE v.code = vessel);
                  UPDATE vessel SET level_l = held + litres WHERE code = vessel;
                END;
                CREATE PROCEDURE pour (IN vessel VARCHAR(8), IN litres DECIMAL(8, 1))
                  UPDATE vessel SET level_l = level_l + litres WHERE code = vessel;
                """);
    }

    @Test
    void theOrderStandsInColumnsWithTheRows() {
        Cli.Result result = cli.run("race", ONE, TWO, "--isolation", "read committed");
        assertEquals(1, result.code(), result.out() + result.err());
        assertTrue(
                result.out().startsWith("\nan update is lost at READ COMMITTED\n"), result.out());
        String indent = " ".repeat(58);
        assertTrue(
                result.out()
                        .contains(
                                "\n    4  SET held = (SELECT v.level_l FROM vessel v …  1 row\n"
                                        + indent
                                        + "    4  SET held = (SELECT v.level_l FROM vessel v …  1 row\n"),
                result.out());
        assertTrue(
                result.out().contains("    + code T2, kind tank, capacity_l 1000.0, level_l 10.0"));
        assertTrue(
                result.out().contains("    - code T2, kind tank, capacity_l 1000.0, level_l 30.0"));
        assertTrue(
                result.out().contains("READ COMMITTED: an update is lost (14 of 20 orders made; "));
    }

    @Test
    void whatIsRightIsRightAtAllLevels() {
        Cli.Result result = cli.run("race", "pour vessel=T2 litres=10");
        assertTrue(
                result.out().contains("READ COMMITTED: all as one after the other ("),
                result.out());
        Cli.Result grade = cli.run("race", "grade_for sugar=20", "--isolation", "SERIALIZABLE");
        assertEquals(0, grade.code(), grade.out() + grade.err());
    }

    /** The words of one call need no quotes where there is but one. */
    @Test
    void oneCallIsMadeTwice() {
        Cli.Result quoted = cli.run("race", ONE, "--isolation", "READ COMMITTED");
        Cli.Result plain =
                cli.run(
                        "race",
                        "top_up",
                        "vessel=T2",
                        "litres=10",
                        "--isolation",
                        "READ COMMITTED");
        assertTrue(quoted.out().contains("an update is lost"), quoted.out());
        assertEquals(times(quoted.out()), times(plain.out()));
    }

    private static String times(String text) {
        return text.replaceAll("at [0-9-]+ [0-9:.]+", "at …");
    }

    @Test
    void jsonFitsItsSchema() throws Exception {
        Cli.Result result = cli.run("race", ONE, TWO, "--json");
        JsonNode report = new ObjectMapper().readTree(result.out());
        assertEquals(0, SchemasTest.problems("race", report).size(), result.out());
        assertEquals(4, report.get("levels").size());
        assertEquals(
                "lost_update",
                report.get("levels").get(1).get("findings").get(0).get("kind").asText());
    }

    @Test
    void whatIsFoundBecomesACase() throws Exception {
        Cli.Result result =
                cli.run(
                        "race",
                        ONE,
                        TWO,
                        "--isolation",
                        "READ COMMITTED",
                        "--to",
                        "cases/race.yaml");
        assertTrue(result.out().contains("wrote cases/race.yaml\n"), result.out());
        Cli.Result test = cli.run("test", "cases/race.yaml");
        assertEquals(1, test.code(), test.out());
        assertTrue(test.out().contains("an update is lost; journal: at "), test.out());
        cli.write(
                "routines/top_up.sql",
                Files.readString(cli.path("routines/top_up.sql"))
                        .replace("level_l = held + litres", "level_l = level_l + litres"));
        Cli.Result mended = cli.run("test", "cases/race.yaml");
        assertEquals(0, mended.code(), mended.out());
        Cli.Result again = cli.run("race", ONE, TWO, "--to", "cases/race.yaml");
        assertEquals(2, again.code());
        Cli.Result debug = cli.run("debug", "--case", "an update is lost, READ COMMITTED");
        assertTrue(
                (debug.err() + debug.out())
                        .contains("calls that are made at the same time are run by test"),
                debug.err() + debug.out());
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '"',
            value = {
                "'' | race takes calls, each as one word of the command line",
                "tap_up x=1 | did you mean top_up?",
                "top_up vessle=1 | vessle",
                "top_up vessel='T 1 | a quote is not closed",
                "top_up vessel=T2 litres=10~--isolation~loose | --isolation takes READ UNCOMMITTED",
                "top_up vessel=T2~top_up litres=3 | litres",
                "a~b~c~d~e | at most four calls",
                "top_up~vessel=T2~litres=3~grade_for | vessel=T2 is no call: a call and its arguments",
                "top_up vessel=T2 litres=10~--on~nowhere | nowhere"
            })
    void whatCantBeIsSaid(String line, String said) {
        String[] words = line.equals("''") ? new String[0] : line.split("~");
        String[] all = new String[words.length + 1];
        all[0] = "race";
        System.arraycopy(words, 0, all, 1, words.length);
        Cli.Result result = cli.run(all);
        assertTrue(result.code() != 0, result.out());
        assertTrue(result.err().contains(said), result.err());
    }

    @Test
    void timeIsShared() {
        Cli.Result result = cli.run("race", ONE, TWO, "--within", "0.001");
        assertTrue(
                result.out().contains("time ran out, --within SECONDS gives more"), result.out());
    }

    /** Each command of the lab writes its page, again over its own, and over no other file. */
    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "race~pour vessel=T2 litres=10~--isolation~SERIALIZABLE | at the same time: pour",
                "mutants~grade_for | mistakes that cases notice",
                "faults~move_wine~source=T1~target=C7~litres=120 | faults of move_wine",
                "explore~grade_for | arguments of grade_for"
            })
    void aPageIsWritten(String line, String title) throws Exception {
        String[] words = (line + "~--page~out/lab.html").split("~");
        Cli.Result result = cli.run(words);
        assertTrue(result.out().contains("wrote out/lab.html\n"), result.out() + result.err());
        assertTrue(Files.readString(cli.path("out/lab.html")).contains("<h1>" + title));
        assertEquals(result.code(), cli.run(words).code());
        cli.write("out/lab.html", "somebody's own");
        Cli.Result over = cli.run(words);
        assertEquals(2, over.code());
        assertTrue(over.err().contains("was not made by this command"), over.err());
        assertEquals("somebody's own", Files.readString(cli.path("out/lab.html")));
    }

    /** What the cases of a routine want to hold is looked at in race and in faults, too. */
    @Test
    void invariantsOfItsCasesAreLookedAt() throws Exception {
        cli.write(
                "cases/top_up.yaml",
                "routine: top_up\n"
                        + "invariants: { T2 is not half full: { none: SELECT code FROM vessel WHERE"
                        + " code = 'T2' AND level_l BETWEEN 1 AND 25 } }\n"
                        + "cases:\n  - case: full\n    pass: { vessel: T2, litres: 30 }\n");
        Cli.Result race = cli.run("race", ONE, TWO, "--isolation", "READ COMMITTED");
        assertTrue(
                race.out().contains("an invariant is broken at READ COMMITTED\n"),
                race.out() + race.err());
        Cli.Result faults = cli.run("faults", "top_up", "vessel=T2", "litres=20", "--json");
        assertTrue(
                faults.err().contains("'T2 is not half full' does not hold even when nothing"),
                faults.out() + faults.err());
        Cli.Result serial = cli.run("race", ONE, "top_up vessel=T2 litres=5");
        assertTrue(
                serial.err().contains("does not hold even when the calls come one after the other"),
                serial.out() + serial.err());
    }
}
