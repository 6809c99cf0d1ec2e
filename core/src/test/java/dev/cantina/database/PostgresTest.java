package dev.cantina.database;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.debugging.DebugException;
import dev.cantina.debugging.DebugRun;
import dev.cantina.debugging.Debugger;
import dev.cantina.debugging.Resume;
import dev.cantina.deploy.Placement;
import dev.cantina.project.Arguments;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Limits;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.RowEvent;
import dev.cantina.runtime.Session;
import dev.cantina.syntax.Problem;
import java.math.BigDecimal;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Clock;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Routines whose data statements run on a real PostgreSQL server. */
class PostgresTest {
    private static final String TABLES =
            """
            CREATE TABLE tank (code VARCHAR(8) PRIMARY KEY, litres NUMERIC(8, 1) NOT NULL,
              CHECK (litres >= 0));
            CREATE TABLE move (id INTEGER GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
              source VARCHAR(8) REFERENCES tank (code) ON DELETE CASCADE, litres NUMERIC(8, 1), day DATE);
            INSERT INTO tank VALUES ('A', 100), ('B', 50);
            INSERT INTO move (source, litres, day) VALUES ('A', 1, DATE '2031-10-04');
            """;
    private static final String ROUTINES =
            """
            CREATE PROCEDURE take (IN which VARCHAR(8), IN l DECIMAL(8, 1), OUT left_over DECIMAL(8, 1))
            BEGIN
              DECLARE EXIT HANDLER FOR NOT FOUND SET left_over = -1;
              UPDATE tank SET litres = litres - l WHERE code = which;
              SELECT t.litres INTO left_over FROM tank t WHERE t.code = which;
              INSERT INTO move (source, litres, day) VALUES (which, l, CURRENT_DATE);
            END;
            CREATE PROCEDURE tries (OUT seen VARCHAR(200))
            BEGIN
              DECLARE CONTINUE HANDLER FOR SQLEXCEPTION
              BEGIN
                DECLARE state CHAR(5);
                GET DIAGNOSTICS CONDITION 1 state = RETURNED_SQLSTATE;
                SET seen = COALESCE(seen, '') || state || ' ';
              END;
              INSERT INTO tank VALUES ('C', 1);
              INSERT INTO tank VALUES ('C', 2);
              UPDATE tank SET litres = -1;
              INSERT INTO move (source) VALUES ('nowhere');
              UPDATE tank SET litres = litres / 0;
              INSERT INTO tank (code) VALUES ('D');
              SET seen = seen || (SELECT COUNT(*) FROM tank);
            END;
            CREATE PROCEDURE plays (OUT n INTEGER)
            BEGIN
              START TRANSACTION;
              INSERT INTO tank VALUES ('X', 1);
              COMMIT;
              INSERT INTO tank VALUES ('Y', 1);
              SAVEPOINT one;
              DELETE FROM tank WHERE code = 'A';
              ROLLBACK TO SAVEPOINT one;
              UPDATE tank SET litres = litres + 1 WHERE code = 'Y';
              SET n = (SELECT COUNT(*) FROM tank);
              FOR t AS SELECT code, litres FROM tank ORDER BY code DO
                SET n = n * 10 + CAST(t.litres AS INTEGER);
              END FOR;
            END;
            CREATE PROCEDURE removes () DELETE FROM tank WHERE code = 'A';
            CREATE PROCEDURE types (OUT said VARCHAR(200))
            BEGIN
              DECLARE d DATE; DECLARE ts TIMESTAMP(0); DECLARE b BOOLEAN; DECLARE big BIGINT;
              DECLARE dp DOUBLE PRECISION; DECLARE txt VARCHAR(20);
              SELECT DATE '2031-02-28' + 1, TIMESTAMP '2031-10-04 09:00:00', 1 < 2, 9000000000, 0.5e0, 'x''y'
                INTO d, ts, b, big, dp, txt;
              SET said = d || ' ' || ts || ' ' || b || ' ' || big || ' ' || dp || ' ' || txt;
            END;
            """;

    @TempDir Path folder;
    private String url;

    private Project project(String routines, String url) throws Exception {
        Files.createDirectories(folder.resolve("routines"));
        Files.writeString(folder.resolve("routines/all.sql"), routines);
        Files.writeString(
                folder.resolve("cantina.yaml"),
                "project: tanks\ndatabases:\n  press-house: { url: \"" + url + "\" }\n");
        return ProjectReader.read(folder);
    }

