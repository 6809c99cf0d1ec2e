package dev.cantina.types;

import java.math.BigDecimal;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.time.OffsetTime;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.Locale;
import java.util.UUID;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Casts (ISO 9075-2, 6.13) and stores (9.2). Both take any value and give one of the type: 22003
 * for a number out of range, 22018 for a text that is none, 22007 or 22008 for a bad date or time,
 * and 22001 for a store of a text that is too long.
 */
public final class Conversion {
    private static final Pattern TIME =
            Pattern.compile(
                    "(\\d{1,2}):(\\d{2})(?::(\\d{2})(?:\\.(\\d{1,9}))?)?\\s*([+-]\\d{2}:?\\d{2}|Z)?");
    private static final Pattern DATE = Pattern.compile("(\\d{4})-(\\d{1,2})-(\\d{1,2})");

    private static final Pattern UUID_TEXT =
            Pattern.compile("\\p{XDigit}{8}(-\\p{XDigit}{4}){3}-\\p{XDigit}{12}");

    private Conversion() {}

    /** The value as a variable or column of the type holds it. */
    public static Object store(Object value, SqlType type) {
        if (value == null) {
            return null;
        }
        if (type instanceof SqlType.Text text && value instanceof String string) {
            return text.shape() == SqlType.Shape.FIXED
                    ? Texts.fixed(string, Math.max(1, text.length()))
                    : Texts.varying(string, text.length());
        }
        return cast(value, type);
    }

    /** The value in another type; too long a text is cut, and what is no text must fit. */
    public static Object cast(Object value, SqlType type) {
        if (value == null) {
            return null;
        }
        if (type instanceof SqlType.Integral integral) {
            return whole(value, integral);
        }
        if (type instanceof SqlType.Exact exact) {
            return Numbers.decimal(decimal(value, type), exact.precision(), exact.scale());
        }
        if (type instanceof SqlType.Approximate approximate) {
            double number = number(value, type);
            return approximate.single() ? Numbers.real(number) : number;
        }
        if (type instanceof SqlType.DecFloat decFloat) {
            return Numbers.decFloat(decimal(value, type), decFloat.precision());
        }
        if (type instanceof SqlType.Bool) {
            return truth(value);
        }
        if (type instanceof SqlType.Text text) {
            String cut =
                    value instanceof String given
                            ? Texts.cut(given, text.length())
                            : whole(value, Values.text(value), text);
            return text.shape() == SqlType.Shape.FIXED
                    ? Texts.fixed(cut, Math.max(1, text.length()))
                    : cut;
        }
        if (type instanceof SqlType.Bytes bytes) {
            return bytes(value, bytes);
        }
        if (type instanceof SqlType.Date) {
            return date(value);
        }
        if (type instanceof SqlType.Time time) {
            return time(value, time);
        }
        if (type instanceof SqlType.Timestamp timestamp) {
            return timestamp(value, timestamp);
        }
        if (type instanceof SqlType.Interval interval) {
            return interval(value, interval);
        }
        if (type instanceof SqlType.Uuid) {
            return uuid(value);
        }
        if (type instanceof SqlType.Array array) {
            return array(value, array);
        }
        if (type instanceof SqlType.Row row) {
            return row(value, row);
        }
        return value;
    }

    /**
     * What is no text is written whole or not at all (ISO 9075-2, 6.13).
     *
     * @throws ConditionException 22001, or 22018 for a truth value
     */
    private static String whole(Object value, String written, SqlType.Text type) {
        if (type.length() > 0 && written.length() > type.length()) {
            throw new ConditionException(
                    value instanceof Boolean ? "22018" : "22001",
                    Values.shortened(value) + " is too long for " + type.sql());
        }
        return written;
    }

    private static ConditionException misfit(Object value, SqlType type) {
        return new ConditionException(
                "22018", Values.shortened(value) + " is not a value of type " + type.sql());
    }

    private static Long whole(Object value, SqlType.Integral type) {
        long number;
        if (value instanceof Long exact) {
            number = exact;
        } else if (value instanceof Integer || value instanceof Short) {
            number = ((Number) value).longValue();
        } else {
            number = Numbers.whole(decimal(value, type));
        }
        return switch (type.size()) {
            case SMALLINT -> Numbers.smallint(number);
            case INTEGER -> Numbers.integer(number);
            case BIGINT -> number;
        };
    }

