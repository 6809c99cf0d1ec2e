package dev.cantina.syntax;

import java.util.List;
import java.util.Optional;

/** Where the changes of a text go that hints speak of. */
public final class EditPlaces {
    private EditPlaces() {}

    /**
     * The first place in a stretch at which these words follow each other; comments don't count.
     */
    public static Optional<Span> words(Span within, String... wanted) {
        SqlWords words = SqlWords.of(within.text());
        for (int i = 0; i < words.all().size(); i++) {
            if (words.sees(i, wanted)) {
                return Optional.of(span(within, words, i, i + wanted.length));
            }
        }
        return Optional.empty();
    }

    /** The empty stretch behind the BEGIN of a block, and what belongs to it. */
    public static Optional<Span> behindBegin(Span block) {
        SqlWords words = SqlWords.of(block.text());
        int begin = words.find("BEGIN");
        if (begin < 0) {
            return Optional.empty();
        }
        int last = words.sees(begin + 1, "NOT", "ATOMIC") ? begin + 2 : begin;
        last = words.sees(begin + 1, "ATOMIC") ? begin + 1 : last;
        return Optional.of(behind(span(block, words, last, last + 1)));
    }

    /** The first text of this value in a stretch, with its quotes. */
    public static Optional<Span> text(Span within, String value) {
        SqlWords words = SqlWords.of(within.text());
        for (int i = 0; i < words.all().size(); i++) {
            SqlWords.Word word = words.all().get(i);
            if (word.kind() == SqlWords.Kind.LITERAL
                    && span(within, words, i, i + 1).text().equals("'" + value + "'")) {
                return Optional.of(span(within, words, i, i + 1));
            }
        }
        return Optional.empty();
    }

    /** The last word of a stretch, where it is this one. */
    public static Optional<Span> last(Span within, String wanted) {
        SqlWords words = SqlWords.of(within.text());
        int last = words.all().size() - 1;
        return words.sees(last, wanted)
                ? Optional.of(span(within, words, last, last + 1))
                : Optional.empty();
    }

    private static Span span(Span within, SqlWords words, int from, int to) {
        return within.source()
                .span(
                        within.start() + words.all().get(from).start(),
                        within.start() + words.all().get(to - 1).end());
    }

    /** The empty stretch behind another. */
    public static Span behind(Span span) {
        return span.source().span(span.end(), span.end());
    }

    /** The empty stretch before another. */
    public static Span before(Span span) {
        return span.source().span(span.start(), span.start());
    }

    /**
     * What goes where a statement or a declaration is left out: its semicolon with it, and the
     * lines that hold nothing else, or the blanks behind it.
     */
    public static Span withLines(Span span) {
        String text = span.source().text();
        int end = past(text, span.end(), " \t\r\n");
        end = end < text.length() && text.charAt(end) == ';' ? end + 1 : span.end();
        int begin = span.start();
        while (begin > 0 && isBlank(text.charAt(begin - 1))) {
            begin--;
        }
        int rest = past(text, end, " \t\r");
        boolean wholeLines =
                (begin == 0 || text.charAt(begin - 1) == '\n')
                        && (rest == text.length() || text.charAt(rest) == '\n');
        return wholeLines
                ? span.source().span(begin, Math.min(text.length(), rest + 1))
                : span.source().span(span.start(), rest);
    }

    private static int past(String text, int from, String blanks) {
        int at = from;
        while (at < text.length() && blanks.indexOf(text.charAt(at)) >= 0) {
            at++;
        }
        return at;
    }

    private static boolean isBlank(char c) {
        return c == ' ' || c == '\t';
    }

    /**
     * What goes where one name is left out of the declaration that it stands in: the whole one
     * where it declares no other. Nothing where that may do something, since a routine gives it its
     * value.
     *
     * @param name where it is declared
     * @param around the routine
     */
    public static Optional<Span> declaration(Span name, Span around) {
        SqlWords words = SqlWords.of(around.text());
        List<SqlWords.Word> all = words.all();
        int at = 0;
        while (at < all.size() && around.start() + all.get(at).start() != name.start()) {
            at++;
        }
        if (words.sees(at - 1, ",")) {
            int end =
                    words.sees(at + 1, ",") ? around.start() + all.get(at + 1).start() : name.end();
            return Optional.of(around.source().span(around.start() + all.get(at - 1).start(), end));
        }
        if (words.sees(at + 1, ",")) {
            return Optional.of(
                    around.source().span(name.start(), around.start() + all.get(at + 2).start()));
        }
        int end = at + 1;
        while (end < all.size() && !all.get(end).is(";")) {
            end++;
        }
        int initial = at;
        while (initial < end && !all.get(initial).is("DEFAULT")) {
            initial++;
        }
        boolean worksOut = false;
        for (int i = initial; i < end; i++) {
            worksOut |= all.get(i).is("(");
        }
        return worksOut || !words.sees(at - 1, "DECLARE") || end == all.size()
                ? Optional.empty()
                : Optional.of(withLines(span(around, words, at - 1, end)));
    }

    /**
     * The type in the declaration of one variable; nothing where that declares several.
     *
     * @param name where it is declared
     * @param around the routine
     */
    public static Optional<Span> typeOf(Span name, Span around) {
        SqlWords words = SqlWords.of(around.text());
        List<SqlWords.Word> all = words.all();
        int at = 0;
        while (at < all.size() && around.start() + all.get(at).start() != name.start()) {
            at++;
        }
        int end = at + 1;
        while (end < all.size() && !all.get(end).is(";") && !all.get(end).is("DEFAULT")) {
            end++;
        }
        boolean single =
                words.sees(at - 1, "DECLARE")
                        && !words.sees(at + 1, ",")
                        && !words.sees(at + 1, "CONSTANT")
                        && end > at + 1;
        return single ? Optional.of(span(around, words, at + 1, end)) : Optional.empty();
    }
}