    private Workspace open(String routines) throws Exception {
        url = PostgresServer.schema(TABLES);
        return Workspace.on(
                project(routines, url), "press-house", Optional.empty(), true, Placement::place);
    }

    private static Outcome call(Workspace workspace, String routine, Map<String, Object> given)
            throws Exception {
        Session session =
                new Session(
                        workspace.program(),
                        workspace.database(),
                        Limits.DEFAULT,
                        Clock.systemDefaultZone(),
                        Optional.empty());
        try {
            var symbol = workspace.routine(routine, given.keySet());
            Outcome outcome = session.run(symbol, Arguments.match(symbol, given));
            outcome.events();
            return outcome;
        } finally {
            session.close();
        }
    }

    /** What another connection sees. */
    private String outside(String query) throws SQLException {
        try (Connection connection = DriverManager.getConnection(url);
                Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(query)) {
            row.next();
            return row.getString(1);
        }
    }

    private static List<String> shown(Outcome outcome) {
        List<String> all = new ArrayList<>();
        for (RowEvent event : outcome.events()) {
            all.add(
                    event.table().name()
                            + " "
                            + (event.before() == null ? "+" : event.after() == null ? "-" : "~")
                            + " "
                            + Arrays.asList(
                                    event.after() == null ? event.before() : event.after()));
        }
        return all;
    }

    @Test
    void aRoutineRunsAndLeavesNothingBehind() throws Exception {
        try (Workspace workspace = open(ROUTINES)) {
            Outcome outcome =
                    call(workspace, "take", Map.of("which", "A", "l", new BigDecimal("30")));
            assertEquals(new BigDecimal("70.0"), outcome.out().get("left_over"));
            assertEquals("tank ~ [A, 70.0]", shown(outcome).get(0));
            assertEquals(2, shown(outcome).size());
        }
        assertEquals("100.0", outside("SELECT litres FROM tank WHERE code = 'A'"));
        assertEquals(
                "0", outside("SELECT COUNT(*) FROM pg_trigger WHERE tgname LIKE 'zz_cantina%'"));
    }

    @Test
    void whatIsKeptStaysAndNothingElse() throws Exception {
        try (Workspace workspace = open(ROUTINES)) {
            call(workspace, "take", Map.of("which", "A", "l", new BigDecimal("30")));
            workspace.database().commit();
        }
        assertEquals("70.0", outside("SELECT litres FROM tank WHERE code = 'A'"));
        assertEquals(
                "0", outside("SELECT COUNT(*) FROM pg_trigger WHERE tgname LIKE 'zz_cantina%'"));
    }

    @Test
    void noRowIsNotFoundHereToo() throws Exception {
        try (Workspace workspace = open(ROUTINES)) {
            Outcome outcome =
                    call(workspace, "take", Map.of("which", "Z", "l", new BigDecimal("1")));
            assertEquals(new BigDecimal("-1.0"), outcome.out().get("left_over"));
            assertEquals(List.of(), shown(outcome));
        }
    }

    @Test
    void aStatementThatFailsUndoesItselfAlone() throws Exception {
        try (Workspace workspace = open(ROUTINES)) {
            Outcome outcome = call(workspace, "tries", Map.of());
            assertEquals(
                    "23505 23514 23503 22012 23502 3",
                    outcome.out().get("seen"),
                    shown(outcome)::toString);
            assertEquals(List.of("tank + [C, 1.0]"), shown(outcome));
        }
    }

    @Test
    void transactionsArePlayedOnSavepoints() throws Exception {
        try (Workspace workspace = open(ROUTINES)) {
            Outcome outcome = call(workspace, "plays", Map.of());
            // Four rows, and their litres 100, 50, 1 and 2, each ten times on.
            assertEquals(145_012L, outcome.out().get("n"));
        }
        assertEquals("2", outside("SELECT COUNT(*) FROM tank"));
    }

    @Test
    void cascadesAreAmongTheChanges() throws Exception {
        try (Workspace workspace = open(ROUTINES)) {
            List<String> rows = shown(call(workspace, "removes", Map.of()));
            assertEquals(2, rows.size());
            assertTrue(rows.contains("tank - [A, 100.0]"), rows::toString);
            assertTrue(rows.stream().anyMatch(r -> r.startsWith("move - ")), rows::toString);
        }
    }

    @Test
    void valuesCrossWithTheirTypes() throws Exception {
        try (Workspace workspace = open(ROUTINES)) {
            assertEquals(
                    "2031-03-01 2031-10-04 09:00:00 TRUE 9000000000 0.5 x'y",
                    call(workspace, "types", Map.of()).out().get("said"));
        }
    }

