package dev.cantina.database.postgresql;

import dev.cantina.types.IntervalValue;
import java.math.BigInteger;
import org.postgresql.util.PGInterval;

/** Intervals as PostgreSQL has them: months, days and a time, each for itself. */
public final class PostgresIntervals {
    private static final BigInteger SECOND = BigInteger.valueOf(1_000_000_000);
    private static final BigInteger DAY = SECOND.multiply(BigInteger.valueOf(86_400));

    private PostgresIntervals() {}

    /** With its units: a number alone would be seconds, whatever fields it is cast to. */
    public static String sent(IntervalValue interval) {
        if (interval.isMixed()) {
            IntervalValue months =
                    new IntervalValue("YEAR TO MONTH", interval.months(), BigInteger.ZERO);
            IntervalValue rest = new IntervalValue("DAY TO SECOND", 0, interval.nanos());
            return sent(months) + " " + sent(rest);
        }
        if (interval.isYearMonth()) {
            return interval.months() + " months";
        }
        BigInteger[] days = interval.nanos().divideAndRemainder(DAY);
        BigInteger[] seconds = days[1].divideAndRemainder(SECOND);
        long micros = seconds[1].longValueExact() / 1000;
        return days[0] + " days " + seconds[0] + " seconds " + micros + " microseconds";
    }

    public static IntervalValue held(PGInterval interval) {
        long months = interval.getYears() * 12L + interval.getMonths();
        long seconds =
                interval.getHours() * 3600L
                        + interval.getMinutes() * 60L
                        + interval.getWholeSeconds();
        BigInteger nanos =
                DAY.multiply(BigInteger.valueOf(interval.getDays()))
                        .add(SECOND.multiply(BigInteger.valueOf(seconds)))
                        .add(BigInteger.valueOf(interval.getMicroSeconds() * 1000L));
        if (months != 0 && nanos.signum() != 0) {
            // The server's own kind, which the standard has not: neither part may be lost.
            return new IntervalValue(IntervalValue.MIXED, months, nanos);
        }
        return months != 0
                ? new IntervalValue("YEAR TO MONTH", months, BigInteger.ZERO)
                : new IntervalValue("DAY TO SECOND", 0, nanos);
    }
}
