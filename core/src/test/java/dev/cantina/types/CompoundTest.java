package dev.cantina.types;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Rows and arrays compared part by part (ISO 9075-2, 8.2 and 8.8). */
class CompoundTest {
    private static final SqlType PAIR =
            new SqlType.Row(
                    List.of(
                            new SqlType.Field("a", SqlType.INTEGER),
                            new SqlType.Field("b", SqlType.INTEGER)));
    private static final SqlType LIST = new SqlType.Array(SqlType.INTEGER, 0);

    private static Object[] parts(String text) {
        return Arrays.stream(text.split(" "))
                .map(part -> part.equals("N") ? null : Long.valueOf(part))
                .toArray();
    }

    private static String truth(int truth) {
        return truth == Logic.UNKNOWN ? "unknown" : truth == Logic.TRUE ? "true" : "false";
    }

    @ParameterizedTest(name = "({0}) {1} ({2})")
    @CsvSource({
        "1 2, =, 1 2, true",
        "1 2, =, 1 3, false",
        "1 N, =, 1 2, unknown",
        "1 N, =, 2 2, false",
        "N 1, =, N 2, false",
        "N N, =, N N, unknown",
        "1 2, <>, 1 3, true",
        "1 N, <>, 1 2, unknown",
        "N 1, <>, 5 2, true",
        "1 2, <, 1 3, true",
        "1 3, <, 1 2, false",
        "0 N, <, 1 2, true",
        "2 N, <, 1 2, false",
        "1 N, <, 1 2, unknown",
        "N 1, <, 1 2, unknown",
        "1 2, <=, 1 2, true",
        "1 N, <=, 1 2, unknown",
        "1 3, <=, 1 2, false",
        "2 N, >, 1 N, true",
        "1 2, >, 1 2, false",
        "1 2, >=, 1 2, true",
        "1 1, >=, 1 2, false",
        "1 N, >=, 1 N, unknown"
    })
    void rowsCompareFromTheLeft(String a, String sign, String b, String expected) {
        assertEquals(expected, truth(Compound.compare(parts(a), PAIR, sign, parts(b), PAIR)));
    }

    @ParameterizedTest(name = "[{0}] = [{1}]")
    @CsvSource({
        "1 2, 1 2, true",
        "1 2, 1 2 3, false",
        "1 N, 1 2, unknown",
        "1 N, 1 2 3, false",
        "1 N, 2 2, false"
    })
    void arraysAreEqualWhereEachElementIs(String a, String b, String expected) {
        assertEquals(expected, truth(Compound.compare(parts(a), LIST, "=", parts(b), LIST)));
    }

    @Test
    void aValueThatIsNullItselfMakesItUnknown() {
        assertEquals("unknown", truth(Compound.compare(null, PAIR, "=", parts("1 2"), PAIR)));
        assertEquals("unknown", truth(Compound.compare(parts("1 2"), PAIR, "<", null, PAIR)));
    }

    @Test
    void trailingBlanksOfCharDoNotCountInside() {
        SqlType fixed =
                new SqlType.Row(
                        List.of(new SqlType.Field("c", new SqlType.Text(SqlType.Shape.FIXED, 4))));
        SqlType varying = new SqlType.Row(List.of(new SqlType.Field("c", SqlType.VARCHAR)));
        Object[] padded = {"ab  "};
        Object[] bare = {"ab"};
        assertEquals("true", truth(Compound.compare(padded, fixed, "=", bare, varying)));
        assertEquals("false", truth(Compound.compare(padded, varying, "=", bare, varying)));
    }

    @Test
    void numbersCompareByValueWhateverClassTheyHave() {
        Object[] small = {1, (short) 2};
        Object[] large = {1L, new java.math.BigDecimal("2.0")};
        assertEquals("true", truth(Compound.compare(small, PAIR, "=", large, PAIR)));
    }

    @Test
    void distinctKnowsNull() {
        assertFalse(Compound.distinct(parts("1 N"), PAIR, parts("1 N"), PAIR));
        assertTrue(Compound.distinct(parts("1 N"), PAIR, parts("1 2"), PAIR));
        assertTrue(Compound.distinct(parts("1 2"), LIST, parts("1 2 3"), LIST));
        assertFalse(Compound.distinct(null, PAIR, null, PAIR));
        assertTrue(Compound.distinct(null, PAIR, parts("N N"), PAIR));
    }

    @Test
    void isNullAndIsNotNullAskEveryPart() {
        assertTrue(Compound.isNull(parts("N N")));
        assertFalse(Compound.isNull(parts("1 N")));
        assertFalse(Compound.isPresent(parts("1 N")));
        assertTrue(Compound.isPresent(parts("1 2")));
        assertTrue(Compound.isNull(null));
        assertFalse(Compound.isPresent(null));
    }
}
