package dev.cantina.deploy;

import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Table;
import dev.cantina.check.BoundSql;
import dev.cantina.syntax.Span;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/**
 * Changes of keys by themselves. The standard looks at a key when all rows are changed (ISO 9075-2,
 * 4.20); servers look row by row.
 */
final class KeyUpdates {
    private KeyUpdates() {}

    /**
     * @throws Refusal where rows may pass their keys on
     */
    static void refuse(BoundSql sql, Catalog catalog, Span span, String server) {
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
        String text = sql.source().span().text();
        for (String key : keys) {
            String name = "\\b" + Pattern.quote(key) + "\\b";
            boolean moved =
                    Pattern.compile(
                                    "(?is).*\\bSET\\b.*"
                                            + name
                                            + "\\s*=[^=]*"
                                            + name
                                            + "\\s*[-+*].*")
                            .matcher(text)
                            .matches();
            if (moved) {
                throw new Refusal(
                        span,
                        server
                                + " checks keys row by row, so a change of many keys at once can"
                                + " fail there");
            }
        }
    }
}
