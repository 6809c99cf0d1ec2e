package dev.cantina.facts;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundSql;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Table;
import dev.cantina.syntax.Change;
import dev.cantina.syntax.Clause;
import dev.cantina.syntax.Expression;
import dev.cantina.syntax.Expression.LiteralKind;
import dev.cantina.syntax.Expression.Operator;
import dev.cantina.syntax.ExpressionWalk;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Query;
import dev.cantina.syntax.SqlStatement;
import dev.cantina.syntax.SqlValue;
import dev.cantina.syntax.TableSource;
import dev.cantina.types.Functions;
import dev.cantina.types.SqlType;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** How many rows a statement finds or changes, whatever is in the tables. */
public final class RowFacts {
    private final BoundSql sql;
    private final Catalog catalog;

    /** The keys of the names that WITH gives. */
    private final Set<String> common = new HashSet<>();

    private RowFacts(BoundSql sql, Catalog catalog) {
        this.sql = sql;
        this.catalog = catalog;
    }

    /** Whether a query always gives exactly one row. */
    public static Answer exactlyOne(BoundSql sql, Catalog catalog) {
        return new RowFacts(sql, catalog).exactlyOne(sql.source().tree());
    }

    /** Whether a query never gives more than one row. */
    public static Answer atMostOne(BoundSql sql, Catalog catalog) {
        return new RowFacts(sql, catalog).atMostOne(sql.source().tree());
    }

    /** Whether an UPDATE or DELETE never changes more than one row. */
    public static Answer changesAtMostOne(BoundSql sql, Catalog catalog) {
        return new RowFacts(sql, catalog).changesAtMostOne(sql.source().tree());
    }

    /** Whether an INSERT puts at least one row in, or fails. */
    public static Answer insertsSome(BoundSql sql) {
        if (!(sql.source().tree() instanceof Change.Insert insert) || isDoubted(insert.clauses())) {
            return Answer.UNKNOWN;
        }
        return Answer.of(insert.rows().map(Query.Values.class::isInstance).orElse(true));
    }

    /** Whether an INSERT is of the one row that it names. */
    public static Answer insertsOne(BoundSql sql) {
        Answer some = insertsSome(sql);
        if (!some.isYes()) {
            return some;
        }
        Change.Insert insert = (Change.Insert) sql.source().tree();
        return Answer.of(
                insert.rows()
                        .map(
                                rows ->
                                        rows instanceof Query.Values values
                                                && values.rows().size() == 1)
                        .orElse(true));
    }

    /** Whether an UPDATE or DELETE says which rows it is for. */
    public static Answer hasCondition(BoundSql sql) {
        return hasCondition(sql.source().tree());
    }

    private static Answer hasCondition(SqlStatement tree) {
        if (tree instanceof Query.With with) {
            return hasCondition(with.body());
        }
        if (!(tree instanceof Change change) || isDoubted(change.clauses())) {
            return Answer.UNKNOWN;
        }
        return Answer.of(
                change.clauses().stream()
                        .anyMatch(c -> c instanceof Clause.Where || c instanceof Clause.CurrentOf));
    }

    private Answer exactlyOne(SqlStatement tree) {
        if (tree instanceof Query.Bracketed bracketed) {
            return exactlyOne(bracketed.inner());
        }
        if (tree instanceof Query.With with) {
            note(with);
            return exactlyOne(with.body());
        }
        if (tree instanceof Query.Ordered ordered) {
            boolean sorts =
                    ordered.clauses().stream()
                            .allMatch(
                                    c ->
                                            c instanceof Clause.OrderBy
                                                    || c instanceof Clause.Locking);
            Answer inner = exactlyOne(ordered.inner());
            boolean known = inner.isNo() && ordered.inner() instanceof Query.Select;
            return sorts || known && !isDoubted(ordered.clauses()) ? inner : Answer.UNKNOWN;
        }
        if (tree instanceof Query.Values values) {
            return Answer.of(values.rows().size() == 1);
        }
        if (tree instanceof Query.Combined || tree instanceof Query.OfTable) {
            return Answer.NO;
        }
        return tree instanceof Query.Select select ? exactlyOne(select) : Answer.UNKNOWN;
    }

