package dev.cantina.nativecode.postgresql;

import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.JsonToken;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.cantina.binding.Variable;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.database.JsonRows;
import dev.cantina.database.ProjectDatabase;
import dev.cantina.nativecode.BoundNative;
import dev.cantina.nativecode.Followed;
import dev.cantina.nativecode.MixedFrames;
import dev.cantina.nativecode.NativeFrames;
import dev.cantina.nativecode.NativeVariable;
import dev.cantina.runtime.ResultRows;
import dev.cantina.runtime.RoutineCode;
import dev.cantina.runtime.ServerFrame;
import dev.cantina.runtime.ServerRoutines.ServerRun;
import dev.cantina.types.SqlType;
import java.io.IOException;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Follows a call of woven routines: makes frames of what their probes tell. */
final class PgProbes extends PgFollower {
    private final PgCode code;

    private Savepoint mark;

    /**
     * @param called what is called from outside, which nothing replaces; null for a statement
     */
    PgProbes(
            Connection connection,
            Connection controller,
            PgCode code,
            ServerRun run,
            RoutineSymbol called) {
        super(connection, controller, run, called);
        this.code = code;
        this.frames =
                MixedFrames.of(
                        code.standard(),
                        PgPlaced.VALUES,
                        new NativeFrames(this::bound, this::routineCode, this, JsonRows::exact));
    }

    @Override
    protected void weave(Statement setup) throws SQLException {
        Map<PgCode.Known, String> stubs = new LinkedHashMap<>();
        if (run.standIn().isPresent()) {
            for (RoutineSymbol one : replaced(code.callable())) {
                stubs.put(
                        code.known(one),
                        PgStandIns.stub(connection, code.known(one), code.callable().indexOf(one)));
            }
        }
        code.weaving().become(run.probe().flatMap(p -> detail), stubs);
    }

