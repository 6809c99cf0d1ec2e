package dev.cantina.jdbc;

import dev.cantina.types.ConditionException;
import dev.cantina.types.Conversion;
import dev.cantina.types.SqlType;
import dev.cantina.types.Values;
import java.io.ByteArrayInputStream;
import java.io.StringReader;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;
import java.sql.Date;
import java.sql.SQLException;
import java.sql.Time;
import java.sql.Timestamp;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.time.OffsetTime;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.util.Calendar;
import java.util.HashMap;
import java.util.Map;
import java.util.UUID;
import javax.sql.rowset.serial.SerialBlob;
import javax.sql.rowset.serial.SerialClob;

/** Values that a routine has given, as a program asks for them (JDBC 4.3, table B-6). */
final class Asked {
    private static final Map<Class<?>, String> GETTERS = new HashMap<>();

    static {
        GETTERS.put(String.class, "getString");
        GETTERS.put(Boolean.class, "getBoolean");
        GETTERS.put(Byte.class, "getByte");
        GETTERS.put(Short.class, "getShort");
        GETTERS.put(Integer.class, "getInt");
        GETTERS.put(Long.class, "getLong");
        GETTERS.put(Float.class, "getFloat");
        GETTERS.put(Double.class, "getDouble");
        GETTERS.put(BigDecimal.class, "getBigDecimal");
        GETTERS.put(byte[].class, "getBytes");
        GETTERS.put(Date.class, "getDate");
        GETTERS.put(Time.class, "getTime");
        GETTERS.put(Timestamp.class, "getTimestamp");
    }

    private Asked() {}

    /**
     * A value for a getter.
     *
     * @param held null for NULL, which a getter of a primitive type gives as 0 or false
     * @param more what the getter was told besides the column: a class, a calendar, a scale
     */
    static Object value(Object held, String getter, Object more) throws SQLException {
        if (held == null) {
            return switch (getter) {
                case "getBoolean" -> false;
                case "getByte" -> (byte) 0;
                case "getShort" -> (short) 0;
                case "getInt" -> 0;
                case "getLong" -> 0L;
                case "getFloat" -> 0f;
                case "getDouble" -> 0d;
                default -> null;
            };
        }
        try {
            return known(held, getter, more);
        } catch (ConditionException e) {
            throw Failures.of(e.condition().sqlstate(), e.condition().message());
        } catch (ArithmeticException e) {
            throw Failures.of(
                    "22003", Values.text(held) + " is out of the range that is asked for");
        }
    }

    private static Object known(Object held, String getter, Object more) throws SQLException {
        ZoneId zone =
                more instanceof Calendar calendar
                        ? calendar.getTimeZone().toZoneId()
                        : ZoneId.systemDefault();
        switch (getter) {
            case "getObject":
                return more instanceof Class<?> wanted ? as(held, wanted) : usual(held);
            case "getString", "getNString":
                return Values.text(held);
            case "getBoolean":
                return held instanceof Number number
                        ? decimal(number).signum() != 0
                        : cast(held, new SqlType.Bool());
            case "getDate":
                return more == null
                        ? Date.valueOf(date(held))
                        : new Date(millis(date(held).atStartOfDay(), zone));
            case "getTime":
                return more == null
                        ? Time.valueOf(time(held))
                        : new Time(millis(time(held).atDate(LocalDate.EPOCH), zone));
            case "getTimestamp":
                return more == null
                        ? Timestamp.valueOf(moment(held))
                        : Timestamp.from(moment(held).atZone(zone).toInstant());
            case "getBytes":
                return bytes(held);
            case "getBinaryStream":
                return new ByteArrayInputStream(bytes(held));
            case "getBlob":
                return new SerialBlob(bytes(held));
            case "getClob", "getNClob":
                return new SerialClob(Values.text(held).toCharArray());
            case "getCharacterStream", "getNCharacterStream":
                return new StringReader(Values.text(held));
            case "getAsciiStream":
                return new ByteArrayInputStream(
                        Values.text(held).getBytes(StandardCharsets.US_ASCII));
            default:
                return number(held, getter, more);
        }
    }

