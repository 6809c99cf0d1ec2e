package dev.cantina.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The commands that use a server, on the winery and a real PostgreSQL. */
class ServersTest {
    private static EmbeddedPostgres server;
    private static String url;
    private static int count;

    @TempDir Path folder;
    private Cli cli;
    private String schema;

    @BeforeAll
    static void start() throws IOException {
        String own = System.getenv("CANTINA_POSTGRESQL_URL");
        if (own == null) {
            server = EmbeddedPostgres.builder().start();
        }
        url = own != null ? own : server.getJdbcUrl("postgres", "postgres");
    }

    @AfterAll
    static void stop() throws IOException {
        if (server != null) {
            server.close();
        }
    }

    @BeforeEach
    void winery() throws Exception {
        cli = Cli.winery(folder);
        schema = "cantina_cli_" + ProcessHandle.current().pid() + "_" + count++;
        execute("CREATE SCHEMA " + schema);
        String yaml = Files.readString(cli.path("cantina.yaml"));
        // Each test ships a project of its own: module schemas are shared by a whole database.
        cli.write(
                "cantina.yaml",
                yaml.replace("project: winery", "project: winery" + count)
                        + "databases:\n  press-house: { url: \""
                        + url
                        + "&currentSchema="
                        + schema
                        + "\" }\n  nowhere: { url: \"jdbc:postgresql://localhost:1/x\" }\n");
    }

    private static void execute(String sql) throws SQLException {
        try (Connection connection = DriverManager.getConnection(url);
                Statement statement = connection.createStatement()) {
            statement.execute(sql);
        }
    }

    private String ask(String query) throws SQLException {
        try (Connection connection = DriverManager.getConnection(url + "&currentSchema=" + schema);
                Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(query)) {
            row.next();
            return row.getString(1);
        }
    }

    private void tables() throws Exception {
        StringBuilder sql = new StringBuilder("SET search_path TO " + schema + ";");
        try (Stream<Path> files = Files.list(cli.path("tables"))) {
            for (Path file : files.sorted().toList()) {
                sql.append(Files.readString(file));
            }
        }
        execute(sql.toString());
    }

    @Test
    void theCasesOfTheDemoComeToTheSameOnTheServer() {
        Cli.Result here = cli.run("test", "--quiet", "--json");
        Cli.Result there = cli.run("test", "--on", "press-house", "--json");
        assertEquals(ExitCode.FAILED, there.code(), there.err());
        assertEquals(verdicts(here.out()), verdicts(there.out()));
        assertTrue(verdicts(there.out()).contains("45 passed, 1 failed"));
    }

    private static String verdicts(String json) {
        try {
            JsonNode node = new ObjectMapper().readTree(json);
            StringBuilder text = new StringBuilder();
            node.get("cases").forEach(c -> text.append(c.get("case")).append(c.get("verdict")));
            return text + " " + node.get("passed") + " passed, " + node.get("failed") + " failed";
        } catch (IOException e) {
            throw new IllegalStateException(json, e);
        }
    }

    @Test
    void aCaseIsDebuggedTracedAndProfiledOnTheServer() throws Exception {
        Cli.Result debug =
                cli.typing(
                        "over\nback\nover\ncontinue\n",
                        "debug",
                        "--case",
                        "two months*",
                        "--at-difference",
                        "--fresh",
                        "--on",
                        "press-house");
        assertEquals(1, debug.code(), debug.out() + debug.err());
        assertTrue(
                debug.out().contains("line 23 of routines/topping_loss.sql: gone back"),
                debug.out());
        assertTrue(debug.out().contains("lost  6.0 → 8.9"), debug.out());
        Cli.Result trace = cli.run("trace", "--case", "moves wine and*", "--on", "press-house");
        assertEquals(0, trace.code(), trace.out() + trace.err());
        assertTrue(trace.out().contains("vessel 'T1'  level_l 500.0 → 380.0"), trace.out());
        Cli.Result profile = cli.run("profile", "--case", "two months*", "--on", "press-house");
        assertTrue(profile.out().contains("topping_loss:15"), profile.out() + profile.err());
        Cli.Result away = cli.run("trace", "--case", "two months*", "--on", "nowhere");
        assertTrue(away.err().contains("nowhere can't be reached"), away.out() + away.err());
    }

