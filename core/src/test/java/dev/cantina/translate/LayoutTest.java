package dev.cantina.translate;

import static org.junit.jupiter.api.Assertions.assertEquals;

import dev.cantina.syntax.Source;
import java.util.BitSet;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class LayoutTest {
    private static String lines(String text) {
        return text.replace("/n", "\n");
    }

    @ParameterizedTest
    @CsvSource(
            quoteCharacter = '|',
            value = {
                "a/nb, a/n__b",
                "a/n/nb, a/n/n__b",
                "a/n, a/n__",
                "'a/nb', 'a/nb'",
                "x = 'a/nb'/ny, x = 'a/nb'/n__y",
                "'it''s/na'/nb, 'it''s/na'/n__b",
                "\"a/nb\"/nc, \"a/nb\"/n__c",
                "`a/nb`/nc, `a/nb`/n__c",
                "a -- don't/nb, a -- don't/n__b",
                "a /* don't/nb */ 'c/nd', a /* don't/n__b */ 'c/nd'",
                "'-- a/nb'/nc, '-- a/nb'/n__c",
                "'/* a/nb'/nc, '/* a/nb'/n__c",
                "'' || 'a/nb'/nc, '' || 'a/nb'/n__c",
                "/* a/nb, /* a/n__b",
            })
    void shiftsAllLinesButThoseOfLiterals(String text, String shifted) {
        assertEquals(lines(shifted), Layout.shifted(lines(text), "__"));
    }

    @Test
    void countsTheLinesThatBeginInsideLiterals() {
        BitSet inside = new BitSet();
        inside.set(2, 4);
        assertEquals(inside, Layout.insideLiterals("a\nb 'c\nd\ne' f\ng -- h'\ni"));
        assertEquals(new BitSet(), Layout.insideLiterals("'a'"));
        assertEquals(new BitSet(), Layout.insideLiterals(""));
    }

    @Test
    void linesKeepLiteralsWithTheirBlanks() {
        Lines out = new Lines(new Source("x.sql", ""), 0, 0).in();
        out.add("SET a = 'b  \n  c\n\n d';   \nSET e = 1;");
        assertEquals("  SET a = 'b  \n  c\n\n d';\n  SET e = 1;\n", out.toString());
    }

    @Test
    void aTextThatIsMovedKeepsThemToo() {
        String text = "    SET a = 'b\n      c'\n      || d;";
        Lines out = new Lines(new Source("x.sql", text), 0, 0);
        assertEquals("SET a = 'b\n      c'\n  || d;", out.moved(4, text.substring(4)));
    }
}
