package dev.cantina.types;

import java.math.BigDecimal;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.time.OffsetTime;
import java.time.format.DateTimeFormatter;
import java.time.format.DateTimeFormatterBuilder;
import java.time.temporal.ChronoField;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.Locale;

/** What holds for values of every type: how they are shown, and how they compare. */
public final class Values {
    private static final DateTimeFormatter TIME = time(true);
    private static final DateTimeFormatter DATE_TIME =
            new DateTimeFormatterBuilder()
                    .append(DateTimeFormatter.ISO_LOCAL_DATE)
                    .appendLiteral(' ')
                    .append(TIME)
                    .toFormatter(Locale.ROOT);
    private static final DateTimeFormatter OFFSET =
            new DateTimeFormatterBuilder()
                    .appendOffset("+HH:MM", "+00:00")
                    .toFormatter(Locale.ROOT);

    private Values() {}

    private static DateTimeFormatter time(boolean fraction) {
        DateTimeFormatterBuilder builder =
                new DateTimeFormatterBuilder()
                        .appendValue(ChronoField.HOUR_OF_DAY, 2)
                        .appendLiteral(':')
                        .appendValue(ChronoField.MINUTE_OF_HOUR, 2)
                        .appendLiteral(':')
                        .appendValue(ChronoField.SECOND_OF_MINUTE, 2);
        if (fraction) {
            builder.appendFraction(ChronoField.NANO_OF_SECOND, 0, 9, true);
        }
        return builder.toFormatter(Locale.ROOT);
    }

    /** The value as text, as a cast to VARCHAR gives it; NULL as {@code NULL}. */
    public static String text(Object value) {
        if (value == null) {
            return "NULL";
        }
        if (value instanceof BigDecimal decimal) {
            return decimal.toPlainString();
        }
        if (value instanceof Boolean truth) {
            return truth ? "TRUE" : "FALSE";
        }
        if (value instanceof LocalTime moment) {
            return TIME.format(moment);
        }
        if (value instanceof LocalDateTime moment) {
            return DATE_TIME.format(moment);
        }
        if (value instanceof OffsetDateTime moment) {
            return DATE_TIME.format(moment) + OFFSET.format(moment);
        }
        if (value instanceof OffsetTime moment) {
            return TIME.format(moment) + OFFSET.format(moment);
        }
        if (value instanceof byte[] bytes) {
            return HexFormat.of().withUpperCase().formatHex(bytes);
        }
        if (value instanceof Object[] several) {
            StringBuilder list = new StringBuilder("[");
            for (int i = 0; i < several.length; i++) {
                list.append(i == 0 ? "" : ", ").append(literal(several[i]));
            }
            return list.append(']').toString();
        }
        return value.toString();
    }

    /** The value as a person would write it in a statement: texts and moments in quotes. */
    public static String literal(Object value) {
        if (value instanceof String text) {
            return "'" + text.replace("'", "''") + "'";
        }
        if (value instanceof byte[]) {
            return "X'" + text(value) + "'";
        }
        if (value instanceof LocalDate) {
            return "DATE '" + text(value) + "'";
        }
        if (value instanceof LocalDateTime || value instanceof OffsetDateTime) {
            return "TIMESTAMP '" + text(value) + "'";
        }
        if (value instanceof IntervalValue interval) {
            return "INTERVAL '" + interval + "' " + interval.fields();
        }
        if (value instanceof LocalTime || value instanceof OffsetTime) {
            return "TIME '" + text(value) + "'";
        }
        return text(value);
    }

    /** A literal of at most some sixty characters. */
    public static String shortened(Object value) {
        String text = literal(value);
        return text.length() <= 60
                ? text
                : text.substring(0, 57) + "…" + (value instanceof String ? "'" : "");
    }

    /**
     * Compares two values of one family, neither of them NULL: negative, zero or positive.
     *
     * @throws ConditionException 42804 where they can't be compared
     */
    public static int compare(Object a, Object b) {
        if (a instanceof Long x && b instanceof Long y) {
            return Long.compare(x, y);
        }
        if (a instanceof String x && b instanceof String y) {
            return Texts.compare(x, y);
        }
        if (a instanceof Number x && b instanceof Number y) {
            if (isApproximate(a) || isApproximate(b)) {
                return Double.compare(x.doubleValue() + 0.0, y.doubleValue() + 0.0);
            }
            return decimal(x).compareTo(decimal(y));
        }
        if (a instanceof Boolean x && b instanceof Boolean y) {
            return Boolean.compare(x, y);
        }
        if (a instanceof byte[] x && b instanceof byte[] y) {
            return Arrays.compareUnsigned(x, y);
        }
        if (a instanceof LocalDate x && b instanceof LocalDate y) {
            return x.compareTo(y);
        }
        if (a instanceof LocalTime x && b instanceof LocalTime y) {
            return x.compareTo(y);
        }
        if (isTimestamp(a) && isTimestamp(b)) {
            return compareTimestamps(a, b);
        }
        if (a instanceof OffsetTime x && b instanceof OffsetTime y) {
            return x.compareTo(y);
        }
        if (a instanceof java.util.UUID x && b instanceof java.util.UUID y) {
            return x.toString().compareTo(y.toString());
        }
        if (a instanceof Object[] x && b instanceof Object[] y) {
            for (int i = 0; i < Math.min(x.length, y.length); i++) {
                int order =
                        x[i] == null || y[i] == null ? (x[i] == y[i] ? 0 : 1) : compare(x[i], y[i]);
                if (order != 0) {
                    return order;
                }
            }
            return x.length - y.length;
        }
        if (a instanceof IntervalValue x && b instanceof IntervalValue y) {
            return x.compareTo(y);
        }
        throw new ConditionException(
                "42804", shortened(a) + " and " + shortened(b) + " can't be compared");
    }

    private static boolean isApproximate(Object value) {
        return value instanceof Double || value instanceof Float;
    }

    private static boolean isTimestamp(Object value) {
        return value instanceof LocalDateTime
                || value instanceof OffsetDateTime
                || value instanceof LocalDate;
    }

    private static int compareTimestamps(Object a, Object b) {
        if (a instanceof OffsetDateTime x && b instanceof OffsetDateTime y) {
            return x.toInstant().compareTo(y.toInstant());
        }
        return local(a).compareTo(local(b));
    }

    private static LocalDateTime local(Object value) {
        if (value instanceof OffsetDateTime zoned) {
            return zoned.toLocalDateTime();
        }
        return value instanceof LocalDate date ? date.atStartOfDay() : (LocalDateTime) value;
    }

    private static BigDecimal decimal(Number number) {
        return number instanceof BigDecimal decimal
                ? decimal
                : BigDecimal.valueOf(number.longValue());
    }

    /** Whether two values are equal, where NULL equals NULL (ISO 9075-2, 8.15). */
    public static boolean same(Object a, Object b) {
        if (a == null || b == null) {
            return a == b;
        }
        try {
            return compare(a, b) == 0;
        } catch (ConditionException incomparable) {
            return false;
        }
    }
}
