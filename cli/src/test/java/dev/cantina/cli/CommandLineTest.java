package dev.cantina.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class CommandLineTest {
    @TempDir Path temporary;
    private Cli cli;

    @BeforeEach
    void copyTheWinery() throws IOException {
        cli = Cli.winery(temporary);
    }

    private JsonNode json(String... words) throws IOException {
        return new ObjectMapper().readTree(cli.run(words).out());
    }

    @Test
    void checkFindsTheDemoWell() {
        Cli.Result result = cli.run("check");
        assertEquals(0, result.code());
        assertTrue(result.out().startsWith("winery: all well"), result.out());
    }

    @Test
    void checkShowsEveryProblemOfAllFilesInOrder() throws IOException {
        cli.write("routines/a.sql", "CREATE PROCEDURE a () CALL move_wne();\n");
        cli.write("routines/b.sql", "CREATE PROCEDURE b (OUT x INTEGER) SET x = ;\n");
        Cli.Result result = cli.run("check");
        assertEquals(1, result.code());
        int first =
                result.out()
                        .indexOf(
                                "routines/a.sql:1:28: error (unknown-name): there is no procedure move_wne");
        int second =
                result.out()
                        .indexOf(
                                "routines/b.sql:1:44: error (syntax): expected a value, found ';'");
        assertTrue(first >= 0 && second > first, result.out());
        assertTrue(result.out().contains("hint: did you mean move_wine?"), result.out());
        assertTrue(result.out().contains("winery: 2 errors"), result.out());
    }

    @Test
    void checkLooksOnlyAtTheFilesThatAreNamed() throws IOException {
        cli.write("routines/a.sql", "CREATE PROCEDURE a () CALL move_wne();\n");
        assertEquals(0, cli.run("check", "routines/move_wine.sql").code());
        assertEquals(1, cli.run("check", "routines").code());
        assertEquals(2, cli.run("check", "routines/none.sql").code());
    }

    @Test
    void checkAsJsonHasThePlacesAndTheMend() throws IOException {
        cli.write("routines/a.sql", "CREATE PROCEDURE a ()\n  CALL move_wne();\n");
        JsonNode problem = json("check", "--json").get("problems").get(0);
        assertEquals("routines/a.sql", problem.get("file").asText());
        assertEquals(2, problem.get("line").asInt());
        assertEquals(8, problem.get("column").asInt());
        assertEquals(16, problem.get("end_column").asInt());
        assertEquals("error", problem.get("severity").asText());
        assertEquals("unknown-name", problem.get("rule").asText());
        assertEquals("did you mean move_wine?", problem.get("hint").asText());
        assertEquals("move_wine", problem.get("edit").get("text").asText());
    }

    @Test
    void callShowsWhatItGaveAndEveryChangedRow() {
        Cli.Result result = cli.run("call", "move_wine", "source=T1", "target=C7", "litres=120");
        assertEquals(0, result.code());
        assertTrue(result.out().contains("gives moved = 120.0"), result.out());
        assertTrue(result.out().contains("'T1'     level_l 500.0 → 380.0"), result.out());
        assertTrue(result.out().contains("+ movement_id 3,"), result.out());
    }

    @Test
    void callAsJsonKeepsTheContract() throws IOException {
        JsonNode outcome =
                json("call", "move_wine", "source=T1", "target=C7", "litres=120", "--json");
        assertEquals("completed", outcome.get("outcome").asText());
        assertEquals("120.0", outcome.get("out").get("moved").toString());
        JsonNode change = outcome.get("changes").get("vessel").get("changed").get(0);
        assertEquals("{\"code\":\"T1\"}", change.get("key").toString());
        assertEquals("{\"level_l\":500.0}", change.get("before").toString());
        assertEquals("{\"level_l\":380.0}", change.get("after").toString());
        assertTrue(outcome.get("condition").isNull());
        assertTrue(outcome.get("statements").asInt() > 5);
    }

    @Test
    void aConditionInATriggerInAnUpdateInAProcedureShowsTheWholeStack() throws IOException {
        cli.write(
                "routines/deep.sql",
                """
                CREATE PROCEDURE drain (IN v VARCHAR(8))
                BEGIN
                  UPDATE vessel SET level_l = 1 WHERE code = v;
                END;
                CREATE PROCEDURE drain_all ()
                BEGIN
                  CALL drain('T1');
                END;
                CREATE TRIGGER not_so_low AFTER UPDATE ON vessel FOR EACH ROW
                BEGIN
                  IF NEW.level_l < 2 THEN
                    SIGNAL SQLSTATE '45099' SET MESSAGE_TEXT = 'too low';
                  END IF;
                END;
                """);
        JsonNode outcome = json("call", "drain_all", "--json");
        assertEquals("raised", outcome.get("outcome").asText());
        JsonNode stack = outcome.get("condition").get("stack");
        assertEquals("not_so_low", stack.get(0).get("routine").asText());
        assertEquals(12, stack.get(0).get("line").asInt());
        assertEquals("drain", stack.get(1).get("routine").asText());
        assertEquals(3, stack.get(1).get("line").asInt());
        assertEquals("drain_all", stack.get(2).get("routine").asText());
        assertEquals("routines/deep.sql", stack.get(2).get("file").asText());
        assertEquals(3, cli.run("call", "drain_all").code());
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "call mov_wine | there is no routine mov_wine; did you mean move_wine?",
                "call move_wine source=T1 target=C7 | no value for parameter litres",
                "call move_wine source=T1 target=C7 litres=abc | the value of litres does not fit",
                "call move_wine sorce=T1 | there is no parameter sorce; did you mean source?",
                "call move_wine moved=1 source=a target=b litres=1 | parameter moved is OUT",
                "call move_wine source | 'source' is not NAME=VALUE",
                "call grade_for sugar=123456 | out of range for DECIMAL(4, 1)",
                "call | call takes the name of a routine",
                "call move_wine --fixture celar | there is no fixture celar; did you mean cellar?",
                "call grade_for sugar=20 --limit statement=1 | did you mean statements=N?",
                "serve | serve takes what to serve, debug or language",
                "serve nothing | serve takes what to serve, debug or language",
                "serve debug --port much | --port takes a number up to 65535",
                "serve debug --port 70000 | --port takes a number up to 65535",
                "call move_wine --jsn | call has no option --jsn; did you mean --json?",
                "chek | there is no command chek; did you mean check?",
                "test nothing_like_it | no case fits nothing_like_it",
                "debug --case nothing_like_it | no case fits nothing_like_it",
                "new cases | already exists and is not empty",
                "check --project nowhere | no cantina.yaml in",
            })
    void aWrongCommandLineIsAnsweredWithTheMend(String line, String message) {
        Cli.Result result = cli.run(line.strip().split(" "));
        assertEquals(2, result.code());
        assertTrue(result.err().contains(message.strip()), result.err());
        assertFalse(result.err().contains("\tat "), result.err());
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "cantina.yaml | limit: 3 | cantina.yaml:1:1: error (unknown-key): cantina.yaml has no key limit",
                "cantina.yaml | limits: [ | cantina.yaml:",
                "cantina.yaml | limits: { seconds: 0 } | a limit is greater than 0",
                "fixtures/cellar/lot.csv | lot_id,vintage,lable | fixtures/cellar/lot.csv:1:16: error (unknown-column): column lable not found in lot",
                "fixtures/cellar/lot.csv | 'lot_id,vintage,label\n9,soon,x' | fixtures/cellar/lot.csv:2:3: error (wrong-value): vintage: 'soon' is not a value of type INTEGER",
                "fixtures/cellar/lot.csv | 'lot_id,vintage,label\n9,2031' | this row has 2 fields, the header 3",
                "fixtures/cellar/plot.csv | 'plot_id,grower_id,variety,hectares\n10,77,x,1' | the row is refused by plot",
                "fixtures/cellar/lots.csv | a | there is no table lots; did you mean lot?",
                "tables/9.sql | CREATE TABLE x (y NOTYPE); | tables/9.sql:1:1: error (refused-sql)",
            })
    void aWrongProjectFileIsAnsweredWithItsPlace(String file, String text, String message)
            throws IOException {
        cli.write(file, text);
        Cli.Result result = cli.run("call", "grade_for", "sugar=20");
        assertEquals(2, result.code(), result.err());
        assertTrue(result.err().contains(message), result.err());
    }

    @Test
    void aFileThatIsNotUtf8IsNamed() throws IOException {
        Files.write(cli.path("routines/latin.sql"), new byte[] {'-', '-', ' ', (byte) 0xe9, '\n'});
        cli.write("routines/other.sql", "CREATE PROCEDURE other () SET x = 1;");
        Cli.Result result = cli.run("check");
        assertEquals(1, result.code());
        assertTrue(result.out().contains("routines/latin.sql:1:4: error (encoding)"), result.out());
        assertTrue(result.out().contains("routines/other.sql:1:31: error"), result.out());
    }

    @Test
    void outsideAProjectTheWayToOneIsShown() {
        Cli.Result result = new Cli(temporary).run("check");
        assertEquals(2, result.code());
        assertTrue(result.err().contains("no cantina.yaml in"), result.err());
        assertTrue(result.err().contains("cantina new DIR"), result.err());
    }

    @Test
    void aRoutineWithErrorsDoesNotRunAndNothingIsChanged() throws IOException {
        cli.write("routines/bad.sql", "CREATE PROCEDURE bad () DELETE FROM vesel;\n");
        Cli.Result result = cli.run("call", "bad");
        assertEquals(2, result.code());
        assertTrue(result.err().contains("there is no table vesel"), result.err());
        assertTrue(result.err().contains("nothing was changed"), result.err());
    }

    /**
     * A trigger of the demo with a typo in it: everything that fires it is refused, by every face.
     */
    @ParameterizedTest
    @ValueSource(
            strings = {
                "call record_intake plot=10 kilograms=500 sugar=21",
                "trace record_intake plot=10 kilograms=500 sugar=21",
                "profile record_intake plot=10 kilograms=500 sugar=21",
                "debug record_intake plot=10 kilograms=500 sugar=21",
                "run script.sql",
                "debug --run script.sql",
            })
    void noFaceRunsPastATriggerThatCantBeRead(String line) throws IOException {
        String trigger = Files.readString(cli.path("routines/intake_is_sound.sql"));
        cli.write("routines/intake_is_sound.sql", trigger.replaceFirst(" THEN", " THN"));
        cli.write(
                "script.sql",
                "UPDATE intake SET sugar = 20; INSERT INTO intake (plot_id, picked_on, kilograms, sugar) VALUES (10, CURRENT_DATE, 500, 21);\n");
        Cli.Result result = cli.typing("continue\n", line.split(" "));
        assertEquals(2, result.code(), result.out() + result.err());
        assertTrue(
                result.err().contains("routines/intake_is_sound.sql:"),
                result.out() + result.err());
    }

    @Test
    void aCaseThatReachesWhatCantBeReadIsBroken() throws IOException {
        String trigger = Files.readString(cli.path("routines/intake_is_sound.sql"));
        cli.write("routines/intake_is_sound.sql", trigger.replaceFirst(" THEN", " THN"));
        Cli.Result result = cli.run("test", "record_intake", "move_wine");
        assertEquals(1, result.code(), result.out());
        assertTrue(result.out().contains("broken"), result.out());
        assertTrue(result.out().contains("passed"), result.out());
    }

    @Test
    void aRunawayRoutineEndsAtTheLimitThatWasSaid() throws IOException {
        cli.write(
                "routines/spin.sql",
                "CREATE PROCEDURE spin ()\nBEGIN\n  WHILE TRUE DO\n    REPORT 'x';\n  END WHILE;\nEND;\n");
        Cli.Result result = cli.run("call", "spin", "--limit", "statements=500", "--quiet");
        assertEquals(5, result.code());
        assertTrue(
                result.out().contains("the limit of 500 statements is passed in spin, line 4"),
                result.out());
    }

    @Test
    void runRunsAScriptOfCallsBlocksAndStatements() {
        Cli.Result result = cli.run("run", "scripts/october.sql");
        assertEquals(0, result.code(), result.err());
        assertTrue(result.out().contains("move_wine gives moved = 120.0"), result.out());
        assertTrue(result.out().contains("Ada Mirtillo is owed 1638.95"), result.out());
        assertTrue(result.out().contains("T1     tank       380.0"), result.out());
    }

    @Test
    void runReadsTheStandardInputAndItsRoutinesLiveForTheScript() throws IOException {
        String script =
                "CREATE FUNCTION twice (x INTEGER) RETURNS INTEGER RETURN x * 2;\n"
                        + "BEGIN REPORT twice(21); END;\nUPDATE lot SET label = 'x' WHERE lot_id = 1;\n";
        Cli.Result result = cli.typing(script, "run", "-", "--json");
        JsonNode outcome = new ObjectMapper().readTree(result.out());
        assertEquals("42", outcome.get("messages").get(0).asText());
        assertEquals(1, outcome.get("changes").get("lot").get("changed").size());
        assertEquals(2, cli.run("call", "twice", "x=1").code());
    }

    @Test
    void aScriptWithErrorsDoesNotBegin() {
        Cli.Result result = cli.typing("DELETE FROM lot;\nCALL nothing_like_it();\n", "run", "-");
        assertEquals(1, result.code());
        assertTrue(result.err().contains("standard input:2:6: error (unknown-name)"), result.err());
        assertEquals("", result.out());
    }

    @Test
    void aProjectWithErrorsIsNotShipped() throws IOException {
        cli.write("routines/broken.sql", "CREATE PROCEDURE broken (OUT r INTEGER) SET r = wine;\n");
        Cli.Result result = cli.run("ship", "postgresql", "--to", "out.sql", "--rest");
        assertEquals(2, result.code());
        assertTrue(result.err().contains("routines/broken.sql:1:49: error"), result.err());
        assertTrue(result.err().contains("nothing was shipped"), result.err());
        assertFalse(Files.exists(cli.path("out.sql")));
    }

    @Test
    void argumentsCanBeSavedAndTakenAgain() throws IOException {
        String[] first = {
            "call",
            "move_wine",
            "source=T1",
            "target=C7",
            "litres=120",
            "--save-args",
            "args/evening.json"
        };
        assertEquals(0, cli.run(first).code());
        Cli.Result again = cli.run("call", "move_wine", "--args", "args/evening.json", "litres=1");
        assertTrue(again.out().contains("gives moved = 1.0"), again.out() + again.err());
        cli.write("args/bad.json", "[1]");
        assertEquals(2, cli.run("call", "move_wine", "--args", "args/bad.json").code());
    }

    @Test
    void aValueMayBeAQuery() {
        String query = "target== SELECT code FROM vessel WHERE level_l = 0 ORDER BY code";
        Cli.Result result = cli.run("call", "move_wine", "source=T1", "litres=5", query);
        assertTrue(
                result.out().contains("'B2'     level_l 0.0 → 5.0"), result.out() + result.err());
        Cli.Result refused = cli.run("call", "grade_for", "sugar== SELECT nothing");
        assertEquals(2, refused.code());
        assertTrue(refused.err().contains("is refused"), refused.err());
    }

    @Test
    void theClockIsTheOneThatIsSaid() throws IOException {
        String moment = "2031-12-24 18:00:00";
        JsonNode outcome =
                json(
                        "call",
                        "record_intake",
                        "plot=10",
                        "kilograms=1",
                        "--clock",
                        moment,
                        "--json");
        JsonNode row = outcome.get("changes").get("intake").get("added").get(0);
        assertEquals("2031-12-24", row.get("picked_on").asText());
    }

    @Test
    void testNamesEachDifferenceAndTheCommandThatRepeatsIt() {
        Cli.Result result = cli.run("test");
        assertEquals(1, result.code());
        assertTrue(result.out().contains("returns.lost"), result.out());
        assertTrue(result.out().contains("expected  actual"), result.out());
        assertTrue(result.out().contains("returns.lost  6.0       8.9"), result.out());
        assertTrue(
                result.out().contains("again: cantina test cases/topping_loss.yaml"), result.out());
        assertTrue(result.out().contains("46 cases: 45 passed, 1 failed"), result.out());
    }

    @Test
    void testAsJsonKeepsTheContract() throws IOException {
        JsonNode report = json("test", "--json", "topping_loss");
        assertEquals(1, report.get("passed").asInt());
        assertEquals(1, report.get("failed").asInt());
        JsonNode difference = report.get("cases").get(0).get("differences").get(0);
        assertEquals("returns.lost", difference.get("at").asText());
        assertEquals("6.0", difference.get("expected").toString());
        assertEquals("8.9", difference.get("actual").toString());
    }

    @Test
    void theDebuggerStepsIntoATriggerThatSqlSetsOff() {
        Cli.Result result =
                cli.typing(
                        "pause at 24\ncontinue\ninto\nstack\nout\nquit\n",
                        "debug",
                        "move_wine",
                        "source=T1",
                        "target=C7",
                        "litres=120");
        assertTrue(
                result.out()
                        .contains(
                                "vessel_journal stopped at line 7 of routines/vessel_journal.sql: a step"),
                result.out());
        assertTrue(
                result.out()
                        .contains(
                                "  1  move_wine(source 'T1', target 'C7', litres 120.0)  routines/move_wine.sql:24:3"),
                result.out());
        assertTrue(
                result.out()
                        .contains("move_wine stopped at line 26 of routines/move_wine.sql: a step"),
                result.out());
        assertTrue(result.out().contains("ended by quit: everything is rolled back"), result.out());
    }

    @Test
    void aSetInTheDebuggerChangesThePathTaken() {
        Cli.Result result =
                cli.typing(
                        "set litres = 0\ncontinue\n",
                        "debug",
                        "move_wine",
                        "source=T1",
                        "target=C7",
                        "litres=120");
        assertEquals(3, result.code());
        assertTrue(result.out().contains("litres is now 0"), result.out());
        assertTrue(result.out().contains("litres must be more than nothing"), result.out());
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "intoo | there is no word intoo; did you mean into?",
                "stepp | there is no word stepp; into, over, out and continue go on, help shows all",
                "pause at 24 when odd > 1 | there is no variable odd here; there are source, target",
                "pause on change of nobody | there is no variable nobody here; there are source,",
                "disable all | 0 breakpoints disabled",
                "o | o may be over, out",
                "set nothing = 1 | there is no variable nothing here; there are",
                "set litres = 'x' | can't be stored",
                "set litres | set takes a variable and a value",
                "eval 1 / 0 | 22012 division by zero",
                "eval 1 + | '1 +' can't be read",
                "pause at 999 | move_wine has no statement at line 999 or after it; its last begins at line 44",
                "pause at 1 | line 1 stands before move_wine, which begins at 2",
                "pause at mov_wine:3 | there is no routine mov_wine; did you mean move_wine?",
                "pause at 24 when litres | 'litres' is DECIMAL(8, 1), and has no truth value",
                "pause on nothing | pause on takes exception, unhandled, not found, an SQLSTATE",
                "pause on write to vesel | there is no table vesel; did you mean vessel?",
                "pause on change of litre | did you mean litres?",
                "pause at nobody:end | there is no routine nobody",
                "pause at 24 often | 'often' is not understood",
                "pause at 24 after some | after takes a number",
                "pause | pause at takes a line or end",
                "back | this is the start; there is nothing before it",
                "back to | back to takes a line of this routine",
                "continue 24 | continue stands alone; '24' is not understood",
                "over 2 | over stands alone; '2' is not understood",
                "vars litres | vars stands alone; 'litres' is not understood",
                "back into 24 | back goes one statement back, back into, back to LINE or back",
                "back to 24 30 | back goes one statement back, back into, back to LINE or back",
                "back to pause 2 | back goes one statement back, back into, back to LINE or back",
                "back 3 | back goes one statement back",
                "watch nothing | nothing",
                "unwatch 1 | there is no watch 1",
                "show | show takes an expression",
                "sql! COMMIT | sql! takes INSERT, UPDATE, DELETE, MERGE",
                "sql! UPDATE vessel SET level_l = -1 | 23514 the check level_fits",
                "set moved = moved + | can't be read",
                "set 1 = 2 | 1 is no variable",
                "set litres + 1 = 2 | litres + 1 is no variable",
                "to 999 | move_wine has no statement at line 999 or after it",
                "disable 7 | there is no breakpoint 7",
                "frame 9 | there is no frame 9",
                "rows vesel | 42S02 table VESEL not found",
                "sql DELETE FROM lot | sql only looks; to change data, say sql! DELETE FROM lot",
                "to nowhere | to takes a line",
            })
    void aWrongWordInTheDebuggerIsAnsweredAndTheRunStaysInHand(String word, String message) {
        Cli.Result result =
                cli.typing(
                        word.strip() + "\nvars\n",
                        "debug",
                        "move_wine",
                        "source=T1",
                        "target=C7",
                        "litres=120");
        assertTrue(result.out().contains(message.strip()), result.out());
        assertTrue(result.out().contains("litres   IN DECIMAL(8, 1)   120.0"), result.out());
        assertTrue(result.out().contains("everything is rolled back"), result.out());
    }

    @Test
    void aFailingCaseIsDebuggedWithItsOwnArguments() {
        Cli.Result result =
                cli.typing(
                        "pause at 23 when month = 2\ncontinue\nvars\ncontinue\n",
                        "debug",
                        "--case",
                        "two months*");
        assertEquals(1, result.code());
        assertTrue(result.out().contains("month      INTEGER            2"), result.out());
        assertTrue(result.out().contains("returns.lost  6.0       8.9"), result.out());
    }

    @Test
    void aNewProjectRunsAtOnce() {
        Cli here = new Cli(temporary);
        assertEquals(0, here.run("new", "fresh").code());
        Cli fresh = new Cli(temporary.resolve("fresh"));
        assertEquals(0, fresh.run("check").code(), fresh.run("check").out());
        Cli.Result tested = fresh.run("test");
        assertEquals(0, tested.code(), tested.out());
        assertTrue(tested.out().contains("3 cases: 3 passed"), tested.out());
        assertEquals(0, fresh.run("call", "pour", "glass=G1", "millilitres=100").code());
    }

    @Test
    void aNewProjectMayBeTheFolderThatOneIsIn() throws Exception {
        Path folder = Files.createDirectory(temporary.resolve("here"));
        Cli here = new Cli(folder);
        Cli.Result made = here.run("new", ".");
        assertEquals(0, made.code(), made.err());
        assertTrue(made.out().contains("A project in this folder. Try:"), made.out());
        assertEquals(0, here.run("check").code());
    }

    @Test
    void theTourEndsWell() {
        Cli.Result result = cli.run("demo", "--plain");
        assertEquals(0, result.code(), result.out() + result.err());
        assertTrue(result.out().contains("The tour is over, and all is well."), result.out());
        assertTrue(result.out().contains("46 cases: 46 passed"), result.out());
    }

    @ParameterizedTest
    @ValueSource(strings = {"new", "import", "check", "call", "run", "test", "debug", "demo"})
    void eachCommandHasHelpWithAnExample(String command) {
        Cli.Result result = cli.run(command, "--help");
        assertEquals(0, result.code());
        assertTrue(result.out().startsWith("cantina " + command), result.out());
        assertTrue(result.out().contains("For example"), result.out());
    }

    @Test
    void theExamplesOfHelpWork() throws IOException {
        for (Command command : Main.COMMANDS) {
            // The demo knows no server; those that want one are seen where there is one.
            if (List.of("new", "demo", "agree", "import").contains(command.name())) {
                continue;
            }
            String line =
                    command.example()
                            .replaceFirst("^cantina ", "")
                            .replace("demo/winery", cli.path("").toString());
            String typed = command.name().equals("console") ? "quit\n" : "continue\n";
            assertEquals(0, cli.typing(typed, line.split(" ")).code(), line);
        }
    }
}