    private static BigDecimal decimal(Object value, SqlType type) {
        if (value instanceof BigDecimal decimal) {
            return decimal;
        }
        if (value instanceof Double number) {
            return Numbers.decimal(number);
        }
        if (value instanceof Number number) {
            return BigDecimal.valueOf(number.longValue());
        }
        if (value instanceof IntervalValue interval) {
            return interval.count();
        }
        if (value instanceof String text && text.length() <= 1000) {
            try {
                BigDecimal read = new BigDecimal(text.strip());
                // An exponent must not become a number of a million digits.
                if (Math.abs((long) read.scale()) < 10_000) {
                    return read;
                }
            } catch (NumberFormatException e) {
                throw misfit(value, type);
            }
        }
        throw misfit(value, type);
    }

    private static double number(Object value, SqlType type) {
        if (value instanceof Number number) {
            return Numbers.finite(number.doubleValue());
        }
        return Numbers.finite(decimal(value, type).doubleValue());
    }

    private static Boolean truth(Object value) {
        if (value instanceof Boolean truth) {
            return truth;
        }
        if (value instanceof String text) {
            switch (text.strip().toUpperCase(Locale.ROOT)) {
                case "TRUE":
                    return true;
                case "FALSE":
                    return false;
                case "UNKNOWN":
                    return null;
                default:
            }
        }
        throw misfit(value, SqlType.BOOLEAN);
    }

    private static byte[] bytes(Object value, SqlType.Bytes type) {
        byte[] bytes;
        if (value instanceof byte[] given) {
            bytes = given;
        } else if (value instanceof String text) {
            try {
                bytes = HexFormat.of().parseHex(text.strip());
            } catch (IllegalArgumentException e) {
                throw misfit(value, type);
            }
        } else {
            throw misfit(value, type);
        }
        if (type.length() > 0 && bytes.length > type.length()) {
            throw new ConditionException(
                    "22001", bytes.length + " octets are too many for " + type.sql());
        }
        return type.shape() == SqlType.Shape.FIXED
                ? Arrays.copyOf(bytes, Math.max(1, type.length()))
                : bytes;
    }

    private static LocalDate date(Object value) {
        if (value instanceof LocalDate date) {
            return date;
        }
        if (value instanceof LocalDateTime moment) {
            return moment.toLocalDate();
        }
        if (value instanceof OffsetDateTime moment) {
            return moment.toLocalDate();
        }
        if (value instanceof String text) {
            return dateOf(text.strip(), text);
        }
        throw misfit(value, SqlType.DATE);
    }

    private static LocalDate dateOf(String text, String whole) {
        Matcher matcher = DATE.matcher(text);
        if (!matcher.matches()) {
            throw new ConditionException(
                    "22007", "'" + whole + "' is not a date: write it as 2031-10-04");
        }
        try {
            return LocalDate.of(
                    Integer.parseInt(matcher.group(1)),
                    Integer.parseInt(matcher.group(2)),
                    Integer.parseInt(matcher.group(3)));
        } catch (DateTimeException e) {
            throw new ConditionException("22008", "there is no day " + text);
        }
    }

    private static LocalTime timeOf(Matcher matcher, String whole) {
        if (!matcher.matches()) {
            throw new ConditionException(
                    "22007", "'" + whole + "' is not a time: write it as 09:30:00");
        }
        String fraction = matcher.group(4) == null ? "" : matcher.group(4);
        try {
            return LocalTime.of(
                    Integer.parseInt(matcher.group(1)),
                    Integer.parseInt(matcher.group(2)),
                    matcher.group(3) == null ? 0 : Integer.parseInt(matcher.group(3)),
                    Integer.parseInt((fraction + "000000000").substring(0, 9)));
        } catch (DateTimeException e) {
            throw new ConditionException("22008", "there is no time " + whole);
        }
    }

    private static ZoneOffset offset(Matcher matcher) {
        return matcher.group(5) == null ? ZoneOffset.UTC : ZoneOffset.of(matcher.group(5));
    }

