package dev.cantina.facts;

import dev.cantina.binding.BoundSql;
import dev.cantina.catalog.Catalog;
import dev.cantina.syntax.Clause;
import dev.cantina.syntax.Expression;
import dev.cantina.syntax.ExpressionWalk;
import dev.cantina.syntax.Query;
import dev.cantina.syntax.SqlStatement;
import dev.cantina.syntax.SqlText.TableUse;
import dev.cantina.syntax.SqlValue;
import dev.cantina.syntax.TableSource;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;

/** What a statement can raise as it runs. */
public final class RaiseFacts {
    private RaiseFacts() {}

    /**
     * Whether a query can raise. NO is for one that reads columns and values as they are, compares
     * and orders them.
     */
    public static Answer canRaise(BoundSql sql, Catalog catalog) {
        boolean tables =
                sql.scope().children().isEmpty()
                        && sql.scope().tables().stream().allMatch(t -> isTable(t, catalog));
        Optional<List<SqlValue>> values = values(sql.source().tree());
        if (!tables || values.isEmpty()) {
            return Answer.UNKNOWN;
        }
        return all(values.get(), RaiseFacts::isPlain) ? Answer.NO : Answer.YES;
    }

    private static boolean isTable(TableUse use, Catalog catalog) {
        return !use.names().isEmpty()
                && catalog.table(use.names().get(use.names().size() - 1))
                        .filter(t -> !t.view())
                        .isPresent();
    }

    /** Whether a query works anything out, by a sign or a function: that may fail as it runs. */
    public static Answer computes(BoundSql sql) {
        Optional<List<SqlValue>> values = values(sql.source().tree());
        if (values.isEmpty()) {
            return Answer.UNKNOWN;
        }
        return all(values.get(), RaiseFacts::isPlain) ? Answer.NO : Answer.YES;
    }

    private static boolean all(List<SqlValue> values, Predicate<Expression> wanted) {
        return values.stream()
                .map(SqlValue::expression)
                .allMatch(
                        e ->
                                e.isPresent()
                                        && !ExpressionWalk.any(
                                                e.get(), part -> !wanted.test(part)));
    }

    /** Whether working an expression out, given its parts, never fails. */
    private static boolean isPlain(Expression e) {
        if (e instanceof Expression.Binary binary) {
            return binary.operator().isComparison()
                    || binary.operator() == Expression.Operator.AND
                    || binary.operator() == Expression.Operator.OR;
        }
        return e instanceof Expression.Literal
                || e instanceof Expression.Reference
                || e instanceof Expression.Parameter
                || e instanceof Expression.Not
                || e instanceof Expression.IsNull
                || e instanceof Expression.IsTruth
                || e instanceof Expression.IsDistinct
                || e instanceof Expression.Between;
    }

    /** All values in a query over tables; empty where it is anything else, or not known whole. */
    private static Optional<List<SqlValue>> values(SqlStatement tree) {
        List<SqlValue> values = new ArrayList<>();
        SqlStatement query = tree;
        if (tree instanceof Query.Ordered ordered) {
            if (!collect(ordered.clauses(), values)) {
                return Optional.empty();
            }
            query = ordered.inner();
        }
        if (!(query instanceof Query.Select select) || !collect(select.clauses(), values)) {
            return Optional.empty();
        }
        select.items().stream()
                .filter(item -> !item.isAll())
                .forEach(item -> values.add(item.value()));
        return Optional.of(values);
    }

    /** Collects the values in clauses; false where one of them may do more than read. */
    private static boolean collect(List<Clause> clauses, List<SqlValue> into) {
        for (Clause clause : clauses) {
            if (clause instanceof Clause.Where where) {
                into.add(where.condition());
            } else if (clause instanceof Clause.OrderBy order) {
                order.keys().forEach(key -> into.add(key.value()));
            } else if (clause instanceof Clause.GroupBy group) {
                into.addAll(group.values());
            } else if (clause instanceof Clause.From from) {
                if (!from.tables().stream().allMatch(t -> collect(t, into))) {
                    return false;
                }
            } else if (clause instanceof Clause.Fetch fetch) {
                boolean counted = fetch.count().map(RaiseFacts::isLiteral).orElse(true);
                if (!counted) {
                    return false;
                }
            } else if (!(clause instanceof Clause.Into)) {
                return false;
            }
        }
        return true;
    }

    private static boolean isLiteral(SqlValue value) {
        return value.expression().filter(Expression.Literal.class::isInstance).isPresent();
    }

    private static boolean collect(TableSource source, List<SqlValue> into) {
        if (source instanceof TableSource.Join join) {
            join.on().ifPresent(into::add);
            return collect(join.left(), into) && collect(join.right(), into);
        }
        if (source instanceof TableSource.Bracketed bracketed) {
            return bracketed.tables().stream().allMatch(t -> collect(t, into));
        }
        return source instanceof TableSource.Named;
    }
}
