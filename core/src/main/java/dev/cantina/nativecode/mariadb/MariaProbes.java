package dev.cantina.nativecode.mariadb;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.cantina.binding.Variable;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.nativecode.BoundNative;
import dev.cantina.nativecode.ProbeFollower;
import dev.cantina.runtime.Frame;
import dev.cantina.runtime.ResultRows;
import dev.cantina.runtime.ServerFrame;
import dev.cantina.runtime.ServerRoutines.ServerRun;
import dev.cantina.types.SqlType;
import dev.cantina.types.Values;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ExecutionException;
import java.util.regex.MatchResult;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/**
 * Follows a call of woven routines on MariaDB. What a probe tells stands in a row that another
 * connection reads uncommitted; the run waits at a gate, a lock of a name that the controller
 * holds. There are two gates and two locks of the one who runs, used in turn. What the controller
 * has to say stands in the text of the statement in which it waits.
 *
 * <p>A run that need not wait writes what it tells into a variable of its session, which no
 * rollback takes back; that is read when the call is over.
 */
final class MariaProbes extends ProbeFollower {
    private static final ObjectMapper JSON = new ObjectMapper();
    private static final int WAIT_SECONDS = 86_400;

    /**
     * Added to a place in a function or trigger. An INSERT there is no part of what ROW_COUNT()
     * says behind the CALL around it, so that less is written down from there.
     */
    static final long INSIDE = 1L << 52;

