package dev.cantina.nativecode.mariadb;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.nativecode.ProbeFollower;
import dev.cantina.runtime.ResultRows;
import dev.cantina.runtime.ServerRoutines.ServerRun;
import dev.cantina.types.SqlType;
import dev.cantina.types.Values;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.HexFormat;
import java.util.List;
import java.util.concurrent.ExecutionException;

/**
 * Hears what probes tell that stand in routines on MariaDB. What a probe tells stands in a row that
 * another connection reads uncommitted; the run waits at a gate, a lock of a name that the
 * controller holds. There are two gates and two locks of the one who runs, used in turn. What the
 * controller has to say stands in the text of the statement in which it waits.
 *
 * <p>A run that need not wait writes what it tells into a variable of its session, which no
 * rollback takes back; that is read when the call is over.
 */
abstract class MariaFollower extends ProbeFollower {
    protected static final ObjectMapper JSON = new ObjectMapper();
    private static final int WAIT_SECONDS = 86_400;

    /**
     * Added to a place in a function or trigger. An INSERT there is no part of what ROW_COUNT()
     * says behind the CALL around it, so that less is written down from there.
     */
    static final long INSIDE = 1L << 52;

    /**
     * What stands in the database of the run. Its texts hold any letter, whatever the database's
     * own do.
     */
    static final List<String> HELPERS =
            List.of(
                    "CREATE TABLE cantina_at (sid BIGINT PRIMARY KEY, turn BIGINT, told LONGTEXT)"
                            + " ENGINE=InnoDB CHARACTER SET utf8mb4",
                    "CREATE TABLE cantina_told (seq BIGINT AUTO_INCREMENT PRIMARY KEY, told LONGTEXT)"
                            + " ENGINE=Aria TRANSACTIONAL=0 CHARACTER SET utf8mb4",
                    """
                    CREATE PROCEDURE cantina_raise(IN state_ VARCHAR(5),
                      IN message_ VARCHAR(512) CHARACTER SET utf8mb4)
                    BEGIN
                      CASE state_
                      %s
                      ELSE SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = message_;
                      END CASE;
                    END""",
                    """
                    CREATE PROCEDURE cantina_flush() MODIFIES SQL DATA
                    BEGIN
                      INSERT INTO cantina_told (told) VALUES (@cantina_told);
                      SET @cantina_n = COALESCE(@cantina_n, 0) + 1;
                      SET @cantina_told = '';
                    END""",
                    """
                    CREATE PROCEDURE cantina_at(IN a BIGINT, IN d INT, IN p BIGINT,
                      IN v LONGTEXT CHARACTER SET utf8mb4)
                    MODIFIES SQL DATA
                    BEGIN
                      DECLARE g INT DEFAULT MOD(@cantina_turn, 2);
                      DECLARE most INT DEFAULT IF(p < 4503599627370496, 8000, 400000);
                      DECLARE told LONGTEXT CHARACTER SET utf8mb4 DEFAULT
                        CONCAT('{"a":', a, ',"d":', d, ',"p":',
                        MOD(p, 4503599627370496),
                        ',"w":', COALESCE(PREVIOUS VALUE FOR cantina_numbers, 0),
                        ',"t":', CAST(UNIX_TIMESTAMP(SYSDATE(6)) * 1000000 AS INTEGER),
                        ',"v":', v, '}');
                      SET @cantina_depth = d;
                      SET @cantina_c = NULL;
                      IF p >= 0 AND @cantina_mode IS NULL THEN
                        SET @cantina_x = NULL;
                      ELSEIF p >= 0 AND @cantina_mode = 2 THEN
                        SET @cantina_told = CONCAT(@cantina_told, told, CHAR(10));
                        IF LENGTH(@cantina_told) > most THEN
                          CALL cantina_flush();
                        END IF;
                      ELSE
                        UPDATE cantina_at SET turn = @cantina_turn, cantina_at.told = told
                         WHERE sid = @cantina_sid;
                        SET @cantina_n = COALESCE(@cantina_n, 0) + 1;
                        SET @cantina_x = GET_LOCK(CONCAT('cantina.', @cantina_sid, '.R', 1 - g), 86400);
                        SET @cantina_x = RELEASE_LOCK(CONCAT('cantina.', @cantina_sid, '.R', g));
                        SET @cantina_x = GET_LOCK(CONCAT('cantina.', @cantina_sid, '.G', g), 86400);
                        SET @cantina_c = (SELECT NULLIF(REGEXP_SUBSTR(info, '(?s)(?<=/\\\\*GO ).*(?= OG\\\\*/)'), '')
                          FROM information_schema.PROCESSLIST WHERE id = @cantina_ctl);
                        SET @cantina_x = RELEASE_LOCK(CONCAT('cantina.', @cantina_sid, '.G', g));
                        SET @cantina_turn = @cantina_turn + 1;
                      END IF;
                    END""");

