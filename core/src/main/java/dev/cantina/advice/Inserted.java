package dev.cantina.advice;

import dev.cantina.binding.BoundSql;
import dev.cantina.syntax.Change;
import dev.cantina.syntax.Clause;
import dev.cantina.syntax.Query;
import dev.cantina.syntax.SqlStatement;
import dev.cantina.syntax.TableSource;
import java.util.Optional;

/** Queries over the rows that an INSERT in them has just made: a guess, and good enough here. */
final class Inserted {
    private Inserted() {}

    /** Whether a query gives the rows of an INSERT that says them, all of them. */
    static boolean givesRows(BoundSql sql) {
        return insert(sql.source().tree()).isPresent();
    }

    /** Whether a query gives the one row of an INSERT that says it. */
    static boolean givesOneRow(BoundSql sql) {
        return insert(sql.source().tree())
                .filter(
                        i ->
                                i.rows().isEmpty()
                                        || ((Query.Values) i.rows().get()).rows().size() == 1)
                .isPresent();
    }

    private static Optional<Change.Insert> insert(SqlStatement tree) {
        SqlStatement query = tree instanceof Query.Ordered ordered ? ordered.inner() : tree;
        boolean plain =
                query instanceof Query.Select select
                        && select.clauses().stream()
                                .allMatch(
                                        c -> c instanceof Clause.From || c instanceof Clause.Into);
        return plain
                ? ((Query.Select) query)
                        .clause(Clause.From.class)
                        .filter(from -> from.tables().size() == 1)
                        .flatMap(from -> inserted(from.tables().get(0)))
                : Optional.empty();
    }

    /** One with VALUES, or DEFAULT VALUES. */
    private static Optional<Change.Insert> inserted(TableSource source) {
        return source instanceof TableSource.Delta delta
                        && !delta.which().equals("OLD")
                        && delta.change() instanceof Change.Insert insert
                        && insert.clauses().isEmpty()
                        && insert.rows().map(Query.Values.class::isInstance).orElse(true)
                ? Optional.of(insert)
                : Optional.empty();
    }
}
