package dev.cantina.database;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.debugging.DebugException;
import dev.cantina.debugging.DebugRun;
import dev.cantina.debugging.Debugger;
import dev.cantina.debugging.Resume;
import dev.cantina.project.Placement;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Limits;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.Session;
import dev.cantina.syntax.Problem;
import java.math.BigDecimal;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Routines whose data statements run on a real PostgreSQL server. */
class PostgresTest extends ServerContract {
    private static final String TYPES =
            """
            CREATE PROCEDURE types (OUT said VARCHAR(200))
            BEGIN
              DECLARE d DATE; DECLARE ts TIMESTAMP(0); DECLARE b BOOLEAN; DECLARE big BIGINT;
              DECLARE dp DOUBLE PRECISION; DECLARE txt VARCHAR(20);
              SELECT DATE '2031-02-28' + 1, TIMESTAMP '2031-10-04 09:00:00', 1 < 2, 9000000000, 0.5e0, 'x''y'
                INTO d, ts, b, big, dp, txt;
              SET said = d || ' ' || ts || ' ' || b || ' ' || big || ' ' || dp || ' ' || txt;
            END;
            """;

    @Override
    String place(String tables) throws SQLException {
        return PostgresServer.schema(tables);
    }

    @Override
    Connection connect(String at) throws SQLException {
        return DriverManager.getConnection(at);
    }

    @Override
    void assertNothingLeft() throws SQLException {
        assertEquals(
                "0",
                outside("SELECT COUNT(*) FROM pg_trigger WHERE tgname LIKE '%cantina_changes'"));
    }

    @Test
    void valuesCrossWithTheirTypes() throws Exception {
        try (Workspace workspace = open(TYPES)) {
            assertEquals(
                    "2031-03-01 2031-10-04 09:00:00 TRUE 9000000000 0.5 x'y",
                    call(workspace, "types", Map.of()).out().get("said"));
        }
    }

    /** A view keeps the server's own function, which steps aside for the run. */
    @Test
    void aFunctionOfTheServersThatGivesSomethingElseStepsAsideWithWhatNeedsIt() throws Exception {
        url =
                place(
                        TABLES
                                + "CREATE FUNCTION half (n INTEGER) RETURNS TEXT LANGUAGE sql AS"
                                + " $$ SELECT 'half of ' || n $$;"
                                + "CREATE VIEW halves AS SELECT half(4) AS h;");
        String own =
                """
                CREATE FUNCTION half (n INTEGER) RETURNS INTEGER RETURN n / 2;
                CREATE PROCEDURE p (OUT n INTEGER, OUT h VARCHAR(20))
                BEGIN
                  SELECT half(8) INTO n FROM tank t WHERE t.code = 'A';
                  SELECT halves.h INTO h FROM halves;
                END;
                """;
        try (Workspace workspace =
                Workspace.on(
                        project(own, url),
                        "press-house",
                        Optional.empty(),
                        true,
                        Placement::place)) {
            assertEquals(List.of(), workspace.check().stream().filter(Problem::isError).toList());
            assertEquals("{n=4, h=half of 4}", call(workspace, "p", Map.of()).out().toString());
        }
        assertEquals("half of 6", outside("SELECT half(6)"));
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

    @ParameterizedTest
    @CsvSource({
        "a, 22008",
        "b, 22008",
        "c, 22008",
        "d, 42601",
        "e, 42601",
    })
    void whatNoVariableHoldsAndNoMarkerIsRaises(String routine, String state) throws Exception {
        try (Workspace workspace =
                open(
                        """
                        CREATE PROCEDURE a (OUT n TIMESTAMP)
                          SELECT CAST('infinity' AS TIMESTAMP) INTO n FROM tank t;
                        CREATE PROCEDURE b (OUT n DATE)
                        BEGIN
                          PREPARE s FROM 'SELECT ''-infinity''::date';
                          EXECUTE s INTO n;
                        END;
                        CREATE PROCEDURE c (OUT n VARCHAR(80))
                          FOR r AS SELECT 'infinity'::timestamptz AS x FROM tank t DO
                            SET n = CAST(r.x AS VARCHAR(80));
                          END FOR;
                        CREATE PROCEDURE d (OUT n DECIMAL(9, 1))
                        BEGIN
                          PREPARE s FROM 'SELECT litres FROM tank WHERE code = $1';
                          EXECUTE s INTO n USING 'A';
                        END;
                        CREATE PROCEDURE e ()
                          EXECUTE IMMEDIATE 'UPDATE tank SET litres = $1';
                        """)) {
            Outcome outcome = call(workspace, routine, Map.of());
            assertEquals(state, outcome.condition().orElseThrow().sqlstate());
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
