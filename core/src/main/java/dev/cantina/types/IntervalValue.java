package dev.cantina.types;

import java.math.BigDecimal;
import java.math.BigInteger;
import java.math.RoundingMode;
import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A value of an interval type (ISO 9075-2, 4.6.3): months, or nanoseconds; the other one is 0.
 *
 * @param fields the qualifier, such as {@code DAY} or {@code YEAR TO MONTH}
 */
public record IntervalValue(String fields, long months, BigInteger nanos)
        implements Comparable<IntervalValue> {
    private static final BigInteger SECOND = BigInteger.valueOf(1_000_000_000);
    private static final BigInteger MINUTE = SECOND.multiply(BigInteger.valueOf(60));
    private static final BigInteger HOUR = MINUTE.multiply(BigInteger.valueOf(60));
    private static final BigInteger DAY = HOUR.multiply(BigInteger.valueOf(24));
    private static final Pattern YEAR_MONTH = Pattern.compile("([+-]?)(\\d+)-(\\d{1,2})");
    private static final Pattern DAY_TIME =
            Pattern.compile(
                    "([+-]?)(?:(\\d+) )?(\\d+)(?::(\\d{1,2}))?(?::(\\d{1,2}))?(?:\\.(\\d{1,9}))?");

    /**
     * What a server may hold and the standard has not: months beside days, of which neither is a
     * number of the other.
     */
    public static final String MIXED = "YEAR TO SECOND";

    public boolean isMixed() {
        return fields.equals(MIXED);
    }

    /** Whether a qualifier counts in years or months. */
    public static boolean isYearMonth(String fields) {
        return fields.startsWith("YEAR") || fields.startsWith("MONTH");
    }

    public boolean isYearMonth() {
        return isYearMonth(fields);
    }

    /** A number of one field, such as days. */
    public static IntervalValue of(BigDecimal count, String fields) {
        String field = first(fields);
        if (isYearMonth(fields)) {
            long whole = Numbers.whole(count);
            return new IntervalValue(
                    fields,
                    field.equals("YEAR") ? Numbers.multiply(whole, 12) : whole,
                    BigInteger.ZERO);
        }
        BigDecimal nanos = count.multiply(new BigDecimal(unit(field)));
        return new IntervalValue(fields, 0, nanos.setScale(0, RoundingMode.HALF_UP).toBigInteger());
    }

    private static String first(String fields) {
        return fields.contains(" ") ? fields.substring(0, fields.indexOf(' ')) : fields;
    }

    private static String last(String fields) {
        return fields.substring(fields.lastIndexOf(' ') + 1);
    }

    private static BigInteger unit(String field) {
        return switch (field) {
            case "DAY" -> DAY;
            case "HOUR" -> HOUR;
            case "MINUTE" -> MINUTE;
            default -> SECOND;
        };
    }

    /**
     * The value of a text, such as {@code 1-6} YEAR TO MONTH or {@code 2 12:30} DAY TO MINUTE.
     *
     * @throws ConditionException 22007 where it is none
     */
    public static IntervalValue parse(String text, String fields) {
        String plain = text.strip();
        try {
            if (!fields.contains(" ")) {
                return of(new BigDecimal(plain), fields);
            }
            Matcher months = YEAR_MONTH.matcher(plain);
            if (isYearMonth(fields) && months.matches()) {
                long count = Long.parseLong(months.group(2)) * 12 + Long.parseLong(months.group(3));
                return new IntervalValue(
                        fields, months.group(1).equals("-") ? -count : count, BigInteger.ZERO);
            }
            Matcher matcher = DAY_TIME.matcher(plain);
            if (!isYearMonth(fields) && matcher.matches()) {
                return dayTime(matcher, fields);
            }
        } catch (NumberFormatException e) {
            throw wrong(text, fields);
        }
        throw wrong(text, fields);
    }

    private static ConditionException wrong(String text, String fields) {
        return new ConditionException(
                "22007", "'" + text + "' is not an interval of " + fields.toLowerCase(Locale.ROOT));
    }

    private static IntervalValue dayTime(Matcher matcher, String fields) {
        String field = first(fields);
        BigInteger nanos = BigInteger.ZERO;
        if (field.equals("DAY")) {
            if (matcher.group(2) == null) {
                throw wrong(matcher.group(), fields);
            }
            nanos = DAY.multiply(new BigInteger(matcher.group(2)));
            field = "HOUR";
        }
        for (int group = 3; group <= 5 && matcher.group(group) != null; group++) {
            nanos = nanos.add(unit(field).multiply(new BigInteger(matcher.group(group))));
            field = field.equals("HOUR") ? "MINUTE" : "SECOND";
        }
        if (matcher.group(6) != null) {
            nanos = nanos.add(new BigInteger((matcher.group(6) + "00000000").substring(0, 9)));
        }
        return new IntervalValue(fields, 0, matcher.group(1).equals("-") ? nanos.negate() : nanos);
    }

    /** The same length, counted in other fields; what is smaller than the last one is cut. */
    public IntervalValue in(String other) {
        if (isMixed()) {
            throw new ConditionException(
                    "22015",
                    "the interval "
                            + this
                            + " has months and days, and an interval of the standard has one of them");
        }
        if (isYearMonth() != isYearMonth(other)) {
            throw new ConditionException(
                    "22018", "an interval of months can't become one of days, nor the other way");
        }
        if (isYearMonth()) {
            long cut = last(other).equals("YEAR") ? months / 12 * 12 : months;
            return new IntervalValue(other, cut, BigInteger.ZERO);
        }
        BigInteger unit = last(other).equals("SECOND") ? BigInteger.ONE : unit(last(other));
        return new IntervalValue(other, 0, nanos.divide(unit).multiply(unit));
    }

    public IntervalValue plus(IntervalValue other) {
        return new IntervalValue(
                wider(fields, other.fields),
                Numbers.add(months, other.months),
                nanos.add(other.nanos));
    }

    public IntervalValue negated() {
        return new IntervalValue(fields, Numbers.negate(months), nanos.negate());
    }

    public IntervalValue times(BigDecimal factor) {
        BigDecimal m = BigDecimal.valueOf(months).multiply(factor);
        BigDecimal n = new BigDecimal(nanos).multiply(factor);
        return new IntervalValue(
                fields, Numbers.whole(m), n.setScale(0, RoundingMode.HALF_UP).toBigInteger());
    }

    /** The qualifier that holds the fields of both. */
    public static String wider(String a, String b) {
        if (a.equals(b)) {
            return a;
        }
        if (a.equals(MIXED) || b.equals(MIXED)) {
            return MIXED;
        }
        return isYearMonth(a) ? "YEAR TO MONTH" : "DAY TO SECOND";
    }

    /** The interval as a number of its only field. */
    public BigDecimal count() {
        if (isYearMonth()) {
            return BigDecimal.valueOf(first(fields).equals("YEAR") ? months / 12 : months);
        }
        return new BigDecimal(nanos)
                .divide(new BigDecimal(unit(first(fields))), 9, RoundingMode.DOWN);
    }

    /** A field of it, as EXTRACT gives it. */
    public BigDecimal field(String name) {
        BigInteger[] rest = {nanos};
        return switch (name) {
            case "YEAR" -> BigDecimal.valueOf(months / 12);
            case "MONTH" -> BigDecimal.valueOf(months % 12);
            case "DAY" -> new BigDecimal(nanos.divide(DAY));
            case "HOUR" -> new BigDecimal(rest[0].remainder(DAY).divide(HOUR));
            case "MINUTE" -> new BigDecimal(rest[0].remainder(HOUR).divide(MINUTE));
            default -> new BigDecimal(rest[0].remainder(MINUTE), 9);
        };
    }

    @Override
    public int compareTo(IntervalValue other) {
        if (isMixed() || other.isMixed() || isYearMonth() != other.isYearMonth()) {
            throw new ConditionException(
                    "42804", "intervals of months and of days can't be compared");
        }
        return isYearMonth() ? Long.compare(months, other.months) : nanos.compareTo(other.nanos);
    }

    /** As it stands between the quotes of a literal. */
    @Override
    public String toString() {
        if (isMixed()) {
            return new IntervalValue("YEAR TO MONTH", months, BigInteger.ZERO)
                    + " "
                    + new IntervalValue("DAY TO SECOND", 0, nanos);
        }
        boolean minus = months < 0 || nanos.signum() < 0;
        String sign = minus ? "-" : "";
        if (isYearMonth()) {
            long count = Math.abs(months);
            return sign
                    + switch (fields) {
                        case "YEAR" -> String.valueOf(count / 12);
                        case "MONTH" -> String.valueOf(count);
                        default -> count / 12 + "-" + count % 12;
                    };
        }
        BigInteger rest = nanos.abs();
        if (!fields.contains(" ")) {
            BigDecimal count =
                    new BigDecimal(rest).divide(new BigDecimal(unit(fields)), 9, RoundingMode.DOWN);
            return sign + (count.signum() == 0 ? "0" : count.stripTrailingZeros().toPlainString());
        }
        String[] names = {"DAY", "HOUR", "MINUTE", "SECOND"};
        StringBuilder text = new StringBuilder(sign);
        boolean inside = false;
        for (String name : names) {
            boolean starts = name.equals(first(fields));
            inside |= starts;
            if (inside) {
                BigInteger[] parts = rest.divideAndRemainder(unit(name));
                rest = parts[1];
                String glue = starts ? "" : name.equals("HOUR") ? " " : ":";
                text.append(glue)
                        .append(
                                starts
                                        ? parts[0].toString()
                                        : String.format(Locale.ROOT, "%02d", parts[0]));
            }
            if (name.equals(last(fields))) {
                break;
            }
        }
        if (last(fields).equals("SECOND") && rest.signum() > 0) {
            text.append(new BigDecimal(rest, 9).stripTrailingZeros().toPlainString().substring(1));
        }
        return text.toString();
    }
}
