package dev.cantina.nativecode.mariadb;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.cantina.binding.Variable;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.nativecode.BoundNative;
import dev.cantina.nativecode.Followed;
import dev.cantina.nativecode.MixedFrames;
import dev.cantina.nativecode.NativeFrames;
import dev.cantina.nativecode.NativeSyntaxException;
import dev.cantina.nativecode.NativeVariable;
import dev.cantina.runtime.ResultRows;
import dev.cantina.runtime.RoutineCode;
import dev.cantina.runtime.ServerFrame;
import dev.cantina.runtime.ServerRoutines.ServerRun;
import dev.cantina.syntax.Source;
import dev.cantina.types.SqlType;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.MatchResult;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/** Follows a call of woven routines on MariaDB. */
final class MariaProbes extends MariaFollower {
    private final MariaCode code;

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
        super(connection, controller, looking, run, called);
        this.code = code;
        this.frames =
                MixedFrames.of(
                        code.standard(),
                        MariaCopies.VALUES,
                        new NativeFrames(this::bound, this::routineCode, this, MariaCode::held));
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
    protected void done(boolean failed) throws SQLException {
        release(failed);
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
    protected void end() throws SQLException {
        code.turn(turn);
        execute(connection, "SET @cantina_mode = NULL");
        execute(controller, "DO RELEASE_ALL_LOCKS()");
    }

    @Override
    protected String standIn(JsonNode told) {
        return code.standIn(run, (int) -told.get("p").asLong() - 1, told.get("v"));
    }

    private final Followed frames;

    private RoutineCode routineCode(int routine) {
        return code.inside().code(routine);
    }

    private BoundNative bound(int routine) {
        return code.inside().bound(routine);
    }

    @Override
    protected Followed followed() {
        return frames;
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

    @Override
    public ServerFrame.Value value(ServerFrame frame, String expression) throws SQLException {
        try (Statement look = look();
                ResultSet row = over(look, frame, expression)) {
            row.next();
            var database = run.session().database();
            SqlType type = database.typeOf(row.getMetaData(), 1);
            return new ServerFrame.Value(type, database.read(row, 1, type));
        }
    }

    /** In a routine's query a variable's name goes before a column's: each stands for its value. */
    @Override
    public ResultRows query(ServerFrame frame, String query, long most) throws SQLException {
        Map<String, BoundNative.Told> known =
                bound(code.routines().indexOf(frame.routine())).told(frame.at);
        StringBuilder text = new StringBuilder();
        MariaLexer lexer = new MariaLexer(new Source("input", query), 0, query.length());
        List<MariaLexer.Token> tokens = new ArrayList<>();
        try {
            for (MariaLexer.Token t = lexer.next(); t != null; t = lexer.next()) {
                tokens.add(t);
            }
        } catch (NativeSyntaxException e) {
            throw new SQLException(e.getMessage(), "42000", e);
        }
        int from = 0;
        for (int i = 0; i < tokens.size(); i++) {
            MariaLexer.Token token = tokens.get(i);
            Optional<Map.Entry<String, BoundNative.Told>> named =
                    known.entrySet().stream()
                            .filter(k -> k.getKey().equalsIgnoreCase(token.text()))
                            .findFirst();
            if (named.isEmpty() || !token.isName() || !standsForValue(tokens, i)) {
                continue;
            }
            Variable variable = named.get().getValue().variable();
            Object value = frame.get(variable);
            int last = i;
            SqlType type = variable.type();
            if (variable.type() instanceof SqlType.Row row) {
                if (i + 2 >= tokens.size() || !tokens.get(i + 1).is(".")) {
                    continue;
                }
                last = i + 2;
                String wanted = tokens.get(last).text();
                int field = -1;
                for (int f = 0; f < row.fields().size(); f++) {
                    field = row.fields().get(f).name().equalsIgnoreCase(wanted) ? f : field;
                }
                if (field < 0) {
                    throw new SQLException("there is no field " + wanted, "42S22");
                }
                type = row.fields().get(field).type();
                value = value instanceof Object[] all ? all[field] : null;
            } else if (!MariaInside.isShown(named.get().getValue().declared())) {
                throw new SQLException(
                        "the value of " + variable.name() + " is not known here", "0A000");
            }
            text.append(query, from, token.start()).append(cast(value, type));
            from = tokens.get(last).end();
            i = last;
        }
        return query(text.append(query.substring(from)).toString(), most);
    }

    /** Whether a name is one of a value: not of a table, a function, an alias or a column's own. */
    private static boolean standsForValue(List<MariaLexer.Token> tokens, int at) {
        if (at > 0 && NO_VALUE_AFTER.stream().anyMatch(tokens.get(at - 1)::is)) {
            return false;
        }
        return at + 1 >= tokens.size() || !tokens.get(at + 1).is("(");
    }

    private static final List<String> NO_VALUE_AFTER = List.of(".", "as", "from", "join", "table");

    @Override
    public Object set(ServerFrame frame, Variable variable, String field, String expression)
            throws SQLException {
        if (!stands(frame)) {
            throw new SQLException(
                    "a variable can be changed in the routine that stands, and not in one that waits"
                            + " for it",
                    "0A000");
        }
        int routine = code.routines().indexOf(frame.routine());
        NativeVariable declared = bound(routine).told(frame.at).get(variable.name()).declared();
        if (variable.type() instanceof SqlType.Row row) {
            return setField(frame, variable, row, declared, field, expression);
        }
        if (!field.isEmpty()) {
            throw new SQLException(variable.name() + " has no fields", "42S22");
        }
        String type = declared.type();
        try (Statement look = look();
                ResultSet row = over(look, frame, told(expression, type))) {
            row.next();
            String text = row.getString(1);
            ObjectNode all = JSON.createObjectNode();
            all.put("x", text);
            change(variable.name(), all.get("x"));
            Object held = text == null ? null : MariaCode.held(all.get("x"), variable.type());
            frame.set(variable, held);
            return held;
        }
    }

    private Object setField(
            ServerFrame frame,
            Variable variable,
            SqlType.Row row,
            NativeVariable declared,
            String field,
            String expression)
            throws SQLException {
        if (field.isEmpty() || declared.kind() == NativeVariable.Kind.ROW) {
            throw new SQLException(
                    field.isEmpty()
                            ? "of a row the fields are changed: " + variable.name() + ".field"
                            : "the rows of a trigger are not changed from here",
                    "0A000");
        }
        int at = -1;
        for (int i = 0; i < row.fields().size(); i++) {
            at = row.fields().get(i).name().equalsIgnoreCase(field) ? i : at;
        }
        if (at < 0) {
            throw new SQLException("there is no field " + field, "42S22");
        }
        String name = row.fields().get(at).name();
        SqlType type = row.fields().get(at).type();
        try (Statement look = look();
                ResultSet answer = over(look, frame, told(expression, type.sql()))) {
            answer.next();
            ObjectNode fields = JSON.createObjectNode();
            if (changed(variable.name()) instanceof ObjectNode before) {
                fields.setAll(before);
            }
            fields.put(name, answer.getString(1));
            change(variable.name(), fields);
            Object[] values =
                    frame.get(variable) instanceof Object[] now
                            ? now.clone()
                            : new Object[row.fields().size()];
            values[at] = fields.get(name).isNull() ? null : MariaCode.held(fields.get(name), type);
            frame.set(variable, values);
            return values;
        }
    }
}
