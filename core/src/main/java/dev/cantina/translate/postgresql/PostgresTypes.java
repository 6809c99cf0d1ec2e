package dev.cantina.translate.postgresql;

import dev.cantina.syntax.Span;
import dev.cantina.translate.UnsupportedConstructException;
import dev.cantina.types.SqlType;
import dev.cantina.types.SqlType.Shape;

/** PostgreSQL's name for each type. */
public final class PostgresTypes {
    private PostgresTypes() {}

    /**
     * @throws UnsupportedConstructException for a type that the server has not got
     */
    public static String of(SqlType type, Span span) {
        if (type instanceof SqlType.Exact exact) {
            return exact.precision() == 0
                    ? "numeric"
                    : "numeric(" + exact.precision() + ", " + exact.scale() + ")";
        }
        if (type instanceof SqlType.DecFloat) {
            return "numeric";
        }
        if (type instanceof SqlType.Text text) {
            if (text.shape() == Shape.LARGE
                    || text.length() == 0 && text.shape() == Shape.VARYING) {
                return "text";
            }
            String name = text.shape() == Shape.FIXED ? "char" : "varchar";
            return name + "(" + Math.max(1, text.length()) + ")";
        }
        if (type instanceof SqlType.Bytes) {
            return "bytea";
        }
        if (type instanceof SqlType.Array array) {
            return of(array.element(), span) + "[]";
        }
        if (type instanceof SqlType.Row) {
            throw new UnsupportedConstructException(
                    span, "a row type of its own has no name on PostgreSQL");
        }
        if (type instanceof SqlType.Unknown) {
            return "text";
        }
        if (type instanceof SqlType.Interval) {
            throw new UnsupportedConstructException(
                    span, "an interval is kept and written another way there");
        }
        if (type instanceof SqlType.Timestamp stamp) {
            String digits = stamp.precision() >= 6 ? "" : "(" + stamp.precision() + ")";
            return "timestamp" + digits + (stamp.zone() ? " with time zone" : "");
        }
        if (type instanceof SqlType.Time time) {
            String digits = time.precision() >= 6 ? "" : "(" + time.precision() + ")";
            return "time" + digits + (time.zone() ? " with time zone" : "");
        }
        return type.sql().toLowerCase(java.util.Locale.ROOT);
    }

    /**
     * Whether a parameter of the type would lose its length or scale: PostgreSQL keeps none for
     * parameters and returned values.
     */
    static boolean isBounded(SqlType type) {
        if (type instanceof SqlType.Array array) {
            return isBounded(array.element()) || array.maximum() > 0;
        }
        return type instanceof SqlType.Exact exact && exact.precision() > 0
                || type instanceof SqlType.Text text
                        && (text.length() > 0 || text.shape() == Shape.FIXED)
                || type instanceof SqlType.Bytes bytes && bytes.length() > 0
                || type instanceof SqlType.Time time && time.precision() < 6
                || type instanceof SqlType.Timestamp stamp && stamp.precision() < 6;
    }

    /**
     * A parameter's type: without length and scale, which the server would not heed. CHAR is called
     * bpchar, since {@code CAST(x AS char)} is one of a single character.
     */
    public static String bare(SqlType type, Span span) {
        String full = of(type, span);
        if (type instanceof SqlType.Array array) {
            return bare(array.element(), span) + "[]";
        }
        if (type instanceof SqlType.Text text && text.shape() != Shape.LARGE) {
            return text.shape() == Shape.FIXED ? "bpchar" : text.length() == 0 ? "text" : "varchar";
        }
        int bracket = full.indexOf('(');
        if (bracket < 0) {
            return full;
        }
        return full.substring(0, bracket) + full.substring(full.indexOf(')') + 1);
    }
}
