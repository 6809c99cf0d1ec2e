package dev.cantina.translate;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundSql;
import dev.cantina.facts.KeptBlanks;
import dev.cantina.syntax.SqlWalk;
import dev.cantina.types.SqlType;
import java.util.HashSet;
import java.util.List;
import java.util.Set;

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
        Set<Integer> places = new HashSet<>();
        SqlWalk.each(
                sql.source().tree(),
                found -> {
                    if (KeptBlanks.at(found)) {
                        places.add(found.expression().span().start());
                    }
                });
        return fixed.stream().filter(p -> places.contains(p.span().start())).toList();
    }
}