    /**
     * States that a stand-in may raise, each by a statement of its own: SIGNAL takes no variable.
     */
    static final List<String> STATES =
            List.of(
                    "22001", "22003", "22007", "22012", "23000", "40001", "42000", "45001",
                    "57000");

    protected final Connection connection;
    protected final Connection controller;
    protected final Connection looking;
    private final Deque<JsonNode> waiting = new ArrayDeque<>();
    protected long session;
    protected long turn;
    protected boolean standing;
    protected boolean collected;

    /**
     * @param controller holds the gates
     * @param looking reads what is not committed
     */
    protected MariaFollower(
            Connection connection,
            Connection controller,
            Connection looking,
            ServerRun run,
            RoutineSymbol called) {
        super(run, called);
        this.connection = connection;
        this.controller = controller;
        this.looking = looking;
    }

    protected static long number(Connection on, String query) throws SQLException {
        try (Statement ask = on.createStatement();
                ResultSet row = ask.executeQuery(query)) {
            row.next();
            return row.getLong(1);
        }
    }

    protected static void execute(Connection on, String sql) throws SQLException {
        try (Statement one = on.createStatement()) {
            one.setEscapeProcessing(false);
            one.execute(sql);
        }
    }

    protected String lock(String name) {
        return "'cantina." + session + "." + name + "'";
    }

    /** Whether the run stops at its probes, or asks for what is replaced. */
    protected boolean waits() {
        return holds || run.standIn().isPresent();
    }

    @Override
    protected String interrupted() {
        return "70100";
    }

    /** Whether the run was cut off, however it has ended. */
    private volatile boolean cut;

    /**
     * Gives back the locks of a run that has failed or was cut off: where a handler went on behind
     * a stop that was, one was taken twice.
     */
    protected void release(boolean failed) throws SQLException {
        if (!failed && !cut) {
            return;
        }
        for (String name : List.of("R0", "R1", "G0", "G1")) {
            try (Statement statement = connection.createStatement()) {
                boolean held = true;
                while (held) {
                    try (ResultSet row =
                            statement.executeQuery("SELECT RELEASE_LOCK(" + lock(name) + ")")) {
                        row.next();
                        held = row.getInt(1) == 1;
                    }
                }
            }
        }
    }

