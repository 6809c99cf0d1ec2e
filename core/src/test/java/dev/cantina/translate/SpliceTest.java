package dev.cantina.translate;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import org.junit.jupiter.api.Test;

class SpliceTest {
    private static final Source SOURCE = new Source("sum.sql", "SET x = a / b / c; SET y = 1");

    private final Splice splice = new Splice(whole());

    private static Span whole() {
        return SOURCE.span(0, SOURCE.text().length());
    }

    private static Span of(String words) {
        int start = SOURCE.text().indexOf(words);
        return SOURCE.span(start, start + words.length());
    }

    @Test
    void whatIsNotTouchedStaysAsItWasWritten() {
        assertEquals(SOURCE.text(), splice.text());
    }

    @Test
    void aStretchIsSaidInOtherWords() {
        splice.put(of("b"), "two");
        splice.put(of("1"), "one");
        assertEquals("SET x = a / two / c; SET y = one", splice.text());
    }

    @Test
    void ofTwoChangesOfOneStretchTheFirstCounts() {
        splice.put(of("a / b"), "p");
        splice.put(of("a / b"), "q");
        assertEquals("SET x = p / c; SET y = 1", splice.text());
    }

    @Test
    void theLongerOfTwoStretchesCounts() {
        splice.put(of("a"), "short");
        splice.put(of("a / b"), "long");
        assertEquals("SET x = long / c; SET y = 1", splice.text());
    }

    @Test
    void wordsAroundALongerStretchStayOutside() {
        splice.around(of("a / b"), "(", ")");
        splice.around(of("a / b / c"), "[", "]");
        splice.around(of("b"), "<", ">");
        assertEquals("SET x = [(a / <b>) / c]; SET y = 1", splice.text());
    }

    @Test
    void wordsAroundOneStretchNestInTheOrderOfComing() {
        splice.around(of("SET y = 1"), "BEGIN ", " END");
        splice.around(of("SET y = 1"), "count; ", "; told");
        assertEquals("SET x = a / b / c; BEGIN count; SET y = 1; told END", splice.text());
    }

    @Test
    void wordsStandAroundAStretchThatIsSaidInOtherWords() {
        splice.around(of("a / b"), "(", ")");
        splice.put(of("a / b"), "half");
        assertEquals("SET x = (half) / c; SET y = 1", splice.text());
    }

    @Test
    void wordsBehindComeBeforeWhatBeginsThere() {
        Source tight = new Source("tight.sql", "ab");
        Splice both = new Splice(tight.span(0, 2));
        both.around(tight.span(1, 2), "<", ">");
        both.around(tight.span(0, 1), "[", "]");
        assertEquals("[a]<b>", both.text());
    }

    @Test
    void aStretchOfAnotherTextIsLetBe() {
        Source other = new Source("other.sql", "SET x = a / b / c; SET y = 1");
        splice.put(other.span(0, 3), "LET");
        assertEquals(SOURCE.text(), splice.text());
        assertFalse(splice.holds(other.span(0, 3)));
        assertTrue(splice.holds(of("c")));
    }
}
