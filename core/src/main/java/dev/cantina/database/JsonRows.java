package dev.cantina.database;

import com.fasterxml.jackson.databind.JsonNode;
import dev.cantina.catalog.Column;
import dev.cantina.catalog.Table;
import dev.cantina.types.ConditionException;
import dev.cantina.types.Conversion;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.List;

/** Rows and values as servers write them in JSON. */
public final class JsonRows {
    private JsonRows() {}

    /** A row of a table, by its columns. */
    public static Object[] row(Table table, JsonNode row) {
        List<Object> values = new ArrayList<>();
        for (Column column : table.columns()) {
            values.add(value(row.get(column.name()), column.type()));
        }
        return values.toArray();
    }

    /** A value as it is held; what can't be one of its type stays a text. */
    public static Object value(JsonNode node, SqlType type) {
        if (node == null || node.isNull()) {
            return null;
        }
        if (type instanceof SqlType.Array array && node.isArray()) {
            List<Object> elements = new ArrayList<>();
            node.forEach(e -> elements.add(value(e, array.element())));
            return elements.toArray();
        }
        if (type instanceof SqlType.Row row && node.isObject()) {
            List<Object> fields = new ArrayList<>();
            row.fields().forEach(f -> fields.add(value(node.get(f.name()), f.type())));
            return fields.toArray();
        }
        return text(node.isValueNode() ? node.asText() : node.toString(), type);
    }

    /**
     * The same with the digits that the server has written: a number of single precision is held as
     * it says it, and not as the nearest of double precision.
     */
    public static Object exact(JsonNode node, SqlType type) {
        return value(node, exact(type));
    }

    /** A type with room for all digits of what is written. */
    public static SqlType exact(SqlType type) {
        if (type instanceof SqlType.Approximate) {
            return SqlType.DOUBLE;
        }
        if (type instanceof SqlType.Array array) {
            return new SqlType.Array(exact(array.element()), array.maximum());
        }
        if (type instanceof SqlType.Row row) {
            return new SqlType.Row(
                    row.fields().stream()
                            .map(f -> new SqlType.Field(f.name(), exact(f.type())))
                            .toList());
        }
        return type;
    }

    /** The same of a text. */
    public static Object text(String text, SqlType type) {
        boolean moment = type instanceof SqlType.Timestamp || type instanceof SqlType.Time;
        String read = moment ? zoned(text.replace('T', ' ')) : text;
        try {
            return Conversion.cast(read, type);
        } catch (ConditionException e) {
            return text;
        }
    }

    /** The server leaves the minutes out of a whole offset. */
    private static String zoned(String text) {
        int sign = Math.max(text.lastIndexOf('+'), text.lastIndexOf('-'));
        return sign > 10 && text.length() - sign == 3 ? text + ":00" : text;
    }
}
