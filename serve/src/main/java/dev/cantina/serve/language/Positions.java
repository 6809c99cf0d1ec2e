package dev.cantina.serve.language;

import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import org.eclipse.lsp4j.Position;
import org.eclipse.lsp4j.Range;

/** Places in a text as the protocol counts them: lines and UTF-16 units from 0. */
final class Positions {
    private Positions() {}

    static Position of(Source source, int offset) {
        int line = source.lineOf(offset);
        return new Position(line - 1, source.columnOf(offset) - 1);
    }

    static Range of(Span span) {
        return new Range(of(span.source(), span.start()), of(span.source(), span.end()));
    }

    /** An offset in a text; of a place that is not there the nearest. */
    static int offset(String text, Position position) {
        int line = 0;
        int start = 0;
        while (line < position.getLine()) {
            int end = text.indexOf('\n', start);
            if (end < 0) {
                return text.length();
            }
            start = end + 1;
            line++;
        }
        int end = text.indexOf('\n', start);
        int most = end < 0 ? text.length() : end;
        return Math.min(most, start + Math.max(0, position.getCharacter()));
    }
}