    @Override
    protected void cancel() {
        cut = true;
        try {
            while (!running.isDone()) {
                statement.cancel();
                Thread.sleep(5);
            }
        } catch (SQLException e) {
            // It has ended, which is what was wanted.
            return;
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    // ---------------------------------------------------------------- hearing

    @Override
    protected JsonNode next() throws SQLException {
        if (!waits()) {
            if (!collected) {
                collect();
            }
            return waiting.poll();
        }
        if (!standing) {
            // Nobody has been heard of yet.
            execute(
                    controller,
                    "DO GET_LOCK("
                            + lock("R" + turn % 2)
                            + ", "
                            + WAIT_SECONDS
                            + "), RELEASE_LOCK("
                            + lock("R" + turn % 2)
                            + ")");
        }
        standing = true;
        JsonNode told = collected ? null : read();
        if (told == null && !holds) {
            if (!collected) {
                collect();
            }
            return waiting.poll();
        }
        return told;
    }

    /** What is told at a turn; null where the call has ended before it. */
    private JsonNode read() throws SQLException {
        try (Statement look = looking.createStatement();
                ResultSet row =
                        look.executeQuery(
                                "SELECT turn, told FROM cantina_at WHERE sid = " + session)) {
            row.next();
            if (row.getLong(1) != turn || row.wasNull()) {
                return null;
            }
            String told = row.getString(2);
            turn++;
            return json(told);
        }
    }

    private static JsonNode json(String text) throws SQLException {
        try {
            return JSON.readTree(text);
        } catch (JsonProcessingException e) {
            throw new SQLException(e);
        }
    }

    /** Waits for the end, and reads what was written meanwhile. */
    private void collect() throws SQLException {
        collected = true;
        try {
            running.get();
        } catch (ExecutionException e) {
            // Whoever has asked for the call hears of it.
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new SQLException("interrupted", "70100");
        }
        StringBuilder all = new StringBuilder();
        try (Statement look = connection.createStatement();
                ResultSet row = look.executeQuery("SELECT told FROM cantina_told ORDER BY seq")) {
            while (row.next()) {
                all.append(row.getString(1));
            }
        }
        try (Statement look = connection.createStatement();
                ResultSet row = look.executeQuery("SELECT @cantina_told")) {
            row.next();
            all.append(row.getString(1) == null ? "" : row.getString(1));
        }
        execute(connection, "SET @cantina_told = ''");
        for (String line : all.toString().split("\n")) {
            if (!line.isBlank()) {
                waiting.add(json(line));
            }
        }
    }

    @Override
    protected void goOn(String answer) throws SQLException {
        // The turn that was read last stands at the other gate.
        long g = (turn - 1) % 2;
        long p = 1 - g;
        execute(
                controller,
                "/*GO "
                        + answer.replace("*", "\\u002a")
                        + " OG*/ SELECT RELEASE_LOCK("
                        + lock("G" + g)
                        + "), GET_LOCK("
                        + lock("R" + p)
                        + ", "
                        + WAIT_SECONDS
                        + "), RELEASE_LOCK("
                        + lock("R" + p)
                        + "), GET_LOCK("
                        + lock("G" + g)
                        + ", "
                        + WAIT_SECONDS
                        + ")");
    }

    // ---------------------------------------------------------------- looking

    @Override
    public Connection connection() {
        return looking;
    }

    private volatile Statement look;

    /** A statement that looks, and can be called off. */
    protected final Statement look() throws SQLException {
        Statement made = looking.createStatement();
        look = made;
        return made;
    }

    @Override
    public void callOff() {
        Statement last = look;
        try {
            if (last != null && !last.isClosed()) {
                last.cancel();
            }
        } catch (SQLException e) {
            // It has ended, which is what was wanted.
            return;
        }
    }

    @Override
    public ResultRows query(String sql, long most) throws SQLException {
        try (Statement look = look()) {
            look.setMaxRows((int) Math.min(most, Integer.MAX_VALUE));
            try (ResultSet rows = look.executeQuery(sql)) {
                return run.read(rows);
            }
        }
    }

    @Override
    public int change(String sql) throws SQLException {
        throw new SQLException(
                "MariaDB can change no rows while one of its routines stands; set a variable, or"
                        + " change the rows before the call",
                "0A000");
    }

    @Override
    public String text(String sql) throws SQLException {
        try (Statement look = look();
                ResultSet row = look.executeQuery(sql)) {
            return row.next() ? row.getString(1) : null;
        }
    }

    protected static String cast(Object value, SqlType type) {
        String text =
                value == null
                        ? "NULL"
                        : "'" + Values.text(value).replace("\\", "\\\\").replace("'", "''") + "'";
        if (value instanceof Boolean truth) {
            return truth ? "1" : "0";
        }
        if (value instanceof byte[] bytes) {
            return "X'" + HexFormat.of().formatHex(bytes) + "'";
        }
        if (type instanceof SqlType.Integral) {
            return "CAST(" + text + " AS SIGNED)";
        }
        if (type instanceof SqlType.Exact exact && exact.precision() > 0) {
            return "CAST("
                    + text
                    + " AS DECIMAL("
                    + exact.precision()
                    + ", "
                    + exact.scale()
                    + "))";
        }
        if (type instanceof SqlType.Approximate) {
            return "CAST(" + text + " AS DOUBLE)";
        }
        if (type instanceof SqlType.Date) {
            return "CAST(" + text + " AS DATE)";
        }
        return type instanceof SqlType.Timestamp ? "CAST(" + text + " AS DATETIME(6))" : text;
    }

    @Override
    public String literal(Object value, SqlType type) {
        return cast(value, type);
    }
}
