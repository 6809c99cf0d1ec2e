package dev.cantina.translate.mariadb;

import dev.cantina.database.ServerNames;
import dev.cantina.database.mariadb.MariaSession;
import dev.cantina.syntax.Span;
import dev.cantina.translate.UnsupportedConstructException;
import dev.cantina.types.SqlType;
import dev.cantina.types.SqlType.Shape;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/** MariaDB's name for each type. */
final class MariaTypes {
    /** The most digits that the server keeps, and how many of them behind the point. */
    private static final String EXACT = "decimal(65, 30)";

    private MariaTypes() {}

    /**
     * @param collated whether texts say how they compare, because the database says otherwise
     * @throws UnsupportedConstructException for a type that the server has not got
     */
    static String of(SqlType type, Span span, boolean collated) {
        if (type instanceof SqlType.Row row) {
            return row(row, span, collated);
        }
        if (type instanceof SqlType.Text text) {
            return text(text) + (collated ? " COLLATE " + MariaSession.COLLATION : "");
        }
        return plain(type, span).toUpperCase(Locale.ROOT);
    }

    private static String plain(SqlType type, Span span) {
        if (type instanceof SqlType.Exact exact) {
            if (exact.precision() > 65 || exact.scale() > 38) {
                throw new UnsupportedConstructException(
                        span, "MariaDB keeps at most 65 digits, 38 behind the point");
            }
            return exact.precision() == 0
                    ? EXACT
                    : "decimal(" + exact.precision() + ", " + exact.scale() + ")";
        }
        if (type instanceof SqlType.DecFloat) {
            return EXACT;
        }
        if (type instanceof SqlType.Approximate approximate) {
            return approximate.equals(SqlType.DOUBLE) ? "double" : "float";
        }
        if (type instanceof SqlType.Bytes bytes) {
            boolean fixed = bytes.shape() == SqlType.Shape.FIXED;
            if (fixed && bytes.length() <= 255) {
                return "binary(" + Math.max(1, bytes.length()) + ")";
            } else if (fixed) {
                throw new UnsupportedConstructException(
                        span, "MariaDB fills up no more than 255 octets");
            }
            return bytes.length() > 0 && bytes.length() < 16000
                    ? "varbinary(" + bytes.length() + ")"
                    : "longblob";
        }
        if (type instanceof SqlType.Array) {
            throw new UnsupportedConstructException(span, "MariaDB has no arrays");
        }
        if (type instanceof SqlType.Interval) {
            throw new UnsupportedConstructException(span, "MariaDB keeps no intervals");
        }
        if (type instanceof SqlType.Timestamp stamp) {
            zoneless(stamp.zone(), span);
            return "datetime" + digits(stamp.precision());
        }
        if (type instanceof SqlType.Time time) {
            zoneless(time.zone(), span);
            return "time" + digits(time.precision());
        }
        return type instanceof SqlType.Unknown ? "longtext" : type.sql();
    }

    private static void zoneless(boolean zone, Span span) {
        if (zone) {
            throw new UnsupportedConstructException(
                    span, "MariaDB keeps no time zone with a moment");
        }
    }

    private static String digits(int precision) {
        return precision == 0 ? "" : "(" + Math.min(6, precision) + ")";
    }

    private static String text(SqlType.Text text) {
        if (text.shape() == Shape.FIXED) {
            return "CHAR(" + Math.max(1, text.length()) + ")";
        }
        boolean large = text.shape() == Shape.LARGE || text.length() == 0 || text.length() > 16000;
        return large ? "LONGTEXT" : "VARCHAR(" + text.length() + ")";
    }

    private static String row(SqlType.Row row, Span span, boolean collated) {
        List<String> fields = new ArrayList<>();
        for (SqlType.Field field : row.fields()) {
            String name = ServerNames.mariadb().of(field.name());
            fields.add(name + " " + of(field.type(), span, collated));
        }
        return "ROW (" + String.join(", ", fields) + ")";
    }
}
