package dev.cantina.binding;

import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Column;
import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.Table;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlText;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.Function;

/**
 * Arguments of the project's functions in a statement that may have another type than their
 * parameters, for databases that find a function only by the types that it was declared with.
 */
public final class ArgumentCasts {
    /** An argument, and what it must be cast to. */
    public record Cast(Span span, SqlType type) {}

    private ArgumentCasts() {}

    /**
     * Those of a statement. Where several functions would take a call, its types choose one, so
     * nothing is cast.
     *
     * @param variables the type of the variable that a stretch of the statement is, where it is one
     */
    public static List<Cast> of(
            SqlText text,
            Catalog catalog,
            Optional<ModuleSymbol> module,
            Function<Span, Optional<SqlType>> variables) {
        List<Cast> casts = new ArrayList<>();
        for (SqlText.Call call : text.calls()) {
            List<RoutineSymbol> functions =
                    catalog.functions(catalog.keyOf(call.function(), module));
            if (functions.size() != 1) {
                continue;
            }
            RoutineSymbol function = functions.get(0);
            for (int i = 0; i < call.arguments().size(); i++) {
                SqlText.Argument argument = call.arguments().get(i);
                Optional<SqlType> wanted = wanted(function, argument, i);
                if (wanted.isPresent()
                        && !fits(argument.span(), wanted.get(), variables)
                        && !isColumn(argument.span(), wanted.get(), text.scope(), catalog)
                        && !argument.span().text().isBlank()) {
                    casts.add(new Cast(argument.span(), wanted.get()));
                }
            }
        }
        return casts;
    }

    private static Optional<SqlType> wanted(
            RoutineSymbol function, SqlText.Argument argument, int position) {
        boolean named = argument.name().isPresent();
        for (int i = 0; i < function.parameters().size(); i++) {
            boolean here =
                    named
                            ? function.parameters().get(i).name().is(argument.name().get())
                            : i == position;
            SqlType type = function.parameters().get(i).type();
            if (here) {
                boolean cast =
                        type instanceof SqlType.Integral
                                || type instanceof SqlType.Exact
                                || type instanceof SqlType.Date;
                return cast ? Optional.of(type) : Optional.empty();
            }
        }
        return Optional.empty();
    }

    /** Whether it is a column of just that type: the statement is over tables alone. */
    private static boolean isColumn(
            Span argument, SqlType wanted, SqlText.Scope scope, Catalog catalog) {
        String[] parts = argument.text().strip().split("\\.");
        String column = parts[parts.length - 1].toUpperCase(Locale.ROOT);
        if (parts.length > 2 || !column.matches("[A-Z_][A-Z0-9_]*")) {
            return false;
        }
        List<SqlText.TableUse> uses = new ArrayList<>();
        collect(scope, uses);
        boolean found = false;
        for (SqlText.TableUse use : uses) {
            Optional<Table> table =
                    use.names().size() == 1 ? catalog.table(use.names().get(0)) : Optional.empty();
            if (table.isEmpty() || !use.columns().isEmpty()) {
                return false;
            }
            Optional<SqlType> type = table.get().column(column).map(Column::type);
            if (type.isPresent() && !type.get().equals(wanted)) {
                return false;
            }
            found |= type.isPresent();
        }
        return found;
    }

    private static void collect(SqlText.Scope scope, List<SqlText.TableUse> into) {
        into.addAll(scope.tables());
        scope.children().forEach(child -> collect(child, into));
    }

    /** Whether an argument surely is taken as it stands. */
    private static boolean fits(
            Span argument, SqlType wanted, Function<Span, Optional<SqlType>> variables) {
        boolean small = argument.text().matches("\\d{1,9}");
        if (small) {
            return !wanted.equals(SqlType.SMALLINT);
        }
        Optional<SqlType> variable = variables.apply(argument);
        return variable.isPresent()
                && (variable.get().equals(wanted)
                        || variable.get() instanceof SqlType.Integral from
                                && (!(wanted instanceof SqlType.Integral to)
                                        || from.size().compareTo(to.size()) <= 0));
    }
}
