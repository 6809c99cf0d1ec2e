package dev.cantina.nativecode.postgresql;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.cfg.JsonNodeFeature;
import com.fasterxml.jackson.databind.json.JsonMapper;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.NullNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.database.postgresql.PostgresDatabase;
import dev.cantina.database.postgresql.PostgresIntervals;
import dev.cantina.nativecode.ProbeFollower;
import dev.cantina.runtime.ResultRows;
import dev.cantina.runtime.ServerRoutines.ServerRun;
import dev.cantina.types.IntervalValue;
import dev.cantina.types.SqlType;
import dev.cantina.types.Values;
import java.nio.charset.StandardCharsets;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.SQLWarning;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ThreadLocalRandom;
import java.util.concurrent.locks.LockSupport;

/**
 * Hears what probes tell that stand in routines on PostgreSQL, and says when each goes on, where
 * the run may be held.
 *
 * <p>A probe tells by a message that the server sends at once, and waits at a gate, an advisory
 * lock that the controlling connection holds. There are two gates, used in turn: the next is shut
 * before this one opens. A third lock is held by the one who stands, so that the controller knows
 * when it has passed; a fourth by the controller, for as long as it listens. What the controller
 * has to say stands in the text of its own waiting statement, which no snapshot hides.
 */
abstract class PgFollower extends ProbeFollower {
    private static final String MARK = PostgresDatabase.PROBE;
    protected static final ObjectMapper JSON =
            JsonMapper.builder()
                    .enable(DeserializationFeature.USE_BIG_DECIMAL_FOR_FLOATS)
                    .disable(JsonNodeFeature.STRIP_TRAILING_BIGDECIMAL_ZEROES)
                    .build();

    /** What stands around that which the controller has to say. */
    private static final int FRAME = 400;

    /** The lock that is held by a controller who listens. */
    protected static final int LISTENING = 4;

    private static final long SPIN_NANOS = 2_000_000;
    private static final long PAUSE_NANOS = 20_000;
    private static final long LONG_PAUSE_NANOS = 500_000;

    /** By which the helpers are known to be there. */
    static final String STOP = "pg_temp.cantina_stop(bigint,int,bigint,jsonb)";

