package dev.cantina.workbench;

import dev.cantina.types.SqlType;
import dev.cantina.types.Values;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.List;

/** Values as a person is shown them: on one line, without what would disturb a screen. */
public final class ValueText {
    private static final int MOST_PARTS = 8;
    private static final int LONG = 60;
    private static final int LONGEST = 200;

    private ValueText() {}

    /**
     * An element of an array, or a field of a row.
     *
     * @param name {@code [2]}, or the field's
     */
    public record Part(String name, SqlType type, Object value) {}

    /** A text without control characters: they must not reach a terminal. */
    public static String printable(String text) {
        StringBuilder safe = new StringBuilder(text.length());
        text.codePoints()
                .forEach(
                        c -> {
                            if (c == '\n') {
                                safe.append('⏎');
                            } else if (Character.isISOControl(c)) {
                                safe.append('·');
                            } else {
                                safe.appendCodePoint(c);
                            }
                        });
        return safe.toString();
    }

    /** A value in a sentence: texts in quotes, so that blanks and NULL can be told apart. */
    public static String of(Object value) {
        if (value instanceof String text) {
            return "'" + cut(printable(text), LONG) + "'";
        }
        if (value instanceof BigDecimal || value instanceof Long || value == null) {
            return Values.text(value);
        }
        return cut(Values.text(value), LONGEST);
    }

    private static String cut(String text, int most) {
        if (text.length() <= most) {
            return text;
        }
        int end = Character.isHighSurrogate(text.charAt(most - 2)) ? most - 2 : most - 1;
        return text.substring(0, end) + "…";
    }

    /** A value on one line: of an array or a row the first parts. */
    public static String brief(SqlType type, Object value) {
        if (!(value instanceof Object[] whole)) {
            return of(value);
        }
        List<Part> parts = parts(type, value, 0, MOST_PARTS);
        List<String> shown = new ArrayList<>();
        for (Part part : parts) {
            shown.add((type instanceof SqlType.Row ? part.name() + " " : "") + of(part.value()));
        }
        if (whole.length > MOST_PARTS) {
            shown.add("… " + (whole.length - MOST_PARTS) + " more");
        }
        String joined = String.join(", ", shown);
        return type instanceof SqlType.Row ? joined : "[" + joined + "]";
    }

    /** How many parts a value has; 0 where it is no array and no row. */
    public static int size(Object value) {
        return value instanceof Object[] whole ? whole.length : 0;
    }

    /** Some of the parts of an array or a row. */
    public static List<Part> parts(SqlType type, Object value, int from, int count) {
        List<Part> parts = new ArrayList<>();
        Object[] whole = (Object[]) value;
        for (int i = from; i < Math.min(whole.length, from + count); i++) {
            parts.add(new Part(name(type, i), partType(type, i), whole[i]));
        }
        return parts;
    }

    private static String name(SqlType type, int i) {
        return type instanceof SqlType.Row row ? row.fields().get(i).name() : "[" + (i + 1) + "]";
    }

    /** The type of a part. */
    public static SqlType partType(SqlType type, int i) {
        if (type instanceof SqlType.Row row) {
            return row.fields().get(i).type();
        }
        return type instanceof SqlType.Array array ? array.element() : SqlType.NULL;
    }

    /** A type's name; empty where it is not known. */
    public static String typeName(SqlType type) {
        return type instanceof SqlType.Unknown ? "" : type.sql();
    }
}
