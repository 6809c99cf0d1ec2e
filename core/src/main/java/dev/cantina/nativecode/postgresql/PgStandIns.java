package dev.cantina.nativecode.postgresql;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.database.JsonRows;
import dev.cantina.runtime.ResultRows;
import dev.cantina.runtime.StandIn;
import dev.cantina.types.ConditionException;
import dev.cantina.types.Values;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.function.Consumer;

/**
 * Routines that are replaced for a run: in the place of each stands one that asks the controller
 * what to give, with the same head.
 */
final class PgStandIns {
    private PgStandIns() {}

    /** The statement that replaces a routine by one that asks. */
    static String stub(Connection connection, PgCode.Known one, int number) throws SQLException {
        String definition;
        try (Statement statement = connection.createStatement();
                ResultSet row =
                        statement.executeQuery("SELECT pg_get_functiondef(" + one.oid() + ")")) {
            row.next();
            definition = row.getString(1);
        }
        int body = definition.length();
        for (String begin : List.of("\nAS $", "\nAS '", "\nBEGIN ATOMIC", "\nRETURN ")) {
            int at = definition.indexOf(begin);
            body = at < 0 ? body : Math.min(body, at);
        }
        String head =
                definition
                        .substring(0, body)
                        .replaceFirst("\n LANGUAGE \\S+", "\n LANGUAGE plpgsql");
        List<String> pairs = new ArrayList<>();
        List<String> gives = new ArrayList<>();
        for (int i = 0; i < one.types().size(); i++) {
            String name =
                    one.names().get(i).isEmpty()
                            ? "$" + (i + 1)
                            : PgCode.quoted(one.names().get(i));
            char mode = one.modes().get(i);
            if (mode == 'i' || mode == 'b' || mode == 'v') {
                pairs.add("'" + i + "', " + told(name, one.types().get(i)));
            }
            if ((mode == 'o' || mode == 'b') && one.returns() != PgCode.Returns.ROWS) {
                gives.add(name + " := cantina_->>'" + i + "';");
            }
        }
        String asked =
                "cantina_ := pg_temp.cantina_stop(0, 0, "
                        + -(number + 1)
                        + ", jsonb_build_object("
                        + String.join(", ", pairs)
                        + "));";
        String end =
                switch (one.returns()) {
                    case VALUE -> "RETURN cantina_->>'r';";
                    case ROWS -> rows(one);
                    default -> "RETURN;";
                };
        return head
                + "\nAS $cantina$ DECLARE cantina_ jsonb; BEGIN "
                + asked
                + " IF cantina_ ? 'state' THEN RAISE EXCEPTION USING ERRCODE = cantina_->>'state',"
                + " MESSAGE = cantina_->>'message'; END IF; "
                + String.join(" ", gives)
                + " "
                + end
                + " END $cantina$";
    }

    /**
     * An argument as it is told: bytes in hexadecimal digits, an array as JSON's, all else a text.
     */
    private static String told(String name, String type) {
        if (type.equals("bytea")) {
            return "encode(" + name + ", 'hex')";
        }
        return type.endsWith("[]") ? "to_jsonb(" + name + ")" : "(" + name + ")::text";
    }

    private static String rows(PgCode.Known one) {
        List<String> columns = new ArrayList<>();
        for (int i = 0; i < one.types().size(); i++) {
            char mode = one.modes().get(i);
            if (mode == 't' || mode == 'o' || mode == 'b') {
                columns.add(PgCode.quoted(one.names().get(i)) + " " + one.types().get(i));
            }
        }
        if (!columns.isEmpty()) {
            return "RETURN QUERY SELECT * FROM jsonb_to_recordset(cantina_->'rows') AS r ("
                    + String.join(", ", columns)
                    + "); RETURN;";
        }
        return one.composite()
                ? "RETURN QUERY SELECT * FROM jsonb_populate_recordset(NULL::"
                        + one.returnType()
                        + ", cantina_->'rows'); RETURN;"
                : "RETURN QUERY SELECT CAST((SELECT value FROM jsonb_each_text(r) LIMIT 1) AS "
                        + one.returnType()
                        + ") FROM jsonb_array_elements(cantina_->'rows') r; RETURN;";
    }

    /**
     * What a stand-in gives, as the one that asks takes it.
     *
     * @param arguments by the numbers of their parameters
     */
    static String answer(
            StandIn standIn,
            RoutineSymbol routine,
            PgCode.Known one,
            JsonNode arguments,
            Consumer<ResultRows> results) {
        JsonNodeFactory nodes = JsonNodeFactory.instance;
        ObjectNode answer = nodes.objectNode();
        List<Object> values = new ArrayList<>();
        List<Integer> numbers = new ArrayList<>();
        int parameter = 0;
        for (int i = 0; i < one.types().size(); i++) {
            if (one.modes().get(i) == 't') {
                continue;
            }
            ParameterSymbol symbol = routine.parameters().get(parameter++);
            numbers.add(i);
            JsonNode given = arguments.get(String.valueOf(i));
            values.add(
                    given == null || given.isNull() ? null : JsonRows.value(given, symbol.type()));
        }
        try {
            Object[] after = standIn.stand(routine, values.toArray(), results);
            for (int i = 0; i < values.size(); i++) {
                if (routine.parameters().get(i).mode().isOutput()) {
                    put(answer, String.valueOf(numbers.get(i)), after[i]);
                }
            }
            Object returned = after[after.length - 1];
            if (returned instanceof ResultRows rows) {
                ArrayNode all = answer.putArray("rows");
                for (Object[] row : rows.rows()) {
                    ObjectNode shown = all.addObject();
                    for (int i = 0; i < row.length; i++) {
                        put(shown, rows.columns().get(i).name(), row[i]);
                    }
                }
            } else {
                put(answer, "r", returned);
            }
        } catch (ConditionException e) {
            answer.put("state", e.condition().sqlstate());
            answer.put("message", e.condition().message());
        }
        return answer.toString();
    }

    private static void put(ObjectNode node, String name, Object value) {
        if (value == null) {
            node.putNull(name);
        } else {
            node.put(name, written(value));
        }
    }

    /** A value as the server reads it (documentation, 8.4.1 and 8.15.2). */
    private static String written(Object value) {
        if (value instanceof byte[] bytes) {
            return "\\x" + HexFormat.of().formatHex(bytes);
        }
        if (!(value instanceof Object[] elements)) {
            return Values.text(value);
        }
        List<String> all = new ArrayList<>();
        for (Object element : elements) {
            if (element == null) {
                all.add("NULL");
            } else if (element instanceof Object[]) {
                all.add(written(element));
            } else {
                String text = written(element).replace("\\", "\\\\").replace("\"", "\\\"");
                all.add('"' + text + '"');
            }
        }
        return "{" + String.join(",", all) + "}";
    }
}
