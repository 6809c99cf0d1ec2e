package dev.cantina.project;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.cantina.types.SqlType;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Values written as JSON (RFC 8259): arrays and rows on a command line, and saved arguments. */
public final class JsonValues {
    private static final ObjectMapper MAPPER =
            new ObjectMapper().enable(DeserializationFeature.USE_BIG_DECIMAL_FOR_FLOATS);

    private JsonValues() {}

    /** The members of a JSON object. */
    public static Map<String, Object> members(String text) throws JsonProcessingException {
        JsonNode top = MAPPER.readTree(text);
        if (top == null || !top.isObject()) {
            throw new com.fasterxml.jackson.core.JsonParseException(
                    null, "this is not one JSON object");
        }
        Map<String, Object> members = new LinkedHashMap<>();
        top.properties().forEach(e -> members.put(e.getKey(), value(e.getValue(), SqlType.NULL)));
        return members;
    }

    /** A JSON text as a value of a type; rows may be objects by field, or arrays in order. */
    public static Object value(String text, SqlType type) throws JsonProcessingException {
        return value(MAPPER.readTree(text), type);
    }

    private static Object value(JsonNode node, SqlType type) {
        if (node.isNull()) {
            return null;
        }
        if (node.isObject() && type instanceof SqlType.Row row) {
            List<SqlType.Field> fields = row.fields();
            Object[] values = new Object[fields.size()];
            for (int i = 0; i < values.length; i++) {
                JsonNode field = node.get(fields.get(i).name());
                values[i] = field == null ? null : value(field, fields.get(i).type());
            }
            return values;
        }
        if (node.isArray()) {
            Object[] elements = new Object[node.size()];
            SqlType element = type instanceof SqlType.Array array ? array.element() : SqlType.NULL;
            for (int i = 0; i < elements.length; i++) {
                elements[i] = value(node.get(i), element);
            }
            return elements;
        }
        if (node.isNumber()) {
            return node.decimalValue();
        }
        return node.isBoolean() ? (Object) node.booleanValue() : node.asText();
    }
}
