package dev.cantina.database;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.project.Arguments;
import dev.cantina.project.Placement;
import dev.cantina.project.Project;
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

/** Routines whose data statements run on a real server: what is so on each of them. */
abstract class ServerContract {
    /** The address of a place of its own with these tables. */
    abstract String place(String tables) throws SQLException;

    abstract Connection connect(String at) throws SQLException;

    /** Nothing of Cantina's own stands on the server. */
    abstract void assertNothingLeft() throws SQLException;

    static final String TABLES =
            """
            CREATE TABLE tank (code VARCHAR(8) PRIMARY KEY, litres NUMERIC(8, 1) NOT NULL,
              CHECK (litres >= 0));
            CREATE TABLE move (id INTEGER GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
              source VARCHAR(8) REFERENCES tank (code) ON DELETE CASCADE, litres NUMERIC(8, 1), day DATE);
            INSERT INTO tank VALUES ('A', 100), ('B', 50);
            INSERT INTO move (source, litres, day) VALUES ('A', 1, DATE '2031-10-04');
            """;
    static final String ROUTINES =
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
            """;

    @TempDir Path folder;
    String url;

    Project project(String routines, String url) throws Exception {
        Files.createDirectories(folder.resolve("routines"));
        Files.writeString(folder.resolve("routines/all.sql"), routines);
        Files.writeString(
                folder.resolve("cantina.yaml"),
                "project: tanks\ndatabases:\n  press-house: { url: \"" + url + "\" }\n");
        return ProjectReader.read(folder);
    }

    Workspace open(String routines) throws Exception {
        url = place(TABLES);
        return Workspace.on(
                project(routines, url), "press-house", Optional.empty(), true, Placement::place);
    }

    static Outcome call(Workspace workspace, String routine, Map<String, Object> given)
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
    String outside(String query) throws SQLException {
        try (Connection connection = connect(url);
                Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(query)) {
            row.next();
            return row.getString(1);
        }
    }

    static List<String> shown(Outcome outcome) {
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
        assertNothingLeft();
    }

    @Test
    void whatIsKeptStaysAndNothingElse() throws Exception {
        try (Workspace workspace = open(ROUTINES)) {
            call(workspace, "take", Map.of("which", "A", "l", new BigDecimal("30")));
            workspace.database().commit();
        }
        assertEquals("70.0", outside("SELECT litres FROM tank WHERE code = 'A'"));
        assertNothingLeft();
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
    void failuresInALoopAndInWhatIsCalledUndoTheirOwnStatementAlone() throws Exception {
        try (Workspace workspace =
                open(
                        """
                        CREATE PROCEDURE fills (IN turns INTEGER, OUT failed INTEGER)
                        BEGIN
                          DECLARE i INTEGER DEFAULT 0;
                          DECLARE CONTINUE HANDLER FOR SQLSTATE '23505' SET failed = failed + 1;
                          SET failed = 0;
                          WHILE i < turns DO
                            INSERT INTO tank VALUES (CAST(i / 2 AS VARCHAR(8)), i);
                            UPDATE tank SET litres = litres + 1 WHERE code = CAST(i AS VARCHAR(8));
                            CALL bare(i);
                            SET i = i + 1;
                          END WHILE;
                        END;
                        CREATE PROCEDURE bare (IN n INTEGER)
                        UPDATE tank SET litres = litres + n WHERE code = 'A';
                        CREATE PROCEDURE both (OUT failed INTEGER)
                        BEGIN
                          CALL bare(1);
                          CALL fills(4, failed);
                          CALL bare(2);
                          CALL fills(2, failed);
                          CALL bare(3);
                        END;
                        """)) {
            Outcome outcome = call(workspace, "both", Map.of());
            assertEquals(2L, outcome.out().get("failed"), () -> outcome.condition().toString());
            // Worked out by hand: fills inserts '0' and '1' once each and fails four times.
            assertEquals(
                    List.of("tank + [0, 2.0]", "tank + [1, 3.0]", "tank ~ [A, 113.0]"),
                    shown(outcome).stream().sorted().toList());
        }
    }

    @Test
    void anUndoneBlockInALoopTakesBackItsOwnWorkAlone() throws Exception {
        try (Workspace workspace =
                open(
                        """
                        CREATE PROCEDURE undoes (IN turns INTEGER, OUT undone INTEGER)
                        BEGIN
                          DECLARE i INTEGER DEFAULT 0;
                          DECLARE CONTINUE HANDLER FOR SQLSTATE '23505' BEGIN END;
                          SET undone = 0;
                          WHILE i < turns DO
                            SET i = i + 1;
                            INSERT INTO tank VALUES (CAST(i AS VARCHAR(8)), i);
                            INSERT INTO tank VALUES (CAST(i AS VARCHAR(8)), i);
                            BEGIN ATOMIC
                              DECLARE UNDO HANDLER FOR SQLEXCEPTION SET undone = undone + 1;
                              DELETE FROM tank WHERE code = CAST(i AS VARCHAR(8));
                              INSERT INTO tank VALUES ('B' || i, i);
                              IF MOD(i, 2) = 0 THEN
                                UPDATE tank SET litres = -1 WHERE code = 'A';
                              END IF;
                            END;
                            UPDATE tank SET litres = litres + 1 WHERE code = 'A';
                          END WHILE;
                        END;
                        CREATE PROCEDURE look (OUT codes VARCHAR(80), OUT a DECIMAL(8, 1))
                        BEGIN
                          SET codes = '';
                          FOR t AS SELECT code FROM tank ORDER BY code DO
                            SET codes = codes || t.code || ' ';
                          END FOR;
                          SET a = (SELECT litres FROM tank WHERE code = 'A');
                        END;
                        CREATE PROCEDURE whole (OUT codes VARCHAR(80), OUT a DECIMAL(8, 1), OUT undone INTEGER)
                        BEGIN
                          CALL undoes(4, undone);
                          CALL look(codes, a);
                        END;
                        """)) {
            Outcome outcome = call(workspace, "whole", Map.of());
            assertEquals("2 4 A B B1 B3 ", outcome.out().get("codes"));
            assertEquals(new BigDecimal("104.0"), outcome.out().get("a"));
            assertEquals(2L, outcome.out().get("undone"));
        }
    }

    @Test
    void aQueryThatDividesByZeroIsAnException() throws Exception {
        try (Workspace workspace =
                open(
                        """
                        CREATE PROCEDURE divides (IN by_what INTEGER, OUT r DECIMAL(8, 1), OUT n INTEGER)
                        BEGIN
                          DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' SET n = n + 1;
                          SET n = 0;
                          SET r = -1;
                          SELECT litres / by_what INTO r FROM tank WHERE code = 'A';
                          EXECUTE IMMEDIATE 'SELECT COUNT(*) FROM tank WHERE litres / 0 > 1';
                          SELECT litres INTO r FROM tank WHERE by_what <> 0 AND code = 'B';
                        END;
                        """)) {
            Outcome none = call(workspace, "divides", Map.of("by_what", 0));
            assertEquals(2L, none.out().get("n"), none.condition()::toString);
            assertEquals(new BigDecimal("-1.0"), none.out().get("r"));
            Outcome some = call(workspace, "divides", Map.of("by_what", 2));
            assertEquals(1L, some.out().get("n"), some.condition()::toString);
            assertEquals(new BigDecimal("50.0"), some.out().get("r"));
        }
    }
}
