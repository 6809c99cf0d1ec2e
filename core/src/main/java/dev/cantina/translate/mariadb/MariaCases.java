package dev.cantina.translate.mariadb;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.Walker;
import dev.cantina.syntax.Expression;
import dev.cantina.syntax.NullCases;
import dev.cantina.syntax.Query;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlText;
import dev.cantina.syntax.TextEdits;
import dev.cantina.translate.SourceForm;
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
        return written(e.span()).filter(NullCases::is).map(c -> choice);
    }

    /** How the text that a CASE is read in begins. */
    private static final String HEAD = "SELECT ";

    /** The CASE as it is written; its places are those in a text with {@link #HEAD} before it. */
    private static Optional<Expression.Case> written(Span span) {
        return SqlText.of(HEAD + span.text()).tree() instanceof Query.Select select
                        && select.items().size() == 1
                ? select.items()
                        .get(0)
                        .value()
                        .expression()
                        .filter(Expression.Case.class::isInstance)
                        .map(Expression.Case.class::cast)
                : Optional.empty();
    }

    private static Span place(Span whole, Span part) {
        int from = whole.start() - HEAD.length();
        return new Span(whole.source(), from + part.start(), from + part.end());
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
        Expression.Case simple = written(whole).orElseThrow();
        edits.put(place(whole, simple.operand().orElseThrow().span()), "");
        for (int i = 0; i < simple.branches().size(); i++) {
            if (!(choice.options().get(i).condition() instanceof BoundExpression.Compare compare)) {
                throw new UnsupportedConstructException(whole, "CASE over rows");
            }
            BoundExpression left =
                    e instanceof BoundExpression.Let let ? let.value() : compare.left();
            edits.put(
                    place(whole, simple.branches().get(i).when().span()),
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
}