    @Test
    void allCasesOfTheDemoAgreeInThreeWays() throws SQLException {
        Cli.Result agree = cli.run("agree", "press-house");
        assertEquals(ExitCode.WELL, agree.code(), agree.out() + agree.err());
        assertTrue(
                agree.out()
                        .contains(
                                "all 46 cases agree in 2 to 3 ways: embedded, press-house, press-house itself"),
                agree.out());
        assertTrue(agree.out().contains("PostgreSQL runs no Java"), agree.out());
        assertEquals(
                "0",
                ask("SELECT count(*) FROM pg_namespace WHERE nspname LIKE 'cantina\\_agree%'"));
    }

    @Test
    void aFixtureIsLoadedForOneCallAndGoneAfterwards() throws SQLException {
        Cli.Result call =
                cli.run(
                        "call",
                        "move_wine",
                        "source=T1",
                        "target=C7",
                        "litres=120",
                        "--on",
                        "press-house",
                        "--fixture",
                        "cellar");
        assertEquals(ExitCode.WELL, call.code(), call.err());
        assertTrue(call.out().contains("level_l 500.0 → 380.0"), call.out());
        assertEquals(
                "0",
                ask(
                        "SELECT count(*) FROM pg_class WHERE relname = 'vessel' AND relnamespace = current_schema::regnamespace"));
    }

    @Test
    void shippingSaysWhatItWouldDoAndDoesIt() throws Exception {
        Cli.Result none = cli.run("ship", "press-house", "--plan", "--rest");
        assertEquals(ExitCode.DATABASE, none.code());
        assertTrue(none.err().contains("has not got the tables"), none.err());
        tables();
        Cli.Result refused = cli.run("ship", "press-house");
        assertEquals(ExitCode.FAILED, refused.code());
        assertTrue(refused.err().contains("2 routines can't be said"), refused.err());
        assertEquals(
                "0",
                ask(
                        "SELECT count(*) FROM pg_proc WHERE pronamespace = current_schema::regnamespace"));
        Cli.Result plan = cli.run("ship", "press-house", "--plan", "--rest", "--json");
        JsonNode steps = new ObjectMapper().readTree(plan.out()).get("steps");
        assertEquals("create", steps.get(steps.size() - 1).get("action").asText());
        Cli.Result ship = cli.run("ship", "press-house", "--rest");
        assertEquals(ExitCode.WELL, ship.code(), ship.err());
        assertTrue(ship.out().contains("23 created; 2 can't be there"), ship.out());
        execute(
                "INSERT INTO "
                        + schema
                        + ".vessel VALUES ('T1', 'tank', 500, 500, NULL), ('C7', 'cask', 300, 0, NULL)");
        assertEquals("20.0", ask("CALL move_wine('T1', 'C7', 20, NULL)"));
        assertEquals("2", ask("SELECT count(*) FROM journal"));
        Cli.Result again = cli.run("ship", "press-house", "--rest");
        assertTrue(again.out().contains("23 left alone"), again.out());
        Cli.Result removed = cli.run("ship", "press-house", "--remove");
        assertTrue(removed.out().contains("dropped"), removed.out());
        assertEquals(
                "0",
                ask(
                        "SELECT count(*) FROM pg_proc WHERE pronamespace = current_schema::regnamespace"));
    }

