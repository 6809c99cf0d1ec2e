package dev.cantina.translate;

import dev.cantina.syntax.SqlWords;
import java.util.BitSet;

/** Moves a text's lines, all but those that begin inside a literal, whose blanks are its own. */
public final class Layout {
    private Layout() {}

    /** The lines, counted from 0, that begin inside a literal or a quoted name. */
    static BitSet insideLiterals(String text) {
        BitSet inside = new BitSet();
        if (text.indexOf('\n') < 0) {
            return inside;
        }
        int line = 0;
        int at = 0;
        for (SqlWords.Word word : SqlWords.of(text).all()) {
            line += lines(text, at, word.start());
            at = word.start();
            if (word.kind() == SqlWords.Kind.LITERAL || word.kind() == SqlWords.Kind.NAME) {
                inside.set(line + 1, line + 1 + lines(text, at, word.end()));
            }
        }
        return inside;
    }

    private static int lines(String text, int from, int to) {
        return (int) text.substring(from, to).chars().filter(c -> c == '\n').count();
    }

    /** The text with its lines after the first, but for empty ones, so much further in. */
    public static String shifted(String text, String indent) {
        BitSet inside = insideLiterals(text);
        String[] lines = text.split("\n", -1);
        StringBuilder shifted = new StringBuilder(lines[0]);
        for (int i = 1; i < lines.length; i++) {
            boolean stays = inside.get(i) || lines[i].isEmpty() && i < lines.length - 1;
            shifted.append('\n').append(stays ? "" : indent).append(lines[i]);
        }
        return shifted.toString();
    }
}
