package dev.cantina.binding;

import dev.cantina.syntax.Clause;
import dev.cantina.syntax.Expression;
import dev.cantina.syntax.ExpressionWalk;
import dev.cantina.syntax.Query;
import dev.cantina.syntax.SqlStatement;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * The aggregates in the select list of a query that may leave NULLs out (ISO 9075-2, 10.9).
 *
 * @param from where the query's FROM begins in its source
 * @param arguments what each is of, as written
 */
public record CountedAggregates(int from, List<String> arguments) {
    /**
     * Those of a query that is one SELECT and no more; empty where none of them can leave NULLs
     * out.
     */
    public static Optional<CountedAggregates> of(SqlStatement tree) {
        SqlStatement query = tree instanceof Query.Ordered ordered ? ordered.inner() : tree;
        if (!(query instanceof Query.Select select) || select.distinct()) {
            return Optional.empty();
        }
        List<String> arguments = new ArrayList<>();
        for (Query.Item item : select.items()) {
            item.value()
                    .expression()
                    .filter(ExpressionWalk::isKnown)
                    .ifPresent(e -> ExpressionWalk.each(e, part -> collect(part, arguments)));
        }
        return arguments.isEmpty()
                ? Optional.empty()
                : select.clause(Clause.From.class)
                        .map(from -> new CountedAggregates(from.span().start(), arguments));
    }

    private static void collect(Expression e, List<String> arguments) {
        if (e instanceof Expression.Aggregate aggregate
                && aggregate.window().isEmpty()
                && aggregate.filter().isEmpty()
                && aggregate.arguments().size() == 1
                // What else it may be would have to be sent twice.
                && aggregate.arguments().get(0) instanceof Expression.Reference reference) {
            arguments.add(reference.span().text());
        }
    }
}