    @Test
    void whatOnlyTheServerHasIsShippedAndWhatItLacksIsNot() throws Exception {
        tables();
        execute(
                "CREATE FUNCTION "
                        + schema
                        + ".own_word(x NUMERIC) RETURNS TEXT LANGUAGE sql AS 'SELECT ''own ''||x'");
        cli.write(
                "routines/asks.sql",
                """
                CREATE FUNCTION twice (x DECIMAL(8, 1)) RETURNS DECIMAL(8, 1)
                  RETURN x * 2;
                CREATE PROCEDURE asks (OUT n VARCHAR(40))
                  SELECT own_word(MAX(twice(capacity_l))) INTO n FROM vessel;
                """);
        assertEquals(ExitCode.FAILED, cli.run("check").code());
        Cli.Result plan = cli.run("ship", "press-house", "--plan", "--rest");
        assertEquals(ExitCode.WELL, plan.code(), plan.err());
        Cli.Result ship = cli.run("ship", "press-house", "--rest");
        assertEquals(ExitCode.WELL, ship.code(), ship.err());
        execute("INSERT INTO " + schema + ".vessel VALUES ('T1', 'tank', 500, 500, NULL)");
        assertEquals("own 1000.0", ask("CALL asks(NULL)"));
        cli.write(
                "routines/lacks.sql",
                "CREATE PROCEDURE lacks (OUT n INTEGER)\n  SELECT SPACE(1) INTO n FROM vessel;\n");
        Cli.Result lacks = cli.run("ship", "press-house", "--rest");
        assertEquals(ExitCode.USAGE, lacks.code());
        assertTrue(lacks.err().contains("routines/lacks.sql:2"), lacks.err());
        assertTrue(lacks.err().contains("nothing was shipped"), lacks.err());
    }

    @Test
    void aRoutineOfTheServersOwnThatGivesSomethingElseIsPutAsideForARunAlone() throws Exception {
        tables();
        execute(
                "CREATE FUNCTION "
                        + schema
                        + ".twice(x NUMERIC) RETURNS TEXT LANGUAGE sql AS 'SELECT ''own''::text'");
        cli.write(
                "routines/asks.sql",
                """
                CREATE FUNCTION twice (x DECIMAL(8, 1)) RETURNS DECIMAL(8, 1)
                  RETURN x * 2;
                CREATE PROCEDURE asks (OUT n DECIMAL(8, 1))
                BEGIN
                  SELECT MAX(twice(capacity_l)) INTO n FROM vessel;
                  UPDATE vessel SET level_l = 1 WHERE code = 'no such';
                END;
                """);
        assertEquals(ExitCode.WELL, cli.run("check", "--on", "press-house").code());
        Cli.Result call = cli.run("call", "asks", "--on", "press-house");
        assertEquals(ExitCode.WELL, call.code(), call.err());
        Cli.Result kept = cli.run("call", "asks", "--on", "press-house", "--keep");
        assertEquals(ExitCode.DATABASE, kept.code(), kept.out());
        assertTrue(kept.err().contains("give one of them another name"), kept.err());
        assertEquals("own", ask("SELECT twice(1.0)"));
    }

    @Test
    void aRunThatIsKeptLeavesNoneOfItsCodeBehind() throws Exception {
        tables();
        execute(
                "SET search_path TO "
                        + schema
                        + "; CREATE FUNCTION here (x INTEGER) RETURNS INTEGER LANGUAGE SQL"
                        + " AS 'SELECT -x'");
        cli.write(
                "routines/asks.sql",
                """
                CREATE FUNCTION twice (x INTEGER) RETURNS INTEGER RETURN x * 2;
                CREATE FUNCTION here (x INTEGER) RETURNS INTEGER RETURN x + 1;
                CREATE PROCEDURE asks (OUT n INTEGER)
                BEGIN
                  INSERT INTO journal (who, what) VALUES ('me', 'this');
                  SELECT MAX(twice(here(CHAR_LENGTH(what)))) INTO n FROM journal;
                END;
                """);
        Cli.Result kept = cli.run("call", "asks", "--on", "press-house", "--keep");
        assertEquals(ExitCode.WELL, kept.code(), kept.err());
        assertTrue(kept.out().contains("gives n = 10"), kept.out());
        assertEquals("1", ask("SELECT COUNT(*) FROM journal"));
        assertEquals(
                "here",
                ask(
                        "SELECT string_agg(proname, ' ') FROM pg_proc WHERE pronamespace = '"
                                + schema
                                + "'::regnamespace"));
        assertEquals("-3", ask("SELECT here(3)"));
        assertEquals("0", ask("SELECT COUNT(*) FROM pg_trigger WHERE NOT tgisinternal"));
    }