    private static Object number(Object held, String getter, Object more) throws SQLException {
        BigDecimal number =
                held instanceof Number known
                        ? decimal(known)
                        : held instanceof Boolean truth
                                ? truth ? BigDecimal.ONE : BigDecimal.ZERO
                                : held instanceof String
                                        ? (BigDecimal) cast(held, SqlType.DECIMAL)
                                        : null;
        if (number == null) {
            throw misfit(held, "a number");
        }
        return switch (getter) {
            case "getByte" -> whole(number).byteValueExact();
            case "getShort" -> whole(number).shortValueExact();
            case "getInt" -> whole(number).intValueExact();
            case "getLong" -> whole(number).longValueExact();
            case "getFloat" -> number.floatValue();
            case "getDouble" -> number.doubleValue();
            case "getBigDecimal" ->
                    more instanceof Integer scale
                            ? number.setScale(scale, java.math.RoundingMode.HALF_UP)
                            : number;
            default -> throw Failures.of("0A000", getter + " can't be asked of a routine's value");
        };
    }

    private static BigInteger whole(BigDecimal number) {
        return number.toBigInteger();
    }

    private static BigDecimal decimal(Number number) {
        return number instanceof BigDecimal decimal
                ? decimal
                : number instanceof Double || number instanceof Float
                        ? BigDecimal.valueOf(number.doubleValue())
                        : BigDecimal.valueOf(number.longValue());
    }

    private static long millis(LocalDateTime moment, ZoneId zone) {
        return moment.atZone(zone).toInstant().toEpochMilli();
    }

    private static Object cast(Object held, SqlType type) throws SQLException {
        if (held instanceof String || held instanceof Boolean) {
            return Conversion.cast(held, type);
        }
        throw misfit(held, type.sql());
    }

    private static LocalDate date(Object held) throws SQLException {
        return held instanceof LocalDate date
                ? date
                : held instanceof String text
                        ? (LocalDate) cast(text, new SqlType.Date())
                        : moment(held).toLocalDate();
    }

    private static LocalTime time(Object held) throws SQLException {
        if (held instanceof LocalTime time) {
            return time;
        }
        if (held instanceof OffsetTime time) {
            return time.toLocalTime();
        }
        return held instanceof String text
                ? (LocalTime) cast(text, new SqlType.Time(9, false))
                : moment(held).toLocalTime();
    }

    private static LocalDateTime moment(Object held) throws SQLException {
        if (held instanceof LocalDateTime moment) {
            return moment;
        }
        if (held instanceof OffsetDateTime moment) {
            return moment.atZoneSameInstant(ZoneId.systemDefault()).toLocalDateTime();
        }
        if (held instanceof LocalDate date) {
            return date.atStartOfDay();
        }
        if (held instanceof String text) {
            return (LocalDateTime) cast(text, new SqlType.Timestamp(9, false));
        }
        throw misfit(held, "a moment");
    }

    private static byte[] bytes(Object held) throws SQLException {
        if (held instanceof byte[] bytes) {
            return bytes.clone();
        }
        throw misfit(held, "bytes");
    }

    private static SQLException misfit(Object held, String wanted) {
        return Failures.of("22018", Values.shortened(held) + " is not " + wanted);
    }

    /** The class that JDBC has for a value where none is asked for. */
    static Object usual(Object value) {
        if (value instanceof LocalDate date) {
            return Date.valueOf(date);
        }
        if (value instanceof LocalDateTime moment) {
            return Timestamp.valueOf(moment);
        }
        return value instanceof LocalTime time ? Time.valueOf(time) : value;
    }

    private static Object as(Object held, Class<?> wanted) throws SQLException {
        String getter = GETTERS.get(wanted);
        if (getter != null) {
            return known(held, getter, null);
        }
        if (wanted == BigInteger.class) {
            return ((BigDecimal) number(held, "getBigDecimal", null)).toBigInteger();
        }
        if (wanted == LocalDate.class) {
            return date(held);
        }
        if (wanted == LocalTime.class) {
            return time(held);
        }
        if (wanted == LocalDateTime.class) {
            return moment(held);
        }
        if (wanted == OffsetDateTime.class && !(held instanceof OffsetDateTime)) {
            return moment(held).atZone(ZoneId.systemDefault()).toOffsetDateTime();
        }
        if (wanted == Instant.class || wanted == ZonedDateTime.class) {
            ZonedDateTime moment =
                    held instanceof OffsetDateTime known
                            ? known.toZonedDateTime()
                            : moment(held).atZone(ZoneId.systemDefault());
            return wanted == Instant.class ? moment.toInstant() : moment;
        }
        if (wanted == UUID.class && held instanceof String text) {
            return cast(text, new SqlType.Uuid());
        }
        if (wanted.isInstance(held)) {
            return held;
        }
        throw misfit(held, "a " + wanted.getSimpleName());
    }
}
