package dev.cantina.translate.mariadb;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.Walker;
import dev.cantina.syntax.SimpleCase;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlWords;
import dev.cantina.translate.SourceForm;
import dev.cantina.translate.TextEdits;
import dev.cantina.translate.UnsupportedConstructException;
import java.util.Optional;

/**
 * {@code CASE operand WHEN value THEN …} on MariaDB, which finds nothing any more behind a value
 * that is NULL: the comparisons are written out.
 */
final class MariaCases {
    private final MariaExpressions words;

    /**
     * @param words for what is compared
     */
    MariaCases(MariaExpressions words) {
        this.words = words;
    }

    /** What somebody wrote as such, and has to be said otherwise. */
    static Optional<BoundExpression.Choice> of(BoundExpression e) {
        BoundExpression body = e instanceof BoundExpression.Let let ? let.body() : e;
        if (!(body instanceof BoundExpression.Choice choice)
                || !choice.span().equals(e.span())
                || !e.span().text().regionMatches(true, 0, "CASE", 0, 4)) {
            return Optional.empty();
        }
        SqlWords written = SqlWords.of(e.span().text());
        return SimpleCase.at(written, 0).filter(c -> c.mayMeetNull(written)).map(c -> choice);
    }

    /**
     * @param e the choice, or what works its operand out once
     */
    void write(BoundExpression e, BoundExpression.Choice choice, TextEdits edits) {
        if (e instanceof BoundExpression.Let let && calls(let.value())) {
            throw new UnsupportedConstructException(
                    let.value().span(),
                    "MariaDB finds nothing behind a WHEN that is NULL; keep what CASE compares in"
                            + " a variable, or write CASE WHEN … = …");
        }
        Span whole = e.span();
        SqlWords written = SqlWords.of(whole.text());
        SimpleCase simple = SimpleCase.at(written, 0).orElseThrow();
        edits.put(part(whole, written, simple.operand()), "");
        for (int i = 0; i < simple.values().size(); i++) {
            if (!(choice.options().get(i).condition() instanceof BoundExpression.Compare compare)) {
                throw new UnsupportedConstructException(whole, "CASE over rows");
            }
            BoundExpression left =
                    e instanceof BoundExpression.Let let ? let.value() : compare.left();
            edits.put(
                    part(whole, written, simple.values().get(i)),
                    "("
                            + words.side(SourceForm.bare(left), compare.fixed())
                            + ") = ("
                            + words.side(SourceForm.bare(compare.right()), compare.fixed())
                            + ")");
        }
        words.parts(e, edits);
    }

    private static boolean calls(BoundExpression e) {
        boolean[] found = {false};
        Walker.expressions(
                e,
                x ->
                        found[0] |=
                                x instanceof BoundExpression.Invoke
                                        || x instanceof BoundExpression.DatabaseExpression);
        return found[0];
    }

    private static Span part(Span whole, SqlWords words, SimpleCase.Words part) {
        return MariaBlocks.part(
                whole, words.all().get(part.from()).start(), words.all().get(part.to() - 1).end());
    }
}
