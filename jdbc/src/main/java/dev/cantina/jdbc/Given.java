package dev.cantina.jdbc;

import dev.cantina.database.embedded.JavaTypes;
import dev.cantina.types.Conversion;
import dev.cantina.types.SqlType;
import java.io.IOException;
import java.io.InputStream;
import java.io.Reader;
import java.io.StringWriter;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.net.URL;
import java.sql.SQLException;
import java.sql.SQLXML;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.time.OffsetTime;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.util.Arrays;
import java.util.Calendar;
import java.util.UUID;

/** Values that a program gives for the markers of a call. */
final class Given {
    private Given() {}

    /**
     * A value as routines hold it.
     *
     * @param arguments of the set method: the number or name of the parameter, the value, and more
     */
    static Object held(String method, Object[] arguments) throws SQLException {
        if (method.equals("setNull")) {
            return null;
        }
        Object value = arguments[1];
        Object more = arguments.length > 2 ? arguments[2] : null;
        if (more instanceof Calendar calendar && value instanceof java.util.Date date) {
            return inZone(date, calendar.getTimeZone().toZoneId());
        }
        long length =
                method.endsWith("Stream") || method.endsWith("lob")
                        ? more instanceof Number number ? number.longValue() : Long.MAX_VALUE
                        : Long.MAX_VALUE;
        try {
            if (value instanceof Reader reader) {
                return text(reader, length);
            }
            if (value instanceof InputStream stream) {
                byte[] bytes = stream.readNBytes((int) Math.min(length, Integer.MAX_VALUE));
                return method.equals("setAsciiStream")
                        ? new String(bytes, java.nio.charset.StandardCharsets.US_ASCII)
                        : bytes;
            }
        } catch (IOException e) {
            throw new SQLException("the stream can't be read: " + e.getMessage(), "22000", e);
        }
        return held(value);
    }

    private static Object inZone(java.util.Date date, ZoneId zone) {
        LocalDateTime moment = LocalDateTime.ofInstant(Instant.ofEpochMilli(date.getTime()), zone);
        if (date instanceof java.sql.Date) {
            return moment.toLocalDate();
        }
        if (date instanceof java.sql.Timestamp stamp) {
            return moment.withNano(stamp.getNanos());
        }
        return moment.toLocalTime();
    }

    private static String text(Reader reader, long length) throws IOException {
        StringWriter all = new StringWriter();
        for (long i = 0; i < length; i++) {
            int c = reader.read();
            if (c < 0) {
                break;
            }
            all.write(c);
        }
        return all.toString();
    }

    private static Object held(Object value) throws SQLException {
        if (value instanceof BigInteger number) {
            return new BigDecimal(number);
        }
        if (value instanceof Character one) {
            return one.toString();
        }
        if (value instanceof Enum<?> || value instanceof URL) {
            return value.toString();
        }
        if (value instanceof SQLXML xml) {
            return xml.getString();
        }
        if (value instanceof Instant moment) {
            return moment.atZone(ZoneId.systemDefault()).toOffsetDateTime();
        }
        if (value instanceof ZonedDateTime moment) {
            return moment.toOffsetDateTime();
        }
        boolean plain = value != null && value.getClass() == java.util.Date.class;
        if (plain) {
            return inZone(
                    new java.sql.Timestamp(((java.util.Date) value).getTime()),
                    ZoneId.systemDefault());
        }
        Object held = JavaTypes.held(value);
        if (held == null || isHeld(held)) {
            return held;
        }
        throw Failures.of(
                "0A000", "a value of " + value.getClass().getName() + " can't be given to SQL");
    }

    private static boolean isHeld(Object value) {
        return value instanceof Object[] several
                ? Arrays.stream(several).allMatch(o -> o == null || isHeld(o))
                : value instanceof Long
                        || value instanceof BigDecimal
                        || value instanceof Double
                        || value instanceof Boolean
                        || value instanceof String
                        || value instanceof byte[]
                        || value instanceof LocalDate
                        || value instanceof LocalTime
                        || value instanceof LocalDateTime
                        || value instanceof OffsetTime
                        || value instanceof OffsetDateTime
                        || value instanceof UUID
                        || value instanceof dev.cantina.types.IntervalValue;
    }

    /** The type of a value, by which one of several routines is chosen. */
    static SqlType type(Object held) {
        if (held instanceof Long) {
            return new SqlType.Integral(SqlType.Whole.BIGINT);
        }
        if (held instanceof BigDecimal) {
            return SqlType.DECIMAL;
        }
        if (held instanceof Double) {
            return new SqlType.Approximate(false);
        }
        if (held instanceof Boolean) {
            return new SqlType.Bool();
        }
        if (held instanceof String) {
            return SqlType.VARCHAR;
        }
        if (held instanceof LocalDate) {
            return new SqlType.Date();
        }
        if (held instanceof LocalDateTime || held instanceof OffsetDateTime) {
            return new SqlType.Timestamp(6, held instanceof OffsetDateTime);
        }
        return SqlType.NULL;
    }

    /**
     * A value for a parameter: a text is read as the parameter's type has it, as a cast would.
     *
     * @throws dev.cantina.types.ConditionException where it does not fit
     */
    static Object fitting(Object held, SqlType type) {
        boolean read = held instanceof String && !(type instanceof SqlType.Text);
        boolean date =
                held instanceof LocalDateTime
                        && !(type instanceof SqlType.Timestamp)
                        && !(type instanceof SqlType.Text);
        return read || date ? Conversion.cast(held, type) : held;
    }
}