    /** What stands in the database of the run. */
    static final List<String> HELPERS =
            List.of(
                    "CREATE TABLE cantina_at (sid BIGINT PRIMARY KEY, turn BIGINT, told LONGTEXT)"
                            + " ENGINE=InnoDB",
                    "CREATE TABLE cantina_told (seq BIGINT AUTO_INCREMENT PRIMARY KEY, told LONGTEXT)"
                            + " ENGINE=Aria TRANSACTIONAL=0",
                    """
                    CREATE PROCEDURE cantina_raise(IN state_ VARCHAR(5), IN message_ VARCHAR(512))
                    BEGIN
                      CASE state_
                      %s
                      ELSE SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = message_;
                      END CASE;
                    END""",
                    """
                    CREATE PROCEDURE cantina_at(IN a BIGINT, IN d INT, IN p BIGINT, IN v LONGTEXT)
                    MODIFIES SQL DATA
                    BEGIN
                      DECLARE g INT DEFAULT MOD(@cantina_turn, 2);
                      DECLARE most INT DEFAULT IF(p < 4503599627370496, 8000, 400000);
                      DECLARE told LONGTEXT DEFAULT CONCAT('{"a":', a, ',"d":', d, ',"p":',
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
                          INSERT INTO cantina_told (told) VALUES (@cantina_told);
                          SET @cantina_n = COALESCE(@cantina_n, 0) + 1;
                          SET @cantina_told = '';
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

    private final Connection connection;
    private final Connection controller;
    private final Connection looking;
    private final MariaCode code;
    private final Deque<JsonNode> waiting = new ArrayDeque<>();
    private long session;
    private long turn;
    private boolean standing;
    private boolean collected;

    /**
     * @param controller holds the gates
     * @param looking reads what is not committed
     */
    MariaProbes(
            Connection connection,
            Connection controller,
            Connection looking,
            MariaCode code,
            ServerRun run,
            RoutineSymbol called) {
        super(run, called);
        this.connection = connection;
        this.controller = controller;
        this.looking = looking;
        this.code = code;
    }

    private static long number(Connection on, String query) throws SQLException {
        try (Statement ask = on.createStatement();
                ResultSet row = ask.executeQuery(query)) {
            row.next();
            return row.getLong(1);
        }
    }

    private static void execute(Connection on, String sql) throws SQLException {
        try (Statement one = on.createStatement()) {
            one.setEscapeProcessing(false);
            one.execute(sql);
        }
    }

    private String lock(String name) {
        return "'cantina." + session + "." + name + "'";
    }

    /** Whether the run stops at its probes, or asks for what is replaced. */
    private boolean waits() {
        return holds || run.standIn().isPresent();
    }

    @Override
    protected void prepare() throws SQLException {
        session = number(connection, "SELECT CONNECTION_ID()");
        long control = number(controller, "SELECT CONNECTION_ID()");
        turn = code.turn();
        long sent = System.nanoTime();
        long micros =
                number(connection, "SELECT CAST(UNIX_TIMESTAMP(SYSDATE(6)) * 1000000 AS INTEGER)");
        clock(micros, sent + (System.nanoTime() - sent) / 2);
        execute(connection, "DELETE FROM cantina_told");
        execute(controller, "DO GET_LOCK(" + lock("G0") + ", 5), GET_LOCK(" + lock("G1") + ", 5)");
        written(number(connection, "SELECT COALESCE(PREVIOUS VALUE FOR cantina_numbers, 0)"));
        String mode = run.probe().isEmpty() ? "NULL" : holds ? "1" : "2";
        execute(
                connection,
                "SET @cantina_sid = "
                        + session
                        + ", @cantina_ctl = "
                        + control
                        + ", @cantina_turn = "
                        + turn
                        + ", @cantina_told = '', @cantina_depth = 0, @cantina_act = 0,"
                        + " @cantina_mode = "
                        + mode
                        + ", @cantina_x = GET_LOCK("
                        + lock("R" + turn % 2)
                        + ", 5)");
        List<RoutineSymbol> callable = code.callable();
        List<RoutineSymbol> replaced = replaced(callable);
        for (int i = 0; i < callable.size(); i++) {
            execute(
                    connection,
                    "SET @cantina_s"
                            + i
                            + " = "
                            + (replaced.contains(callable.get(i)) ? "1" : "NULL"));
        }
    }

    @Override
    protected void done() throws SQLException {
        execute(
                connection,
                "DO RELEASE_LOCK("
                        + lock("R0")
                        + "), RELEASE_LOCK("
                        + lock("R1")
                        + "), RELEASE_LOCK("
                        + lock("G0")
                        + "), RELEASE_LOCK("
                        + lock("G1")
                        + ")");
    }

    @Override
    protected String interrupted() {
        return "70100";
    }

    @Override
    protected void cancel() {
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

    @Override
    protected void end() throws SQLException {
        code.turn(turn);
        execute(connection, "SET @cantina_mode = NULL");
        execute(controller, "DO RELEASE_ALL_LOCKS()");
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

    @Override
    protected String standIn(JsonNode told) {
        return code.standIn(run, (int) -told.get("p").asLong() - 1, told.get("v"));
    }

    @Override
    protected Object held(JsonNode value, SqlType type) {
        return MariaCode.held(value, type);
    }

    private BoundNative bound(int routine) {
        return code.inside().bound(routine);
    }

    @Override
    protected Frame frame(int routine) {
        return new ServerFrame(code.inside().code(routine), this);
    }

    @Override
    protected boolean beginsHandler(int routine, int statement) {
        return bound(routine).beginsHandler(statement);
    }

    @Override
    protected void take(Frame frame, int routine, int statement, JsonNode values) {
        take(frame, bound(routine).told(statement), values);
    }

    // ---------------------------------------------------------------- looking

    @Override
    public Connection connection() {
        return looking;
    }

    @Override
    public ResultRows query(String sql, long most) throws SQLException {
        try (Statement look = looking.createStatement()) {
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
        try (Statement look = looking.createStatement();
                ResultSet row = look.executeQuery(sql)) {
            return row.next() ? row.getString(1) : null;
        }
    }

    /** An expression is worked out over a row that has the variables for its columns. */
    private ResultSet over(Statement look, ServerFrame frame, String expression)
            throws SQLException {
        int routine = code.routines().indexOf(frame.routine());
        List<String> columns = new ArrayList<>();
        StringBuilder from = new StringBuilder();
        for (Map.Entry<String, BoundNative.Told> one : bound(routine).told(frame.at).entrySet()) {
            if (!names(expression, one.getKey())) {
                continue;
            }
            Variable variable = one.getValue().variable();
            Object value = frame.get(variable);
            if (variable.type() instanceof SqlType.Row row) {
                List<String> fields = new ArrayList<>();
                for (int i = 0; i < row.fields().size(); i++) {
                    Object field = value instanceof Object[] all ? all[i] : null;
                    fields.add(
                            cast(field, row.fields().get(i).type())
                                    + " AS "
                                    + MariaCode.quoted(row.fields().get(i).name()));
                }
                for (String written : spellings(expression, one.getKey())) {
                    from.append(", (SELECT ")
                            .append(String.join(", ", fields))
                            .append(") AS ")
                            .append(MariaCode.quoted(written));
                }
            } else if (MariaInside.isShown(one.getValue().declared())) {
                columns.add(cast(value, variable.type()) + " AS " + MariaCode.quoted(one.getKey()));
            }
        }
        return look.executeQuery(
                "SELECT ("
                        + expression
                        + "\n) FROM (SELECT "
                        + (columns.isEmpty() ? "1 AS cantina_1" : String.join(", ", columns))
                        + ") AS cantina_v"
                        + from);
    }

    /** How an expression writes a name: that of a derived table counts with its case. */
    private static Set<String> spellings(String expression, String name) {
        return Pattern.compile(Pattern.quote(name), Pattern.CASE_INSENSITIVE)
                .matcher(expression)
                .results()
                .map(MatchResult::group)
                .collect(Collectors.toSet());
    }

    /** An expression for a variable of a type, so that its value can be told. */
    private static String told(String expression, String type) {
        if (MariaInside.isBits(type)) {
            return "(" + expression + "\n) + 0";
        }
        return MariaCode.held(type) instanceof SqlType.Bytes
                ? "HEX(CAST((" + expression + "\n) AS BINARY))"
                : expression;
    }

    private static String cast(Object value, SqlType type) {
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

    @Override
    public Object value(ServerFrame frame, String expression) throws SQLException {
        try (Statement look = looking.createStatement();
                ResultSet row = over(look, frame, expression)) {
            row.next();
            var database = run.session().database();
            return database.read(row, 1, database.typeOf(row.getMetaData(), 1));
        }
    }

    @Override
    public Object set(ServerFrame frame, Variable variable, String field, String expression)
            throws SQLException {
        if (!stands(frame)) {
            throw new SQLException(
                    "a variable can be changed in the routine that stands, and not in one that waits"
                            + " for it",
                    "0A000");
        }
        if (variable.type() instanceof SqlType.Row || !field.isEmpty()) {
            throw new SQLException("the rows of a trigger are not changed from here", "0A000");
        }
        int routine = code.routines().indexOf(frame.routine());
        String type = bound(routine).told(frame.at).get(variable.name()).declared().type();
        try (Statement look = looking.createStatement();
                ResultSet row = over(look, frame, told(expression, type))) {
            row.next();
            String text = row.getString(1);
            ObjectNode all = JSON.createObjectNode();
            all.put("x", text);
            change(variable.name(), all.get("x"));
            Object held = text == null ? null : held(all.get("x"), variable.type());
            frame.set(variable, held);
            return held;
        }
    }
}