    @Test
    void theSqlOfAScriptCallsTheProjectsFunctions() throws Exception {
        cli.write(
                "routines/half.sql",
                """
                CREATE FUNCTION half (t VARCHAR(20)) RETURNS VARCHAR(20)
                  RETURN SUBSTRING(t FROM 1 FOR CHAR_LENGTH(t) / 2);
                """);
        cli.write("half.sql", "SELECT code, half(kind) AS h FROM vessel WHERE code = 'T1';\n");
        Cli.Result there = cli.run("run", "half.sql", "--on", "press-house", "--fixture", "cellar");
        assertEquals(ExitCode.WELL, there.code(), there.err());
        assertTrue(there.out().contains("  T1     ta\n"), there.out());
        Cli.Result debugged =
                cli.typing(
                        "pause at half:2\ncontinue\nvars\n",
                        "debug",
                        "--run",
                        "half.sql",
                        "--on",
                        "press-house",
                        "--fixture",
                        "cellar",
                        "--fresh");
        assertTrue(debugged.out().contains("half stopped at line 2 of"), debugged.out());
        assertTrue(debugged.out().contains("t  IN VARCHAR(20)  'tank'"), debugged.out());
    }

    @Test
    void aTriggerIsDebuggedOnTheServerAsItIsHere() throws Exception {
        DocsTest.onServer(cli, "servers.md");
        DebuggedThere.asHere(cli, "press-house");
        DebuggedThere.inAHandler(cli, "press-house");
    }

    @Test
    void whatServerCodeSaysInADynamicStatementIsHeard() throws Exception {
        cli.write(
                "routines/says.sql",
                """
                CREATE FUNCTION says (n INTEGER) RETURNS INTEGER
                BEGIN
                  REPORT 'told ', n;
                  RETURN n + 1;
                END;
                CREATE PROCEDURE asks_for_it (OUT r INTEGER)
                BEGIN
                  PREPARE s FROM 'SELECT says(5) FROM vessel WHERE code = ''T1''';
                  EXECUTE s INTO r;
                  SELECT says(r) INTO r FROM vessel WHERE code = 'T1';
                END;
                """);
        String told = "  says  told 5\n  says  told 6\n";
        assertTrue(cli.run("call", "asks_for_it").out().startsWith(told));
        Cli.Result there =
                cli.run("call", "asks_for_it", "--on", "press-house", "--fixture", "cellar");
        assertTrue(there.out().startsWith(told), there.out());
        Cli.Result watched =
                cli.typing(
                        "continue\n",
                        "debug",
                        "asks_for_it",
                        "--on",
                        "press-house",
                        "--fixture",
                        "cellar",
                        "--fresh");
        assertTrue(watched.out().contains(told), watched.out());
    }

    @Test
    void coverageIsTheSameThereTriggersToo() throws Exception {
        cli.run("test", "--coverage", "--report", "lcov=here.info");
        cli.run("test", "--coverage", "--report", "lcov=there.info", "--on", "press-house");
        assertEquals(
                Files.readString(cli.path("here.info")), Files.readString(cli.path("there.info")));
    }

    @Test
    void aBreakpointStandsInWhatTheServerRunsByItself() throws Exception {
        cli.write(
                "routines/asks.sql",
                """
                CREATE FUNCTION twice (x DECIMAL(8, 1)) RETURNS DECIMAL(8, 1)
                  RETURN x * 2;
                CREATE FUNCTION here (x INTEGER) RETURNS INTEGER
                  RETURN x + 1;
                CREATE PROCEDURE asks (OUT n DECIMAL(9, 1))
                BEGIN
                  SELECT MAX(twice(capacity_l)) INTO n FROM vessel;
                  SET n = n + here(1);
                END;
                """);
        String words =
                "pause at vessel_journal:7\npause at twice:2 when x > 900\npause at here:4\npauses\n"
                        + "continue\nvars\nstack\nremove 2\ncontinue\nquit\n";
        Cli.Result there =
                cli.typing(
                        words,
                        "debug",
                        "asks",
                        "--on",
                        "press-house",
                        "--fixture",
                        "cellar",
                        "--fresh");
        assertTrue(there.out().contains("breakpoint 3 at here:4"), there.out());
        assertTrue(there.out().contains("twice stopped at line 2 of"), there.out());
        assertTrue(there.out().contains("  x  IN DECIMAL(8, 1)  1000.0"), there.out());
        assertTrue(there.out().contains("1  asks()  routines/asks.sql:7"), there.out());
        assertTrue(there.out().contains("here stopped at line 4 of"), there.out());
        Cli.Result embedded = cli.typing(words, "debug", "asks", "--fresh");
        assertEquals(embedded.out(), there.out());
    }

