package dev.cantina.syntax;

import java.util.List;
import java.util.Optional;

/**
 * Visits the values in a statement, those of the queries in it too, and the expressions in these:
 * the outer before the inner, in the order of the text as far as the tree has it.
 */
public final class SqlWalk {
    /** What a value in a statement is for. */
    public enum Place {
        /** In a select list, or given back by a change. */
        ITEM,
        /** In WHERE, HAVING, ON or a branch of MERGE. */
        CONDITION,
        /** Put into a column by SET, VALUES or a branch of MERGE. */
        STORED,
        /** In VALUES that stand for a table. */
        ROW,
        /** What rows are grouped or sorted by. */
        KEY,
        /** How many rows are passed over, or left. */
        COUNT,
        /** A function whose rows are a table. */
        TABLE,
        /** In a clause or a statement that is not known. */
        UNKNOWN
    }

    /**
     * An expression where it stands.
     *
     * @param around the one right around it; empty for a whole value
     * @param part which part of that it is, from 0
     * @param place what the value is for
     */
    public record Found(Expression expression, Optional<Found> around, int part, Place place) {}

    /** Takes what is visited. */
    public interface Visitor {
        /** A value that can't be read. */
        default void unread(SqlValue value, Place place) {}

        /** A query, before what stands in it. */
        default void query(Query query) {}

        /** A table, before what stands in it. */
        default void table(TableSource table) {}

        /** A clause, before what stands in it. */
        default void clause(Clause clause) {}

        void found(Found found);
    }

    private final Visitor visitor;

    private SqlWalk(Visitor visitor) {
        this.visitor = visitor;
    }

    /** Visits all expressions of a statement. */
    public static void each(SqlStatement tree, Visitor visitor) {
        new SqlWalk(visitor).statement(tree, false);
    }

    /**
     * @param stored whether its values are put into columns
     */
    private void statement(SqlStatement tree, boolean stored) {
        if (tree instanceof Query query) {
            query(query, stored);
        } else if (tree instanceof Change change) {
            change(change);
        } else if (tree instanceof SqlStatement.Unread unread) {
            value(unread.value(), Place.UNKNOWN);
        } else if (tree instanceof SqlStatement.Schema schema) {
            value(schema.value(), Place.UNKNOWN);
        }
    }

    private void query(Query query, boolean stored) {
        visitor.query(query);
        if (query instanceof Query.With with) {
            with.tables().forEach(t -> statement(t.body(), false));
            statement(with.body(), stored);
        } else if (query instanceof Query.Combined combined) {
            query(combined.left(), false);
            query(combined.right(), false);
        } else if (query instanceof Query.Select select) {
            items(select.items());
            select.clauses().forEach(this::clause);
        } else if (query instanceof Query.Values values) {
            Place place = stored ? Place.STORED : Place.ROW;
            values.rows().forEach(row -> row.forEach(v -> value(v, place)));
        } else if (query instanceof Query.OfTable table) {
            table.tables().forEach(this::table);
        } else if (query instanceof Query.Bracketed bracketed) {
            statement(bracketed.inner(), false);
        } else if (query instanceof Query.Ordered ordered) {
            query(ordered.inner(), stored);
            ordered.clauses().forEach(this::clause);
        } else {
            throw new IllegalStateException("an unknown query: " + query.getClass());
        }
    }

    private void change(Change change) {
        if (change instanceof Change.Insert insert) {
            insert.rows().ifPresent(rows -> query(rows, true));
        } else if (change instanceof Change.Update update) {
            update.assignments().forEach(a -> value(a.value(), Place.STORED));
        } else if (change instanceof Change.Merge merge) {
            merge.source().ifPresent(this::table);
            merge.on().ifPresent(v -> value(v, Place.CONDITION));
            for (Change.Branch branch : merge.branches()) {
                branch.condition().ifPresent(v -> value(v, Place.CONDITION));
                branch.assignments().forEach(a -> value(a.value(), Place.STORED));
                branch.values().forEach(v -> value(v, Place.STORED));
            }
        }
        change.clauses().forEach(this::clause);
    }

    private void clause(Clause clause) {
        visitor.clause(clause);
        if (clause instanceof Clause.From from) {
            from.tables().forEach(this::table);
        } else if (clause instanceof Clause.Where where) {
            value(where.condition(), Place.CONDITION);
        } else if (clause instanceof Clause.GroupBy group) {
            group.values().forEach(v -> value(v, Place.KEY));
        } else if (clause instanceof Clause.Having having) {
            value(having.condition(), Place.CONDITION);
        } else if (clause instanceof Clause.Windows windows) {
            windows.windows().forEach(v -> value(v, Place.KEY));
        } else if (clause instanceof Clause.OrderBy order) {
            order.keys().forEach(k -> value(k.value(), Place.KEY));
        } else if (clause instanceof Clause.Offset offset) {
            value(offset.count(), Place.COUNT);
        } else if (clause instanceof Clause.Fetch fetch) {
            fetch.count().ifPresent(v -> value(v, Place.COUNT));
        } else if (clause instanceof Clause.Returning returning) {
            items(returning.items());
        } else if (clause instanceof Clause.Opaque opaque) {
            value(opaque.value(), Place.UNKNOWN);
        }
        // Into, CurrentOf and Locking hold no values.
    }

    private void items(List<Query.Item> items) {
        items.stream()
                .filter(item -> !item.isAll())
                .forEach(item -> value(item.value(), Place.ITEM));
    }

    private void table(TableSource source) {
        visitor.table(source);
        if (source instanceof TableSource.Derived derived) {
            statement(derived.query(), false);
        } else if (source instanceof TableSource.OfFunction function) {
            value(function.call(), Place.TABLE);
        } else if (source instanceof TableSource.Delta delta) {
            statement(delta.change(), false);
        } else if (source instanceof TableSource.Join join) {
            table(join.left());
            table(join.right());
            join.on().ifPresent(v -> value(v, Place.CONDITION));
        } else if (source instanceof TableSource.Bracketed bracketed) {
            bracketed.tables().forEach(this::table);
        }
    }

    private void value(SqlValue value, Place place) {
        if (value.span().start() == value.span().end()) {
            return;
        }
        value.expression()
                .ifPresentOrElse(
                        e -> found(new Found(e, Optional.empty(), 0, place)),
                        () -> visitor.unread(value, place));
    }

    private void found(Found found) {
        visitor.found(found);
        query(found.expression()).ifPresent(q -> statement(q.tree(), false));
        int part = 0;
        for (Expression inner : ExpressionWalk.parts(found.expression())) {
            found(new Found(inner, Optional.of(found), part++, found.place()));
        }
    }

    private static Optional<SqlText> query(Expression e) {
        if (e instanceof Expression.ScalarQuery scalar) {
            return Optional.of(scalar.query());
        }
        if (e instanceof Expression.Exists exists) {
            return Optional.of(exists.query());
        }
        return e instanceof Expression.QueryComparison comparison
                ? Optional.of(comparison.query())
                : Optional.empty();
    }
}
