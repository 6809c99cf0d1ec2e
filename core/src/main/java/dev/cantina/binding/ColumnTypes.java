package dev.cantina.binding;

import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Column;
import dev.cantina.catalog.Table;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.SqlText;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** The types of the columns that a data statement names. */
public final class ColumnTypes {
    private ColumnTypes() {}

    /**
     * The type of a column of the statement's tables; empty where it is none, or not one alone.
     *
     * @param name as it is written, with what qualifies it
     */
    public static Optional<SqlType> of(String name, BoundSql sql, Catalog catalog) {
        return of(name, sql.source().scope(), catalog);
    }

    static Optional<SqlType> of(String name, SqlText.Scope scope, Catalog catalog) {
        String[] parts = name.replace("\"", "").toUpperCase(Locale.ROOT).split("\\s*\\.\\s*");
        String column = parts[parts.length - 1];
        List<SqlType> types = new ArrayList<>();
        collect(scope, parts.length > 1 ? parts[parts.length - 2] : "", column, catalog, types);
        return types.stream().distinct().count() == 1
                ? Optional.of(types.get(0))
                : Optional.empty();
    }

    private static void collect(
            SqlText.Scope scope,
            String qualifier,
            String column,
            Catalog catalog,
            List<SqlType> types) {
        for (SqlText.TableUse use : scope.tables()) {
            boolean meant =
                    qualifier.isEmpty()
                            || use.known().map(Name::key).filter(qualifier::equals).isPresent();
            if (meant && !use.names().isEmpty()) {
                Optional<Table> table = catalog.table(use.names().get(use.names().size() - 1));
                table.flatMap(t -> t.column(column)).map(Column::type).ifPresent(types::add);
            }
        }
        scope.children().forEach(c -> collect(c, qualifier, column, catalog, types));
    }
}