    /** What the routines tell is looked at before each call. */
    @Override
    protected boolean isOutdated() {
        return true;
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

    private final Followed frames;

    private RoutineCode routineCode(int routine) {
        return code.code(routine);
    }

    private BoundNative bound(int routine) {
        return code.bound(routine);
    }

    @Override
    protected Followed followed() {
        return frames;
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
        if (!field.isEmpty()
                && frame.get(variable) instanceof String told
                && isRecord(frame, variable)) {
            return setField(frame, variable, told, field, expression);
        }
        if (!row && !field.isEmpty()) {
            throw new SQLException(variable.name() + " has no fields that are known", "42703");
        }
        String key = toldBy(frame, variable);
        JsonNode said = json(frame, expression);
        Object held;
        if (!row) {
            held = JsonRows.exact(said, variable.type());
            change(key, said.isNull() ? said : JSON.getNodeFactory().textNode(said.asText()));
        } else {
            SqlType.Row type = (SqlType.Row) variable.type();
            ObjectNode fields = JSON.getNodeFactory().objectNode();
            if (changed(key) instanceof ObjectNode before) {
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
            change(key, fields);
            Object[] values = new Object[type.fields().size()];
            Object[] now = (Object[]) frame.get(variable);
            for (int i = 0; i < values.length; i++) {
                SqlType.Field one = type.fields().get(i);
                values[i] =
                        fields.has(one.name())
                                ? JsonRows.exact(fields.get(one.name()), one.type())
                                : now == null ? null : now[i];
            }
            held = values;
        }
        frame.set(variable, held);
        return held;
    }

    private boolean isRecord(ServerFrame frame, Variable variable) {
        return told(frame).values().stream()
                .anyMatch(one -> one.variable() == variable && code.isRecord(one.declared()));
    }

    /** A field of a record whose fields only its value tells, as an object in JSON. */
    private Object setField(
            ServerFrame frame, Variable variable, String told, String field, String expression)
            throws SQLException {
        ObjectNode record;
        try {
            record = (ObjectNode) JSON.readTree(told);
        } catch (JsonProcessingException | ClassCastException e) {
            throw new SQLException(variable.name() + " has no fields that are known", "42703");
        }
        if (!record.has(field)) {
            throw new SQLException("there is no field " + field, "42703");
        }
        String key = toldBy(frame, variable);
        JsonNode said = json(frame, expression);
        ObjectNode fields = JSON.getNodeFactory().objectNode();
        if (changed(key) instanceof ObjectNode before) {
            fields.setAll(before);
        }
        fields.set(field, said);
        change(key, fields);
        JsonNode before = record.get(field);
        boolean plain = said.isTextual() && (before.isNumber() || before.isBoolean());
        try {
            record.set(field, plain ? JSON.readTree(bare(said.asText(), before)) : said);
        } catch (JsonProcessingException e) {
            record.set(field, said);
        }
        frame.set(variable, record.toString());
        return said.isNull() ? null : said.asText();
    }

    /** A value's text as JSON has it. */
    private static String bare(String text, JsonNode like) {
        return !like.isBoolean() ? text : text.startsWith("t") ? "true" : "false";
    }

    /** The name that probes tell a variable by: its label's too, where another hides it. */
    private String toldBy(ServerFrame frame, Variable variable) {
        return told(frame).entrySet().stream()
                .filter(one -> one.getValue().variable() == variable)
                .map(Map.Entry::getKey)
                .findFirst()
                .orElse(variable.name());
    }

    private Map<String, BoundNative.Told> told(ServerFrame frame) {
        return code.bound(code.routines().indexOf(frame.routine())).told(frame.at);
    }

    @Override
    public Optional<Variable> labelled(ServerFrame frame, String label, String name) {
        return told(frame).values().stream()
                .filter(one -> PgWeaver.key(one.declared().label()).equals(label))
                .filter(one -> one.key().equals(name))
                .map(BoundNative.Told::variable)
                .findFirst();
    }

    @Override
    public int change(String sql) throws SQLException {
        return super.change(code.sent(sql));
    }

    @Override
    public String text(String sql) throws SQLException {
        return super.text(code.sent(sql));
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
    public ServerFrame.Value value(ServerFrame frame, String expression) throws SQLException {
        String answer =
                text(over(frame, "json_build_array(pg_typeof(x), CAST(x AS text))", expression));
        try {
            JsonNode both = JSON.readTree(answer);
            SqlType type = PgRoutines.type(both.get(0).asText());
            return new ServerFrame.Value(
                    type,
                    both.get(1).isNull()
                            ? null
                            : JsonRows.text(both.get(1).asText(), JsonRows.exact(type)));
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
        return "SELECT (SELECT "
                + what
                + " FROM (SELECT ("
                + expression
                + "\n) AS x) cantina_x, LATERAL (SELECT typtype FROM pg_type WHERE oid = pg_typeof(x)) t)"
                + variables(frame, expression);
    }

    @Override
    public ResultRows query(ServerFrame frame, String query, long most) throws SQLException {
        return query(
                "SELECT cantina_q.*"
                        + variables(frame, query)
                        + ", LATERAL ("
                        + query
                        + "\n) cantina_q",
                most);
    }

    /** A FROM clause of one row, which has the variables of a frame that a text may name. */
    private String variables(ServerFrame frame, String expression) {
        StringBuilder from = new StringBuilder();
        StringBuilder columns = new StringBuilder();
        Map<String, List<String>> labels = new LinkedHashMap<>();
        Map<String, BoundNative.Told> told = told(frame);
        for (Map.Entry<String, BoundNative.Told> one : told.entrySet()) {
            NativeVariable declared = one.getValue().declared();
            Object value = frame.get(one.getValue().variable());
            String label = PgWeaver.key(declared.label());
            boolean plain =
                    !(one.getValue().variable().type() instanceof SqlType.Row)
                            && !code.isRecord(declared);
            if (plain && !label.isEmpty() && !told.containsKey(label) && names(expression, label)) {
                labels.computeIfAbsent(label, l -> new ArrayList<>())
                        .add(
                                "CAST("
                                        + literal(value)
                                        + " AS "
                                        + code.typeName(declared)
                                        + ") AS "
                                        + PgCode.quoted(one.getValue().key()));
            }
            boolean hidden = !one.getKey().equals(one.getValue().key());
            if (hidden || !names(expression, one.getKey())) {
                continue;
            }
            String name = PgCode.quoted(one.getKey());
            if (one.getValue().variable().type() instanceof SqlType.Row row) {
                from.append(", (SELECT ");
                for (int i = 0; i < row.fields().size(); i++) {
                    Object field = value instanceof Object[] fields ? fields[i] : null;
                    from.append(i == 0 ? "" : ", ")
                            .append("CAST(")
                            .append(literal(field))
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
        labels.forEach(
                (label, variables) ->
                        from.append(", (SELECT ")
                                .append(String.join(", ", variables))
                                .append(") AS ")
                                .append(PgCode.quoted(label)));
        return " FROM (SELECT "
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
}
