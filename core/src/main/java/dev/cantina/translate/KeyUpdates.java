package dev.cantina.translate;

import dev.cantina.binding.BoundSql;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Table;
import dev.cantina.facts.RowFacts;
import dev.cantina.syntax.Change;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlText;
import dev.cantina.syntax.SqlValue;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * Changes of keys by themselves. The standard looks at a key when all rows are changed (ISO 9075-2,
 * 4.20); servers look row by row.
 */
public final class KeyUpdates {
    private KeyUpdates() {}

    /**
     * @throws UnsupportedConstructException where rows may pass their keys on
     */
    public static void refuse(BoundSql sql, Catalog catalog, Span span, String server) {
        if (!sql.verb().equals("UPDATE") || sql.scope().tables().isEmpty()) {
            return;
        }
        Optional<Table> table = catalog.table(sql.scope().tables().get(0).names().get(0));
        if (table.isEmpty()) {
            return;
        }
        Set<String> keys =
                table.get().uniqueKeys().stream()
                        .flatMap(List::stream)
                        .map(i -> table.get().columns().get(i).key())
                        .collect(Collectors.toSet());
        if (RowFacts.changesAtMostOne(sql, catalog).isYes()) {
            return;
        }
        boolean passesOn =
                sql.source().tree() instanceof Change.Update update
                        && update.assignments().stream()
                                .filter(a -> a.columns().stream().anyMatch(c -> isKey(c, keys)))
                                .anyMatch(a -> reads(sql, sql.scope(), a.value(), table.get()));
        if (passesOn) {
            throw new UnsupportedConstructException(
                    span,
                    server
                            + " checks keys row by row, so a change of many keys at once can"
                            + " fail there");
        }
    }

    private static boolean isKey(List<Name> column, Set<String> keys) {
        return keys.contains(column.get(column.size() - 1).key());
    }

    /** Whether a value is worked out from a column of the table. */
    private static boolean reads(BoundSql sql, SqlText.Scope scope, SqlValue value, Table table) {
        Span within = value.span();
        boolean here =
                scope.names().stream()
                        .filter(n -> n.use() == SqlText.Use.VALUE)
                        .filter(n -> within.start() <= n.span().start())
                        .filter(n -> n.span().end() <= within.end())
                        .filter(n -> table.position(last(n)) >= 0)
                        .anyMatch(n -> !isVariable(sql, n.span()));
        return here || scope.children().stream().anyMatch(c -> reads(sql, c, value, table));
    }

    private static String last(SqlText.NameUse use) {
        return use.names().get(use.names().size() - 1).key();
    }

    private static boolean isVariable(BoundSql sql, Span name) {
        return sql.parameters().stream().anyMatch(p -> p.span().start() == name.start());
    }
}
