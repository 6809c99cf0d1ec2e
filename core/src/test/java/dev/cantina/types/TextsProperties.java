package dev.cantina.types;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.util.Arrays;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.IntRange;
import net.jqwik.api.constraints.StringLength;

/** Texts are counted, cut and compared by code point. */
class TextsProperties {
    @Property
    void comparisonIsByCodePoint(
            @ForAll @StringLength(max = 8) String a, @ForAll @StringLength(max = 8) String b) {
        int expected = Arrays.compare(a.codePoints().toArray(), b.codePoints().toArray());
        boolean paired = isPaired(a) && isPaired(b);
        if (paired) {
            assertEquals(Integer.signum(expected), Integer.signum(Texts.compare(a, b)));
        }
    }

    private static boolean isPaired(String text) {
        return text.codePoints().noneMatch(c -> c >= 0xD800 && c <= 0xDFFF);
    }

    @Property
    void aSubstringIsTheOverlapOfTwoStretches(
            @ForAll @StringLength(max = 10) String text,
            @ForAll @IntRange(min = -5, max = 15) int start,
            @ForAll @IntRange(max = 15) int count) {
        int[] points = text.codePoints().toArray();
        StringBuilder expected = new StringBuilder();
        for (int i = start; i < start + count; i++) {
            if (i >= 1 && i <= points.length) {
                expected.appendCodePoint(points[i - 1]);
            }
        }
        assertEquals(expected.toString(), Texts.substring(text, start, count));
    }

    @Property
    void everythingIsLikeItselfWithWildcardsEscaped(@ForAll @StringLength(max = 10) String text) {
        String pattern = text.replace("!", "!!").replace("%", "!%").replace("_", "!_");
        assertEquals(true, Texts.like(text, pattern, "!"));
        assertEquals(true, Texts.like(text, "%" + pattern + "%", "!"));
    }
}
