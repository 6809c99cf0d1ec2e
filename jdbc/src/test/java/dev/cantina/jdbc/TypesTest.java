package dev.cantina.jdbc;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.math.BigDecimal;
import java.sql.CallableStatement;
import java.sql.Connection;
import java.sql.Date;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.Time;
import java.sql.Timestamp;
import java.sql.Types;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.util.Calendar;
import java.util.Map;
import java.util.TimeZone;
import java.util.UUID;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Values of each type, in and out of a routine that gives back what it is given. */
class TypesTest {
    private static final String[][] KINDS = {
        {"sm", "SMALLINT"},
        {"i", "INTEGER"},
        {"b", "BIGINT"},
        {"d", "DECIMAL(10, 2)"},
        {"f", "DOUBLE PRECISION"},
        {"t", "VARCHAR(40)"},
        {"c", "CHAR(4)"},
        {"cl", "CLOB"},
        {"bo", "BOOLEAN"},
        {"da", "DATE"},
        {"ti", "TIME(6)"},
        {"ts", "TIMESTAMP(6)"},
        {"tz", "TIMESTAMP(6) WITH TIME ZONE"},
        {"bi", "VARBINARY(20)"},
        {"iv", "INTERVAL DAY TO SECOND"},
        {"a", "INTEGER ARRAY[5]"}
    };

    private Connection connection;

    @BeforeEach
    void open() throws Exception {
        StringBuilder routines = new StringBuilder();
        for (String[] kind : KINDS) {
            routines.append("CREATE PROCEDURE p_")
                    .append(kind[0])
                    .append(" (INOUT v ")
                    .append(kind[1])
                    .append(") BEGIN DECLARE w ")
                    .append(kind[1])
                    .append("; SET w = v; SET v = w; END;\n");
        }
        connection =
                DriverManager.getConnection(
                        SmallProject.url(
                                Map.of(
                                        "tables/t.sql",
                                        "CREATE TABLE t (n INTEGER);",
                                        "routines/r.sql",
                                        routines.toString())));
    }

    @AfterEach
    void close() throws Exception {
        connection.close();
    }

    private CallableStatement given(String kind, Object value) throws Exception {
        CallableStatement call = connection.prepareCall("{call p_" + kind + "(?)}");
        call.setObject(1, value);
        call.execute();
        return call;
    }

    @ParameterizedTest
    @CsvSource({
        "sm, 7, 7",
        "i, 7, 7",
        "i, -7, -7",
        "b, 9000000000, 9000000000",
        "d, 1.5, 1.50",
        "f, 1.5, 1.5",
        "t, a b, a b",
        "c, ab, 'ab  '",
        "cl, long, long",
        "bo, true, true",
        "da, 2026-09-20, 2026-09-20",
        "ti, 08:15:30, 08:15:30",
        "ts, 2026-09-20 08:15:30, 2026-09-20 08:15:30"
    })
    void aTextIsReadAsTheTypeHasIt(String kind, String text, String back) throws Exception {
        try (CallableStatement call = given(kind, text)) {
            String shown = call.getString(1);
            assertTrue(
                    shown.equalsIgnoreCase(back) || shown.startsWith(back + "."),
                    kind + " " + shown);
        }
    }

    @Test
    void everyTypeMayBeNull() throws Exception {
        for (String[] kind : KINDS) {
            try (CallableStatement call = connection.prepareCall("{call p_" + kind[0] + "(?)}")) {
                call.setNull(1, Types.NULL);
                call.registerOutParameter(1, Types.OTHER);
                call.execute();
                assertNull(call.getObject(1), kind[1]);
                assertTrue(call.wasNull(), kind[1]);
                assertNull(call.getString(1), kind[1]);
            }
        }
    }

    @Test
    void numbersAreTheUsualClasses() throws Exception {
        try (CallableStatement call = given("i", 7)) {
            assertEquals(7, call.getObject(1));
            assertEquals(7L, call.getLong(1));
            assertEquals((short) 7, call.getShort(1));
            assertEquals(new BigDecimal("7"), call.getBigDecimal(1));
        }
        try (CallableStatement call = given("b", 7)) {
            assertEquals(7L, call.getObject(1));
        }
        try (CallableStatement call = given("d", 7.25f)) {
            assertEquals(new BigDecimal("7.25"), call.getObject(1));
        }
        try (CallableStatement call = given("f", new BigDecimal("0.5"))) {
            assertEquals(0.5, call.getObject(1));
        }
        try (CallableStatement call = given("bo", true)) {
            assertEquals(true, call.getObject(1));
            assertTrue(call.getBoolean(1));
        }
    }

