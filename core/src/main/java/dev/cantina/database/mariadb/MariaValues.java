package dev.cantina.database.mariadb;

import dev.cantina.database.ServerValues;
import dev.cantina.types.ConditionException;
import dev.cantina.types.Conversion;
import dev.cantina.types.SqlType;
import java.math.BigInteger;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.util.Optional;

/** Values as the server has them, whether the standard's types can hold them or not. */
final class MariaValues {
    private MariaValues() {}

    /** A value to be shown: what has no value of its type, as 0000-00-00, by its text. */
    static Object shown(ResultSet row, int column, SqlType type) throws SQLException {
        boolean moment =
                type instanceof SqlType.Date
                        || type instanceof SqlType.Time
                        || type instanceof SqlType.Timestamp;
        if (moment) {
            return moment(row.getString(column), type);
        }
        if (row.getMetaData().getColumnTypeName(column).equals("BIT")) {
            return bits(row.getBytes(column), row.getMetaData().getPrecision(column));
        }
        if (type instanceof SqlType.Bool) {
            // It is a TINYINT, and may hold more than the two ("BOOLEAN").
            long value = row.getLong(column);
            return row.wasNull() ? null : value == 0 || value == 1 ? value == 1 : (Object) value;
        }
        return ServerValues.read(row, column, type, LocalTime.class, LocalDateTime.class);
    }

    /** A value as the standard's types hold it. */
    static Object held(ResultSet row, int column, SqlType type) throws SQLException {
        Object value = ServerValues.read(row, column, type, LocalTime.class, LocalDateTime.class);
        // The server keeps the blanks of a CHAR and does not send them.
        return value instanceof String text
                        && type instanceof SqlType.Text of
                        && of.shape() == SqlType.Shape.FIXED
                ? Conversion.store(text, type)
                : value;
    }

    /** As the language writes them: b'101'. */
    private static String bits(byte[] bytes, int length) {
        if (bytes == null) {
            return null;
        }
        String digits = new BigInteger(1, bytes).toString(2);
        return "b'" + "0".repeat(Math.max(0, length - digits.length())) + digits + "'";
    }

    /** The bytes of a text as {@link #bits} gives it; empty where it is none. */
    static Optional<byte[]> bytes(String text) {
        String bare = text.strip();
        boolean quoted =
                bare.length() >= 3 && bare.regionMatches(true, 0, "b'", 0, 2) && bare.endsWith("'");
        String digits = quoted ? bare.substring(2, bare.length() - 1) : "?";
        return digits.chars().allMatch(c -> c == '0' || c == '1')
                ? Optional.of(new BigInteger("0" + digits, 2).toByteArray())
                : Optional.empty();
    }

    /** A DATE may have a day 0, and a TIME more than a day's hours (MariaDB, "TIME", "DATE"). */
    private static Object moment(String text, SqlType type) {
        if (text == null) {
            return null;
        }
        try {
            return Conversion.store(text, type);
        } catch (ConditionException e) {
            return text;
        }
    }
}
