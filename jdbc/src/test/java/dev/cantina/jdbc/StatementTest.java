package dev.cantina.jdbc;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertSame;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.math.BigDecimal;
import java.sql.BatchUpdateException;
import java.sql.CallableStatement;
import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.Date;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.SQLIntegrityConstraintViolationException;
import java.sql.Statement;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** A program's own statements, and what of the project they set off. */
class StatementTest {
    private Connection connection;

    @BeforeEach
    void open() throws SQLException {
        connection = Winery.open();
    }

    @AfterEach
    void close() throws SQLException {
        connection.close();
    }

    @ParameterizedTest
    @ValueSource(strings = {"", "  ", "-- nothing", "/* nothing */ ;"})
    void whatIsNoStatementDoesNothing(String text) throws SQLException {
        try (PreparedStatement prepared = connection.prepareStatement(text);
                Statement statement = connection.createStatement()) {
            assertFalse(prepared.execute());
            assertFalse(statement.execute(text));
        }
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "{call move_wine('T1', 'C7', 1, ?)} x",
                "{call move_wine('T1', 'C7', 1, ?)",
                "{call move_wine('T1', 'C7', 1, ?)}}",
                "{call move_wine('T1', 'C7', {d '2031-01-01'}, ?)}",
                "{call move_wine('T1', 'C7', 1, ?,)}",
                "{{call move_wine('T1', 'C7', 1, ?)}}",
                "{? call move_wine('T1', 'C7', 1, ?)}",
                "{= call grade_for(18)}",
                "{? = ? = call grade_for(18)}",
                "{call move_wine('T1', 'C7', ? + 1, ?)}",
                "{call move_wine('T1', 'C7', (SELECT capacity_l FROM vessel), ?)}",
                "{call move_wine('T1', 'C7', 1 / 0, ?)}",
                "{call move_wine('T1', 'C7', nosuch, ?)}",
                "CALL move_wine('T1', 'C7', 1, ?); DELETE FROM payment",
                "EXECUTE PROCEDURE move_wine('T1', 'C7', 1)",
                "$1 = move_wine('T1', 'C7', 1)",
                "SELECT {fn nosuch(1)}",
                "BEGIN; COMMIT",
            })
    void whatIsNotUnderstoodIsAnSqlException(String text) throws SQLException {
        Object before = Winery.ask(connection, "SELECT SUM(level_l * level_l) FROM vessel");
        for (boolean each : new boolean[] {true, false}) {
            connection.setAutoCommit(each);
            assertThrows(
                    SQLException.class,
                    () -> {
                        try (Statement statement = connection.createStatement()) {
                            statement.execute(text);
                        }
                    },
                    text);
            assertThrows(
                    SQLException.class,
                    () -> {
                        try (CallableStatement prepared = connection.prepareCall(text)) {
                            prepared.execute();
                        }
                    },
                    text);
            assertEquals(
                    before, Winery.ask(connection, "SELECT SUM(level_l * level_l) FROM vessel"));
        }
    }

    @Test
    void aPreparedCommitIsOneToo() throws SQLException {
        connection.setAutoCommit(false);
        try (Statement statement = connection.createStatement();
                PreparedStatement commit = connection.prepareStatement("commit /* it */ work");
                PreparedStatement rollback = connection.prepareStatement("ROLLBACK")) {
            statement.executeUpdate("UPDATE vessel SET level_l = 1 WHERE code = 'T1'");
            assertFalse(commit.execute());
            connection.rollback();
            statement.executeUpdate("UPDATE vessel SET level_l = 2 WHERE code = 'T1'");
            assertEquals(0, rollback.executeUpdate());
            connection.commit();
            assertEquals(
                    new BigDecimal("1.0"),
                    Winery.ask(connection, "SELECT level_l FROM vessel WHERE code = 'T1'"));
            assertThrows(SQLException.class, commit::executeQuery);
        }
        assertThrows(
                SQLException.class,
                () -> {
                    try (PreparedStatement savepoint = connection.prepareStatement("SAVEPOINT x")) {
                        savepoint.execute();
                    }
                });
    }

    @Test
    void functionsOfTheProjectAreCalledInQueries() throws SQLException {
        assertEquals("A", Winery.ask(connection, "SELECT grade_for(24)"));
        try (PreparedStatement query =
                connection.prepareStatement(
                        "SELECT name, amount_owed(grower_id, ?) AS owed FROM grower"
                                + " WHERE amount_owed(grower_id, ?) > 0 ORDER BY owed DESC")) {
            query.setInt(1, 2031);
            query.setInt(2, 2031);
            try (ResultSet rows = query.executeQuery()) {
                assertTrue(rows.next());
                assertTrue(rows.getBigDecimal("owed").signum() > 0);
                assertSame(query, rows.getStatement());
            }
        }
    }

    @Test
    void aTriggerRefusesARow() {
        SQLException failure =
                assertThrows(
                        SQLException.class,
                        () -> Winery.change(connection, "DELETE FROM grower WHERE grower_id = 1"));
        assertEquals("grower_has_history", failure.getStackTrace()[0].getMethodName());
        assertTrue(failure.getSQLState().startsWith("45"), failure.getSQLState());
    }

    @Test
    void aTriggerCompletesARow() throws SQLException {
        try (PreparedStatement insert =
                connection.prepareStatement(
                        "INSERT INTO intake (plot_id, picked_on, kilograms, sugar) VALUES (?, ?, ?, ?)",
                        Statement.RETURN_GENERATED_KEYS)) {
            insert.setInt(1, 11);
            insert.setObject(2, LocalDate.of(2026, 9, 20));
            insert.setBigDecimal(3, new BigDecimal("410.5"));
            insert.setDouble(4, 21);
            assertEquals(1, insert.executeUpdate());
            try (ResultSet keys = insert.getGeneratedKeys()) {
                assertTrue(keys.next());
                assertEquals(
                        "B",
                        Winery.ask(
                                connection,
                                "SELECT grade FROM intake WHERE intake_id = " + keys.getInt(1)));
            }
        }
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '"',
            value = {
                "level_l = level_l | 1",
                "kind = 'tank' | 0",
                "kind = 'x', level_l = 1 | 1",
                "/* level_l = 2 */ kind = 'level_l' | 0"
            })
    void updateOfLooksAtWhatIsSet(String set, int fired) throws Exception {
        String url =
                SmallProject.url(
                        Map.of(
                                "tables/t.sql",
                                "CREATE TABLE v (code INTEGER PRIMARY KEY, level_l INTEGER, kind"
                                        + " VARCHAR(9)); CREATE TABLE seen (n INTEGER);",
                                "routines/r.sql",
                                "CREATE TRIGGER watch AFTER UPDATE OF level_l ON v FOR EACH ROW"
                                        + " INSERT INTO seen VALUES (1);"));
        try (Connection small = DriverManager.getConnection(url)) {
            Winery.change(small, "INSERT INTO v VALUES (1, 5, 'tank')");
            Winery.change(small, "UPDATE v SET " + set);
            assertEquals((long) fired, Winery.ask(small, "SELECT COUNT(*) FROM seen"));
        }
    }

    @Test
    void theDatabasesErrorsHaveTheStandardsStates() {
        assertEquals(
                "23505",
                assertThrows(
                                SQLIntegrityConstraintViolationException.class,
                                () ->
                                        Winery.change(
                                                connection,
                                                "INSERT INTO vessel (code, kind, capacity_l) VALUES"
                                                        + " ('T1', 'tank', 1)"))
                        .getSQLState());
        SQLException unknown =
                assertThrows(
                        SQLException.class, () -> Winery.ask(connection, "SELECT lev FROM vessel"));
        assertTrue(unknown.getSQLState().startsWith("42"), unknown.getSQLState());
        assertEquals(
                "22012",
                assertThrows(SQLException.class, () -> Winery.ask(connection, "SELECT 1 / 0"))
                        .getSQLState());
    }

    @Test
    void batchesAreDone() throws SQLException {
        try (PreparedStatement insert =
                connection.prepareStatement("INSERT INTO lot VALUES (?, 2026, ?)")) {
            for (int i = 100; i < 110; i++) {
                insert.setInt(1, i);
                insert.setString(2, "lot " + i);
                insert.addBatch();
            }
            assertEquals(10, insert.executeBatch().length);
            insert.setInt(1, 200);
            insert.addBatch();
            insert.setInt(1, 100);
            insert.addBatch();
            SQLException twice = assertThrows(SQLException.class, insert::executeBatch);
            assertEquals("23505", twice.getSQLState());
        }
        assertEquals(10L, Winery.ask(connection, "SELECT COUNT(*) FROM lot WHERE lot_id >= 100"));
        try (Statement statement = connection.createStatement()) {
            statement.addBatch("DELETE FROM lot WHERE lot_id > 104");
            statement.addBatch("CALL move_wine('T1', 'T2', 5, ?)");
            statement.addBatch("DELETE FROM lots");
            BatchUpdateException call =
                    assertThrows(BatchUpdateException.class, statement::executeBatch);
            assertArrayEquals(new int[] {5, 0}, call.getUpdateCounts());
            assertTrue(call.getMessage().startsWith("statement 3 of 3: "), call.getMessage());
        }
    }

    @Test
    void rowsCanBeChangedThroughAResultSet() throws SQLException {
        try (Statement statement =
                        connection.createStatement(
                                ResultSet.TYPE_SCROLL_INSENSITIVE, ResultSet.CONCUR_UPDATABLE);
                ResultSet rows =
                        statement.executeQuery("SELECT code, level_l FROM vessel ORDER BY code")) {
            assertTrue(rows.last());
            rows.updateBigDecimal("level_l", new BigDecimal("3"));
            rows.updateRow();
        }
        assertEquals(1L, Winery.ask(connection, "SELECT COUNT(*) FROM journal"));
    }

    @Test
    void tablesCanBeMade() throws SQLException {
        connection.setAutoCommit(false);
        Winery.change(connection, "INSERT INTO lot VALUES (77, 2026, 'before')");
        Winery.change(connection, "CREATE TABLE mine (n INTEGER)");
        Winery.change(connection, "INSERT INTO mine VALUES (1)");
        connection.rollback();
        assertEquals(0L, Winery.ask(connection, "SELECT COUNT(*) FROM mine"));
        assertEquals(1L, Winery.ask(connection, "SELECT COUNT(*) FROM lot WHERE lot_id = 77"));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "SET LOCK_TIMEOUT 1",
                "CREATE ALIAS x FOR 'java.lang.System.exit'",
                "CALL CSVWRITE('/tmp/x', 'SELECT 1')",
                "SELECT FILE_READ('/etc/hostname')",
                "SHUTDOWN",
                "RUNSCRIPT FROM '/tmp/x'",
                "INSERT INTO lot VALUES (1, 2, 'x'); DELETE FROM lot"
            })
    void whatReachesOutsideIsRefused(String sql) {
        assertThrows(SQLException.class, () -> Winery.change(connection, sql));
        assertThrows(
                SQLException.class,
                () -> {
                    try (PreparedStatement statement = connection.prepareStatement(sql)) {
                        statement.execute();
                    }
                });
    }

    @Test
    void aStatementThatSetsOffSomethingWithErrorsIsRefused() throws Exception {
        String url =
                SmallProject.url(
                        Map.of(
                                "tables/t.sql",
                                "CREATE TABLE a (n INTEGER); CREATE TABLE b (n INTEGER);",
                                "routines/r.sql",
                                "CREATE TRIGGER bad BEFORE INSERT ON a REFERENCING NEW ROW AS r"
                                        + " FOR EACH ROW SET r.nn = 1;"));
        try (Connection small = DriverManager.getConnection(url);
                PreparedStatement insert = small.prepareStatement("INSERT INTO a VALUES (?)")) {
            insert.setInt(1, 1);
            SQLException failure = assertThrows(SQLException.class, insert::executeUpdate);
            assertEquals("42000", failure.getSQLState());
            assertTrue(failure.getMessage().contains("routines/r.sql:1:"), failure.getMessage());
            assertEquals(1, Winery.change(small, "INSERT INTO b VALUES (1)"));
            assertEquals(0L, Winery.ask(small, "SELECT COUNT(*) FROM a"));
        }
    }

    @Test
    void theMetadataTellsOfTheRoutines() throws SQLException {
        DatabaseMetaData data = connection.getMetaData();
        assertTrue(data.getDatabaseProductName().startsWith("Cantina"));
        assertTrue(data.getURL().startsWith("jdbc:cantina:"));
        assertSame(connection, data.getConnection());
        List<String> names = new ArrayList<>();
        try (ResultSet rows = data.getProcedures(null, null, "%WINE")) {
            while (rows.next()) {
                names.add(rows.getString("PROCEDURE_NAME"));
            }
        }
        assertEquals(List.of("move_wine"), names);
        List<String> parameters = new ArrayList<>();
        try (ResultSet rows = data.getProcedureColumns(null, null, "move\\_wine", "%")) {
            while (rows.next()) {
                parameters.add(
                        rows.getString("COLUMN_NAME")
                                + " "
                                + rows.getInt("COLUMN_TYPE")
                                + " "
                                + rows.getInt("ORDINAL_POSITION"));
            }
        }
        assertEquals(List.of("source 1 1", "target 1 2", "litres 1 3", "moved 4 4"), parameters);
        try (ResultSet rows = data.getFunctionColumns(null, null, "grade_for", null)) {
            assertTrue(rows.next());
            assertEquals(0, rows.getInt("ORDINAL_POSITION"));
            assertTrue(rows.next());
            assertEquals("sugar", rows.getString("COLUMN_NAME"));
            assertEquals(1, rows.getInt("ORDINAL_POSITION"));
            assertFalse(rows.next());
        }
        try (ResultSet rows = data.getTables(null, null, "VESSEL", null)) {
            assertTrue(rows.next());
        }
    }

    @Test
    void datesComeAsJdbcHasThem() throws SQLException {
        assertEquals(
                Date.valueOf("2026-09-20"), Winery.ask(connection, "SELECT DATE '2026-09-20'"));
        assertFalse(connection.isReadOnly());
        assertTrue(connection.isValid(1));
        assertTrue(connection.isWrapperFor(Connection.class));
        assertSame(connection, connection.unwrap(Connection.class));
        assertThrows(SQLException.class, () -> connection.unwrap(String.class));
    }

    @Test
    void aClosedConnectionSaysSo() throws SQLException {
        connection.close();
        connection.close();
        assertTrue(connection.isClosed());
        assertFalse(connection.isValid(1));
        assertEquals(
                "08003",
                assertThrows(SQLException.class, connection::createStatement).getSQLState());
    }
}
