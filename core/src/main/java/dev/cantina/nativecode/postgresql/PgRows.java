package dev.cantina.nativecode.postgresql;

import com.fasterxml.jackson.databind.JsonNode;
import dev.cantina.database.JsonRows;
import dev.cantina.runtime.ResultRows;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.List;

/**
 * The rows of a query that a probe ran, each as its columns (a list of names and JSON's kinds of
 * value) and as the server writes a row in a text: two columns may have the same name.
 */
final class PgRows {
    /** What the server is to tell of a query, which stands where the marks are. */
    static final String TOLD =
            "SELECT json_agg(json_build_array((SELECT json_agg(json_build_array(key,"
                    + " json_typeof(value))) FROM json_each(row_to_json(cantina_q))),"
                    + " CAST(cantina_q AS text))) FROM (%s\n) cantina_q";

    private PgRows() {}

    /** The rows, as they are told; null where there are none. */
    static ResultRows read(JsonNode told) {
        List<SqlType.Field> columns = new ArrayList<>();
        List<Object[]> rows = new ArrayList<>();
        if (told.isArray()) {
            JsonNode first = told.get(0).get(0);
            for (int i = 0; i < first.size(); i++) {
                columns.add(new SqlType.Field(first.get(i).get(0).asText(), shape(told, i)));
            }
            for (JsonNode row : told) {
                List<String> texts = fields(row.get(1).asText());
                Object[] values = new Object[columns.size()];
                for (int i = 0; i < values.length; i++) {
                    values[i] = value(texts.get(i), columns.get(i).type());
                }
                rows.add(values);
            }
        }
        return new ResultRows(columns, rows);
    }

    private static Object value(String text, SqlType type) {
        if (text == null) {
            return null;
        }
        if (type.equals(SqlType.BOOLEAN)) {
            return text.equals("t");
        }
        boolean approximate = type.equals(SqlType.DECIMAL) && text.indexOf('e') > 0;
        return JsonRows.text(text, approximate ? SqlType.DOUBLE : type);
    }

    /** The type to show a column as, by what stands in it. */
    private static SqlType shape(JsonNode rows, int column) {
        for (JsonNode row : rows) {
            String kind = row.get(0).get(column).get(1).asText();
            if (!kind.equals("null")) {
                return kind.equals("number")
                        ? SqlType.DECIMAL
                        : kind.equals("boolean") ? SqlType.BOOLEAN : SqlType.VARCHAR;
            }
        }
        return SqlType.VARCHAR;
    }

    /**
     * The fields of a row as the server writes one: in round brackets, with commas between, quoted
     * where it must be, and nothing at all for NULL (documentation, 8.16.6).
     */
    static List<String> fields(String row) {
        List<String> fields = new ArrayList<>();
        StringBuilder field = new StringBuilder();
        boolean given = false;
        boolean quoted = false;
        for (int i = 1; i < row.length(); i++) {
            char c = row.charAt(i);
            boolean last = i == row.length() - 1;
            if (!quoted && (c == ',' || last)) {
                fields.add(given ? field.toString() : null);
                field.setLength(0);
                given = false;
            } else if (c == '"' && quoted && row.charAt(i + 1) == '"') {
                field.append(c);
                i++;
            } else if (c == '"') {
                quoted = !quoted;
                given = true;
            } else if (c == '\\') {
                field.append(row.charAt(++i));
                given = true;
            } else {
                field.append(c);
                given = true;
            }
        }
        return fields;
    }
}
