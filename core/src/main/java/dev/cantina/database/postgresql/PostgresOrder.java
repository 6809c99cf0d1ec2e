package dev.cantina.database.postgresql;

import dev.cantina.catalog.Column;
import dev.cantina.catalog.Table;
import dev.cantina.syntax.Clause;
import dev.cantina.syntax.Expression;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlText;
import dev.cantina.syntax.SqlWords;
import dev.cantina.syntax.SqlWords.Word;
import dev.cantina.syntax.TextEdits;
import java.util.Collection;
import java.util.List;
import java.util.Optional;

/**
 * Where NULL stands among the rows of ORDER BY. The standard lets each database choose (ISO 9075-2,
 * 10.10): it comes before every value on the embedded database and on MariaDB, and after them on
 * PostgreSQL, which is told here: in sort keys that can be NULL, since for the others the server
 * could no longer go along an index.
 */
final class PostgresOrder {
    private final List<Word> all;
    private final int start;
    private final Collection<Table> tables;
    private final boolean outer;

    /**
     * @param tables that the statement may be about
     */
    PostgresOrder(SqlText text, Collection<Table> tables) {
        all = SqlWords.of(text.span().text()).all();
        start = text.span().start();
        this.tables = tables;
        outer = all.stream().anyMatch(w -> w.is("LEFT") || w.is("RIGHT") || w.is("FULL"));
    }

    void sorted(Clause.SortKey key, TextEdits edits) {
        if (key.nullsFirst().isEmpty()) {
            say(key.span(), key.value().expression(), key.descending(), edits);
        }
    }

    void sorted(Expression.Key key, TextEdits edits) {
        if (!key.saysNulls()) {
            say(key.span(), Optional.of(key.value()), key.descending(), edits);
        }
    }

    private void say(Span key, Optional<Expression> value, boolean descending, TextEdits edits) {
        if (value.filter(this::isNeverNull).isEmpty()) {
            edits.behind(key, descending ? " NULLS LAST" : " NULLS FIRST");
        }
    }

    /** Whether a sort key is a column that is NOT NULL in every table here that has one. */
    private boolean isNeverNull(Expression value) {
        if (outer
                || !(value instanceof Expression.Reference reference)
                || reference.names().size() > 2) {
            return false;
        }
        String name = reference.names().get(reference.names().size() - 1).text();
        List<Column> columns =
                tables.stream()
                        .filter(t -> all.stream().anyMatch(w -> isNamed(w, t.name())))
                        .flatMap(t -> t.columns().stream())
                        .filter(c -> c.name().equalsIgnoreCase(name))
                        .toList();
        return !columns.isEmpty()
                && columns.stream().noneMatch(Column::nullable)
                && !isMade(reference.span(), name);
    }

    private static boolean isNamed(Word word, String name) {
        return word.isName() && word.text().equalsIgnoreCase(name);
    }

    /** Whether the statement gives this name to something of its own. */
    private boolean isMade(Span at, String name) {
        for (int i = 1; i < all.size(); i++) {
            boolean same =
                    start + all.get(i).end() != at.end()
                            && all.get(i).text().equalsIgnoreCase(name);
            if (same && all.get(i - 1).is("AS")) {
                return true;
            }
        }
        return false;
    }
}
