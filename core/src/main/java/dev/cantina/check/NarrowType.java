package dev.cantina.check;

import dev.cantina.catalog.Catalog;
import dev.cantina.syntax.Problem;
import dev.cantina.types.SqlType;
import java.util.List;

/** A value of a column taken into a variable that is too narrow for the column. */
final class NarrowType implements Advice.Rule {
    @Override
    public String name() {
        return "narrow-type";
    }

    @Override
    public void look(BoundRoutine routine, Catalog catalog, List<Problem> advice) {
        Walker.statements(
                routine.body(),
                s -> {
                    if (s instanceof BoundStatement.Fill fill) {
                        List<SqlType.Field> columns = fill.query().columns();
                        for (int i = 0; i < Math.min(columns.size(), fill.targets().size()); i++) {
                            Variable variable = fill.targets().get(i).variable();
                            SqlType from = columns.get(i).type();
                            SqlType to = StatementBinder.typeOf(fill.targets().get(i));
                            if (isNarrower(to, from)) {
                                advice.add(
                                        Problem.advice(
                                                fill.query().span(),
                                                name(),
                                                columns.get(i).name()
                                                        + " is "
                                                        + from.sql()
                                                        + ", and "
                                                        + variable.name()
                                                        + " holds only "
                                                        + to.sql(),
                                                "declare it LIKE the column"));
                            }
                        }
                    }
                });
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
