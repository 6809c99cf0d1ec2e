package dev.cantina.types;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.math.BigDecimal;
import java.math.BigInteger;
import java.math.MathContext;
import java.util.function.LongBinaryOperator;
import net.jqwik.api.Assume;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.BigRange;
import net.jqwik.api.constraints.Scale;

/** Whole numbers are exact or 22003; quotients of decimals keep sixteen digits. */
class NumbersProperties {
    private static void same(BigInteger expected, LongBinaryOperator operator, long a, long b) {
        boolean fits = expected.bitLength() < 64;
        try {
            assertEquals(expected, BigInteger.valueOf(operator.applyAsLong(a, b)));
            assertTrue(fits);
        } catch (ConditionException e) {
            assertEquals("22003", e.condition().sqlstate());
            assertTrue(!fits);
        }
    }

    @Property
    void sumsAreExactOrRefused(@ForAll long a, @ForAll long b) {
        same(BigInteger.valueOf(a).add(BigInteger.valueOf(b)), Numbers::add, a, b);
    }

    @Property
    void differencesAreExactOrRefused(@ForAll long a, @ForAll long b) {
        same(BigInteger.valueOf(a).subtract(BigInteger.valueOf(b)), Numbers::subtract, a, b);
    }

    @Property
    void productsAreExactOrRefused(@ForAll long a, @ForAll long b) {
        same(BigInteger.valueOf(a).multiply(BigInteger.valueOf(b)), Numbers::multiply, a, b);
    }

    @Property
    void quotientAndRemainderMakeTheNumberAgain(@ForAll long a, @ForAll long b) {
        Assume.that(b != 0 && !(a == Long.MIN_VALUE && b == -1));
        long quotient = Numbers.divide(a, b);
        assertEquals(a, quotient * b + Numbers.mod(a, b));
    }

    @Property
    void quotientsOfDecimalsKeepSixteenDigits(
            @ForAll @BigRange(min = "-999999999", max = "999999999") @Scale(4) BigDecimal a,
            @ForAll @BigRange(min = "-999999999", max = "999999999") @Scale(4) BigDecimal b) {
        Assume.that(a.signum() != 0 && b.signum() != 0);
        BigDecimal quotient = Numbers.divide(a, b);
        BigDecimal exact = a.divide(b, new MathContext(40));
        BigDecimal error = quotient.subtract(exact).abs();
        assertTrue(error.compareTo(exact.abs().movePointLeft(15)) <= 0, quotient + " for " + exact);
    }
}
