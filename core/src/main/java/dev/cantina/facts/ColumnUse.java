package dev.cantina.facts;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundSql;
import dev.cantina.binding.Variable;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Column;
import dev.cantina.catalog.Table;
import dev.cantina.syntax.Change;
import dev.cantina.syntax.Expression;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Query;
import dev.cantina.syntax.SqlStatement;
import dev.cantina.syntax.SqlValue;
import dev.cantina.syntax.SqlWalk;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * A value that a statement stores into a column as it is, or finds its rows by.
 *
 * @param stored whether it is stored; otherwise it is compared with {@code =}
 */
public record ColumnUse(BoundExpression value, Table table, Column column, boolean stored) {
    /** The uses in a statement on one table. */
    public static List<ColumnUse> of(BoundSql sql, Catalog catalog) {
        if (sql.tables().size() != 1) {
            return List.of();
        }
        Optional<Table> table = catalog.table(sql.tables().iterator().next());
        if (table.isEmpty()) {
            return List.of();
        }
        Uses uses = new Uses(sql, table.get(), new ArrayList<>());
        uses.stored(sql.source().tree());
        uses.compared(sql.source().tree());
        return uses.found();
    }

    /** Collects them. */
    private record Uses(BoundSql sql, Table table, List<ColumnUse> found) {
        void stored(SqlStatement tree) {
            if (tree instanceof Change.Insert insert
                    && insert.rows().orElse(null) instanceof Query.Values values) {
                List<String> columns =
                        insert.columns().isEmpty()
                                ? table.columns().stream().map(Column::key).toList()
                                : insert.columns().stream().map(Name::key).toList();
                for (List<SqlValue> row : values.rows()) {
                    for (int i = 0; i < Math.min(columns.size(), row.size()); i++) {
                        add(columns.get(i), row.get(i).expression(), true);
                    }
                }
            } else if (tree instanceof Change.Update update) {
                update.assignments().stream()
                        .filter(a -> a.columns().size() == 1)
                        .forEach(a -> add(last(a.columns().get(0)), a.value().expression(), true));
            }
        }

        void compared(SqlStatement tree) {
            SqlWalk.each(
                    tree,
                    found -> {
                        if (found.place() == SqlWalk.Place.CONDITION
                                && found.expression() instanceof Expression.Binary binary
                                && binary.operator() == Expression.Operator.EQUAL) {
                            compared(binary.left(), binary.right());
                            compared(binary.right(), binary.left());
                        }
                    });
        }

        private void compared(Expression side, Expression value) {
            if (side instanceof Expression.Reference reference && parameter(side).isEmpty()) {
                add(last(reference.names()), Optional.of(value), false);
            }
        }

        private void add(String column, Optional<Expression> value, boolean stored) {
            Optional<Column> known = table.column(column);
            Optional<BoundExpression> given = value.flatMap(this::parameter);
            if (known.isPresent() && given.isPresent()) {
                found.add(new ColumnUse(given.get(), table, known.get(), stored));
            }
        }

        private Optional<BoundExpression> parameter(Expression e) {
            return sql.parameterAt(e.span());
        }

        private static String last(List<Name> names) {
            return names.get(names.size() - 1).key();
        }
    }

    /** Whether the column alone says which row is meant. */
    public boolean isKey() {
        int position = table.position(column.key());
        return table.uniqueKeys().contains(List.of(position))
                || table.primaryKey().equals(List.of(position));
    }

    /** The variable that the value is read from, where it is one. */
    public Optional<Variable> variable() {
        BoundExpression read = value;
        while (read instanceof BoundExpression.Convert convert) {
            read = convert.operand();
        }
        return read instanceof BoundExpression.Read r
                ? Optional.of(r.variable())
                : Optional.empty();
    }
}
