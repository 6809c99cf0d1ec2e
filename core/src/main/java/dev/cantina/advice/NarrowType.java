package dev.cantina.advice;

import dev.cantina.binding.BoundSql;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.TargetBinder;
import dev.cantina.binding.Variable;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Column;
import dev.cantina.catalog.Table;
import dev.cantina.facts.ColumnUse;
import dev.cantina.syntax.EditPlaces;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Span;
import dev.cantina.types.SqlType;
import java.util.List;
import java.util.Optional;

/**
 * A column's value taken into a variable that is too narrow, or a variable's into such a column.
 */
final class NarrowType implements Advice.Rule {
    @Override
    public String name() {
        return "narrow-type";
    }

    @Override
    public void look(Subject subject, List<Problem> advice) {
        subject.statements()
                .forEach(
                        s -> {
                            if (s instanceof BoundStatement.SelectInto fill) {
                                taken(fill, subject, advice);
                            } else if (s instanceof BoundStatement.Execute change) {
                                stored(change.sql(), subject, advice);
                            }
                        });
    }

    private void taken(BoundStatement.SelectInto fill, Subject subject, List<Problem> advice) {
        Catalog catalog = subject.catalog();
        List<SqlType.Field> columns = fill.query().columns();
        for (int i = 0; i < Math.min(columns.size(), fill.targets().size()); i++) {
            SqlType from = columns.get(i).type();
            SqlType to = TargetBinder.typeOf(fill.targets().get(i));
            if (isColumn(fill.query(), columns.get(i), catalog) && isNarrower(to, from)) {
                advice.add(
                        problem(
                                        fill.query(),
                                        columns.get(i).name(),
                                        from,
                                        fill.targets().get(i).variable().name(),
                                        to)
                                .with(
                                        typeOf(fill.targets().get(i).variable(), to, subject),
                                        from.sql()));
            }
        }
    }

    /** Whether what a query gives is a column as it is, and not something worked out. */
    private static boolean isColumn(BoundSql query, SqlType.Field output, Catalog catalog) {
        for (String key : query.tables()) {
            Optional<Column> column =
                    catalog.table(key).map(Table::columns).orElse(List.of()).stream()
                            .filter(c -> c.name().equalsIgnoreCase(output.name()))
                            .findFirst();
            if (column.isPresent()) {
                return column.get().type().equals(output.type());
            }
        }
        return false;
    }

    private void stored(BoundSql change, Subject subject, List<Problem> advice) {
        for (ColumnUse use : subject.uses(change)) {
            Optional<Variable> variable = use.variable();
            boolean declared =
                    variable.isPresent()
                            && !variable.get().isHidden()
                            && variable.get().kind() != Variable.Kind.LOOP_ROW;
            if (use.stored()
                    && declared
                    && isNarrower(use.column().type(), variable.get().type())) {
                advice.add(
                        problem(
                                        change,
                                        variable.get().name(),
                                        variable.get().type(),
                                        "column " + use.column().name(),
                                        use.column().type())
                                .with(
                                        typeOf(variable.get(), variable.get().type(), subject),
                                        use.column().type().sql()));
            }
        }
    }

    /** The words of a local variable's type, where it is declared alone and is no part of one. */
    private static Optional<Span> typeOf(Variable variable, SqlType whole, Subject subject) {
        return variable.kind() == Variable.Kind.LOCAL && variable.type().equals(whole)
                ? EditPlaces.typeOf(variable.span(), subject.routine().span())
                : Optional.empty();
    }

    private Problem problem(BoundSql sql, String what, SqlType from, String where, SqlType to) {
        return Problem.advice(
                sql.span(),
                name(),
                what + " is " + from.sql() + ", and " + where + " holds only " + to.sql(),
                "declare the variable LIKE the column");
    }

    static boolean isNarrower(SqlType to, SqlType from) {
        if (to instanceof SqlType.Text a && from instanceof SqlType.Text b) {
            return a.length() > 0 && b.length() > a.length();
        }
        if (to instanceof SqlType.Integral a && from instanceof SqlType.Integral b) {
            // COUNT and SUM are BIGINT in every database, and hardly ever large.
            return b.size() == SqlType.Whole.INTEGER && a.size() == SqlType.Whole.SMALLINT;
        }
        if (to instanceof SqlType.Exact a && from instanceof SqlType.Exact b) {
            boolean bounded = a.precision() > 0 && b.precision() > 0 && b.precision() < 30;
            return bounded
                    && (a.scale() < b.scale()
                            || a.precision() - a.scale() < b.precision() - b.scale());
        }
        return to instanceof SqlType.Integral
                && from instanceof SqlType.Exact b
                && b.scale() > 0
                && b.precision() < 30;
    }
}
