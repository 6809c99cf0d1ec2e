package dev.cantina.drafting;

import dev.cantina.types.Values;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;

/** Values written as YAML 1.2, in one line: mappings, lists, and what stands in a case file. */
public final class YamlText {
    /** Stands for a value that is another each time. */
    public static final Object ANY = Map.of("any", true);

    private static final int SIMPLE = 60;
    private static final int WIDTH = 100;

    private YamlText() {}

    /** A value of a mapping, of a list, or of a database. */
    public static String of(Object value) {
        if (value == null) {
            return "null";
        }
        if (value instanceof Map<?, ?> map) {
            List<String> parts = new ArrayList<>();
            map.forEach((k, v) -> parts.add(key(String.valueOf(k)) + ": " + of(v)));
            return parts.isEmpty() ? "{}" : "{ " + String.join(", ", parts) + " }";
        }
        if (value instanceof List<?> list) {
            List<String> parts = new ArrayList<>();
            list.forEach(v -> parts.add(of(v)));
            return parts.isEmpty() ? "[]" : "[ " + String.join(", ", parts) + " ]";
        }
        if (value instanceof Object[] array) {
            return of(java.util.Arrays.asList(array));
        }
        if (value instanceof BigDecimal number) {
            return number.toPlainString();
        }
        if (value instanceof Number || value instanceof Boolean) {
            return value.toString();
        }
        return text(value instanceof String text ? text : Values.text(value));
    }

    /**
     * A key and its value, on one line where that is short, else part by part.
     *
     * @param indent what the line that it begins on begins with
     */
    public static String block(String key, Object value, String indent) {
        String line = key(key) + ": " + of(value);
        boolean parts =
                value instanceof Map<?, ?> map && !map.isEmpty()
                        || value instanceof List<?> list && !list.isEmpty();
        if (indent.length() + line.length() <= WIDTH || !parts) {
            return line;
        }
        StringBuilder text = new StringBuilder(key(key) + ":");
        String inner = indent + "  ";
        if (value instanceof Map<?, ?> map) {
            map.forEach(
                    (k, v) ->
                            text.append('\n')
                                    .append(inner)
                                    .append(block(String.valueOf(k), v, inner)));
        } else {
            ((List<?>) value)
                    .forEach(v -> text.append('\n').append(inner).append("- ").append(of(v)));
        }
        return text.toString();
    }

    /** A key: as it is, where that can be nothing else. */
    public static String key(String text) {
        return text.matches("[A-Za-z_][A-Za-z0-9_.]{0," + SIMPLE + "}") && !isWord(text)
                ? text
                : quoted(text);
    }

    /** A text: as it is, where that can be nothing else. */
    public static String text(String text) {
        boolean plain =
                text.matches("[A-Za-z_][A-Za-z0-9_]*( [A-Za-z0-9_]+)*")
                        && text.length() <= SIMPLE
                        && !isWord(text);
        return plain ? text : quoted(text);
    }

    private static boolean isWord(String text) {
        return text.matches("(?i)null|true|false|yes|no|on|off|y|n|inf|nan");
    }

    private static String quoted(String text) {
        StringBuilder out = new StringBuilder("\"");
        text.codePoints()
                .forEach(
                        c -> {
                            switch (c) {
                                case '"' -> out.append("\\\"");
                                case '\\' -> out.append("\\\\");
                                case '\n' -> out.append("\\n");
                                case '\r' -> out.append("\\r");
                                case '\t' -> out.append("\\t");
                                default -> {
                                    boolean control =
                                            Character.isISOControl(c)
                                                    || c == 0xFEFF
                                                    || c >= 0xD800 && c <= 0xDFFF
                                                    || c == 0x2028
                                                    || c == 0x2029;
                                    if (control) {
                                        out.append(String.format("\\u%04x", c));
                                    } else {
                                        out.appendCodePoint(c);
                                    }
                                }
                            }
                        });
        return out.append('"').toString();
    }
}
