package dev.cantina.translate;

import dev.cantina.binding.BoundSql;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Table;
import dev.cantina.facts.RowFacts;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlWords;
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
        SqlWords words = SqlWords.of(sql.source().span().text());
        int set = words.find("SET");
        int end =
                words.findFrom(set, "WHERE") < 0
                        ? words.all().size()
                        : words.findFrom(set, "WHERE");
        for (int start = set + 1; set >= 0 && start < end; ) {
            int next = start;
            while (next < end && !(words.all().get(next).depth() == 0 && words.sees(next, ","))) {
                next++;
            }
            if (passesOn(words, start, next, table.get(), keys)) {
                throw new UnsupportedConstructException(
                        span,
                        server
                                + " checks keys row by row, so a change of many keys at once can"
                                + " fail there");
            }
            start = next + 1;
        }
    }

    /** Whether {@code key = …} works the new key out from a column. */
    private static boolean passesOn(
            SqlWords words, int start, int end, Table table, Set<String> keys) {
        int sign = start;
        boolean key = false;
        for (; sign < end && !words.sees(sign, "="); sign++) {
            key |= keys.contains(words.all().get(sign).text());
        }
        for (int i = sign + 1; key && i < end; i++) {
            if (words.all().get(i).isName() && table.position(words.all().get(i).text()) >= 0) {
                return true;
            }
        }
        return false;
    }
}
