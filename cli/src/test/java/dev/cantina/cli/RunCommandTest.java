package dev.cantina.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.file.Path;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What a person sees who runs a script. */
class RunCommandTest {
    @TempDir Path folder;
    private Cli cli;

    @BeforeEach
    void project() throws Exception {
        cli = Cli.winery(folder);
    }

    @Test
    void anErrorOfARoutineThatNobodyCallsIsSaidBeforeTheScriptBegins() {
        String script =
                "DELETE FROM journal;\n"
                        + "CREATE PROCEDURE spill (OUT r INTEGER) SET r = litres_left;\n";
        Cli.Result result = cli.typing(script, "run", "-");
        assertEquals(1, result.code());
        assertTrue(
                result.err().contains("standard input:2:48: error (unknown-name)"), result.err());
        assertEquals("", result.out());
    }

    @Test
    void errorsComeInTheOrderOfTheScript() {
        String script =
                "CREATE PROCEDURE spill (OUT r INTEGER) SET r = litres_left;\n"
                        + "CALL nobody();\n"
                        + "CREATE FUNCTION none () RETURNS INTEGER BEGIN END;\n";
        String err = cli.typing(script, "run", "-").err();
        int first = err.indexOf("standard input:1:");
        int second = err.indexOf("standard input:2:");
        int third = err.indexOf("standard input:3:");
        assertTrue(first >= 0 && first < second && second < third, err);
    }

    @Test
    void aRoutineOfAScriptMayUseATableThatTheScriptMakes() {
        String script =
                "CREATE TABLE press (code VARCHAR(8) PRIMARY KEY, bars INTEGER);\n"
                        + "CREATE PROCEDURE add_press (IN c VARCHAR(8)) INSERT INTO press VALUES (c, 3);\n"
                        + "CALL add_press('P1');\n"
                        + "SELECT code, bars FROM press;\n";
        Cli.Result result = cli.typing(script, "run", "-");
        assertEquals(0, result.code(), result.err());
        assertTrue(result.out().contains("P1"), result.out());
    }

    @Test
    void aModulesVariableLivesAcrossTheCallsOfAScript() {
        String script =
                "CREATE MODULE tally\n"
                        + "  DECLARE turns INTEGER DEFAULT 0;\n"
                        + "  PROCEDURE turn () BEGIN SET turns = turns + 1; REPORT 'turn ', turns; END;\n"
                        + "END MODULE;\n"
                        + "CALL tally.turn();\nCALL tally.turn();\nREPORT 'in all ', tally.turns;\n";
        Cli.Result result = cli.typing(script, "run", "-");
        assertEquals(0, result.code(), result.err());
        assertTrue(result.out().contains("turn 2"), result.out());
        assertTrue(result.out().contains("in all 2"), result.out());
    }

    @Test
    void aConditionEndsTheScriptAndNothingOfItStays() {
        String script =
                "UPDATE vessel SET level_l = 1 WHERE code = 'T1';\n"
                        + "CALL move_wine('T1', 'C7', 400);\n";
        Cli.Result result = cli.typing(script, "run", "-");
        assertEquals(3, result.code());
        assertTrue(result.out().contains("standard input:2"), result.out());
        assertTrue(result.out().contains("nothing was changed"), result.out());
    }

    @Test
    void theClockIsTheScripts() {
        Cli.Result result =
                cli.typing(
                        "REPORT CURRENT_DATE;\n"
                                + "INSERT INTO journal (who, what) VALUES ('x', 'y');\n"
                                + "SELECT CAST(at AS DATE) AS noted FROM journal;\n",
                        "run",
                        "-",
                        "--clock",
                        "2031-10-04 09:00:00");
        assertEquals(0, result.code(), result.err());
        assertTrue(result.out().contains("says  2031-10-04"), result.out());
        assertTrue(result.out().lines().anyMatch(l -> l.strip().equals("2031-10-04")));
    }
}
