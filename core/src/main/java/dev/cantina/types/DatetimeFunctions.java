package dev.cantina.types;

import java.math.BigDecimal;
import java.math.BigInteger;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.time.OffsetTime;
import java.time.Period;
import java.time.temporal.ChronoUnit;
import java.time.temporal.Temporal;

/** Arithmetic of dates and times (ISO 9075-2, 6.35): 22008 where a result is no date. */
public final class DatetimeFunctions {
    private static final BigInteger BILLION = BigInteger.valueOf(1_000_000_000);

    private DatetimeFunctions() {}

    /** A moment so much later; a month's end stays within the month. */
    public static Object plus(Object moment, IntervalValue interval) {
        try {
            if (interval.isYearMonth()) {
                return ((Temporal) moment)
                        .plus(Period.ofMonths(Math.toIntExact(interval.months())));
            }
            BigInteger[] parts = interval.nanos().divideAndRemainder(BILLION);
            if (moment instanceof LocalDate date) {
                return date.plusDays(interval.field("DAY").longValueExact());
            }
            return ((Temporal) moment)
                    .plus(Duration.ofSeconds(parts[0].longValueExact(), parts[1].longValueExact()));
        } catch (DateTimeException | ArithmeticException e) {
            throw new ConditionException(
                    "22008",
                    Values.literal(moment) + " and " + Values.literal(interval) + " give no date");
        }
    }

    /**
     * Whether two periods share a moment (ISO 9075-2, 8.14); a period's second value is its end, or
     * an interval after its start.
     *
     * @return null for unknown
     */
    public static Boolean overlaps(Object start1, Object end1, Object start2, Object end2) {
        Object[] a = period(start1, end1);
        Object[] b = period(start2, end2);
        int later =
                Logic.and(
                        greater(a[0], b[0]),
                        Logic.not(Logic.and(notLess(a[0], b[1]), notLess(a[1], b[1]))));
        int earlier =
                Logic.and(
                        greater(b[0], a[0]),
                        Logic.not(Logic.and(notLess(b[0], a[1]), notLess(b[1], a[1]))));
        boolean ends = a[1] != null && b[1] != null;
        int together = Logic.and(same(a[0], b[0]), ends ? Logic.TRUE : Logic.UNKNOWN);
        return Logic.value(Logic.or(Logic.or(later, earlier), together));
    }

    /** Start and end, the earlier first; what is not known is the end. */
    private static Object[] period(Object start, Object end) {
        Object until =
                end instanceof IntervalValue interval
                        ? start == null ? null : plus(start, interval)
                        : end;
        boolean turned = start == null || until != null && Values.compare(until, start) < 0;
        return turned ? new Object[] {until, start} : new Object[] {start, until};
    }

    private static int greater(Object a, Object b) {
        return a == null || b == null ? Logic.UNKNOWN : Logic.of(Values.compare(a, b) > 0);
    }

    private static int notLess(Object a, Object b) {
        return a == null || b == null ? Logic.UNKNOWN : Logic.of(Values.compare(a, b) >= 0);
    }

    private static int same(Object a, Object b) {
        return a == null || b == null ? Logic.UNKNOWN : Logic.of(Values.compare(a, b) == 0);
    }

    /** {@code (later - earlier) fields}. */
    public static IntervalValue between(Object later, Object earlier, String fields) {
        if (IntervalValue.isYearMonth(fields)) {
            long months = ChronoUnit.MONTHS.between(date(earlier), date(later));
            return new IntervalValue("YEAR TO MONTH", months, BigInteger.ZERO).in(fields);
        }
        Duration duration =
                later instanceof LocalTime || later instanceof OffsetTime
                        ? Duration.between((Temporal) earlier, (Temporal) later)
                        : Duration.between(local(earlier), local(later));
        BigInteger nanos =
                BigInteger.valueOf(duration.getSeconds())
                        .multiply(BILLION)
                        .add(BigInteger.valueOf(duration.getNano()));
        return new IntervalValue("DAY TO SECOND", 0, nanos).in(fields);
    }

    private static LocalDate date(Object moment) {
        return local(moment).toLocalDate();
    }

    private static LocalDateTime local(Object moment) {
        if (moment instanceof OffsetDateTime zoned) {
            return zoned.withOffsetSameInstant(java.time.ZoneOffset.UTC).toLocalDateTime();
        }
        return moment instanceof LocalDate date ? date.atStartOfDay() : (LocalDateTime) moment;
    }

    static IntervalValue times(IntervalValue interval, Object factor) {
        return interval.times((BigDecimal) Conversion.cast(factor, SqlType.DECIMAL));
    }

    static IntervalValue divided(IntervalValue interval, Object divisor) {
        BigDecimal by = (BigDecimal) Conversion.cast(divisor, SqlType.DECIMAL);
        if (by.signum() == 0) {
            throw new ConditionException("22012", "division by zero");
        }
        return new IntervalValue(
                interval.fields(),
                Numbers.whole(
                        Numbers.divide(BigDecimal.valueOf(interval.months()), by)
                                .setScale(0, java.math.RoundingMode.DOWN)),
                new BigDecimal(interval.nanos())
                        .divide(by, 0, java.math.RoundingMode.DOWN)
                        .toBigInteger());
    }
}
