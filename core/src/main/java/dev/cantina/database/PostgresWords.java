package dev.cantina.database;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Data statements as PostgreSQL reads them. Its GREATEST and LEAST leave NULLs out, where those of
 * the other databases, and of expressions outside SQL, are NULL then.
 */
public final class PostgresWords {
    private static final Pattern EXTREME =
            Pattern.compile(
                    "(?i)'(?:[^']|'')*'|\"[^\"]*\"|--[^\\n]*|/\\*(?s:.*?)\\*/"
                            + "|(?<![\\w.])(?<name>GREATEST|LEAST)\\s*\\(");
    private static final Pattern QUIET =
            Pattern.compile("'(?:[^']|'')*'|\"[^\"]*\"|--[^\\n]*|/\\*(?s:.*?)\\*/");

    private static final Pattern AGGREGATE =
            Pattern.compile(
                    "(?i)\\b(COUNT|SUM|AVG|MIN|MAX|EVERY|ANY|SOME|\\w*_AGG|LISTAGG)\\s*\\(");

    private PostgresWords() {}

    /** The statement, its extremes by subqueries that name each value once. */
    public static String of(String sql) {
        Matcher call = EXTREME.matcher(sql);
        StringBuilder text = new StringBuilder();
        int at = 0;
        while (call.find(at)) {
            text.append(sql, at, call.start());
            at = call.end();
            int close = call.group("name") == null ? -1 : close(sql, at);
            // An aggregate in a subquery would count the subquery's rows.
            if (close < 0 || AGGREGATE.matcher(sql.substring(at, close)).find()) {
                text.append(call.group());
                continue;
            }
            String largest = call.group("name").toUpperCase(Locale.ROOT);
            text.append("(SELECT CASE WHEN count(v) = count(*) THEN ")
                    .append(largest.equals("GREATEST") ? "max" : "min")
                    .append("(v) END FROM (VALUES ");
            List<String> values = new ArrayList<>();
            for (String value : values(sql.substring(at, close))) {
                values.add("(" + of(value.strip()) + ")");
            }
            text.append(String.join(", ", values)).append(") AS among (v))");
            at = close + 1;
        }
        return text.append(sql, at, sql.length()).toString();
    }

    /** The bracket that closes one; -1 where none does. */
    private static int close(String sql, int from) {
        int depth = 1;
        Matcher quiet = QUIET.matcher(sql);
        for (int i = from; i < sql.length(); i++) {
            if (quiet.region(i, sql.length()).lookingAt()) {
                i = quiet.end() - 1;
                continue;
            }
            depth += sql.charAt(i) == '(' ? 1 : sql.charAt(i) == ')' ? -1 : 0;
            if (depth == 0) {
                return i;
            }
        }
        return -1;
    }

    private static List<String> values(String list) {
        List<String> values = new ArrayList<>();
        int depth = 0;
        int start = 0;
        Matcher quiet = QUIET.matcher(list);
        for (int i = 0; i < list.length(); i++) {
            if (quiet.region(i, list.length()).lookingAt()) {
                i = quiet.end() - 1;
                continue;
            }
            char c = list.charAt(i);
            depth += c == '(' ? 1 : c == ')' ? -1 : 0;
            if (c == ',' && depth == 0) {
                values.add(list.substring(start, i));
                start = i + 1;
            }
        }
        values.add(list.substring(start));
        return values;
    }
}
