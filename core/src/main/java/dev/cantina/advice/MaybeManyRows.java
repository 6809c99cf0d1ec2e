package dev.cantina.advice;

import dev.cantina.binding.BoundStatement;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Table;
import dev.cantina.facts.RowFacts;
import dev.cantina.syntax.Change;
import dev.cantina.syntax.Clause;
import dev.cantina.syntax.Expression;
import dev.cantina.syntax.ExpressionWalk;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Query;
import dev.cantina.syntax.SqlStatement;
import dev.cantina.syntax.TableSource;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** SELECT INTO whose condition names no whole unique key, and which sets no limit. */
public final class MaybeManyRows implements Advice.Rule {
    @Override
    public String name() {
        return "maybe-many-rows";
    }

    @Override
    public void look(Subject subject, List<Problem> advice) {
        Catalog catalog = subject.catalog();
        subject.statements()
                .forEach(
                        s -> {
                            if (s instanceof BoundStatement.SelectInto fill
                                    && RowFacts.atMostOne(fill.query(), catalog).isNo()
                                    && !Inserted.givesOneRow(fill.query())
                                    && isOfManyRows(fill.query().source().tree(), catalog)) {
                                advice.add(
                                        Problem.advice(
                                                fill.query().span(),
                                                name(),
                                                "this may return more than one row, which raises SQLSTATE 21000",
                                                "ask by a unique key, or add FETCH FIRST ROW ONLY with an ORDER BY"));
                            }
                        });
    }

    /** Whether its one table is not asked for a whole unique key; views and joins are let be. */
    private static boolean isOfManyRows(SqlStatement tree, Catalog catalog) {
        boolean limited =
                tree instanceof Query.Ordered ordered
                        && ordered.clauses().stream().anyMatch(Clause.Fetch.class::isInstance);
        SqlStatement query = tree instanceof Query.Ordered ordered ? ordered.inner() : tree;
        if (limited || !(query instanceof Query.Select select)) {
            return false;
        }
        Optional<Table> table =
                select.clause(Clause.From.class)
                        .filter(from -> from.tables().size() == 1)
                        .map(from -> from.tables().get(0))
                        .flatMap(MaybeManyRows::name)
                        .flatMap(catalog::table);
        Optional<Clause.Where> where = select.clause(Clause.Where.class);
        if (table.isEmpty()
                || where.isPresent() && where.get().condition().expression().isEmpty()) {
            return false;
        }
        Set<String> asked = new HashSet<>();
        where.flatMap(w -> w.condition().expression())
                .ifPresent(e -> ExpressionWalk.each(e, part -> collect(part, asked)));
        return table.get().uniqueKeys().stream()
                .noneMatch(
                        key ->
                                key.stream()
                                        .map(i -> table.get().columns().get(i).key())
                                        .allMatch(asked::contains));
    }

    /** The table whose rows a query is over. */
    private static Optional<Name> name(TableSource source) {
        if (source instanceof TableSource.Delta delta && delta.change() instanceof Change change) {
            return Optional.of(change.table().get(change.table().size() - 1));
        }
        return source instanceof TableSource.Named named
                ? Optional.of(named.name())
                : Optional.empty();
    }

    /** Notes the names that are compared: {@code = …} or {@code IN …} follows them. */
    private static void collect(Expression e, Set<String> asked) {
        if (e instanceof Expression.Binary binary
                && binary.operator() == Expression.Operator.EQUAL) {
            note(binary.left(), asked);
            note(binary.right(), asked);
        } else if (e instanceof Expression.InList in && !in.negated()) {
            note(in.operand(), asked);
        } else if (e instanceof Expression.QueryComparison in
                && (in.comparison().equals("IN") || in.comparison().startsWith("="))) {
            note(in.operand(), asked);
        }
    }

    private static void note(Expression e, Set<String> asked) {
        if (e instanceof Expression.Reference reference) {
            asked.add(reference.names().get(reference.names().size() - 1).key());
        } else if (e instanceof Expression.RowValue row) {
            row.fields().forEach(field -> note(field, asked));
        }
    }
}
