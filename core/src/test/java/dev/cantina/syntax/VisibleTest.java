package dev.cantina.syntax;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertSame;

import org.junit.jupiter.api.Test;

class VisibleTest {
    @Test
    void whatWouldSteerATerminalIsShown() {
        assertEquals("a␛[2Jb", Visible.lines("a\u001b[2Jb"));
        assertEquals("␀␍␇␈␡", Visible.lines("\0\r\u0007\b\u007f"));
        assertEquals("\\u009b31m", Visible.lines("\u009b31m"));
        assertEquals("x\\u202ey\\u2066z", Visible.lines("x\u202ey\u2066z"));
    }

    @Test
    void linesStayLinesWhereTheyMay() {
        assertEquals("a\n\tb", Visible.lines("a\n\tb"));
        assertEquals("a␊\tb", Visible.line("a\n\tb"));
    }

    @Test
    void whatIsPlainStaysAsItIs() {
        String text = "Grüße, 🍷 日本";
        assertSame(text, Visible.lines(text));
    }
}