    /** What stands in the session's own temporary schema for as long as the transaction. */
    static final List<String> HELPERS =
            List.of(
                    "CREATE TEMP SEQUENCE cantina_turn MINVALUE 0",
                    "CREATE TEMP SEQUENCE cantina_activation",
                    // A routine may run with the rights of another.
                    "GRANT ALL ON SEQUENCE pg_temp.cantina_turn, pg_temp.cantina_activation TO PUBLIC",
                    // What a record holds may be nothing that can be shown.
                    """
                    CREATE FUNCTION pg_temp.cantina_record(r record) RETURNS jsonb LANGUAGE plpgsql
                    AS $h$
                    BEGIN
                      -- As a text: its columns have an order, and two may have one name.
                      RETURN to_jsonb(row_to_json(r)::text);
                    EXCEPTION WHEN OTHERS THEN
                      RETURN to_jsonb('(' || SQLERRM || ')');
                    END $h$""",
                    """
                    CREATE FUNCTION pg_temp.cantina_depth() RETURNS int LANGUAGE plpgsql AS $h$
                    DECLARE
                      c text;
                    BEGIN
                      GET DIAGNOSTICS c = PG_CONTEXT;
                        RETURN cardinality(regexp_split_to_array(c, '^PL/pgSQL function ', 'n')) - 2;
                    END $h$""",
                    // Who has the rights of a role alone may not see what others say.
                    """
                    CREATE FUNCTION pg_temp.cantina_said() RETURNS text LANGUAGE sql SECURITY DEFINER
                    SET search_path FROM CURRENT AS $h$
                      SELECT substring(query FROM '/\\*GO (.*) OG\\*/')
                        FROM pg_stat_get_activity(current_setting('cantina.controller')::int)
                    $h$""",
                    """
                    CREATE FUNCTION pg_temp.cantina_stop(a bigint, e int, p bigint, v jsonb)
                    RETURNS jsonb LANGUAGE plpgsql
                    SET search_path FROM CURRENT AS $h$
                    DECLARE
                      key int := NULLIF(current_setting('cantina.key', TRUE), '')::int;
                      phase int := 0; turn bigint; g int; d int; answer text; said jsonb; n bigint;
                      rows text;
                      sqlstate_ text; message_ text;
                    BEGIN
                      -- Where nobody listens nobody would say when to go on.
                      IF key IS NULL THEN
                        RETURN NULL;
                      END IF;
                      IF pg_try_advisory_lock_shared(key, 4) THEN
                        PERFORM pg_advisory_unlock_shared(key, 4);
                        RETURN NULL;
                      END IF;
                      said := jsonb_build_object('a', a, 'd', e, 'p', p, 'v', v, 'w',
                        pg_sequence_last_value('pg_temp.cantina_changes_seq_seq'));
                      -- Step by step, so that one who calls a question off too late disturbs nothing.
                      LOOP
                        BEGIN
                          LOOP
                            IF phase = 0 THEN
                              turn := coalesce(turn, nextval('pg_temp.cantina_turn'));
                              g := turn % 2; d := 2 + g;
                              phase := 1;
                            END IF;
                            IF phase = 1 THEN
                              phase := 2 + length(pg_advisory_lock(key, d)::text);
                            END IF;
                            IF phase = 2 THEN
                              RAISE INFO USING MESSAGE =
                                'CANTINA ' || (said || jsonb_build_object('turn', turn))::text;
                              phase := 3;
                            END IF;
                            IF phase = 3 THEN
                              phase := 4 + length(pg_advisory_lock(key, g)::text);
                            END IF;
                            IF phase = 4 THEN
                              PERFORM pg_stat_clear_snapshot();
                              answer := NULLIF(pg_temp.cantina_said(), '');
                              phase := 5;
                            END IF;
                            IF phase = 5 THEN
                              phase := 6 + 0 * length(pg_advisory_unlock(key, g)::text);
                            END IF;
                            IF phase = 6 THEN
                              phase := 7 + 0 * length(pg_advisory_unlock(key, d)::text);
                            END IF;
                            IF answer IS NULL OR NOT answer::jsonb ? 'do' THEN
                              RETURN answer::jsonb;
                            END IF;
                            rows := NULL;
                            IF answer::jsonb->>'do' = 'text' THEN
                              EXECUTE answer::jsonb->>'sql' INTO rows;
                            ELSE
                              EXECUTE answer::jsonb->>'sql';
                              GET DIAGNOSTICS n = ROW_COUNT;
                              rows := n::text;
                            END IF;
                            said := jsonb_build_object('answer', rows);
                            phase := 8;
                            EXIT;
                          END LOOP;
                        EXCEPTION WHEN OTHERS OR query_canceled THEN
                          GET STACKED DIAGNOSTICS sqlstate_ = RETURNED_SQLSTATE,
                            message_ = MESSAGE_TEXT;
                          IF phase >= 7 THEN
                            said := jsonb_build_object('failed', sqlstate_, 'message', message_);
                            phase := 8;
                          ELSIF sqlstate_ <> '57014' OR pg_try_advisory_lock_shared(key, 4) THEN
                            RAISE;
                          END IF;
                        END;
                        IF phase = 8 THEN
                          turn := NULL;
                          phase := 0;
                        END IF;
                      END LOOP;
                    END $h$""",
                    """
                    CREATE FUNCTION pg_temp.cantina_tell(a bigint, e int, p bigint, v jsonb)
                    RETURNS jsonb LANGUAGE plpgsql AS $h$
                    BEGIN
                      RAISE INFO USING MESSAGE = concat('CANTINA {"a":', a, ',"d":', e, ',"p":', p,
                        ',"v":', coalesce(v::text, 'null'), ',"w":',
                        coalesce(pg_sequence_last_value('pg_temp.cantina_changes_seq_seq'), 0),
                        ',"t":', (date_part('epoch', clock_timestamp()) * 1000000)::bigint, '}');
                      RETURN NULL;
                    END $h$""");

    protected final Connection connection;
    protected final Connection controller;
    private final int key = ThreadLocalRandom.current().nextInt(1, Integer.MAX_VALUE);

    private SQLWarning heard;
    private long turn = -1;

    /** How much the controller can say at once, in bytes. */
    private int most;

    /**
     * @param controller holds the gates
     * @param called what is called from outside, which nothing replaces; null for a statement
     */
    protected PgFollower(
            Connection connection, Connection controller, ServerRun run, RoutineSymbol called) {
        super(run, called);
        this.connection = connection;
        this.controller = controller;
    }

    /** Whether what was woven tells something else than what is wanted now. */
    protected boolean isOutdated() {
        return false;
    }

    /** A message that is no probe's. */
    protected void say(String message) {
        run.told(message);
    }

    /** From now on the messages of another statement are heard. */
    protected void hear(Statement next) throws SQLException {
        next.clearWarnings();
        heard = null;
    }

    /** Opens or shuts an advisory lock of the controller. */
    protected void lock(int which, boolean shut) throws SQLException {
        try (Statement other = controller.createStatement()) {
            other.execute(
                    "SELECT pg_advisory_"
                            + (shut ? "lock(" : "unlock(")
                            + key
                            + ", "
                            + which
                            + ")");
        }
    }

