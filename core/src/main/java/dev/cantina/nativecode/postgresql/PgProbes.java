package dev.cantina.nativecode.postgresql;

import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.JsonToken;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.cfg.JsonNodeFeature;
import com.fasterxml.jackson.databind.json.JsonMapper;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.NullNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.cantina.binding.Variable;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.database.JsonRows;
import dev.cantina.database.ProjectDatabase;
import dev.cantina.nativecode.BoundNative;
import dev.cantina.nativecode.NativeVariable;
import dev.cantina.nativecode.ProbeFollower;
import dev.cantina.runtime.ResultRows;
import dev.cantina.runtime.RoutineCode;
import dev.cantina.runtime.ServerFrame;
import dev.cantina.runtime.ServerRoutines.ServerRun;
import dev.cantina.types.SqlType;
import dev.cantina.types.Values;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.SQLWarning;
import java.sql.Savepoint;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ThreadLocalRandom;
import java.util.concurrent.locks.LockSupport;

/**
 * Follows a call of woven routines: hears what their probes tell, makes frames of it, and, where
 * the run may be held, says when each goes on.
 *
 * <p>A probe tells by a message that the server sends at once, and waits at a gate, an advisory
 * lock that the controlling connection holds. There are two gates, used in turn: the next is shut
 * before this one opens. A third lock is held by the one who stands, so that the controller knows
 * when it has passed. What the controller has to say stands in the text of its own waiting
 * statement, which no snapshot hides.
 */
final class PgProbes extends ProbeFollower {
    private static final String MARK = "CANTINA ";
    private static final ObjectMapper JSON =
            JsonMapper.builder()
                    .enable(DeserializationFeature.USE_BIG_DECIMAL_FOR_FLOATS)
                    .disable(JsonNodeFeature.STRIP_TRAILING_BIGDECIMAL_ZEROES)
                    .build();

    /** What stands around that which the controller has to say. */
    private static final int FRAME = 400;

    private static final long SPIN_NANOS = 2_000_000;
    private static final long PAUSE_NANOS = 20_000;
    private static final long LONG_PAUSE_NANOS = 500_000;

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
                      RETURN regexp_count(c, '^PL/pgSQL function ', 1, 'n') - 1;
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
                      key int := current_setting('cantina.key')::int;
                      turn bigint; g int; d int; answer text; said jsonb; n bigint; rows text;
                      sqlstate_ text; message_ text;
                    BEGIN
                      said := jsonb_build_object('a', a, 'd', e, 'p', p, 'v', v, 'w',
                        pg_sequence_last_value('pg_temp.cantina_changes_seq_seq'));
                      LOOP
                        turn := nextval('pg_temp.cantina_turn');
                        g := turn % 2; d := 2 + g;
                        PERFORM pg_advisory_lock(key, d);
                        RAISE INFO USING MESSAGE =
                          'CANTINA ' || (said || jsonb_build_object('turn', turn))::text;
                        PERFORM pg_advisory_lock(key, g);
                        PERFORM pg_stat_clear_snapshot();
                        answer := pg_temp.cantina_said();
                        PERFORM pg_advisory_unlock(key, g);
                        PERFORM pg_advisory_unlock(key, d);
                        answer := NULLIF(answer, '');
                        IF answer IS NULL THEN
                          RETURN NULL;
                        END IF;
                        IF NOT answer::jsonb ? 'do' THEN
                          RETURN answer::jsonb;
                        END IF;
                        BEGIN
                          rows := NULL;
                          IF answer::jsonb->>'do' = 'text' THEN
                            EXECUTE answer::jsonb->>'sql' INTO rows;
                          ELSE
                            EXECUTE answer::jsonb->>'sql';
                            GET DIAGNOSTICS n = ROW_COUNT;
                            rows := n::text;
                          END IF;
                          said := jsonb_build_object('answer', rows);
                        EXCEPTION WHEN OTHERS THEN
                          GET STACKED DIAGNOSTICS sqlstate_ = RETURNED_SQLSTATE,
                            message_ = MESSAGE_TEXT;
                          said := jsonb_build_object('failed', sqlstate_, 'message', message_);
                        END;
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

    private final Connection connection;
    private final Connection controller;
    private final PgCode code;
    private final int key = ThreadLocalRandom.current().nextInt(1, Integer.MAX_VALUE);

    private SQLWarning heard;
    private long turn = -1;

    /** How much the controller can say at once, in bytes. */
    private int most;

    /**
     * @param called what is called from outside, which nothing replaces; null for a statement
     */
    private Savepoint mark;

    PgProbes(
            Connection connection,
            Connection controller,
            PgCode code,
            ServerRun run,
            RoutineSymbol called) {
        super(run, called);
        this.connection = connection;
        this.controller = controller;
        this.code = code;
    }

