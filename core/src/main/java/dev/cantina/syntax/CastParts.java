package dev.cantina.syntax;

import java.util.List;

/**
 * Where the words of a CAST stand, whatever is bracketed in it.
 *
 * @param head from the word CAST to where its operand begins
 * @param operand what is cast, with the brackets around it
 * @param tail from the word AS to the end
 */
public record CastParts(Span head, Span operand, Span tail) {
    public static CastParts of(Expression.Cast cast) {
        Span whole = cast.span();
        List<SqlWords.Word> before = SqlWords.of(until(whole, cast.operand().span())).all();
        int open = whole.start() + before.get(1).end();
        Span gap =
                new Span(whole.source(), cast.operand().span().end(), cast.type().span().start());
        List<SqlWords.Word> between = SqlWords.of(gap.text()).all();
        int as = gap.start() + between.get(between.size() - 1).start();
        return new CastParts(
                new Span(whole.source(), whole.start(), open),
                new Span(whole.source(), open, as),
                new Span(whole.source(), as, whole.end()));
    }

    private static String until(Span whole, Span operand) {
        return whole.source().text().substring(whole.start(), operand.start());
    }
}