    @Test
    void momentsAreOldAndNewClasses() throws Exception {
        try (CallableStatement call = given("da", Date.valueOf("2026-09-20"))) {
            assertEquals(Date.valueOf("2026-09-20"), call.getObject(1));
            assertEquals(Date.valueOf("2026-09-20"), call.getDate(1));
            assertEquals(LocalDate.of(2026, 9, 20), call.getObject(1, LocalDate.class));
        }
        try (CallableStatement call = given("da", LocalDate.of(2026, 9, 20))) {
            assertEquals("2026-09-20", call.getString(1));
        }
        try (CallableStatement call = given("ts", Timestamp.valueOf("2026-09-20 08:15:30.25"))) {
            assertEquals(Timestamp.valueOf("2026-09-20 08:15:30.25"), call.getTimestamp(1));
            assertEquals(
                    LocalDateTime.of(2026, 9, 20, 8, 15, 30, 250_000_000),
                    call.getObject(1, LocalDateTime.class));
        }
        try (CallableStatement call = given("ti", Time.valueOf("08:15:30"))) {
            assertEquals(Time.valueOf("08:15:30"), call.getTime(1));
            assertEquals(LocalTime.of(8, 15, 30), call.getObject(1, LocalTime.class));
        }
        OffsetDateTime moment = OffsetDateTime.parse("2026-09-20T08:15:30+02:00");
        try (CallableStatement call = given("tz", moment)) {
            assertEquals(moment, call.getObject(1, OffsetDateTime.class));
            assertEquals(moment, call.getObject(1));
        }
    }

    @Test
    void aCalendarSaysWhichZoneAMomentIsOf() throws Exception {
        Calendar zone = Calendar.getInstance(TimeZone.getTimeZone("UTC"));
        try (CallableStatement call = connection.prepareCall("{call p_ts(?)}")) {
            call.setTimestamp(1, new Timestamp(0), zone);
            call.execute();
            assertEquals(
                    LocalDateTime.of(1970, 1, 1, 0, 0), call.getObject(1, LocalDateTime.class));
            assertEquals(new Timestamp(0), call.getTimestamp(1, zone));
        }
    }

    @Test
    void bytesArraysAndIntervals() throws Exception {
        try (CallableStatement call = given("bi", new byte[] {1, 2, (byte) 255})) {
            assertArrayEquals(new byte[] {1, 2, (byte) 255}, call.getBytes(1));
        }
        try (CallableStatement call =
                given("a", connection.createArrayOf("INTEGER", new Object[] {1, null, 3}))) {
            assertArrayEquals(new Object[] {1L, null, 3L}, (Object[]) call.getArray(1).getArray());
        }
        try (CallableStatement call = given("iv", "2 03:04:05")) {
            assertTrue(call.getString(1).contains("2 03:04:05"), call.getString(1));
        }
        try (CallableStatement call =
                given("t", UUID.fromString("00000000-0000-0000-0000-000000000007"))) {
            assertEquals("00000000-0000-0000-0000-000000000007", call.getString(1));
        }
    }

    @Test
    void rowsOfARoutineAreTheSame() throws Exception {
        String url =
                SmallProject.url(
                        Map.of(
                                "tables/t.sql",
                                "CREATE TABLE t (n INTEGER, d DATE, m TIMESTAMP(6), x DECIMAL(6, 2), b"
                                        + " BOOLEAN, s VARCHAR(9));",
                                "routines/r.sql",
                                "CREATE PROCEDURE p () DYNAMIC RESULT SETS 2 BEGIN INSERT INTO t VALUES (1,"
                                        + " DATE '2026-09-20', TIMESTAMP '2026-09-20 08:15:30', 1.5, TRUE,"
                                        + " NULL); SELECT * FROM t; SELECT n FROM t WHERE n > 1; END;"));
        try (Connection small = DriverManager.getConnection(url);
                CallableStatement call = small.prepareCall("{call p}")) {
            assertTrue(call.execute());
            try (ResultSet rows = call.getResultSet()) {
                assertTrue(rows.next());
                assertEquals(1, rows.getObject("n"));
                assertEquals(Date.valueOf("2026-09-20"), rows.getObject(2));
                assertEquals(Date.valueOf("2026-09-20"), rows.getDate("d"));
                assertEquals(LocalDate.of(2026, 9, 20), rows.getObject("d", LocalDate.class));
                assertEquals(Timestamp.valueOf("2026-09-20 08:15:30"), rows.getTimestamp("m"));
                assertEquals(new BigDecimal("1.50"), rows.getBigDecimal("x"));
                assertTrue(rows.getBoolean("b"));
                assertNull(rows.getString("s"));
                assertTrue(rows.wasNull());
                assertEquals(Types.DATE, rows.getMetaData().getColumnType(2));
                assertEquals("DECIMAL", rows.getMetaData().getColumnTypeName(4));
                assertEquals(6, rows.getMetaData().getPrecision(4));
            }
            assertTrue(call.getMoreResults());
            assertTrue(!call.getResultSet().next());
            assertTrue(!call.getMoreResults());
        }
    }
}