    @Test
    void checkKnowsTheServersTables() throws Exception {
        try (Workspace workspace =
                open("CREATE PROCEDURE p (OUT n INTEGER) SELECT t.liters INTO n FROM tank t;")) {
            List<Problem> problems = workspace.check().stream().filter(Problem::isError).toList();
            assertEquals(1, problems.size());
            assertTrue(problems.get(0).message().contains("liters"), problems::toString);
        }
    }

    @Test
    void aFailureThatNothingHandlesLeavesAConnectionThatIsGoodForMore() throws Exception {
        try (Workspace workspace =
                open(
                        """
                        CREATE PROCEDURE fails ()
                        BEGIN
                          INSERT INTO tank VALUES ('E', 1);
                          INSERT INTO tank VALUES ('E', 1);
                        END;
                        CREATE PROCEDURE hides (OUT n INTEGER)
                        BEGIN
                          BEGIN
                            DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN END;
                            CALL fails();
                          END;
                          SET n = (SELECT COUNT(*) FROM tank);
                        END;
                        CREATE PROCEDURE undoes (OUT n INTEGER)
                        BEGIN ATOMIC
                          DECLARE UNDO HANDLER FOR SQLEXCEPTION SET n = (SELECT COUNT(*) FROM tank);
                          CALL fails();
                        END;
                        """)) {
            Outcome outcome = call(workspace, "fails", Map.of());
            assertEquals("23505", outcome.condition().orElseThrow().sqlstate());
            assertEquals(List.of(), shown(outcome));
            assertEquals(3L, call(workspace, "hides", Map.of()).out().get("n"));
        }
    }

    @Test
    void functionsStandOnTheServerWhereSqlCallsThemAndBlocksHaveTheirTables() throws Exception {
        try (Workspace workspace =
                open(
                        """
                        CREATE FUNCTION twice (n INTEGER) RETURNS INTEGER RETURN n * 2;
                        CREATE FUNCTION down (n INTEGER) RETURNS INTEGER
                        BEGIN
                          DECLARE rest INTEGER;
                          IF n = 0 THEN RETURN 0; END IF;
                          SET rest = (SELECT down(n - 1) FROM tank t WHERE t.code = 'A');
                          RETURN rest + 1;
                        END;
                        CREATE PROCEDURE p (OUT n INTEGER, OUT deep INTEGER)
                        BEGIN
                          SELECT twice(3), down(4) INTO n, deep FROM tank t WHERE t.code = 'A';
                        END;
                        CREATE PROCEDURE q (OUT n INTEGER)
                        BEGIN
                          DECLARE LOCAL TEMPORARY TABLE z (a INTEGER);
                          INSERT INTO z VALUES (1), (2);
                          SELECT COUNT(*) INTO n FROM z;
                        END;
                        """)) {
            List<Problem> problems = workspace.check().stream().filter(Problem::isError).toList();
            assertEquals(List.of(), problems);
            assertEquals("{n=6, deep=4}", call(workspace, "p", Map.of()).out().toString());
            assertEquals(2L, call(workspace, "q", Map.of()).out().get("n"));
            assertEquals(2L, call(workspace, "q", Map.of()).out().get("n"));
        }
    }

    @Test
    void theDebuggerGoesBackOnAServerToo() throws Exception {
        try (Workspace workspace = open(ROUTINES)) {
            List<Object> litres = new ArrayList<>();
            Debugger[] debugger = new Debugger[1];
            debugger[0] =
                    new Debugger(
                            workspace.program(),
                            stop -> {
                                try {
                                    litres.add(
                                            debugger[0].eval(
                                                    stop.frame(),
                                                    "(SELECT t.litres FROM tank t WHERE t.code = which)"));
                                } catch (DebugException e) {
                                    throw new IllegalStateException(e);
                                }
                                return Resume.of(
                                        litres.size() == 3 ? Resume.Kind.BACK : Resume.Kind.OVER);
                            },
                            true);
            workspace.database().keep();
            var symbol = workspace.routine("take", List.of("which", "l"));
            new DebugRun(() -> workspace, w -> Optional.empty(), w -> w.database().restore())
                    .run(
                            debugger[0],
                            (w, script) -> {
                                Session session =
                                        new Session(
                                                w.program(),
                                                w.database(),
                                                Limits.DEFAULT,
                                                Clock.systemDefaultZone(),
                                                Optional.of(debugger[0]));
                                try {
                                    return session.run(
                                            symbol,
                                            List.of(
                                                    Optional.of("A"),
                                                    Optional.of(new BigDecimal("30")),
                                                    Optional.empty()));
                                } finally {
                                    session.close();
                                }
                            });
            assertEquals(
                    List.of("100.0", "70.0", "70.0", "70.0"),
                    litres.subList(0, 4).stream().map(String::valueOf).toList());
            assertEquals("70.0", String.valueOf(litres.get(litres.size() - 1)));
        }
    }