    private static Object time(Object value, SqlType.Time type) {
        LocalTime time;
        ZoneOffset offset = ZoneOffset.UTC;
        if (value instanceof LocalTime local) {
            time = local;
        } else if (value instanceof OffsetTime zoned) {
            time = zoned.toLocalTime();
            offset = zoned.getOffset();
        } else if (value instanceof LocalDateTime moment) {
            time = moment.toLocalTime();
        } else if (value instanceof OffsetDateTime moment) {
            time = moment.toLocalTime();
            offset = moment.getOffset();
        } else if (value instanceof String text) {
            Matcher matcher = TIME.matcher(text.strip());
            time = timeOf(matcher, text);
            offset = offset(matcher);
        } else {
            throw misfit(value, type);
        }
        long nanos = rounded(time.getNano(), type.precision());
        LocalTime fitting = time.truncatedTo(ChronoUnit.SECONDS).plusNanos(nanos);
        return type.zone() ? OffsetTime.of(fitting, offset) : fitting;
    }

    private static Object timestamp(Object value, SqlType.Timestamp type) {
        LocalDateTime moment;
        ZoneOffset offset = ZoneOffset.UTC;
        if (value instanceof LocalDateTime local) {
            moment = local;
        } else if (value instanceof OffsetDateTime zoned) {
            moment = zoned.toLocalDateTime();
            offset = zoned.getOffset();
        } else if (value instanceof LocalDate date) {
            moment = date.atStartOfDay();
        } else if (value instanceof String text) {
            String[] parts = text.strip().split("[ T]", 2);
            LocalDate date = dateOf(parts[0], text);
            Matcher matcher = TIME.matcher(parts.length == 1 ? "00:00:00" : parts[1].strip());
            moment = date.atTime(timeOf(matcher, text));
            offset = offset(matcher);
        } else {
            throw misfit(value, type);
        }
        long nanos = rounded(moment.getNano(), type.precision());
        LocalDateTime fitting = moment.truncatedTo(ChronoUnit.SECONDS).plusNanos(nanos);
        return type.zone() ? OffsetDateTime.of(fitting, offset) : fitting;
    }

    /** Nanoseconds rounded half up to a number of digits; it may become a whole second. */
    private static long rounded(int nanos, int digits) {
        if (digits >= 9) {
            return nanos;
        }
        long unit = (long) Math.pow(10, 9 - digits);
        return (nanos + unit / 2) / unit * unit;
    }

    private static IntervalValue interval(Object value, SqlType.Interval type) {
        if (value instanceof IntervalValue interval) {
            return interval.in(type.fields());
        }
        if (value instanceof String text) {
            return IntervalValue.parse(text, type.fields());
        }
        if (value instanceof Number && !type.fields().contains(" ")) {
            return IntervalValue.of(decimal(value, type), type.fields());
        }
        throw misfit(value, type);
    }

    private static UUID uuid(Object value) {
        if (value instanceof UUID uuid) {
            return uuid;
        }
        if (value instanceof String text && UUID_TEXT.matcher(text.strip()).matches()) {
            return UUID.fromString(text.strip());
        }
        throw misfit(value, new SqlType.Uuid());
    }

    private static Object[] array(Object value, SqlType.Array type) {
        if (!(value instanceof Object[] elements)) {
            throw misfit(value, type);
        }
        if (type.maximum() > 0 && elements.length > type.maximum()) {
            throw new ConditionException(
                    "2202F",
                    "an array of " + elements.length + " elements is too long for " + type.sql());
        }
        Object[] stored = new Object[elements.length];
        for (int i = 0; i < stored.length; i++) {
            stored[i] = store(elements[i], type.element());
        }
        return stored;
    }

    private static Object[] row(Object value, SqlType.Row type) {
        if (!(value instanceof Object[] fields) || fields.length != type.fields().size()) {
            throw misfit(value, type);
        }
        Object[] stored = new Object[fields.length];
        for (int i = 0; i < stored.length; i++) {
            stored[i] = store(fields[i], type.fields().get(i).type());
        }
        return stored;
    }
}
