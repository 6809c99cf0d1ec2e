package dev.cantina.nativecode.postgresql;

import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.runtime.ServerRoutines;
import dev.cantina.runtime.ServerRoutines.ServerRun;
import dev.cantina.types.SqlType;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;

/** One call of a routine: the statement that makes it, and what that gives. */
final class PgCall {
    private final Connection connection;
    private final PgCode.Known one;
    private final RoutineSymbol routine;
    private final ServerRun run;
    private final List<String> texts = new ArrayList<>();
    private final List<Object> sent = new ArrayList<>();

    /**
     * @param one the routine as the server has it
     * @param values for all its parameters; {@link ServerRoutines#OMITTED} for those not given
     */
    PgCall(
            Connection connection,
            PgCode.Known one,
            RoutineSymbol routine,
            Object[] values,
            ServerRun run)
            throws SQLException {
        this.connection = connection;
        this.one = one;
        this.routine = routine;
        this.run = run;
        arguments(values);
    }

    /** The statement, with a marker for each value. */
    String sql() {
        String call = one.callee() + "(" + String.join(", ", texts) + ")";
        boolean value =
                one.returns() == PgCode.Returns.VALUE || one.returns() == PgCode.Returns.NOTHING;
        return !one.written().function()
                ? "CALL " + call
                : (value ? "SELECT " : "SELECT * FROM ") + call;
    }

    void fill(PreparedStatement statement) throws SQLException {
        for (int i = 0; i < sent.size(); i++) {
            statement.setObject(i + 1, sent.get(i));
        }
    }

    private PgPolymorphic polymorphic(Object[] values) throws SQLException {
        List<String> types = new ArrayList<>();
        List<Object> given = new ArrayList<>();
        int parameter = 0;
        for (int i = 0; i < one.types().size() && parameter < values.length; i++) {
            char mode = one.modes().get(i);
            if (mode == 't') {
                continue;
            }
            Object value = values[parameter++];
            if (mode != 'o' && value != ServerRoutines.OMITTED) {
                types.add(one.types().get(i));
                given.add(value);
            }
        }
        return PgPolymorphic.of(types, given);
    }

    private void arguments(Object[] values) throws SQLException {
        PgPolymorphic polymorphic = polymorphic(values);
        boolean named = false;
        int parameter = 0;
        for (int i = 0; i < one.types().size(); i++) {
            char mode = one.modes().get(i);
            if (mode == 't') {
                continue;
            }
            if (parameter == values.length) {
                // One more gives rows.
                texts.add("NULL");
                continue;
            }
            Object value = values[parameter];
            ParameterSymbol symbol = routine.parameters().get(parameter++);
            if (mode == 'o') {
                if (!one.written().function()) {
                    // The server wants a place for what a procedure gives.
                    texts.add((named ? PgCode.quoted(one.names().get(i)) + " => " : "") + "NULL");
                }
                continue;
            }
            if (value == ServerRoutines.OMITTED) {
                named = true;
                continue;
            }
            String name = one.names().get(i);
            String type = one.types().get(i);
            String as = "CAST(? AS " + polymorphic.type(type) + ")";
            texts.add(
                    (mode == 'v' ? "VARIADIC " : "")
                            + (named && !name.isEmpty() ? PgCode.quoted(name) + " => " : "")
                            + as);
            if (PgPolymorphic.is(type)) {
                sent.add(PgPolymorphic.sent(type, value));
            } else if (value instanceof Object[] elements
                    && symbol.type() instanceof SqlType.Array) {
                String element = one.types().get(i).replaceFirst("\\[\\]$", "");
                sent.add(connection.createArrayOf(element, elements));
            } else {
                sent.add(run.session().database().driverValue(value, symbol.type()));
            }
        }
    }

    /**
     * Reads what the call gives.
     *
     * @param after takes it: all parameters, and the result last
     */
    void read(ResultSet result, Object[] after) throws SQLException {
        var database = run.session().database();
        if (one.returns() == PgCode.Returns.ROWS) {
            after[after.length - 1] = run.read(result);
            return;
        }
        if (one.returns() == PgCode.Returns.NOTHING || !result.next()) {
            return;
        }
        if (one.returns() == PgCode.Returns.VALUE) {
            SqlType type =
                    routine.isOnServer() || PgPolymorphic.is(one.returnType())
                            ? database.typeOf(result.getMetaData(), 1)
                            : routine.returns().orElseThrow();
            after[after.length - 1] = database.read(result, 1, type);
            if (one.returnType().equals("refcursor")) {
                cursor(result.getString(1));
            }
            return;
        }
        int column = 0;
        List<String> declared = new ArrayList<>();
        for (int i = 0; i < one.types().size(); i++) {
            if (one.modes().get(i) != 't') {
                declared.add(one.types().get(i));
            }
        }
        for (int i = 0; i < routine.parameters().size(); i++) {
            if (routine.parameters().get(i).mode().isOutput()) {
                column++;
                SqlType type =
                        routine.isOnServer() || PgPolymorphic.is(declared.get(i))
                                ? database.typeOf(result.getMetaData(), column)
                                : routine.parameters().get(i).type();
                after[i] = database.read(result, column, type);
                if (result.getMetaData().getColumnTypeName(column).equals("refcursor")) {
                    cursor(result.getString(column));
                }
            }
        }
        while (column < result.getMetaData().getColumnCount()) {
            column++;
            cursor(result.getString(column));
        }
    }

    /** Reads what a cursor that was handed out still has. */
    private void cursor(String name) throws SQLException {
        if (name == null) {
            return;
        }
        try (Statement fetch = connection.createStatement();
                ResultSet rows = fetch.executeQuery("FETCH ALL FROM " + PgCode.quoted(name))) {
            run.result(run.read(rows));
        }
    }
}