    @Test
    void triggersStandOnTheServerForTheTimeOfTheRun() throws Exception {
        try (Workspace workspace =
                open(
                        """
                        CREATE TRIGGER tidy BEFORE INSERT ON tank FOR EACH ROW
                          SET NEW.litres = NEW.litres + 1;
                        CREATE PROCEDURE p () INSERT INTO tank VALUES ('N', 7);
                        """)) {
            Outcome outcome = call(workspace, "p", Map.of());
            assertEquals(List.of("tank + [N, 8.0]"), shown(outcome));
            workspace.database().commit();
        }
        try (Connection connection = DriverManager.getConnection(url);
                Statement statement = connection.createStatement();
                ResultSet row =
                        statement.executeQuery(
                                "SELECT (SELECT litres FROM tank WHERE code = 'N'),"
                                        + " (SELECT COUNT(*) FROM pg_trigger WHERE NOT tgisinternal"
                                        + " AND tgrelid = to_regclass('tank')),"
                                        + " (SELECT COUNT(*) FROM pg_namespace"
                                        + " WHERE nspname LIKE 'cantina\\__%'"
                                        + " AND nspname NOT LIKE 'cantina\\_test%')")) {
            row.next();
            assertEquals("8.0 0 0", row.getString(1) + " " + row.getInt(2) + " " + row.getInt(3));
        }
    }

    @Test
    void aTriggerThatTheServersLanguageCantSayIsRefusedAtItsLine() {
        ProjectException refused =
                assertThrows(
                        ProjectException.class,
                        () ->
                                open(
                                        """
                                        CREATE TRIGGER tg AFTER UPDATE ON tank FOR EACH ROW
                                        BEGIN
                                          DECLARE i INTERVAL DAY;
                                          DELETE FROM move;
                                        END;
                                        """));
        assertEquals(3, refused.problems().get(0).span().line());
    }

    @Test
    void anUnknownNameIsAnsweredWithTheNearest() throws Exception {
        Project project = project(ROUTINES, "jdbc:postgresql://localhost:1/x");
        ProjectException refused =
                assertThrows(
                        ProjectException.class,
                        () ->
                                Workspace.on(
                                        project,
                                        "press-hose",
                                        Optional.empty(),
                                        true,
                                        Placement::place));
        assertTrue(refused.getMessage().contains("did you mean press-house?"));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "jdbc:postgresql://localhost:1/x | '' | can't be reached at jdbc:postgresql://localhost:1/x",
                "jdbc:oracle:x | '' | its url must begin with jdbc:postgresql:",
                "jdbc:postgresql://localhost:1/x | env:CANTINA_NO_SUCH | CANTINA_NO_SUCH is not set",
                "jdbc:postgresql://localhost:1/x | file:no/such | the file no/such, which can't be read",
                "jdbc:postgresql://localhost:1/x | secret | write env:NAME or file:PATH there",
                "jdbc:postgresql://localhost:1/x?password=hush | '' | can't be reached at jdbc:postgresql://localhost:1/x;",
            })
    void aServerThatCantBeHadIsExplainedAndNoSecretTold(
            String address, String password, String message) {
        UnreachableException refused =
                assertThrows(
                        UnreachableException.class,
                        () ->
                                ServerConnection.open(
                                        new ServerConnection.Address(
                                                "press-house", address.strip(), "keeper", password),
                                        folder));
        assertTrue(refused.getMessage().contains(message.strip()), refused.getMessage());
        assertFalse(refused.getMessage().contains("hush"));
        assertFalse(refused.getMessage().contains("secret"));
    }

    @Test
    void aDatabaseThatIsNotThereIsNamed() {
        UnreachableException refused =
                assertThrows(
                        UnreachableException.class,
                        () ->
                                ServerConnection.open(
                                        new ServerConnection.Address(
                                                "press-house",
                                                PostgresServer.url()
                                                        .replace("/postgres?", "/cellar?"),
                                                "",
                                                ""),
                                        folder));
        assertTrue(refused.getMessage().contains("no such database"), refused.getMessage());
    }
}
