package dev.cantina.jdbc;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.math.BigDecimal;
import java.sql.CallableStatement;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.sql.Statement;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Transactions of two connections to the same rows (JDBC 4.3, chapter 10). */
class TransactionTest {
    private final String url = Winery.url();
    private Connection one;
    private Connection other;

    @BeforeEach
    void open() throws SQLException {
        one = DriverManager.getConnection(url);
        other = DriverManager.getConnection(url);
    }

    @AfterEach
    void close() throws SQLException {
        one.close();
        other.close();
    }

    private static BigDecimal level(Connection connection, String vessel) throws SQLException {
        return (BigDecimal)
                Winery.ask(connection, "SELECT level_l FROM vessel WHERE code = '" + vessel + "'");
    }

    private static void fill(Connection connection, String vessel, int litres) throws SQLException {
        Winery.change(
                connection,
                "UPDATE vessel SET level_l = " + litres + " WHERE code = '" + vessel + "'");
    }

    private static void move(Connection connection, int litres) throws SQLException {
        try (CallableStatement call =
                connection.prepareCall("{call move_wine('T1', 'T2', ?, ?)}")) {
            call.setInt(1, litres);
            call.execute();
        }
    }

    @Test
    void withAutoCommitEachStatementIsThereForAll() throws SQLException {
        assertTrue(one.getAutoCommit());
        fill(one, "T2", 7);
        assertEquals(new BigDecimal("7.0"), level(other, "T2"));
        move(one, 10);
        assertEquals(new BigDecimal("17.0"), level(other, "T2"));
        assertEquals(3L, Winery.ask(other, "SELECT COUNT(*) FROM journal"));
    }

    @Test
    void whatIsNotCommittedIsNotSeen() throws SQLException {
        one.setAutoCommit(false);
        fill(one, "T2", 7);
        assertEquals(new BigDecimal("7.0"), level(one, "T2"));
        assertEquals(new BigDecimal("0.0"), level(other, "T2"));
        assertEquals(0L, Winery.ask(other, "SELECT COUNT(*) FROM journal"));
        one.commit();
        assertEquals(new BigDecimal("7.0"), level(other, "T2"));
        assertEquals(1L, Winery.ask(other, "SELECT COUNT(*) FROM journal"));
    }

    @Test
    void rollbackTakesBackWhatTriggersDidToo() throws SQLException {
        one.setAutoCommit(false);
        fill(one, "T2", 7);
        one.rollback();
        assertEquals(new BigDecimal("0.0"), level(one, "T2"));
        assertEquals(0L, Winery.ask(one, "SELECT COUNT(*) FROM journal"));
    }

    @Test
    void closingRollsBack() throws SQLException {
        one.setAutoCommit(false);
        fill(one, "T2", 7);
        one.close();
        assertTrue(one.isClosed());
        assertEquals(new BigDecimal("0.0"), level(other, "T2"));
        fill(other, "T2", 8);
    }

    @Test
    void autoCommitTurnedOnCommits() throws SQLException {
        one.setAutoCommit(false);
        fill(one, "T2", 7);
        one.setAutoCommit(true);
        assertEquals(new BigDecimal("7.0"), level(other, "T2"));
    }

    @Test
    void aRoutinesCommitIsReal() throws SQLException {
        one.setAutoCommit(false);
        move(one, 10);
        assertEquals(new BigDecimal("10.0"), level(other, "T2"));
        one.rollback();
        assertEquals(new BigDecimal("10.0"), level(one, "T2"));
    }

    @Test
    void whatComesBehindARoutinesCommitIsNot() throws Exception {
        String small =
                SmallProject.url(
                        Map.of(
                                "tables/t.sql",
                                "CREATE TABLE t (n INTEGER PRIMARY KEY);",
                                "routines/half.sql",
                                "CREATE PROCEDURE half () BEGIN INSERT INTO t VALUES (1); COMMIT;"
                                        + " INSERT INTO t VALUES (2); END;"));
        try (Connection mine = DriverManager.getConnection(small);
                Connection theirs = DriverManager.getConnection(small);
                CallableStatement call = mine.prepareCall("{call half}")) {
            mine.setAutoCommit(false);
            call.execute();
            assertEquals(1L, Winery.ask(theirs, "SELECT COUNT(*) FROM t"));
            assertEquals(2L, Winery.ask(mine, "SELECT COUNT(*) FROM t"));
            mine.rollback();
            assertEquals(1L, Winery.ask(mine, "SELECT COUNT(*) FROM t"));
        }
    }