    private Answer exactlyOne(Query.Select select) {
        if (isDoubted(select.clauses()) || mayGiveRows(select)) {
            return Answer.UNKNOWN;
        }
        boolean grouped =
                select.clauses().stream()
                        .anyMatch(c -> c instanceof Clause.GroupBy || c instanceof Clause.Having);
        if (grouped) {
            return Answer.NO;
        }
        if (select.clauses().stream().noneMatch(Clause.From.class::isInstance)) {
            return Answer.of(select.clauses().stream().noneMatch(Clause.Where.class::isInstance));
        }
        boolean unknown = false;
        for (Query.Item item : select.items()) {
            Optional<Expression> value = item.value().expression();
            if (item.isAll()) {
                continue;
            }
            if (value.filter(RowFacts::aggregates).isPresent()) {
                return Answer.YES;
            }
            unknown |= value.filter(ExpressionWalk::isKnown).isEmpty();
        }
        return unknown ? Answer.UNKNOWN : Answer.NO;
    }

    /** Whether an aggregate in it makes one row of many. */
    private static boolean aggregates(Expression e) {
        if (e instanceof Expression.Opaque) {
            return false;
        }
        return e instanceof Expression.Aggregate aggregate && aggregate.window().isEmpty()
                || ExpressionWalk.parts(e).stream().anyMatch(RowFacts::aggregates);
    }

    /** Whether a function that is not known stands in a select list: it may give many rows. */
    private boolean mayGiveRows(Query.Select select) {
        return select.items().stream()
                .map(item -> item.value().expression())
                .flatMap(Optional::stream)
                .anyMatch(value -> ExpressionWalk.any(value, this::isUnknownCall));
    }

    private boolean isUnknownCall(Expression e) {
        if (!(e instanceof Expression.Call call)) {
            return false;
        }
        boolean plain = call.name().size() == 1 && !call.name().get(0).delimited();
        return !(plain && Functions.isOfLanguage(call.key()))
                && catalog.functions(call.key()).isEmpty();
    }

    private Answer atMostOne(SqlStatement tree) {
        if (exactlyOne(tree).isYes()) {
            return Answer.YES;
        }
        if (tree instanceof Query.Bracketed bracketed) {
            return atMostOne(bracketed.inner());
        }
        if (tree instanceof Query.With with) {
            note(with);
            return atMostOne(with.body());
        }
        if (tree instanceof Query.Ordered ordered) {
            if (isDoubted(ordered.clauses())) {
                return Answer.UNKNOWN;
            }
            boolean cut =
                    ordered.clauses().stream()
                            .anyMatch(c -> c instanceof Clause.Fetch fetch && fetch.isOne());
            return cut ? Answer.YES : atMostOne(ordered.inner());
        }
        if (tree instanceof Query.Combined combined) {
            return atMostOne(combined);
        }
        if (tree instanceof Query.Values values) {
            return Answer.of(values.rows().size() == 1);
        }
        if (tree instanceof Query.OfTable) {
            return Answer.NO;
        }
        return tree instanceof Query.Select select ? atMostOne(select) : Answer.UNKNOWN;
    }

    private Answer atMostOne(Query.Combined combined) {
        Answer left = atMostOne(combined.left());
        Answer right = atMostOne(combined.right());
        return switch (combined.operator()) {
            case UNION -> Answer.NO;
            case EXCEPT -> left;
            case INTERSECT -> left.isYes() ? left : right;
        };
    }

    private Answer atMostOne(Query.Select select) {
        if (isDoubted(select.clauses()) || mayGiveRows(select)) {
            return Answer.UNKNOWN;
        }
        Optional<Clause.From> from = select.clause(Clause.From.class);
        Optional<Clause.Where> where = select.clause(Clause.Where.class);
        if (from.isEmpty()) {
            return Answer.of(select.clauses().stream().noneMatch(Clause.From.class::isInstance));
        }
        boolean named =
                from.get().tables().size() == 1
                        && from.get().tables().get(0) instanceof TableSource.Named;
        if (!named || where.isEmpty()) {
            return Answer.NO;
        }
        TableSource.Named table = (TableSource.Named) from.get().tables().get(0);
        return oneByKey(table.name(), table.known(), where.get().condition());
    }