    /** Makes the routines tell that are to be followed. */
    protected abstract void weave(Statement setup) throws SQLException;

    /** Puts the helpers and the woven routines into the connection's transaction. */
    @Override
    protected void prepare() throws SQLException {
        try (Statement setup = connection.createStatement();
                Statement other = controller.createStatement()) {
            setup.setEscapeProcessing(false);
            boolean there;
            try (ResultSet row =
                    setup.executeQuery("SELECT to_regprocedure('" + STOP + "') IS NOT NULL")) {
                row.next();
                there = row.getBoolean(1);
            }
            if (!there) {
                for (String helper : HELPERS) {
                    setup.execute(helper);
                }
            } else {
                setup.execute("SELECT setval('pg_temp.cantina_turn', 0, FALSE)");
            }
            if (!there || isOutdated()) {
                weave(setup);
            }
            try (ResultSet row =
                    setup.executeQuery(
                            "SELECT COALESCE(pg_sequence_last_value("
                                    + "'pg_temp.cantina_changes_seq_seq'), 0)")) {
                row.next();
                written(row.getLong(1));
            }
            long sent = System.nanoTime();
            try (ResultSet row =
                    setup.executeQuery(
                            "SELECT (date_part('epoch', clock_timestamp()) * 1000000)::bigint")) {
                row.next();
                clock(row.getLong(1), sent + (System.nanoTime() - sent) / 2);
            }
            try (ResultSet row =
                    other.executeQuery(
                            "SELECT setting::int FROM pg_settings"
                                    + " WHERE name = 'track_activity_query_size'")) {
                row.next();
                most = row.getInt(1) - FRAME;
            }
            int pid;
            try (ResultSet row = other.executeQuery("SELECT pg_backend_pid()")) {
                row.next();
                pid = row.getInt(1);
            }
            other.execute(
                    "SELECT pg_advisory_lock("
                            + key
                            + ", 0), pg_advisory_lock("
                            + key
                            + ", 1), pg_advisory_lock("
                            + key
                            + ", "
                            + LISTENING
                            + ")");
            setup.execute(
                    "SELECT set_config('cantina.key', '"
                            + key
                            + "', FALSE), set_config('cantina.controller', '"
                            + pid
                            + "', FALSE)");
        }
    }

    @Override
    protected String interrupted() {
        return "57014";
    }

