package dev.cantina.syntax;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import org.junit.jupiter.api.Test;

class TextEditsTest {
    private static final Source SOURCE = new Source("sum.sql", "SET x = a / b / c; SET y = 1");

    private final TextEdits edits = new TextEdits(whole());

    private static Span whole() {
        return SOURCE.span(0, SOURCE.text().length());
    }

    private static Span of(String words) {
        int start = SOURCE.text().indexOf(words);
        return SOURCE.span(start, start + words.length());
    }

    @Test
    void whatIsNotTouchedStaysAsItWasWritten() {
        assertEquals(SOURCE.text(), edits.text());
    }

    @Test
    void aStretchIsSaidInOtherWords() {
        edits.put(of("b"), "two");
        edits.put(of("1"), "one");
        assertEquals("SET x = a / two / c; SET y = one", edits.text());
    }

    @Test
    void ofTwoChangesOfOneStretchTheFirstCounts() {
        edits.put(of("a / b"), "p");
        edits.put(of("a / b"), "q");
        assertEquals("SET x = p / c; SET y = 1", edits.text());
    }

    @Test
    void theLongerOfTwoStretchesCounts() {
        edits.put(of("a"), "short");
        edits.put(of("a / b"), "long");
        assertEquals("SET x = long / c; SET y = 1", edits.text());
    }

    @Test
    void wordsAroundAPartGoWithItWhereTheWholeIsSaidOtherwise() {
        edits.around(of("a"), "<", ">");
        edits.around(of("b"), "<", ">");
        edits.put(of("a / b"), "p");
        edits.around(of("a / b"), "(", ")");
        assertEquals("SET x = (p) / c; SET y = 1", edits.text());
    }

    @Test
    void wordsAroundALongerStretchStayOutside() {
        edits.around(of("a / b"), "(", ")");
        edits.around(of("a / b / c"), "[", "]");
        edits.around(of("b"), "<", ">");
        assertEquals("SET x = [(a / <b>) / c]; SET y = 1", edits.text());
    }

    @Test
    void wordsAroundOneStretchNestInTheOrderOfComing() {
        edits.around(of("SET y = 1"), "BEGIN ", " END");
        edits.around(of("SET y = 1"), "count; ", "; told");
        assertEquals("SET x = a / b / c; BEGIN count; SET y = 1; told END", edits.text());
    }

    @Test
    void wordsStandAroundAStretchThatIsSaidInOtherWords() {
        edits.around(of("a / b"), "(", ")");
        edits.put(of("a / b"), "half");
        assertEquals("SET x = (half) / c; SET y = 1", edits.text());
    }

    @Test
    void wordsBehindComeBeforeWhatBeginsThere() {
        Source tight = new Source("tight.sql", "ab");
        TextEdits both = new TextEdits(tight.span(0, 2));
        both.around(tight.span(1, 2), "<", ">");
        both.around(tight.span(0, 1), "[", "]");
        assertEquals("[a]<b>", both.text());
    }

    @Test
    void aStretchOfAnotherTextIsLetBe() {
        Source other = new Source("other.sql", "SET x = a / b / c; SET y = 1");
        edits.put(other.span(0, 3), "LET");
        assertEquals(SOURCE.text(), edits.text());
        assertFalse(edits.holds(other.span(0, 3)));
        assertTrue(edits.holds(of("c")));
    }
}
