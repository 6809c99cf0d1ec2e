package dev.cantina.translate;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundSql;
import dev.cantina.syntax.KeptBlanks;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlWords;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.List;

/**
 * Variables of type CHAR, and fields of rows, in a data statement whose blanks count; both servers
 * leave them out.
 */
public final class FixedVariables {
    private FixedVariables() {}

    public static List<BoundExpression> of(BoundSql sql) {
        List<BoundExpression> fixed =
                sql.parameters().stream()
                        .filter(
                                p ->
                                        p instanceof BoundExpression.Read
                                                || p instanceof BoundExpression.Field)
                        .filter(
                                p ->
                                        p.type() instanceof SqlType.Text text
                                                && text.shape() == SqlType.Shape.FIXED)
                        .toList();
        if (fixed.isEmpty()) {
            return fixed;
        }
        Span whole = sql.source().span();
        SqlWords words = SqlWords.of(whole.text());
        List<BoundExpression> kept = new ArrayList<>();
        for (BoundExpression p : fixed) {
            int from = word(words, p.span().start() - whole.start());
            int to = word(words, p.span().end() - whole.start());
            if (from < to && KeptBlanks.at(words, from, to)) {
                kept.add(p);
            }
        }
        return kept;
    }

    /** The first word that begins at a place or behind it. */
    private static int word(SqlWords words, int place) {
        int at = 0;
        while (at < words.all().size() && words.all().get(at).start() < place) {
            at++;
        }
        return at;
    }
}