    private Answer changesAtMostOne(SqlStatement tree) {
        if (!(tree instanceof Change change) || isDoubted(change.clauses())) {
            return Answer.UNKNOWN;
        }
        if (change.clause(Clause.CurrentOf.class).isPresent()) {
            return Answer.YES;
        }
        Optional<Clause.Where> where = change.clause(Clause.Where.class);
        boolean joins = change.clauses().stream().anyMatch(Clause.From.class::isInstance);
        if (where.isEmpty() || joins) {
            return Answer.NO;
        }
        Name table = change.table().get(change.table().size() - 1);
        if (change instanceof Change.Update update) {
            return oneByKey(table, update.alias().orElse(table), where.get().condition());
        }
        return change instanceof Change.Delete delete
                ? oneByKey(table, delete.alias().orElse(table), where.get().condition())
                : Answer.UNKNOWN;
    }

    private void note(Query.With with) {
        with.tables().forEach(t -> common.add(t.name().key()));
    }

    /** Whether there is something in these clauses that is not known, or that they do not have. */
    private static boolean isDoubted(List<Clause> clauses) {
        return clauses.stream().anyMatch(Clause.Opaque.class::isInstance);
    }

    /** Whether a condition sets each column of a unique key equal to one value. */
    private Answer oneByKey(Name name, Name known, SqlValue condition) {
        Optional<Table> table =
                common.contains(name.key()) ? Optional.empty() : catalog.table(name);
        Optional<Expression> read = condition.expression();
        if (table.isEmpty() || table.get().view() || read.isEmpty()) {
            return Answer.UNKNOWN;
        }
        Set<Integer> fixed = new HashSet<>();
        fix(read.get(), table.get(), known, fixed);
        boolean found =
                table.get().uniqueKeys().stream()
                        .anyMatch(key -> !key.isEmpty() && fixed.containsAll(key));
        return found || ExpressionWalk.isKnown(read.get()) ? Answer.of(found) : Answer.UNKNOWN;
    }

    /** Collects the columns that a condition sets equal to one value. */
    private void fix(Expression condition, Table table, Name known, Set<Integer> fixed) {
        if (!(condition instanceof Expression.Binary binary)) {
            return;
        }
        if (binary.operator() == Operator.AND) {
            fix(binary.left(), table, known, fixed);
            fix(binary.right(), table, known, fixed);
        } else if (binary.operator() == Operator.EQUAL) {
            fix(binary.left(), binary.right(), table, known, fixed);
            fix(binary.right(), binary.left(), table, known, fixed);
        }
    }

    private void fix(
            Expression side, Expression value, Table table, Name known, Set<Integer> fixed) {
        if (!(side instanceof Expression.Reference reference) || parameter(side).isPresent()) {
            return;
        }
        List<Name> names = reference.names();
        boolean own = names.size() == 1 || names.size() == 2 && names.get(0).is(known);
        int column = own ? table.position(names.get(names.size() - 1).key()) : -1;
        if (column >= 0 && isFixed(value, table.columns().get(column).type())) {
            fixed.add(column);
        }
    }

    /** The value of a variable that stands at a place. */
    private Optional<BoundExpression> parameter(Expression e) {
        return sql.parameterAt(e.span());
    }

    /** Whether a value is the same for each row, and equal to one value of a column at most. */
    private boolean isFixed(Expression value, SqlType column) {
        if (value instanceof Expression.Negation negation) {
            return negation.operand() instanceof Expression.Literal
                    && isFixed(negation.operand(), column);
        }
        if (value instanceof Expression.Literal literal) {
            return isAlike(literal.kind(), column);
        }
        return parameter(value).map(p -> isAlike(p.type(), column)).orElse(false);
    }

    private static boolean isAlike(LiteralKind literal, SqlType column) {
        return switch (literal) {
            case INTEGER, DECIMAL -> column.isNumeric();
            case APPROXIMATE -> column instanceof SqlType.Approximate;
            case TEXT, BYTES -> !column.isNumeric();
            case DEFAULT -> false;
            default -> !(column instanceof SqlType.Text);
        };
    }

    /**
     * Whether no two values of a column are equal to one of another type: blanks that count on one
     * side alone, texts read as numbers, and digits that are lost make them so.
     */
    private static boolean isAlike(SqlType value, SqlType column) {
        if (value instanceof SqlType.Text left && column instanceof SqlType.Text right) {
            return left.shape() == right.shape();
        }
        if (value.isNumeric() && column.isNumeric()) {
            return !(value instanceof SqlType.Approximate) || column instanceof SqlType.Approximate;
        }
        return !(value instanceof SqlType.Text)
                && !(column instanceof SqlType.Text)
                && !value.isNumeric()
                && !column.isNumeric();
    }
}
