package dev.cantina.nativecode.postgresql;

import dev.cantina.types.Values;
import java.math.BigDecimal;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;

/**
 * The types that polymorphic parameters stand for in a call (PostgreSQL, "Polymorphic Types"). A
 * value that is handed in has none of its own, so that it is told by how all of them are written:
 * whole numbers, numbers, truth values, else texts.
 */
final class PgPolymorphic {
    private static final Set<String> ELEMENTS =
            Set.of("anyelement", "anynonarray", "anycompatible", "anycompatiblenonarray");
    private static final Set<String> ARRAYS = Set.of("anyarray", "anycompatiblearray");
    private static final Set<String> OTHERS =
            Set.of(
                    "anyenum",
                    "anyrange",
                    "anymultirange",
                    "anycompatiblerange",
                    "anycompatiblemultirange");

    /** Written as a value of such a type is; what is not has none of them. */
    private enum Form {
        INTEGER("integer"),
        BIGINT("bigint"),
        NUMERIC("numeric"),
        BOOLEAN("boolean"),
        TEXT("text");

        private final String type;

        Form(String type) {
            this.type = type;
        }

        static Form of(String text) {
            if (text.matches("[+-]?\\d{1,30}")) {
                BigDecimal number = new BigDecimal(text);
                return number.abs().compareTo(BigDecimal.valueOf(Integer.MAX_VALUE)) <= 0
                        ? INTEGER
                        : number.abs().compareTo(BigDecimal.valueOf(Long.MAX_VALUE)) <= 0
                                ? BIGINT
                                : NUMERIC;
            }
            if (text.matches("[+-]?(\\d+\\.?\\d*|\\.\\d+)([eE][+-]?\\d+)?")) {
                return NUMERIC;
            }
            return text.equalsIgnoreCase("true") || text.equalsIgnoreCase("false") ? BOOLEAN : TEXT;
        }

        /** What both can be written as. */
        Form with(Form other) {
            if (this == other) {
                return this;
            }
            boolean numbers = compareTo(BOOLEAN) < 0 && other.compareTo(BOOLEAN) < 0;
            return numbers ? (compareTo(other) > 0 ? this : other) : TEXT;
        }
    }

    private Form common;

    private PgPolymorphic() {}

    /** Whether a type is one that a call decides. */
    static boolean is(String type) {
        return ELEMENTS.contains(type) || ARRAYS.contains(type) || OTHERS.contains(type);
    }

    /**
     * Of the values for polymorphic parameters.
     *
     * @param types of the parameters
     * @param values for them, at the same places
     * @throws SQLException where what is written does not say what it is
     */
    static PgPolymorphic of(List<String> types, List<Object> values) throws SQLException {
        PgPolymorphic of = new PgPolymorphic();
        for (int i = 0; i < types.size(); i++) {
            Object value = values.get(i);
            if (OTHERS.contains(types.get(i))) {
                throw new SQLException(
                        "a parameter is of type "
                                + types.get(i)
                                + ", and what is handed in does not say which type that is; call it"
                                + " from a routine that says so",
                        "42804");
            }
            if (value == null) {
                continue;
            }
            if (ELEMENTS.contains(types.get(i))) {
                of.see(Values.text(value));
            } else if (ARRAYS.contains(types.get(i))) {
                for (String element : elements(value)) {
                    of.see(element);
                }
            }
        }
        return of;
    }

    private void see(String text) {
        if (text != null) {
            Form form = Form.of(text.strip());
            common = common == null ? form : common.with(form);
        }
    }

    /** The type to hand a value in as. */
    String type(String declared) {
        String element = (common == null ? Form.TEXT : common).type;
        return ELEMENTS.contains(declared)
                ? element
                : ARRAYS.contains(declared) ? element + "[]" : declared;
    }

    /**
     * A value as the server reads it: an array that is written as JSON in the server's own form.
     */
    static Object sent(String declared, Object value) {
        if (value == null || !ARRAYS.contains(declared)) {
            return value == null ? null : Values.text(value);
        }
        return PgFollower.text(elements(value).toArray());
    }

    private static List<String> elements(Object value) {
        List<String> all = new ArrayList<>();
        for (Object one : (Object[]) value) {
            all.add(one == null ? null : Values.text(one));
        }
        return all;
    }
}
