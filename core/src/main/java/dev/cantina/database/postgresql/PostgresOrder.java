package dev.cantina.database.postgresql;

import dev.cantina.catalog.Column;
import dev.cantina.catalog.Table;
import dev.cantina.syntax.SqlWords;
import dev.cantina.syntax.SqlWords.Word;
import java.util.Collection;
import java.util.List;
import java.util.Set;
import java.util.TreeMap;

/**
 * Where NULL stands among the rows of ORDER BY. The standard lets each database choose (ISO 9075-2,
 * 10.10): it comes before every value on the embedded database and on MariaDB, and after them on
 * PostgreSQL, which is told here.
 */
final class PostgresOrder {
    /** What ends a list of sort keys, at its own depth. */
    private static final Set<String> ENDS =
            Set.of(
                    "LIMIT",
                    "OFFSET",
                    "FETCH",
                    "FOR",
                    "ROWS",
                    "RANGE",
                    "GROUPS",
                    "UNION",
                    "EXCEPT",
                    "INTERSECT",
                    "INTO",
                    "WITH",
                    ";");

    private final SqlWords words;
    private final List<Word> all;
    private final TreeMap<Integer, String> put = new TreeMap<>();

    private final Collection<Table> tables;
    private final boolean outer;

    private PostgresOrder(String sql, Collection<Table> tables) {
        words = SqlWords.of(sql);
        all = words.all();
        this.tables = tables;
        outer = all.stream().anyMatch(w -> w.is("LEFT") || w.is("RIGHT") || w.is("FULL"));
    }

    /**
     * A statement that says where NULL stands, in sort keys that can be NULL: for the others the
     * server could no longer go along an index.
     *
     * @param tables that the statement may be about
     */
    static String said(String sql, Collection<Table> tables) {
        if (!sql.toUpperCase(java.util.Locale.ROOT).contains("ORDER")) {
            return sql;
        }
        PostgresOrder order = new PostgresOrder(sql, tables);
        for (int i = 0; i + 2 < order.all.size(); i++) {
            if (order.words.sees(i, "ORDER", "BY")) {
                order.keys(i + 2);
            }
        }
        StringBuilder text = new StringBuilder(sql);
        order.put.descendingMap().forEach(text::insert);
        return text.toString();
    }

    /** Goes over the sort keys from a place on. */
    private void keys(int from) {
        int depth = all.get(from).depth();
        int start = from;
        for (int i = from; i <= all.size(); i++) {
            boolean over =
                    i == all.size()
                            || all.get(i).depth() < depth
                            || all.get(i).is(")") && all.get(i).depth() <= depth - 1
                            || all.get(i).depth() == depth
                                    && ENDS.stream().anyMatch(all.get(i)::is);
            if (over || all.get(i).depth() == depth && all.get(i).is(",")) {
                key(start, i);
                start = i + 1;
            }
            if (over) {
                return;
            }
        }
    }

    private void key(int from, int to) {
        if (from >= to) {
            return;
        }
        boolean said = to - from > 2 && all.get(to - 2).is("NULLS");
        if (!said && !isNeverNull(from, to)) {
            boolean falls = all.get(to - 1).is("DESC");
            put.put(all.get(to - 1).end(), falls ? " NULLS LAST" : " NULLS FIRST");
        }
    }

    /** Whether a sort key is a column that is NOT NULL in every table here that has one. */
    private boolean isNeverNull(int from, int to) {
        boolean directed = all.get(to - 1).is("DESC") || all.get(to - 1).is("ASC");
        int last = to - 1 - (directed ? 1 : 0);
        boolean plain =
                last == from && all.get(from).isName()
                        || last == from + 2 && all.get(from + 1).is(".") && all.get(last).isName();
        if (!plain || outer) {
            return false;
        }
        String name = all.get(last).text();
        List<Column> columns =
                tables.stream()
                        .filter(t -> all.stream().anyMatch(w -> isNamed(w, t.name())))
                        .flatMap(t -> t.columns().stream())
                        .filter(c -> c.name().equalsIgnoreCase(name))
                        .toList();
        return !columns.isEmpty()
                && columns.stream().noneMatch(Column::nullable)
                && !isMade(last, name);
    }

    private static boolean isNamed(Word word, String name) {
        return word.isName() && word.text().equalsIgnoreCase(name);
    }

    /** Whether the statement gives this name to something of its own. */
    private boolean isMade(int at, String name) {
        for (int i = 1; i < all.size(); i++) {
            boolean same = i != at && all.get(i).text().equalsIgnoreCase(name);
            if (same && all.get(i - 1).is("AS")) {
                return true;
            }
        }
        return false;
    }
}
