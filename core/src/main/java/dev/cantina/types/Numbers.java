package dev.cantina.types;

import java.math.BigDecimal;
import java.math.BigInteger;
import java.math.MathContext;
import java.math.RoundingMode;

/**
 * Arithmetic without wrap-around (ISO 9075-2, 6.29): 22003 where a result does not fit, 22012 for a
 * division by zero.
 */
public final class Numbers {
    private static final int SIGNIFICANT_DIGITS = 16;
    private static final int LONGEST = 1000;

    private Numbers() {}

    private static ConditionException outOfRange(Object value, String type) {
        return new ConditionException(
                "22003", "the number " + value + " is out of range for " + type);
    }

    private static ConditionException byZero() {
        return new ConditionException("22012", "division by zero");
    }

    public static long add(long a, long b) {
        long sum = a + b;
        if (((a ^ sum) & (b ^ sum)) < 0) {
            throw outOfRange(BigInteger.valueOf(a).add(BigInteger.valueOf(b)), "BIGINT");
        }
        return sum;
    }

    public static long subtract(long a, long b) {
        long difference = a - b;
        if (((a ^ b) & (a ^ difference)) < 0) {
            throw outOfRange(BigInteger.valueOf(a).subtract(BigInteger.valueOf(b)), "BIGINT");
        }
        return difference;
    }

    public static long multiply(long a, long b) {
        long high = Math.multiplyHigh(a, b);
        long low = a * b;
        if (high != low >> 63) {
            throw outOfRange(BigInteger.valueOf(a).multiply(BigInteger.valueOf(b)), "BIGINT");
        }
        return low;
    }

    /** Cut towards zero. */
    public static long divide(long a, long b) {
        if (b == 0) {
            throw byZero();
        }
        return b == -1 ? negate(a) : a / b;
    }

    /** The remainder, with the sign of {@code a} (ISO 9075-2, 6.30, modulus expression). */
    public static long mod(long a, long b) {
        if (b == 0) {
            throw byZero();
        }
        return b == -1 ? 0 : a % b;
    }

    public static long negate(long a) {
        return subtract(0, a);
    }

    public static long abs(long a) {
        return a < 0 ? negate(a) : a;
    }

    public static long integer(long value) {
        if ((int) value != value) {
            throw outOfRange(value, "INTEGER");
        }
        return value;
    }

    public static long smallint(long value) {
        if ((short) value != value) {
            throw outOfRange(value, "SMALLINT");
        }
        return value;
    }

    public static BigDecimal add(BigDecimal a, BigDecimal b) {
        return a.add(b);
    }

    public static BigDecimal subtract(BigDecimal a, BigDecimal b) {
        return a.subtract(b);
    }

    public static BigDecimal multiply(BigDecimal a, BigDecimal b) {
        return a.multiply(b);
    }

    /** Exact where that is short, otherwise with at least 16 significant digits. */
    public static BigDecimal divide(BigDecimal a, BigDecimal b) {
        if (b.signum() == 0) {
            throw byZero();
        }
        int least = Math.max(Math.max(a.scale(), b.scale()), 0);
        int whole = a.precision() - a.scale() - (b.precision() - b.scale());
        int scale = Math.max(least, SIGNIFICANT_DIGITS - whole + 1);
        BigDecimal quotient = a.divide(b, Math.min(scale, LONGEST), RoundingMode.HALF_UP);
        return trimmed(quotient, least);
    }

    /** Arithmetic of DECFLOAT: to 34 digits, the nearest (ISO 9075-2, 6.29). */
    public static BigDecimal addFloat(BigDecimal a, BigDecimal b) {
        return a.add(b, MathContext.DECIMAL128);
    }

    public static BigDecimal subtractFloat(BigDecimal a, BigDecimal b) {
        return a.subtract(b, MathContext.DECIMAL128);
    }

    public static BigDecimal multiplyFloat(BigDecimal a, BigDecimal b) {
        return a.multiply(b, MathContext.DECIMAL128);
    }

    public static BigDecimal divideFloat(BigDecimal a, BigDecimal b) {
        if (b.signum() == 0) {
            throw byZero();
        }
        return a.divide(b, MathContext.DECIMAL128);
    }

    public static BigDecimal mod(BigDecimal a, BigDecimal b) {
        if (b.signum() == 0) {
            throw byZero();
        }
        return a.remainder(b);
    }

    public static BigDecimal negate(BigDecimal a) {
        return a.negate();
    }

    /** Without the zeros at the end, but not below a scale. */
    private static BigDecimal trimmed(BigDecimal value, int leastScale) {
        if (value.scale() <= leastScale) {
            return value;
        }
        BigDecimal stripped = value.stripTrailingZeros();
        return stripped.scale() < leastScale ? stripped.setScale(leastScale) : stripped;
    }

    public static double add(double a, double b) {
        return finite(a + b);
    }

    public static double subtract(double a, double b) {
        return finite(a - b);
    }

    public static double multiply(double a, double b) {
        return finite(a * b);
    }

    public static double divide(double a, double b) {
        if (b == 0) {
            throw byZero();
        }
        return finite(a / b);
    }

    public static double mod(double a, double b) {
        if (b == 0) {
            throw byZero();
        }
        return a % b;
    }

    /** The value, or 22003 where a computation has left the numbers. */
    public static double finite(double value) {
        if (Double.isInfinite(value) || Double.isNaN(value)) {
            throw outOfRange(value, "DOUBLE PRECISION");
        }
        return value;
    }

    public static double real(double value) {
        float single = (float) value;
        if (Float.isInfinite(single)) {
            throw outOfRange(value, "REAL");
        }
        return single;
    }

    /** Rounded to a scale, half away from zero, and 22003 where the whole part is too long. */
    public static BigDecimal decimal(BigDecimal value, int precision, int scale) {
        if (precision == 0) {
            return value;
        }
        BigDecimal rounded =
                value.scale() == scale ? value : value.setScale(scale, RoundingMode.HALF_UP);
        if (rounded.precision() > precision && rounded.signum() != 0) {
            throw outOfRange(value.toPlainString(), new SqlType.Exact(precision, scale).sql());
        }
        return rounded;
    }

    public static BigDecimal decFloat(BigDecimal value, int precision) {
        return value.round(new MathContext(precision, RoundingMode.HALF_UP));
    }

    /** A decimal as a whole number, rounded half away from zero. */
    public static long whole(BigDecimal value) {
        BigDecimal rounded = value.setScale(0, RoundingMode.HALF_UP);
        if (rounded.precision() > 19) {
            throw outOfRange(value.toPlainString(), "BIGINT");
        }
        try {
            return rounded.longValueExact();
        } catch (ArithmeticException e) {
            throw outOfRange(value.toPlainString(), "BIGINT");
        }
    }

    public static long whole(double value) {
        return whole(decimal(finite(value)));
    }

    public static BigDecimal decimal(double value) {
        return BigDecimal.valueOf(finite(value));
    }
}