    @Test
    void whatHasErrorsIsNotPlacedAndKeepsNothingElseFromRunning() throws Exception {
        cli.write(
                "routines/wrong.sql",
                """
                CREATE FUNCTION wrong (x INTEGER) RETURNS INTEGER
                  RETURN x + nosuch;
                CREATE PROCEDURE asks_wrong (OUT n INTEGER)
                  SELECT MAX(wrong(1)) INTO n FROM vessel;
                CREATE PROCEDURE sound (OUT n INTEGER)
                  SET n = 3;
                """);
        Cli.Result sound = cli.run("call", "sound", "--on", "press-house", "--fixture", "cellar");
        assertEquals(ExitCode.WELL, sound.code(), sound.err());
        Cli.Result asks =
                cli.run("call", "asks_wrong", "--on", "press-house", "--fixture", "cellar");
        assertEquals(ExitCode.USAGE, asks.code());
        assertTrue(asks.err().contains("routines/wrong.sql:2"), asks.err());
    }

    @Test
    void aScriptIsWrittenWithoutAServer() throws IOException {
        Cli.Result written = cli.run("ship", "nowhere", "--to", "all.sql", "--rest");
        assertEquals(ExitCode.WELL, written.code(), written.err());
        String text = Files.readString(cli.path("all.sql"));
        assertTrue(text.contains("CREATE OR REPLACE PROCEDURE move_wine ("), text);
        assertTrue(text.contains("-- Moves wine from one vessel to another"), text);
        assertFalse(text.contains("check_digit"), text);
    }

    @Test
    void aServerThatIsNotThereIsOneProblem() {
        for (String[] words :
                new String[][] {
                    {"test", "--on", "nowhere"},
                    {"agree", "nowhere"},
                    {"ship", "nowhere", "--rest"},
                    {"call", "grade_for", "sugar=20", "--on", "nowhere"}
                }) {
            Cli.Result result = cli.run(words);
            assertEquals(ExitCode.DATABASE, result.code(), result.out() + result.err());
            assertTrue(result.err().contains("nowhere can't be reached"), result.err());
        }
        Cli.Result unknown = cli.run("ship", "press-hose");
        assertEquals(ExitCode.USAGE, unknown.code());
        assertTrue(unknown.err().contains("did you mean press-house?"), unknown.err());
    }

    @Test
    void theConsoleIsOpenOnTheServerAndLeavesNothingUnlessItIsTold() throws Exception {
        tables();
        execute(
                "INSERT INTO "
                        + schema
                        + ".vessel (code, kind, capacity_l, level_l) VALUES ('T1', 'tank', 600, 500),"
                        + " ('C7', 'cask', 300, 100)");
        String typed =
                "DECLARE moved DECIMAL(8, 1);\nCALL move_wine('T1', 'C7', 20, moved);\nvars\n"
                        + "UPDATE vessel SET level_l = 1 WHERE code = 'C7';\nundo\n"
                        + "CALL move_wine('T1', 'C7', 99999, moved);\n"
                        + "SELECT code, level_l FROM vessel ORDER BY code;\nsave case x\n"
                        + "START TRANSACTION;\nDELETE FROM movement;\n";
        Cli.Result out = cli.typing(typed, "console", "--on", "press-house");
        assertTrue(out.out().contains("level_l 500.0 → 480.0"), out.out() + out.err());
        assertTrue(out.out().contains("moved DECIMAL(8, 1) = 20.0"), out.out());
        assertTrue(out.out().contains("taken back: UPDATE vessel"), out.out());
        assertTrue(out.out().contains("T1 does not hold 99999.0 litres"), out.out());
        assertTrue(out.out().contains("C7       120.0"), out.out());
        assertTrue(out.out().contains("leave --on out"), out.out());
        assertTrue(out.err().contains("the transaction that was open is rolled back"), out.err());
        assertEquals("500.0", ask("SELECT level_l FROM vessel WHERE code = 'T1'"));
        Cli.Result kept = cli.typing(typed, "console", "--on", "press-house", "--keep");
        assertEquals("480.0", ask("SELECT level_l FROM vessel WHERE code = 'T1'"), kept.err());
        assertEquals("120.0", ask("SELECT level_l FROM vessel WHERE code = 'C7'"));
        assertEquals("1", ask("SELECT COUNT(*) FROM movement"));
        Cli.Result found = cli.run("find", "level", "--on", "press-house");
        assertTrue(found.out().contains("vessel.level_l"), found.out() + found.err());
    }

