package dev.cantina.types;

import java.util.Arrays;

/**
 * Rows and arrays compared part by part in three-valued logic (ISO 9075-2, 8.2): NULL in a part
 * makes the result unknown unless another part decides it.
 */
public final class Compound {
    private Compound() {}

    /** Whether values of the type have parts of their own. */
    public static boolean concerns(SqlType type) {
        return type instanceof SqlType.Row || type instanceof SqlType.Array;
    }

    /**
     * A comparison by its sign, {@code =}, {@code <>}, {@code <}, {@code <=}, {@code >} or {@code
     * >=}: one of {@link Logic}'s numbers.
     */
    public static int compare(Object a, SqlType left, String sign, Object b, SqlType right) {
        return switch (sign) {
            case "=" -> equal(a, left, b, right);
            case "<>" -> Logic.not(equal(a, left, b, right));
            case "<" -> less(a, left, b, right);
            case ">" -> less(b, right, a, left);
            case "<=" -> Logic.or(equal(a, left, b, right), less(a, left, b, right));
            default -> Logic.or(equal(a, left, b, right), less(b, right, a, left));
        };
    }

    /**
     * {@code =} of two values, each perhaps NULL: one of {@link Logic}'s numbers.
     *
     * @throws ConditionException 42804 where parts can't be compared
     */
    public static int equal(Object a, SqlType left, Object b, SqlType right) {
        if (a == null || b == null) {
            return Logic.UNKNOWN;
        }
        if (!(a instanceof Object[] x) || !(b instanceof Object[] y)) {
            return Logic.of(order(a, left, b, right) == 0);
        }
        if (x.length != y.length) {
            return Logic.FALSE;
        }
        int all = Logic.TRUE;
        for (int i = 0; i < x.length && all != Logic.FALSE; i++) {
            all = Logic.and(all, equal(x[i], part(left, i), y[i], part(right, i)));
        }
        return all;
    }

    /** {@code <} of two rows, each perhaps NULL: the first parts that differ decide. */
    public static int less(Object a, SqlType left, Object b, SqlType right) {
        if (a == null || b == null) {
            return Logic.UNKNOWN;
        }
        if (!(a instanceof Object[] x) || !(b instanceof Object[] y)) {
            return Logic.of(order(a, left, b, right) < 0);
        }
        for (int i = 0; i < Math.min(x.length, y.length); i++) {
            int same = equal(x[i], part(left, i), y[i], part(right, i));
            if (same == Logic.FALSE) {
                return less(x[i], part(left, i), y[i], part(right, i));
            }
            if (same == Logic.UNKNOWN) {
                return Logic.UNKNOWN;
            }
        }
        return Logic.of(x.length < y.length);
    }

    /** {@code IS DISTINCT FROM}: NULL is as good as NULL (ISO 9075-2, 8.15). */
    public static boolean distinct(Object a, SqlType left, Object b, SqlType right) {
        if (a == null || b == null) {
            return a != b;
        }
        if (!(a instanceof Object[] x) || !(b instanceof Object[] y)) {
            return order(a, left, b, right) != 0;
        }
        boolean differs = x.length != y.length;
        for (int i = 0; i < x.length && !differs; i++) {
            differs = distinct(x[i], part(left, i), y[i], part(right, i));
        }
        return differs;
    }

    /** {@code IS NULL} of a row: whether each of its parts is NULL (ISO 9075-2, 8.8). */
    public static boolean isNull(Object row) {
        return row == null || Arrays.stream((Object[]) row).allMatch(part -> part == null);
    }

    /** {@code IS NOT NULL} of a row: whether none of its parts is NULL. */
    public static boolean isPresent(Object row) {
        return row != null && Arrays.stream((Object[]) row).allMatch(part -> part != null);
    }

    private static SqlType part(SqlType type, int index) {
        return type instanceof SqlType.Row row
                ? row.fields().get(index).type()
                : ((SqlType.Array) type).element();
    }

    private static int order(Object a, SqlType left, Object b, SqlType right) {
        boolean fixed = isFixed(left) || isFixed(right);
        return fixed && a instanceof String x && b instanceof String y
                ? Texts.compareFixed(x, y)
                : Values.compare(a, b);
    }

    private static boolean isFixed(SqlType type) {
        return type instanceof SqlType.Text text && text.shape() == SqlType.Shape.FIXED;
    }
}
