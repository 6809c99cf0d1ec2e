package dev.cantina.database;

import dev.cantina.syntax.SqlWords;
import java.util.Optional;

/**
 * A query over the rows of a change: {@code SELECT … FROM FINAL TABLE (INSERT …) …} (ISO 9075-2,
 * 7.6, data change delta table).
 *
 * @param before the text up to where the delta table begins
 * @param kind FINAL, NEW or OLD
 * @param verb what the change is: INSERT, UPDATE, DELETE or MERGE
 * @param change the change
 * @param table the name of the table that it changes
 * @param alias what the rows are called; empty where that is the table's name
 * @param after the text behind it
 */
public record DeltaTable(
        String before,
        String kind,
        String verb,
        String change,
        String table,
        String alias,
        String after) {
    /** The one of a query; empty where it reads none, or in another way than these know. */
    public static Optional<DeltaTable> of(String sql) {
        SqlWords words = SqlWords.of(sql);
        int from = words.find("FROM");
        if (!words.sees(0, "SELECT") || from < 0) {
            return Optional.empty();
        }
        boolean delta =
                (words.sees(from + 1, "FINAL")
                                || words.sees(from + 1, "NEW")
                                || words.sees(from + 1, "OLD"))
                        && words.sees(from + 2, "TABLE", "(");
        if (!delta) {
            return Optional.empty();
        }
        int open = from + 3;
        int close = words.closing(open);
        String verb = open + 1 < close ? words.all().get(open + 1).text() : "";
        int name = open + (verb.equals("UPDATE") ? 2 : 3);
        int end = close + 1;
        String alias = "";
        if (words.sees(end, "AS")) {
            end++;
        }
        if (end < words.all().size() && words.all().get(end).isName()) {
            alias = words.between(end, end + 1);
            end++;
        }
        if (close >= words.all().size() || name >= close || words.sees(end, "(")) {
            return Optional.empty();
        }
        return Optional.of(
                new DeltaTable(
                        sql.substring(0, words.all().get(from + 1).start()),
                        words.all().get(from + 1).text(),
                        verb,
                        words.between(open + 1, close),
                        words.between(name, name + 1),
                        alias,
                        words.between(end, words.all().size())));
    }

    /** What its rows are called. */
    public String known() {
        return alias.isEmpty() ? table : alias;
    }

    /** Whether RETURNING gives its rows: not what a row was before an UPDATE. */
    public boolean isReturned() {
        return kind.equals("OLD")
                ? verb.equals("DELETE")
                : verb.equals("INSERT") || verb.equals("UPDATE");
    }

    /** Whether a marker stands before the change, which may not trade places with those in it. */
    public boolean isOrdered() {
        return before.indexOf('?') < 0;
    }
}