    @Test
    void whatWasDraftedAndSeenHereIsTheSameThere() throws Exception {
        try (Stream<Path> cases = Files.list(cli.path("cases"))) {
            for (Path file : cases.toList()) {
                Files.delete(file);
            }
        }
        for (String table : java.util.List.of("grower", "vessel", "grade_price")) {
            for (String kind : java.util.List.of("insert", "update", "delete", "list")) {
                String routine = kind + "_" + table;
                assertEquals(ExitCode.WELL, cli.run("draft", kind, table).code(), routine);
                assertEquals(ExitCode.WELL, cli.run("draft", "cases", routine).code(), routine);
            }
        }
        Cli.Result there = cli.run("test", "--on", "press-house");
        assertEquals(ExitCode.WELL, there.code(), there.out() + there.err());
        assertTrue(there.out().contains(" passed"), there.out());
    }

    @Test
    void statementsFailOnTheServerToo() throws Exception {
        cli.write(
                "routines/half.sql",
                "CREATE PROCEDURE half (IN code VARCHAR(8)) BEGIN UPDATE vessel SET level_l = 1 WHERE"
                        + " vessel.code = half.code; COMMIT;\nUPDATE vessel SET level_l = 2 WHERE"
                        + " vessel.code = 'T2'; END;\n");
        Cli.Result half =
                cli.run("faults", "half", "code=T1", "--on", "press-house", "--fixture", "cellar");
        assertEquals(1, half.code(), half.out() + half.err());
        assertTrue(half.out().contains("a part stays:  vessel 1 changed"), half.out());
        assertTrue(
                half.out().contains("--on press-house --fixture cellar --fault 40001@half:2"),
                half.out());
        Cli.Result moved =
                cli.run(
                        "faults",
                        "move_wine",
                        "source=T1",
                        "target=C7",
                        "litres=9",
                        "--on",
                        "press-house",
                        "--fixture",
                        "cellar");
        assertEquals(0, moved.code(), moved.out() + moved.err());
        assertTrue(moved.out().contains("move_wine: none of"), moved.out());
    }

    @Test
    void whatArgumentsComeToIsComparedWithTheServer() {
        for (String routine : new String[] {"move_wine", "record_intake", "topping_loss"}) {
            Cli.Result result = cli.run("explore", routine, "--on", "press-house", "--json");
            assertTrue(result.out().contains("\"runs_elsewhere\""), result.out() + result.err());
            assertFalse(result.out().contains("\"runs_elsewhere\":0"), result.out());
            assertFalse(result.out().contains("\"disagrees\""), result.out());
        }
    }

    @Test
    void anotherEndOnTheServerIsAFinding() {
        // Where no row is left to look at the server does not work the other half of a WHERE out.
        Cli.Result result = cli.run("explore", "settle_vintage", "--on", "press-house");
        assertEquals(ExitCode.FAILED, result.code(), result.out() + result.err());
        assertTrue(result.out().contains("comes to another end there: raises is"), result.out());
        assertTrue(result.out().contains("of them on press-house too"), result.out());
    }

    @Test
    void aDebuggerAttachesToAProgramOnIt() throws Exception {
        new AttachedOnServer(cli, "press-house").all();
    }
}
