package dev.cantina.database;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.database.mariadb.MariaStatementRewriter;
import dev.cantina.project.Placement;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectReader;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Outcome;
import dev.cantina.syntax.Problem;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Routines whose data statements run on a real MariaDB server. */
class MariaTest extends ServerContract {
    @Override
    String place(String tables) throws SQLException {
        return MariaServer.database(tables);
    }

    @Override
    Connection connect(String at) throws SQLException {
        return ServerConnection.open(
                new ServerConnection.Address("maria", at, "", ""), Path.of(""));
    }

    @Override
    void assertNothingLeft() throws SQLException {
        assertEquals(
                "0",
                outside(
                        "SELECT COUNT(*) FROM information_schema.SCHEMATA"
                                + " WHERE SCHEMA_NAME LIKE 'cantina\\_scratch%'"));
    }

    @Test
    void valuesCrossWithTheirTypes() throws Exception {
        try (Workspace workspace =
                open(
                        """
                        CREATE PROCEDURE types (OUT said VARCHAR(200))
                        BEGIN
                          DECLARE d DATE; DECLARE ts TIMESTAMP(0); DECLARE big BIGINT;
                          DECLARE dp DOUBLE PRECISION; DECLARE txt VARCHAR(20);
                          SELECT DATE '2031-02-28' + INTERVAL '1' DAY, TIMESTAMP '2031-10-04 09:00:00',
                                 9000000000, 0.5e0, 'x''y' INTO d, ts, big, dp, txt;
                          SET said = d || ' ' || ts || ' ' || big || ' ' || dp || ' ' || txt;
                        END;
                        """)) {
            Outcome outcome = call(workspace, "types", Map.of());
            assertEquals(Optional.empty(), outcome.condition());
            assertEquals(
                    "2031-03-01 2031-10-04 09:00:00 9000000000 0.5 x'y", outcome.out().get("said"));
        }
    }

    @Test
    void functionsThatSqlCallsStandInAScratchDatabaseForTheRun() throws Exception {
        try (Workspace workspace =
                open(
                        """
                        CREATE FUNCTION twice (n INTEGER) RETURNS INTEGER RETURN n * 2;
                        CREATE MODULE m
                          FUNCTION half (n INTEGER) RETURNS INTEGER RETURN n / 2;
                        END MODULE;
                        CREATE PROCEDURE p (OUT n INTEGER, OUT h INTEGER)
                        BEGIN
                          UPDATE tank SET litres = litres + twice(1) WHERE code = 'A';
                          SELECT twice(3), m.half(7) INTO n, h FROM tank t WHERE t.code = 'A';
                        END;
                        CREATE PROCEDURE q (OUT n INTEGER)
                        BEGIN
                          DECLARE LOCAL TEMPORARY TABLE z (n INTEGER GENERATED ALWAYS AS IDENTITY, a INTEGER);
                          INSERT INTO z (a) VALUES (1), (2);
                          SELECT MAX(z.n) INTO n FROM z;
                        END;
                        """)) {
            List<Problem> problems = workspace.check().stream().filter(Problem::isError).toList();
            assertEquals(List.of(), problems);
            Outcome outcome = call(workspace, "p", Map.of());
            assertEquals("{n=6, h=3}", outcome.out().toString());
            assertEquals(List.of("tank ~ [A, 102.0]"), shown(outcome));
            assertEquals(2L, call(workspace, "q", Map.of()).out().get("n"));
            assertEquals(2L, call(workspace, "q", Map.of()).out().get("n"));
        }
        assertEquals("100.0", outside("SELECT litres FROM tank WHERE code = 'A'"));
        assertNothingLeft();
    }

    private Workspace scratch(String routines) throws Exception {
        url = place(TABLES);
        Project project = project(routines, url);
        Files.createDirectories(folder.resolve("tables"));
        Files.writeString(
                folder.resolve("tables/all.sql"),
                """
                CREATE TABLE farm (id INTEGER PRIMARY KEY);
                CREATE TABLE field (id INTEGER PRIMARY KEY,
                  farm INTEGER REFERENCES farm (id) ON DELETE CASCADE);
                CREATE TABLE row_of (id INTEGER PRIMARY KEY,
                  field INTEGER REFERENCES field (id) ON DELETE CASCADE,
                  other INTEGER REFERENCES farm (id) ON DELETE SET NULL);
                CREATE TABLE note (n INTEGER GENERATED BY DEFAULT AS IDENTITY PRIMARY KEY, what VARCHAR(20));
                """);
        Path fixture = Files.createDirectories(folder.resolve("fixtures/some"));
        Files.writeString(fixture.resolve("farm.csv"), "id\n1\n2\n");
        Files.writeString(fixture.resolve("field.csv"), "id,farm\n10,1\n20,2\n");
        Files.writeString(fixture.resolve("row_of.csv"), "id,field,other\n100,10,2\n200,20,1\n");
        return Workspace.scratch(
                ProjectReader.read(project.root()),
                "press-house",
                "some",
                Optional.empty(),
                Placement::place);
    }