    /** Puts the helpers and the woven routines into the connection's transaction. */
    @Override
    protected void prepare() throws SQLException {
        try (Statement setup = connection.createStatement();
                Statement other = controller.createStatement()) {
            setup.setEscapeProcessing(false);
            boolean there;
            try (ResultSet row =
                    setup.executeQuery(
                            "SELECT to_regprocedure('pg_temp.cantina_stop(bigint,int,bigint,jsonb)')"
                                    + " IS NOT NULL")) {
                row.next();
                there = row.getBoolean(1);
            }
            if (!there) {
                for (String helper : HELPERS) {
                    setup.execute(helper);
                }
                weave(setup);
            } else {
                setup.execute("SELECT setval('pg_temp.cantina_turn', 0, FALSE)");
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
                    "SELECT pg_advisory_lock(" + key + ", 0), pg_advisory_lock(" + key + ", 1)");
            setup.execute(
                    "SELECT set_config('cantina.key', '"
                            + key
                            + "', FALSE), set_config('cantina.controller', '"
                            + pid
                            + "', FALSE)");
        }
    }

    private void weave(Statement setup) throws SQLException {
        Set<PgCode.Known> without = new HashSet<>();
        if (run.standIn().isPresent()) {
            for (RoutineSymbol one : replaced(code.callable())) {
                setup.execute(
                        PgStandIns.stub(connection, code.known(one), code.callable().indexOf(one)));
                without.add(code.known(one));
            }
        }
        if (run.probe().isPresent()) {
            for (String woven : code.woven(detail.get(), without)) {
                setup.execute(woven);
            }
        }
    }

    @Override
    protected void begin() throws SQLException {
        mark = connection.setSavepoint();
    }

    @Override
    protected void undo() throws SQLException {
        if (run.session().database() instanceof ProjectDatabase database && database.isAltered()) {
            // The routine could commit: there is nothing left to go back to.
            connection.rollback();
            return;
        }
        connection.rollback(mark);
    }

    @Override
    protected String interrupted() {
        return "57014";
    }