    @Test
    void aFailureBehindACommitTakesBackToIt() throws Exception {
        String small =
                SmallProject.url(
                        Map.of(
                                "tables/t.sql",
                                "CREATE TABLE t (n INTEGER PRIMARY KEY);",
                                "routines/half.sql",
                                "CREATE PROCEDURE half () BEGIN INSERT INTO t VALUES (1); COMMIT;"
                                        + " INSERT INTO t VALUES (2); SIGNAL SQLSTATE '45001'; END;"));
        try (Connection mine = DriverManager.getConnection(small);
                CallableStatement call = mine.prepareCall("{call half}")) {
            assertThrows(SQLException.class, call::execute);
            assertEquals(1L, Winery.ask(mine, "SELECT COUNT(*) FROM t"));
            mine.setAutoCommit(false);
            Winery.change(mine, "DELETE FROM t");
            assertThrows(SQLException.class, call::execute);
            assertEquals(1L, Winery.ask(mine, "SELECT COUNT(*) FROM t"));
            mine.rollback();
            assertEquals(1L, Winery.ask(mine, "SELECT COUNT(*) FROM t"));
        }
    }

    @Test
    void aStatementThatFailsLeavesTheTransactionGood() throws SQLException {
        one.setAutoCommit(false);
        fill(one, "T2", 7);
        assertThrows(SQLException.class, () -> fill(one, "T2", 7000));
        assertThrows(SQLException.class, () -> Winery.change(one, "UPDATE nothing SET x = 1"));
        fill(one, "B2", 8);
        one.commit();
        assertEquals(new BigDecimal("7.0"), level(other, "T2"));
        assertEquals(new BigDecimal("8.0"), level(other, "B2"));
    }

    @Test
    void aCallThatFailsTakesBackItselfAlone() throws SQLException {
        one.setAutoCommit(false);
        fill(one, "B2", 8);
        try (CallableStatement call = one.prepareCall("{call register_grower('Nora', ' ', ?)}")) {
            assertThrows(SQLException.class, call::execute);
        }
        one.commit();
        assertEquals(new BigDecimal("8.0"), level(other, "B2"));
    }

    @Test
    void savepointsAreGoneBackTo() throws SQLException {
        one.setAutoCommit(false);
        fill(one, "T2", 1);
        Savepoint first = one.setSavepoint();
        fill(one, "T2", 2);
        Savepoint second = one.setSavepoint("later");
        fill(one, "T2", 3);
        assertEquals("later", second.getSavepointName());
        one.rollback(second);
        assertEquals(new BigDecimal("2.0"), level(one, "T2"));
        fill(one, "T2", 4);
        one.rollback(second);
        assertEquals(new BigDecimal("2.0"), level(one, "T2"));
        one.rollback(first);
        assertEquals(new BigDecimal("1.0"), level(one, "T2"));
        SQLException gone = assertThrows(SQLException.class, () -> one.rollback(second));
        assertEquals("3B001", gone.getSQLState());
        one.releaseSavepoint(first);
        assertThrows(SQLException.class, () -> one.rollback(first));
        one.commit();
        assertThrows(SQLException.class, () -> one.rollback(first));
        assertEquals(new BigDecimal("1.0"), level(other, "T2"));
    }

    @Test
    void withAutoCommitThereIsNothingToEnd() throws SQLException {
        assertEquals("25000", assertThrows(SQLException.class, one::commit).getSQLState());
        assertThrows(SQLException.class, one::rollback);
        assertThrows(SQLException.class, one::setSavepoint);
    }

