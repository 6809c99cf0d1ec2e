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

/** {@code faults}, and {@code --fault} of the commands that run something. */
class FaultsCommandTest {
    private static final String HALF =
            """
            CREATE PROCEDURE half (IN code VARCHAR(8), OUT done INTEGER)
            BEGIN
              UPDATE vessel SET level_l = 1 WHERE vessel.code = half.code;
              COMMIT;
              UPDATE vessel SET level_l = 2 WHERE vessel.code = 'T2';
              SET done = 1;
            END;
            """;

    @TempDir Path folder;
    private Cli cli;

    @BeforeEach
    void winery() throws Exception {
        cli = Cli.winery(folder);
        cli.write("routines/half.sql", HALF);
    }

    @Test
    void aSoundRoutineIsWell() {
        Cli.Result result = cli.run("faults", "move_wine", "source=T1", "target=C7", "litres=9");
        assertEquals(0, result.code(), result.out());
        assertTrue(result.out().contains("move_wine: none of 33 faults leaves"), result.out());
        Cli.Result all =
                cli.run("faults", "move_wine", "source=T1", "target=C7", "litres=9", "--all");
        assertTrue(all.out().contains("vessel_journal\n    7  INSERT INTO journal"), all.out());
        assertTrue(all.out().contains("nothing stays, and the caller is told"), all.out());
    }

    @Test
    void whatItFindsCanBeLookedAt() throws Exception {
        Cli.Result result = cli.run("faults", "half", "code=T1", "--json");
        assertEquals(1, result.code());
        JsonNode report = new ObjectMapper().readTree(result.out());
        assertTrue(SchemasTest.problems("faults", report).isEmpty(), result.out());
        JsonNode worst = report.get("findings").get(0);
        assertEquals("part", worst.get("rows").asText());
        assertEquals(5, worst.get("line").asInt());
        assertEquals(1, worst.get("left").get("vessel").get("changed").asInt());
        String look = worst.get("look").asText();
        assertEquals("cantina debug half code=T1 --fault 40001@half:5", look);
        Cli.Result debug =
                cli.typing(
                        "pause on exception\ncontinue\nstack\nback\ncontinue\ncontinue\n",
                        look.substring("cantina ".length()).split(" "));
        assertTrue(debug.out().contains("raised: 40001 serialization failure"), debug.out());
        assertTrue(debug.out().contains("half stopped at line 5"), debug.out());
    }

    @Test
    void aCaseIsTriedWithItsData() {
        Cli.Result result = cli.run("faults", "--case", "a full target leaves*", "--within", "20");
        assertTrue(
                result.err().contains("ends in a condition even when nothing goes wrong")
                        || result.out().contains("faults"),
                result.out() + result.err());
        Cli.Result moved = cli.run("faults", "--case", "moves wine*");
        assertEquals(0, moved.code(), moved.out() + moved.err());
        assertTrue(
                moved.out().contains("moves wine and writes the ledger: none of 33"), moved.out());
    }

    @Test
    void aFaultMayComeInACallAndInATrace() {
        Cli.Result call = cli.run("call", "half", "code=T1", "--fault", "08006@half:5");
        assertTrue(call.out().contains("the connection was lost"), call.out());
        assertTrue(call.out().contains("level_l 500.0 → 1.0"), call.out());
        Cli.Result none = cli.run("call", "half", "code=T1", "--fault", "40001@half:5#2");
        assertEquals(0, none.code(), "it is run once alone");
        assertTrue(
                none.err()
                        .contains(
                                "note: the fault 40001@half:5#2 did not come: line 5 has touched"
                                        + " data 1 time"),
                none.err());
        Cli.Result trace = cli.run("trace", "half", "code=T1", "--fault", "53100@vessel_journal:7");
        assertTrue(trace.out().contains("53100"), trace.out());
        Cli.Result text = cli.run("test", "move_wine");
        assertEquals(0, text.code(), text.out());
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "40001@half:99 | 40001@half:99 did not come: half has touched data in lines 3, 5",
                "40001@halv:3 | no statement of halv has touched data; did you mean half?",
                "40001@vessel_journal:99 | vessel_journal has touched data in line 7",
                "40001@amount_owed:9 | no statement of amount_owed has touched data",
            })
    void aFaultThatDoesNotComeIsSaid(String fault, String says) {
        for (String command : new String[] {"call", "trace", "profile", "debug"}) {
            Cli.Result result =
                    cli.typing("continue\n", command, "half", "code=T1", "--fault", fault);
            assertTrue(result.err().contains(says), command + result.out() + result.err());
        }
        Cli.Result second =
                cli.run(
                        "call",
                        "half",
                        "code=T1",
                        "--fault",
                        "40001@half:5",
                        "--fault",
                        "40001@half:9");
        assertTrue(
                second.err().contains("40001@half:9 did not come after the one before it: no"),
                second.err());
        assertFalse(
                cli.run("call", "half", "code=T1", "--fault", "40001@half:5")
                        .err()
                        .contains("did not come"));
    }

    @Test
    void invariantsAreDifferencesOfACase() throws Exception {
        Files.writeString(
                cli.path("cantina.yaml"),
                Files.readString(cli.path("cantina.yaml"))
                        + "invariants:\n  wine stays: { same: SELECT SUM(level_l) FROM vessel }\n");
        cli.write(
                "cases/half.yaml",
                "routine: half\ncases:\n  - case: loses wine\n    pass: { code: T1 }\n"
                        + "  - case: may lose wine\n    pass: { code: T1 }\n    invariants: { wine"
                        + " stays: off, nothing below: { none: SELECT code FROM vessel WHERE level_l <"
                        + " 0 } }\n");
        Cli.Result result = cli.run("test", "cases/half.yaml");
        assertEquals(1, result.code());
        assertTrue(result.out().contains("invariants.wine stays  800.0     303.0"), result.out());
        assertTrue(result.out().contains("passed"), result.out());
        assertTrue(result.out().contains("2 cases: 1 passed, 1 failed"), result.out());
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "faults | faults takes a routine, or --case SELECTOR",
                "faults half code=T1 --within never | --within takes a number of seconds",
                "faults nosuch | there is no routine nosuch",
                "faults half | code",
                "call half code=T1 --fault nonsense | 'nonsense' is no fault",
                "faults half code=T1 --fault 40001@half:5 | --fault"
            })
    void whatIsWrongIsSaid(String line, String says) {
        Cli.Result result = cli.run(line.split(" "));
        assertEquals(2, result.code(), result.out());
        assertTrue(result.err().contains(says), result.err());
        assertFalse(result.err().contains("defect"), result.err());
    }
}