    @Test
    void rowsThatGoWithOthersAreAmongTheChangesOfAFixture() throws Exception {
        try (Workspace workspace =
                scratch("CREATE PROCEDURE p () DELETE FROM farm WHERE id = 1;")) {
            List<String> rows = shown(call(workspace, "p", Map.of()));
            assertEquals(
                    List.of(
                            "farm - [1]",
                            "field - [10, 1]",
                            "row_of - [100, 10, 2]",
                            "row_of ~ [200, 20, null]"),
                    rows.stream().sorted().toList());
        }
        assertNothingLeft();
    }

    @Test
    void aFixtureIsAsItWasAfterEachRunNumbersToo() throws Exception {
        try (Workspace workspace =
                scratch(
                        "CREATE PROCEDURE p (OUT n INTEGER) BEGIN INSERT INTO note (what) VALUES ('a');"
                                + " SET n = (SELECT MAX(x.n) FROM note x); COMMIT; END;")) {
            workspace.database().keep();
            for (int i = 0; i < 3; i++) {
                assertEquals(1L, call(workspace, "p", Map.of()).out().get("n"));
                workspace.database().restore();
            }
        }
    }

    @Test
    void whatADeadRunHasLeftTheNextOneRemoves() throws Exception {
        url = place(TABLES);
        try (Connection connection = connect(url);
                Statement statement = connection.createStatement()) {
            statement.execute("CREATE DATABASE cantina_scratch_dead_1");
        }
        try (Workspace workspace = scratch("CREATE PROCEDURE p () DELETE FROM note;")) {
            assertTrue(call(workspace, "p", Map.of()).condition().isEmpty());
        }
        assertNothingLeft();
    }

    @Test
    void wholeNumbersAreCutAndWhatIsOpenIsSaid() throws Exception {
        try (Workspace workspace =
                open(
                        """
                        CREATE PROCEDURE p (IN by_n INTEGER, OUT a INTEGER, OUT b DECIMAL(8, 3))
                        SELECT m.id / 2 + 7 / by_n, m.litres / 3 INTO a, b FROM move m;
                        """)) {
            assertEquals(
                    "{a=3, b=0.333}", call(workspace, "p", Map.of("by_n", 2)).out().toString());
        }
        try (Workspace workspace =
                open(
                        """
                        CREATE PROCEDURE p (OUT a INTEGER)
                        SELECT x.n / 2 INTO a FROM (SELECT m.id AS n FROM move m) x;
                        """)) {
            List<Problem> problems = workspace.check().stream().filter(Problem::isError).toList();
            assertEquals("open-division", problems.get(0).rule());
        }
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = ';',
            value = {
                "SELECT CURRENT_TIMESTAMP; SELECT CURRENT_TIMESTAMP(6)",
                "SELECT CAST(a AS BIGINT), 'CLOB' FROM t; SELECT CAST(a AS signed), 'CLOB' FROM t",
                "SELECT CAST(a AS NUMERIC(8, 2)) FROM t; SELECT CAST(a AS decimal(8, 2)) FROM t",
                "DELETE FROM t AS x WHERE x.a = 1; DELETE x FROM t AS x WHERE x.a = 1",
                "DELETE FROM t WHERE a = 1; DELETE FROM t WHERE a = 1",
                "INSERT INTO t DEFAULT VALUES; INSERT INTO t () VALUES ()",
                "SELECT a IS NOT DISTINCT FROM b FROM t; SELECT a <=> b FROM t",
                "SELECT TIMESTAMP '2031-10-04 09:00:00'; SELECT TIMESTAMP '2031-10-04 09:00:00'",
                "CREATE TABLE t (at TIMESTAMP(3)); CREATE TABLE t (at datetime(3))",
                "CREATE TABLE t (n INTEGER GENERATED ALWAYS AS IDENTITY, c CLOB);"
                        + " CREATE TABLE t (n INTEGER AUTO_INCREMENT UNIQUE, c longtext)"
            })
    void statementsAreSaidInItsWords(String given, String wanted) {
        assertEquals(wanted, MariaStatementRewriter.of(given));
    }
}
