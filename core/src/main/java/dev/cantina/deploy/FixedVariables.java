package dev.cantina.deploy;

import dev.cantina.check.BoundExpression;
import dev.cantina.check.BoundSql;
import dev.cantina.syntax.KeptBlanks;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlWords;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.List;

/** Variables of type CHAR in a data statement whose blanks count; both servers leave them out. */
final class FixedVariables {
    private FixedVariables() {}

    static List<BoundExpression> of(BoundSql sql) {
        List<BoundExpression> fixed =
                sql.parameters().stream()
                        .filter(BoundExpression.Read.class::isInstance)
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
        for (int i = 0; i < words.all().size(); i++) {
            int start = whole.start() + words.all().get(i).start();
            int at = i;
            fixed.stream()
                    .filter(p -> p.span().start() == start && KeptBlanks.at(words, at, at + 1))
                    .forEach(kept::add);
        }
        return kept;
    }
}