    @ParameterizedTest
    @ValueSource(strings = {"COMMIT", " commit work ;", "/* now */ Commit"})
    void aCommitMayBeATextToo(String text) throws SQLException {
        one.setAutoCommit(false);
        fill(one, "T2", 7);
        try (Statement statement = one.createStatement()) {
            assertFalse(statement.execute(text));
        }
        one.rollback();
        assertEquals(new BigDecimal("7.0"), level(other, "T2"));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "START TRANSACTION",
                "begin",
                "SAVEPOINT here",
                "ROLLBACK TO SAVEPOINT here",
                "RELEASE SAVEPOINT here",
                "COMMIT AND CHAIN"
            })
    void otherTextsOfTransactionsAreRefused(String text) throws SQLException {
        one.setAutoCommit(false);
        try (Statement statement = one.createStatement()) {
            assertEquals(
                    "0A000",
                    assertThrows(SQLException.class, () -> statement.execute(text)).getSQLState());
        }
    }

    @Test
    void whoChangesTheSameRowWaits() throws Exception {
        one.setAutoCommit(false);
        fill(one, "T2", 7);
        Thread waiting =
                new Thread(
                        () -> {
                            try {
                                Winery.change(
                                        other,
                                        "UPDATE vessel SET level_l = level_l + 1 WHERE code = 'T2'");
                            } catch (SQLException e) {
                                throw new IllegalStateException(e);
                            }
                        });
        waiting.start();
        Thread.sleep(200);
        one.commit();
        waiting.join();
        assertEquals(new BigDecimal("8.0"), level(one, "T2"));
        assertEquals(2L, Winery.ask(one, "SELECT COUNT(*) FROM journal"));
    }

    @Test
    void whoWaitsTooLongIsTold() throws SQLException {
        one.setAutoCommit(false);
        fill(one, "T2", 7);
        SQLException late = assertThrows(SQLException.class, () -> fill(other, "T2", 8));
        assertEquals("40001", late.getSQLState(), late.getMessage());
        one.commit();
        fill(other, "T2", 8);
    }

    @Test
    void ofTwoThatWaitForEachOtherOneIsTakenBack() throws Exception {
        one.setAutoCommit(false);
        other.setAutoCommit(false);
        fill(one, "T1", 7);
        fill(other, "T2", 7);
        java.util.concurrent.FutureTask<String> waiting =
                new java.util.concurrent.FutureTask<>(() -> state(other, "T1"));
        new Thread(waiting).start();
        Thread.sleep(200);
        String first = state(one, "T2");
        String states = first + waiting.get();
        assertTrue(states.equals("40001") || states.equals("4000140001"), states);
        one.rollback();
        other.rollback();
        fill(one, "T1", 9);
        one.commit();
        assertEquals(new BigDecimal("9.0"), level(other, "T1"));
        assertEquals(new BigDecimal("0.0"), level(other, "T2"));
    }

    private static String state(Connection connection, String vessel) {
        try {
            fill(connection, vessel, 8);
            return "";
        } catch (SQLException e) {
            return e.getSQLState();
        }
    }

    @Test
    void rowsThatNobodyElseHasAreHeldForNobodyAfterAFailure() throws SQLException {
        assertThrows(SQLException.class, () -> fill(one, "T2", 7000));
        fill(other, "T2", 7);
        try (CallableStatement call = one.prepareCall("{call move_wine('T2', 'B1', 5000, ?)}")) {
            assertThrows(SQLException.class, call::execute);
        }
        fill(other, "T2", 8);
    }

    @Test
    void theNextOneBeginsWithTheFixture() throws SQLException {
        fill(one, "T2", 7);
        one.close();
        other.close();
        one = DriverManager.getConnection(url);
        assertEquals(new BigDecimal("0.0"), level(one, "T2"));
    }

    @Test
    void withoutThatWordTheRowsStay() throws SQLException {
        String staying = url.replace("fresh=yes&", "");
        try (Connection first = DriverManager.getConnection(staying)) {
            fill(first, "T2", 7);
        }
        try (Connection second = DriverManager.getConnection(staying)) {
            assertEquals(new BigDecimal("7.0"), level(second, "T2"));
        }
    }

    @Test
    void temporaryTablesAreEachConnectionsOwn() throws SQLException {
        one.setAutoCommit(false);
        other.setAutoCommit(false);
        for (Connection connection : new Connection[] {one, other, one}) {
            try (CallableStatement call = connection.prepareCall("{call cellar_report()}")) {
                call.execute();
            }
        }
        one.commit();
        other.rollback();
    }

    @Test
    void moduleVariablesAreEachConnectionsOwn() throws SQLException {
        for (Connection connection : new Connection[] {one, other}) {
            assertEquals(
                    "R-2025-0001",
                    code(connection).substring(0, 7)
                            + code(connection).substring(7).replace("2", "1"));
        }
    }

    private static String code(Connection connection) throws SQLException {
        try (CallableStatement call =
                connection.prepareCall("{? = call label_code.make('Rosso', 2025)}")) {
            call.execute();
            return call.getString(1);
        }
    }
}
