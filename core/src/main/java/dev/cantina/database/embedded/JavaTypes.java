package dev.cantina.database.embedded;

import dev.cantina.types.IntervalValue;
import dev.cantina.types.SqlType;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.sql.Blob;
import java.sql.Clob;
import java.sql.SQLException;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.time.OffsetTime;
import java.util.UUID;
import org.h2.api.Interval;
import org.h2.api.IntervalQualifier;

/** How values cross between a JDBC driver and Cantina. */
public final class JavaTypes {
    private JavaTypes() {}

    /** The Java class that stands for a type in the signature of a static method. */
    public static Class<?> of(SqlType type) {
        if (type instanceof SqlType.Integral integral) {
            return integral.size() == SqlType.Whole.BIGINT ? Long.class : Integer.class;
        }
        if (type instanceof SqlType.Exact || type instanceof SqlType.DecFloat) {
            return BigDecimal.class;
        }
        if (type instanceof SqlType.Approximate) {
            return Double.class;
        }
        if (type instanceof SqlType.Bool) {
            return Boolean.class;
        }
        if (type instanceof SqlType.Text) {
            return String.class;
        }
        if (type instanceof SqlType.Bytes) {
            return byte[].class;
        }
        if (type instanceof SqlType.Date) {
            return LocalDate.class;
        }
        if (type instanceof SqlType.Time time) {
            return time.zone() ? OffsetTime.class : LocalTime.class;
        }
        if (type instanceof SqlType.Timestamp timestamp) {
            return timestamp.zone() ? OffsetDateTime.class : LocalDateTime.class;
        }
        if (type instanceof SqlType.Uuid) {
            return UUID.class;
        }
        return type instanceof SqlType.Array ? Object[].class : Object.class;
    }

    /** A driver's object as Cantina holds it. */
    public static Object held(Object value) throws SQLException {
        if (value instanceof Integer || value instanceof Short || value instanceof Byte) {
            return ((Number) value).longValue();
        }
        if (value instanceof Float number) {
            return number.doubleValue();
        }
        if (value instanceof Clob clob) {
            return clob.getSubString(1, (int) Math.min(Integer.MAX_VALUE, clob.length()));
        }
        if (value instanceof Blob blob) {
            return blob.getBytes(1, (int) Math.min(Integer.MAX_VALUE, blob.length()));
        }
        if (value instanceof java.sql.Array array) {
            return held(array.getArray());
        }
        if (value instanceof java.sql.Date date) {
            return date.toLocalDate();
        }
        if (value instanceof java.sql.Time time) {
            return time.toLocalTime();
        }
        if (value instanceof java.sql.Timestamp timestamp) {
            return timestamp.toLocalDateTime();
        }
        if (value instanceof Interval interval) {
            String fields = interval.getQualifier().toString();
            return interval.getQualifier().isYearMonth()
                    ? IntervalValue.parse("0-0", "YEAR TO MONTH").plus(months(interval)).in(fields)
                    : new IntervalValue(fields, 0, nanos(interval));
        }
        if (value instanceof Object[] several) {
            Object[] held = new Object[several.length];
            for (int i = 0; i < held.length; i++) {
                held[i] = held(several[i]);
            }
            return held;
        }
        return value;
    }

    private static IntervalValue months(Interval interval) {
        long months = interval.getYears() * 12 + interval.getMonths();
        return new IntervalValue("YEAR TO MONTH", months, BigInteger.ZERO);
    }

    private static BigInteger nanos(Interval interval) {
        BigInteger seconds =
                BigInteger.valueOf(interval.getDays())
                        .multiply(BigInteger.valueOf(86_400))
                        .add(
                                BigInteger.valueOf(
                                        interval.getHours() * 3600
                                                + interval.getMinutes() * 60
                                                + interval.getSeconds()));
        return seconds.multiply(BigInteger.valueOf(1_000_000_000))
                .add(BigInteger.valueOf(interval.getNanosOfSecond()));
    }

    /** An interval as the engine takes it. */
    public static Interval engine(IntervalValue value) {
        if (value.isYearMonth()) {
            long months = Math.abs(value.months());
            return new Interval(
                    IntervalQualifier.YEAR_TO_MONTH, value.months() < 0, months / 12, months % 12);
        }
        BigInteger nanos = value.nanos().abs();
        BigInteger day = BigInteger.valueOf(86_400_000_000_000L);
        BigInteger[] parts = nanos.divideAndRemainder(day);
        return new Interval(
                IntervalQualifier.DAY_TO_SECOND,
                value.nanos().signum() < 0,
                parts[0].longValueExact(),
                parts[1].longValueExact());
    }

    /** How many digits or characters a type has; 0 where that is not said. */
    public static int precision(SqlType type) {
        if (type instanceof SqlType.Exact exact) {
            return exact.precision();
        }
        return type instanceof SqlType.Text text ? text.length() : 0;
    }

    /** How many digits after the point, or after the second. */
    public static int scale(SqlType type) {
        if (type instanceof SqlType.Exact exact) {
            return exact.scale();
        }
        return type instanceof SqlType.Timestamp moment ? moment.precision() : 0;
    }

    /** A value of Cantina's as an object of the class that {@link #of} names. */
    public static Object given(Object value, Class<?> as) {
        if (value instanceof Long number && as == Integer.class) {
            return number.intValue();
        }
        return value;
    }
}