    @Override
    protected void cancel() {
        try {
            statement.cancel();
            running.get();
        } catch (SQLException | ExecutionException e) {
            // It has ended, which is what was wanted.
            return;
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    /** Lets go of the gates. */
    @Override
    protected void end() throws SQLException {
        try (Statement other = controller.createStatement()) {
            other.execute("SELECT pg_advisory_unlock_all()");
        }
    }

    // ---------------------------------------------------------------- hearing

    /** A routine that is replaced asks what to give. */
    @Override
    protected String standIn(JsonNode told) {
        RoutineSymbol routine = code.callable().get((int) -told.get("p").asLong() - 1);
        return PgStandIns.answer(
                run.standIn().orElseThrow(),
                routine,
                code.known(routine),
                told.get("v"),
                run::result);
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
                        turn = told.has("turn") ? told.get("turn").asLong() : turn;
                        return told;
                    } catch (JsonProcessingException e) {
                        throw new SQLException(e);
                    }
                }
                run.told(message);
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

    private JsonNode ask(String kind, String sql) throws SQLException {
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
    protected BoundNative bound(int routine) {
        return code.bound(routine);
    }

    @Override
    protected RoutineCode code(int routine) {
        return code.code(routine);
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
    public Object set(ServerFrame frame, Variable variable, String field, String expression)
            throws SQLException {
        if (!stands(frame)) {
            throw new SQLException(
                    "a variable can be changed in the routine that stands, and not in one that waits"
                            + " for it",
                    "55000");
        }
        boolean row = variable.type() instanceof SqlType.Row;
        if (!row && !field.isEmpty()) {
            throw new SQLException(variable.name() + " has no fields that are known", "42703");
        }
        JsonNode said = json(frame, expression);
        Object held;
        if (!row) {
            held = JsonRows.value(said, variable.type());
            change(
                    variable.name(),
                    said.isNull() ? said : JSON.getNodeFactory().textNode(said.asText()));
        } else {
            SqlType.Row type = (SqlType.Row) variable.type();
            ObjectNode fields = JSON.getNodeFactory().objectNode();
            if (changed(variable.name()) instanceof ObjectNode before) {
                fields.setAll(before);
            }
            if (!field.isEmpty() && type.fields().stream().noneMatch(f -> f.name().equals(field))) {
                throw new SQLException("there is no field " + field, "42703");
            }
            for (SqlType.Field one : type.fields()) {
                if (field.isEmpty()) {
                    fields.set(
                            one.name(),
                            said.isObject()
                                    ? said.get(one.name())
                                    : JSON.getNodeFactory().nullNode());
                } else if (one.name().equals(field)) {
                    fields.set(field, said);
                }
            }
            change(variable.name(), fields);
            Object[] values = new Object[type.fields().size()];
            Object[] now = (Object[]) frame.get(variable);
            for (int i = 0; i < values.length; i++) {
                SqlType.Field one = type.fields().get(i);
                values[i] =
                        fields.has(one.name())
                                ? JsonRows.value(fields.get(one.name()), one.type())
                                : now == null ? null : now[i];
            }
            held = values;
        }
        frame.values()[variable.slot()] = held;
        return held;
    }

    /** An expression's value in JSON; of what is no row its text. */
    private JsonNode json(ServerFrame frame, String expression) throws SQLException {
        String answer =
                text(
                        over(
                                frame,
                                "CASE WHEN t.typtype = 'c' THEN to_jsonb(x) ELSE to_jsonb(CAST(x AS text)) END",
                                expression));
        try {
            return answer == null ? JSON.getNodeFactory().nullNode() : JSON.readTree(answer);
        } catch (JsonProcessingException e) {
            throw new SQLException(e);
        }
    }

    /** An expression is worked out over a row that has the variables for its columns. */
    @Override
    public Object value(ServerFrame frame, String expression) throws SQLException {
        String answer =
                text(over(frame, "json_build_array(pg_typeof(x), CAST(x AS text))", expression));
        try {
            JsonNode both = JSON.readTree(answer);
            SqlType type = PgCode.type(both.get(0).asText());
            return both.get(1).isNull() ? null : JsonRows.text(both.get(1).asText(), type);
        } catch (JsonProcessingException e) {
            throw new SQLException(e);
        }
    }

    /**
     * A query for something of an expression over the variables of a frame.
     *
     * @param what of {@code x}, the expression's value, and {@code t}, its type
     */
    private String over(ServerFrame frame, String what, String expression) {
        int routine = code.routines().indexOf(frame.routine());
        StringBuilder from = new StringBuilder();
        StringBuilder columns = new StringBuilder();
        for (Map.Entry<String, BoundNative.Told> one :
                code.bound(routine).told(frame.at).entrySet()) {
            if (!names(expression, one.getKey())) {
                continue;
            }
            NativeVariable declared = one.getValue().declared();
            Object value = frame.get(one.getValue().variable());
            String name = PgCode.quoted(one.getKey());
            if (one.getValue().variable().type() instanceof SqlType.Row row
                    && value instanceof Object[] fields) {
                from.append(", (SELECT ");
                for (int i = 0; i < fields.length; i++) {
                    from.append(i == 0 ? "" : ", ")
                            .append("CAST(")
                            .append(literal(fields[i]))
                            .append(" AS ")
                            .append(code.fieldTypes(declared).get(i))
                            .append(") AS ")
                            .append(PgCode.quoted(row.fields().get(i).name()));
                }
                from.append(") AS ").append(name);
            } else if (value instanceof String text && code.isRecord(declared)) {
                from.append(", ").append(record(text)).append(" AS ").append(name);
            } else {
                columns.append(columns.length() == 0 ? "" : ", ")
                        .append("CAST(")
                        .append(literal(value))
                        .append(" AS ")
                        .append(code.typeName(declared))
                        .append(") AS ")
                        .append(name);
            }
        }
        return "SELECT (SELECT "
                + what
                + " FROM (SELECT ("
                + expression
                + "\n) AS x) cantina_x, LATERAL (SELECT typtype FROM pg_type WHERE oid = pg_typeof(x)) t)"
                + " FROM (SELECT "
                + (columns.length() == 0 ? "1 AS cantina_1" : columns)
                + ") cantina_v"
                + from;
    }

    /** A record whose fields only its value tells. */
    private static String record(String value) {
        List<String> fields = new ArrayList<>();
        Set<String> names = new HashSet<>();
        try (JsonParser parser = JSON.createParser(value)) {
            parser.nextToken();
            while (parser.nextToken() == JsonToken.FIELD_NAME) {
                String name = parser.currentName();
                parser.nextToken();
                JsonNode field = parser.readValueAsTree();
                // The first of two is the one that the routine sees.
                if (names.add(name)) {
                    fields.add(
                            "CAST("
                                    + literal(text(field))
                                    + " AS "
                                    + type(field)
                                    + ") AS "
                                    + PgCode.quoted(name));
                }
            }
        } catch (IOException e) {
            return "(SELECT 1)";
        }
        return "(SELECT " + (fields.isEmpty() ? "1" : String.join(", ", fields)) + ")";
    }

    private static String type(JsonNode field) {
        return field.isNumber() ? "numeric" : field.isBoolean() ? "boolean" : "text";
    }

    private static String text(JsonNode field) {
        return field.isNull() ? null : field.isValueNode() ? field.asText() : field.toString();
    }

    private static String literal(Object value) {
        return value == null ? "NULL" : "'" + Values.text(value).replace("'", "''") + "'";
    }
}
