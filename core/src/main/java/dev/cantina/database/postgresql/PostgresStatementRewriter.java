package dev.cantina.database.postgresql;

import dev.cantina.catalog.Table;
import dev.cantina.database.DeltaTable;
import dev.cantina.syntax.KeptBlanks;
import dev.cantina.syntax.SqlWords;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * Data statements as PostgreSQL reads them. Its GREATEST and LEAST leave NULLs out, where those of
 * the other databases, and of expressions outside SQL, are NULL then; and NULL stands last there.
 */
public final class PostgresStatementRewriter {
    private static final Pattern QUIET =
            Pattern.compile("'(?:[^']|'')*'|\"[^\"]*\"|--[^\\n]*|/\\*(?s:.*?)\\*/");
    private static final Pattern EXTREME =
            Pattern.compile("(?i)" + QUIET + "|(?<![\\w.])(?<name>GREATEST|LEAST)\\s*\\(");
    private static final Pattern AGGREGATE =
            Pattern.compile(
                    "(?i)\\b(COUNT|SUM|AVG|MIN|MAX|EVERY|ANY|SOME|\\w*_AGG|LISTAGG)\\s*\\(");

    private PostgresStatementRewriter() {}

    /**
     * The statement in PostgreSQL's words.
     *
     * @param tables that it may be about
     */
    public static String of(String sql, Collection<Table> tables) {
        String known = plain(sql);
        return PostgresOrder.said(
                extremes(
                        DeltaTable.of(known)
                                .map(PostgresStatementRewriter::returning)
                                .orElse(known)),
                tables);
    }

    private static final Set<String> WHOLE = Set.of("YEAR", "MONTH", "DAY", "HOUR", "MINUTE");

    /**
     * {@code X'41'} is a string of bits there, TRUNCATE is called TRUNC, what EXTRACT gives keeps
     * decimals where it is divided, and SIGN gives an approximate number.
     */
    private static String plain(String sql) {
        if (Stream.of("X'", "TRUNCATE", "EXTRACT", "SIGN", "CAST", "BPCHAR")
                .noneMatch(w -> SqlWords.mayHold(sql, w))) {
            return sql;
        }
        SqlWords words = SqlWords.of(sql);
        boolean divides = words.all().stream().anyMatch(w -> w.is("/"));
        TreeMap<Integer, String> behind = new TreeMap<>();
        StringBuilder text = new StringBuilder();
        int at = 0;
        for (int i = 0; i < words.all().size(); i++) {
            SqlWords.Word word = words.all().get(i);
            String written = sql.substring(word.start(), word.end());
            text.append(sql, at, word.start());
            if (word.kind() == SqlWords.Kind.LITERAL && written.matches("(?is)X'.*")) {
                String digits = written.substring(1).replaceAll("[^0-9A-Fa-f]", "");
                written = "CAST('\\x" + digits + "' AS bytea)";
            } else if (words.sees(i, "TRUNCATE", "(")) {
                written = "TRUNC";
            } else if (divides && words.sees(i, "EXTRACT", "(") && isWhole(words, i + 2)) {
                written = "CAST(" + written;
                behind.merge(words.closing(i + 1), " AS integer)", String::concat);
            } else if (words.sees(i, "CAST", "(") && fixed(words, i).isPresent()) {
                // Beside a text it would lose the blanks at its end.
                written = "rpad(" + written;
                behind.merge(
                        words.closing(i + 1), ", " + fixed(words, i).get() + ")", String::concat);
            } else if (words.sees(i, "BPCHAR", ")")
                    && words.sees(i - 4, "CAST", "(", "?", "AS")
                    && !KeptBlanks.isCompared(words, i - 4, i + 2)) {
                written = "TEXT";
            } else if (words.sees(i, "SIGN", "(")) {
                written = "CAST(" + written;
                behind.merge(words.closing(i + 1), " AS integer)", String::concat);
            }
            text.append(written).append(behind.getOrDefault(i, ""));
            at = word.end();
        }
        return text.append(sql, at, sql.length()).toString();
    }

    /** The length of what a CAST makes a CHAR whose blanks count. */
    private static Optional<String> fixed(SqlWords words, int cast) {
        int close = words.closing(cast + 1);
        boolean ends = words.sees(close - 1, ")") && words.sees(close - 3, "(");
        boolean fixed =
                words.sees(close - 5, "AS", "CHAR") || words.sees(close - 5, "AS", "CHARACTER");
        return ends && fixed && KeptBlanks.at(words, cast, close + 1)
                ? Optional.of(words.all().get(close - 2).text())
                : Optional.empty();
    }

    private static boolean isWhole(SqlWords words, int field) {
        return field < words.all().size() && WHOLE.contains(words.all().get(field).text());
    }

    /** The rows of a change, by a common table expression that returns them. */
    private static String returning(DeltaTable delta) {
        String words =
                "WITH cantina_changed AS ("
                        + delta.change()
                        + " RETURNING *) "
                        + delta.before()
                        + "cantina_changed AS "
                        + delta.known()
                        + (delta.after().isEmpty() ? "" : " " + delta.after());
        return delta.isReturned() && delta.isOrdered()
                ? words
                : delta.before()
                        + delta.kind()
                        + " TABLE ("
                        + delta.change()
                        + ") AS "
                        + delta.known()
                        + " "
                        + delta.after();
    }

    /** The statement, its extremes by subqueries that name each value once. */
    private static String extremes(String sql) {
        Matcher call = EXTREME.matcher(sql);
        StringBuilder text = new StringBuilder();
        int at = 0;
        while (call.find(at)) {
            text.append(sql, at, call.start());
            at = call.end();
            List<String> values = new ArrayList<>();
            int close = call.group("name") == null ? -1 : values(sql, at, values);
            // An aggregate in a subquery would count the subquery's rows.
            if (close < 0 || AGGREGATE.matcher(sql.substring(at, close)).find()) {
                text.append(call.group());
                continue;
            }
            String largest = call.group("name").toUpperCase(Locale.ROOT);
            text.append("(SELECT CASE WHEN count(v) = count(*) THEN ")
                    .append(largest.equals("GREATEST") ? "max" : "min")
                    .append("(v) END FROM (VALUES ");
            text.append(
                            values.stream()
                                    .map(value -> "(" + extremes(value.strip()) + ")")
                                    .collect(Collectors.joining(", ")))
                    .append(") AS among (v))");
            at = close + 1;
        }
        return text.append(sql, at, sql.length()).toString();
    }

    /**
     * Reads what stands between brackets.
     *
     * @param values gets what commas part there
     * @return where the bracket closes; -1 where it does not
     */
    private static int values(String sql, int from, List<String> values) {
        int depth = 1;
        int start = from;
        Matcher quiet = QUIET.matcher(sql);
        for (int i = from; i < sql.length(); i++) {
            if (quiet.region(i, sql.length()).lookingAt()) {
                i = quiet.end() - 1;
                continue;
            }
            char c = sql.charAt(i);
            depth += c == '(' ? 1 : c == ')' ? -1 : 0;
            if (depth == 0 || depth == 1 && c == ',') {
                values.add(sql.substring(start, i));
                start = i + 1;
            }
            if (depth == 0) {
                return i;
            }
        }
        return -1;
    }
}
