package dev.cantina.syntax;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertSame;

import org.junit.jupiter.api.Test;

class RewritingTest {
    private final Source source = new Source("a.sql", "SELECT x,\n  y + z\nFROM t\n");

    private Source rewritten() {
        Source.Rewriting rewriting = new Source.Rewriting(source);
        rewriting.put(source.span(7, 8), "longer");
        rewriting.put(source.span(12, 12), "in.");
        rewriting.put(source.span(16, 17), "");
        return rewriting.source();
    }

    @Test
    void wordsArePutInThePlaceOfOthers() {
        assertEquals("SELECT longer,\n  in.y + \nFROM t\n", rewritten().text());
        assertEquals(rewritten().text(), rewritten().written());
    }

    @Test
    void placesAndLinesAreThoseOfTheOriginal() {
        Source made = rewritten();
        int y = made.text().indexOf("y +");
        assertEquals("a.sql:2:3", made.span(y, y + 1).place());
        assertEquals("  y + z", made.line(2));
        int t = made.text().indexOf("t\n");
        assertEquals("a.sql:3:6", made.span(t, t + 1).place());
        assertEquals("a.sql:1:1", made.span(0, 6).place());
        int comma = made.text().indexOf(',');
        assertEquals("a.sql:1:9", made.span(comma, comma + 1).place());
    }

    @Test
    void aPlaceInWhatWasPutIsThatOfWhatItWasPutFor() {
        Source made = rewritten();
        int inside = made.text().indexOf("nger");
        assertEquals("a.sql:1:8", made.span(inside, inside + 4).place());
    }

    @Test
    void aStretchIsShownAsItsAuthorWroteIt() {
        Source made = rewritten();
        Span whole = made.span(0, made.text().indexOf("FROM"));
        assertEquals("SELECT x,\n  y + z\n", whole.written());
        assertEquals("x", source.span(7, 8).written());
    }

    @Test
    void withoutWordsItIsTheSource() {
        assertSame(source, new Source.Rewriting(source).source());
    }
}
