package dev.cantina.laboratory;

import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.util.ArrayList;
import java.util.List;

/**
 * A small mistake: a stretch of a routine said in other words.
 *
 * @param span what is replaced
 * @param text what stands in its place
 */
public record Mutation(Kind kind, Span span, String text) {
    /** What kind of mistake it is. */
    public enum Kind {
        BOUND("a bound moved"),
        COMPARISON("a comparison turned"),
        CONSTANT("a constant changed"),
        OPERATOR("an operator exchanged"),
        ORDER("an order turned"),
        ROW_COUNT("a row-count test removed"),
        NULL_TEST("a NULL test removed"),
        HANDLER("a handler removed"),
        HANDLER_ACTION("a handler that ends otherwise"),
        TERM("a term of a condition removed"),
        STATEMENT("a statement removed"),
        ASSIGNMENT("an assignment left out"),
        BRANCHES("branches swapped"),
        TRANSACTION("COMMIT and ROLLBACK exchanged");

        private final String words;

        Kind(String words) {
            this.words = words;
        }

        /** For a person. */
        public String words() {
            return words;
        }
    }

    /** What does nothing, in the place of a statement. */
    static final String NOTHING = "BEGIN END";

    /** The file with the mistake in it. */
    public Source planted() {
        String all = span.source().written();
        return new Source(
                span.source().name(),
                all.substring(0, span.start()) + text + all.substring(span.end()));
    }

    public int line() {
        return span.line();
    }

    /** The lines as they are. */
    public List<String> before() {
        return lines(span.source(), span.line(), span.endLine());
    }

    /** The same lines with the mistake; none where nothing is left of them. */
    public List<String> after() {
        Source planted = planted();
        int last = planted.lineOf(span.start() + Math.max(0, text.length() - 1));
        List<String> lines = lines(planted, span.line(), last);
        if (text.equals(NOTHING) || text.isEmpty()) {
            String left = lines.get(0).replaceFirst("BEGIN END", "").strip();
            if (lines.size() == 1 && (left.isEmpty() || left.equals(";"))) {
                return List.of();
            }
        }
        return lines;
    }

    private static List<String> lines(Source source, int first, int last) {
        List<String> lines = new ArrayList<>();
        for (int i = first; i <= last; i++) {
            lines.add(source.line(i));
        }
        return lines;
    }
}