    @Override
    protected void cancel() {
        try {
            // Where nobody listens any more, what stands is not to go on.
            try (Statement other = controller.createStatement()) {
                other.execute("SELECT pg_advisory_unlock(" + key + ", " + LISTENING + ")");
            }
            statement.cancel();
            running.get();
        } catch (SQLException | ExecutionException e) {
            // It has ended, which is what was wanted.
            return;
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    /** A statement that is cut off while it stands keeps its locks, which somebody waits for. */
    @Override
    protected void done(boolean failed) throws SQLException {
        if (!failed) {
            return;
        }
        undo();
        release();
    }

    /** Gives back what the run holds of this key, where its transaction takes statements. */
    protected void release() throws SQLException {
        try (Statement own = connection.createStatement();
                ResultSet held =
                        own.executeQuery(
                                "SELECT CASE mode WHEN 'ShareLock'"
                                        + " THEN pg_advisory_unlock_shared(classid::int, objid::int)"
                                        + " ELSE pg_advisory_unlock(classid::int, objid::int) END"
                                        + " FROM pg_locks"
                                        + " WHERE locktype = 'advisory' AND pid = pg_backend_pid()"
                                        + " AND classid = "
                                        + key
                                        + " AND objsubid = 2")) {
            while (held.next()) {
                // The routine's own locks stay what they are.
                continue;
            }
        }
    }

    /** Lets go of the gates. */
    @Override
    protected void end() throws SQLException {
        try (Statement other = controller.createStatement()) {
            other.execute("SELECT pg_advisory_unlock_all()");
        }
    }

    /** What a probe tells next; null where the call has ended. */
    @Override
    protected JsonNode next() throws SQLException {
        long start = System.nanoTime();
        while (true) {
            boolean done = running.isDone();
            SQLWarning warning = heard == null ? statement.getWarnings() : heard.getNextWarning();
            if (warning != null) {
                heard = warning;
                String message = warning.getMessage();
                if (message != null && message.startsWith(MARK)) {
                    try {
                        JsonNode told = JSON.readTree(message.substring(MARK.length()));
                        if (told.has("turn") && told.get("turn").asLong() == turn) {
                            // Said again by one who was disturbed in saying it.
                            continue;
                        }
                        turn = told.has("turn") ? told.get("turn").asLong() : turn;
                        return told;
                    } catch (JsonProcessingException e) {
                        throw new SQLException(e);
                    }
                }
                say(message);
                continue;
            }
            if (done) {
                return null;
            }
            long waited = System.nanoTime() - start;
            LockSupport.parkNanos(waited < SPIN_NANOS ? PAUSE_NANOS : LONG_PAUSE_NANOS);
        }
    }

    // ---------------------------------------------------------------- answering

    /**
     * Opens the gate that the run stands at; waits until it has passed, and shuts it behind it. The
     * other is shut all the time.
     */
    @Override
    protected void goOn(String answer) throws SQLException {
        long g = turn % 2;
        long d = 2 + g;
        // What a JSON text says is the same with a star that is escaped, and it ends no comment,
        // nor
        // begins one.
        String said = answer.replace("*", "\\u002a");
        if (said.getBytes(StandardCharsets.UTF_8).length > most) {
            // The server would cut it, and the run would go on without.
            throw new SQLException(
                    "this is longer than the "
                            + most
                            + " bytes that the server takes from here; look at a part of it",
                    "54000");
        }
        try (Statement go = controller.createStatement()) {
            go.setEscapeProcessing(false);
            go.execute(
                    "/*GO "
                            + said
                            + " OG*/ SELECT pg_advisory_unlock("
                            + key
                            + ", "
                            + g
                            + "), pg_advisory_lock("
                            + key
                            + ", "
                            + d
                            + "), pg_advisory_lock("
                            + key
                            + ", "
                            + g
                            + "), pg_advisory_unlock("
                            + key
                            + ", "
                            + d
                            + ")");
        }
    }

    private volatile boolean asked;

    @Override
    public void callOff() {
        if (asked) {
            try {
                statement.cancel();
            } catch (SQLException e) {
                // It has ended, which is what was wanted.
                return;
            }
        }
    }

    private JsonNode ask(String kind, String sql) throws SQLException {
        asked = true;
        try {
            return answer(kind, sql);
        } finally {
            asked = false;
        }
    }

    private JsonNode answer(String kind, String sql) throws SQLException {
        ObjectNode question = JsonNodeFactory.instance.objectNode();
        question.put("do", kind);
        question.put("sql", sql);
        goOn(question.toString());
        JsonNode told = next();
        while (told != null && told.has("p")) {
            // What is asked has set off a routine, which nobody wants to stop in.
            goOn(told.get("p").asLong() < 0 ? standIn(told) : "");
            told = next();
        }
        if (told == null) {
            throw new SQLException("the run has ended meanwhile", "57014");
        }
        if (told.has("failed")) {
            throw new SQLException(told.get("message").asText(), told.get("failed").asText());
        }
        return told.get("answer");
    }

    @Override
    public ResultRows query(String sql, long most) throws SQLException {
        String rows =
                text(
                        PgRows.TOLD.formatted(
                                "SELECT * FROM ("
                                        + sql.strip().replaceFirst(";$", "")
                                        + "\n) cantina_all LIMIT "
                                        + most));
        try {
            return PgRows.read(rows == null ? NullNode.instance : JSON.readTree(rows));
        } catch (JsonProcessingException e) {
            throw new SQLException(e);
        }
    }

    @Override
    public int change(String sql) throws SQLException {
        return Integer.parseInt(ask("change", sql).asText());
    }

    @Override
    public String text(String sql) throws SQLException {
        JsonNode answer = ask("text", sql);
        return answer.isNull() ? null : answer.asText();
    }

    @Override
    public String literal(Object value, SqlType type) {
        String text = text(value);
        return text == null ? "NULL" : "'" + text.replace("'", "''") + "'";
    }

    /** A value as the server reads it; null for NULL. */
    protected static String text(Object value) {
        if (value instanceof Object[] elements) {
            List<String> all = new ArrayList<>();
            for (Object element : elements) {
                String text = text(element);
                all.add(
                        text == null
                                ? "NULL"
                                : '"' + text.replace("\\", "\\\\").replace("\"", "\\\"") + '"');
            }
            return "{" + String.join(",", all) + "}";
        }
        if (value instanceof byte[] bytes) {
            return "\\x" + HexFormat.of().formatHex(bytes);
        }
        return value == null
                ? null
                : value instanceof IntervalValue interval
                        ? PostgresIntervals.sent(interval)
                        : Values.text(value);
    }

    protected static String literal(Object value) {
        return value == null ? "NULL" : "'" + Values.text(value).replace("'", "''") + "'";
    }
}
