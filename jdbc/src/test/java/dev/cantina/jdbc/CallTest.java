package dev.cantina.jdbc;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertInstanceOf;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.StringReader;
import java.math.BigDecimal;
import java.sql.BatchUpdateException;
import java.sql.CallableStatement;
import java.sql.Connection;
import java.sql.Date;
import java.sql.JDBCType;
import java.sql.ParameterMetaData;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLDataException;
import java.sql.SQLException;
import java.sql.SQLIntegrityConstraintViolationException;
import java.sql.SQLSyntaxErrorException;
import java.sql.SQLTimeoutException;
import java.sql.Statement;
import java.sql.Types;
import java.util.Arrays;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** CALL and its kin, as JDBC 4.3, chapter 13.3, has them. */
class CallTest {
    private Connection connection;

    @BeforeEach
    void open() throws SQLException {
        connection = Winery.open();
    }

    @AfterEach
    void close() throws SQLException {
        connection.close();
    }

    private SQLException refused(String call) {
        return assertThrows(
                SQLException.class,
                () -> {
                    try (CallableStatement statement = connection.prepareCall(call)) {
                        statement.execute();
                    }
                });
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "{call move_wine(?, ?, ?, ?)}",
                "{ CALL Move_Wine ( ? ,?,?, ?) }",
                "call move_wine(?, ?, ?, ?)",
                "CALL MOVE_WINE(?, ?, ?, ?);",
                "/* the ? is none */ call move_wine(?, ?, -- nor this ?\n ?, ?)",
                "{call \"MOVE_WINE\"(?, ?, ?, ?)}",
                "call move_wine(source => ?, target => ?, litres => ?, moved => ?)"
            })
    void valuesGoInAndComeOut(String text) throws SQLException {
        try (CallableStatement call = connection.prepareCall(text)) {
            call.setString(1, "T1");
            call.setString(2, "T2");
            call.setInt(3, 100);
            call.registerOutParameter(4, Types.DECIMAL);
            assertFalse(call.execute());
            assertEquals(new BigDecimal("100.0"), call.getBigDecimal(4));
            assertEquals(new BigDecimal("100.0"), call.getObject("moved"));
            assertEquals(100, call.getInt("MOVED"));
            assertEquals("100.0", call.getString(4));
            assertFalse(call.wasNull());
            assertEquals(0, call.getUpdateCount());
            assertFalse(call.getMoreResults());
            assertEquals(-1, call.getUpdateCount());
        }
        assertEquals(
                new BigDecimal("100.0"),
                Winery.ask(connection, "SELECT level_l FROM vessel WHERE code = 'T2'"));
    }

    @Test
    void parametersAreKnownByTheirNames() throws SQLException {
        try (CallableStatement call = connection.prepareCall("{call move_wine(?, ?, ?, ?)}")) {
            call.registerOutParameter("moved", JDBCType.INTEGER);
            call.setBigDecimal("litres", new BigDecimal("5"));
            call.setString("SOURCE", "T1");
            call.setObject("target", "C7");
            call.executeUpdate();
            assertEquals(5, call.getObject("moved"));
        }
    }

    @Test
    void aValueMayStandInTheCall() throws SQLException {
        try (CallableStatement call =
                connection.prepareCall("{call move_wine('T1', upper('t2'), 2.5 * 2, ?)}")) {
            call.execute();
            assertEquals(5.0, call.getDouble(1));
        }
    }

    @Test
    void whatHasADefaultMayBeLeftOut() throws SQLException {
        try (CallableStatement call =
                connection.prepareCall(
                        "{call record_intake(plot => ?, kilograms => ?, grade => ?)}")) {
            call.setInt(1, 11);
            call.setInt(2, 400);
            call.execute();
            assertNull(call.getString(3));
            assertTrue(call.wasNull());
        }
    }

    @Test
    void aFunctionGivesItsValue() throws SQLException {
        try (CallableStatement call = connection.prepareCall("{? = call grade_for(?)}")) {
            call.registerOutParameter(1, Types.CHAR);
            call.setDouble(2, 22.5);
            call.execute();
            assertEquals("A", call.getString(1));
            call.setNull(2, Types.DECIMAL);
            call.execute();
            assertNull(call.getString(1));
            assertTrue(call.wasNull());
            call.setString(2, "19.5");
            call.execute();
            assertEquals("B", call.getObject(1));
        }
    }

    @Test
    void ofSeveralRoutinesTheOneWhoseTypesFit() throws SQLException {
        try (CallableStatement one = connection.prepareCall("{? = call label_code.make(?)}");
                CallableStatement two =
                        connection.prepareCall("{? = call label_code.make(?, ?)}")) {
            two.setString(2, "Rosso");
            two.setInt(3, 2025);
            two.execute();
            assertEquals("R-2025-0001", two.getString(1));
            one.setInt(2, 1);
            one.execute();
            assertTrue(one.getString(1).endsWith("-0002"), one.getString(1));
        }
    }

    @Test
    void arraysGoInAndOut() throws SQLException {
        try (CallableStatement call = connection.prepareCall("{call blend(?, ?, ?)}")) {
            call.setInt(1, 100);
            call.setArray(2, connection.createArrayOf("DECIMAL", new Object[] {1, 3}));
            call.execute();
            Object[] litres = (Object[]) call.getArray(3).getArray();
            assertEquals("[25.0, 75.0]", Arrays.toString(litres));
            Object[] shares = (Object[]) call.getArray(2).getArray();
            assertEquals(2, shares.length);
        }
    }

    @Test
    void rowsAreAResultSet() throws SQLException {
        try (CallableStatement call = connection.prepareCall("{call list_intakes(?)}")) {
            call.setString(1, "A");
            assertTrue(call.execute());
            int rows = 0;
            try (ResultSet found = call.getResultSet()) {
                assertEquals(6, found.getMetaData().getColumnCount());
                assertEquals("intake_id", found.getMetaData().getColumnLabel(1).toLowerCase());
                while (found.next()) {
                    rows++;
                    assertEquals("A", found.getString("grade"));
                    assertInstanceOf(Integer.class, found.getObject("intake_id"));
                    assertTrue(found.getBigDecimal("KILOGRAMS").signum() > 0);
                }
                assertEquals(call, found.getStatement());
            }
            assertTrue(rows > 0);
            assertFalse(call.getMoreResults());
            assertEquals(-1, call.getUpdateCount());
        }
        try (PreparedStatement call = connection.prepareStatement("CALL list_intakes(?)")) {
            call.setString(1, "Z");
            assertFalse(call.executeQuery().next());
        }
        try (Statement statement = connection.createStatement()) {
            assertTrue(statement.execute("call list_intakes('A', 1)"));
            assertTrue(statement.getResultSet().next());
            assertFalse(statement.getMoreResults());
            try (ResultSet one = statement.executeQuery("SELECT 3")) {
                assertEquals(1, one.getMetaData().getColumnCount());
            }
        }
    }

    @Test
    void aConditionHasItsStateMessageAndRoutines() {
        SQLException failure = refused("{call move_wine('T1', 'B1', 100, ?)}");
        assertEquals("45000", failure.getSQLState());
        assertEquals("B1 has no room for 100.0 litres", failure.getMessage());
        StackTraceElement where = failure.getStackTrace()[0];
        assertEquals("move_wine", where.getMethodName());
        assertEquals("routines/move_wine.sql", where.getFileName());
        assertEquals(36, where.getLineNumber());
    }

    @Test
    void whatAConditionEndsIsTakenBack() throws SQLException {
        refused("{call move_wine('T1', 'B1', 100, ?)}");
        assertEquals(
                new BigDecimal("500.0"),
                Winery.ask(connection, "SELECT level_l FROM vessel WHERE code = 'T1'"));
        assertEquals(0L, Winery.ask(connection, "SELECT COUNT(*) FROM journal"));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "{call mov_wine(1)} | 42000 | there is no procedure mov_wine; did you mean move_wine?",
                "{call grade_for(1)} | 42000 | grade_for is a function: {? = call grade_for(…)}",
                "{? = call move_wine(1)} | 42000 | move_wine is a procedure",
                "{call move_wine('T1')} | 42000 | the call does not fit move_wine(",
                "{call move_wine('T1', 'B1', 1, 2)} | 42000 | moved gives a value back: it needs a ?",
                "{call move_wine(source => 'T1', targt => 'B1', litres => 1, moved => ?)} | 42000 | does not fit",
                "{? = call label_code.next_number()} | 42000 | label_code.next_number is private in its module",
                "{call move_wine('T1', 'B1', ? + 1, ?)} | 0A000 | a marker is a whole argument",
                "{call move_wine('T1', 'B1', ?, ?)} | 07001 | marker 1 (litres) has no value",
                "{call move_wine('T1', 'B1', 'ten', ?)} | 22018 | ten",
                "{call move_wine('T1', 'B1', 1, ?) | 42000 | the brace { is not closed",
                "{call } | 42000 | can't be read",
                "{call move_wine('T1', 'B1', 123456789, ?)} | 22003 | 123456789"
            })
    void aCallThatIsWrongIsRefused(String call, String state, String says) {
        SQLException failure = refused(call);
        assertEquals(state, failure.getSQLState(), failure.getMessage());
        assertTrue(failure.getMessage().contains(says), failure.getMessage());
        if (state.startsWith("42")) {
            assertInstanceOf(SQLSyntaxErrorException.class, failure);
        }
        if (state.startsWith("22")) {
            assertInstanceOf(SQLDataException.class, failure);
        }
    }

    @Test
    void wrongMarkersAreRefused() throws SQLException {
        try (CallableStatement call = connection.prepareCall("{call move_wine(?, ?, ?, ?)}")) {
            assertEquals(
                    "07009",
                    assertThrows(SQLException.class, () -> call.setInt(5, 1)).getSQLState());
            assertEquals(
                    "07009",
                    assertThrows(SQLException.class, () -> call.setInt("litre", 1)).getSQLState());
            assertEquals(
                    "24000", assertThrows(SQLException.class, () -> call.getInt(4)).getSQLState());
            call.setString(1, "T1");
            call.setString(2, "T2");
            call.setInt(3, 1);
            call.execute();
            SQLException none = assertThrows(SQLException.class, () -> call.getInt(1));
            assertTrue(none.getMessage().startsWith("marker 1 gives nothing back"));
        }
    }

    @Test
    void aClosedCallIsClosed() throws SQLException {
        CallableStatement call = connection.prepareCall("{call list_intakes()}");
        call.close();
        assertTrue(call.isClosed());
        assertThrows(SQLException.class, call::execute);
    }

    @Test
    void constraintsAndNullsHaveTheirOwnClasses() {
        SQLException failure =
                assertThrows(
                        SQLIntegrityConstraintViolationException.class,
                        () -> {
                            try (CallableStatement call =
                                    connection.prepareCall("{call record_intake(?, ?, ?, ?, ?)}")) {
                                call.setInt(1, 11);
                                call.setInt(2, -4);
                                call.setNull(3, Types.DECIMAL);
                                call.execute();
                            }
                        });
        assertEquals("23514", failure.getSQLState(), failure.getMessage());
    }

    @Test
    void readersAndDatesAreTaken() throws SQLException {
        try (CallableStatement call = connection.prepareCall("{call register_grower(?, ?, ?)}")) {
            call.setCharacterStream(1, new StringReader("Nora Vento and more"), 10);
            call.setNString(2, "Poggio è");
            call.execute();
            int number = call.getInt(3);
            assertEquals(
                    "Nora Vento",
                    Winery.ask(connection, "SELECT name FROM grower WHERE grower_id = " + number));
            assertInstanceOf(
                    Date.class,
                    Winery.ask(
                            connection,
                            "SELECT joined_on FROM grower WHERE grower_id = " + number));
        }
    }

    @Test
    void aBatchOfCallsStopsAtTheFirstThatFails() throws SQLException {
        try (CallableStatement call = connection.prepareCall("{call move_wine('T1', ?, ?, ?)}")) {
            for (String target : new String[] {"T2", "C7", "B1", "T2"}) {
                call.setString(1, target);
                call.setInt(2, 60);
                call.addBatch();
            }
            BatchUpdateException failure =
                    assertThrows(BatchUpdateException.class, call::executeBatch);
            assertArrayEquals(new int[] {0, 0}, failure.getUpdateCounts());
            assertEquals("45000", failure.getSQLState());
            assertTrue(failure.getMessage().startsWith("call 3 of 4: "), failure.getMessage());
            assertArrayEquals(new int[0], call.executeBatch());
        }
        assertEquals(2L, Winery.ask(connection, "SELECT COUNT(*) FROM movement WHERE litres = 60"));
    }

    @Test
    void theMarkersCanBeAskedFor() throws SQLException {
        try (CallableStatement call =
                connection.prepareCall(
                        "{call move_wine('T1', litres => ?, target => ?, moved => ?)}")) {
            ParameterMetaData known = call.getParameterMetaData();
            assertEquals(3, known.getParameterCount());
            assertEquals("DECIMAL(8, 1)", known.getParameterTypeName(1));
            assertEquals(Types.VARCHAR, known.getParameterType(2));
            assertEquals(ParameterMetaData.parameterModeOut, known.getParameterMode(3));
        }
    }

    @Test
    void whatARoutineReportsIsAWarning() throws SQLException {
        try (CallableStatement call = connection.prepareCall("{call cellar_report()}")) {
            call.execute();
            int lines = 0;
            for (Throwable line : call.getWarnings()) {
                assertTrue(line.getMessage().contains(" l "), line.getMessage());
                lines++;
            }
            assertTrue(lines >= 3, lines + " lines");
            call.clearWarnings();
            assertNull(call.getWarnings());
        }
    }

    @Test
    void defaultIsAnArgument() throws SQLException {
        try (CallableStatement call =
                connection.prepareCall("{call record_intake(10, 300, default, ?, ?)}")) {
            call.execute();
            assertNull(call.getString(2));
        }
        assertTrue(
                refused("{call record_intake(DEFAULT, 300, 20, ?, ?)}")
                        .getMessage()
                        .startsWith("plot has no default"));
    }

    @Test
    void valuesComeAsWhateverTheyAreAskedFor() throws SQLException {
        try (CallableStatement call = connection.prepareCall("{? = call amount_owed(1, 2031)}")) {
            call.registerOutParameter(1, Types.INTEGER);
            call.execute();
            assertEquals(1638, call.getObject(1));
            assertEquals("1638.95", call.getObject(1, String.class));
            assertEquals(1638.95, call.getDouble(1));
            assertEquals(
                    "22018", assertThrows(SQLException.class, () -> call.getDate(1)).getSQLState());
        }
    }

    @Test
    void whatIsNullIsNoStatement() {
        assertThrows(SQLException.class, () -> connection.prepareCall(null));
        assertThrows(SQLException.class, () -> connection.prepareStatement(null));
        assertThrows(
                SQLException.class,
                () -> {
                    try (Statement statement = connection.createStatement()) {
                        statement.execute(null);
                    }
                });
    }

    @Test
    void aLimitEndsACall() throws Exception {
        try (Connection other =
                        java.sql.DriverManager.getConnection(
                                SmallProject.endless() + "&limits=statements=1000,seconds=9");
                CallableStatement call = other.prepareCall("{call forever()}")) {
            SQLException ended = assertThrows(SQLException.class, call::execute);
            assertEquals("UL001", ended.getSQLState());
            assertTrue(ended.getMessage().endsWith("raise it with ?limits=statements=10000"));
        }
    }

    @Test
    void aCallMayTakeItsTimeOnlyAndCanBeCancelled() throws Exception {
        try (Connection other =
                        java.sql.DriverManager.getConnection(
                                SmallProject.endless() + "&limits=statements=1e12");
                CallableStatement call = other.prepareCall("{call forever()}")) {
            call.setQueryTimeout(1);
            SQLException late = assertThrows(SQLTimeoutException.class, call::execute);
            assertTrue(late.getMessage().contains("1 second"), late.getMessage());
            call.setQueryTimeout(0);
            Thread canceller =
                    new Thread(
                            () -> {
                                try {
                                    Thread.sleep(300);
                                    call.cancel();
                                } catch (InterruptedException | SQLException e) {
                                    throw new IllegalStateException(e);
                                }
                            });
            canceller.start();
            assertEquals("UL000", assertThrows(SQLException.class, call::execute).getSQLState());
            canceller.join();
            assertEquals(1, Winery.ask(other, "SELECT 1"));
        }
    }
}
