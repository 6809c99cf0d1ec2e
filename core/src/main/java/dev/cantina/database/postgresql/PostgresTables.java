package dev.cantina.database.postgresql;

import java.util.Locale;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Definitions of tables in the standard's words as PostgreSQL reads them. */
public final class PostgresTables {
    private static final Map<String, String> WORDS =
            Map.of(
                    "CLOB", "text",
                    "CHARACTER LARGE OBJECT", "text",
                    "BLOB", "bytea",
                    "BINARY LARGE OBJECT", "bytea",
                    "BINARY", "bytea",
                    "VARBINARY", "bytea",
                    "BINARY VARYING", "bytea",
                    "DECFLOAT", "numeric",
                    "TINYINT", "smallint",
                    "DOUBLE", "double precision");
    private static final Pattern TOKEN =
            Pattern.compile(
                    "(?i)'(?:[^']|'')*'|\"[^\"]*\"|--[^\\n]*|/\\*(?s:.*?)\\*/"
                            + "|\\bDOUBLE\\s+PRECISION\\b"
                            + "|\\b(CHARACTER\\s+LARGE\\s+OBJECT|BINARY\\s+LARGE\\s+OBJECT"
                            + "|BINARY\\s+VARYING|CLOB|BLOB|VARBINARY|BINARY|DECFLOAT|TINYINT|DOUBLE)\\b"
                            + "(\\s*\\(\\s*\\d+\\s*\\))?");

    private static final Pattern MOMENT =
            Pattern.compile(
                    "(?i)'(?:[^']|'')*'|\\b(CURRENT_DATE|CURRENT_TIMESTAMP|CURRENT_TIME|LOCALTIMESTAMP"
                            + "|LOCALTIME)\\b(?:\\(\\d+\\))?");

    private PostgresTables() {}

    /** The moment that {@link #CLOCK} holds, for what stands on a server while a run lasts. */
    public static String moment(String name) {
        String type =
                switch (name.toUpperCase(Locale.ROOT)) {
                    case "CURRENT_DATE" -> "date";
                    case "CURRENT_TIME", "LOCALTIME" -> "time";
                    default -> "timestamp";
                };
        return "CAST(CAST(current_setting('" + CLOCK + "') AS timestamp) AS " + type + ")";
    }

    /** A setting of the session: what the current time is. */
    public static final String CLOCK = "cantina.clock";

    /** The same with Cantina's clock in the place of the server's. */
    static String clocked(String definition) {
        Matcher moment = MOMENT.matcher(translated(definition));
        StringBuilder text = new StringBuilder();
        while (moment.find()) {
            String put = moment.group(1) == null ? moment.group() : moment(moment.group(1));
            moment.appendReplacement(text, Matcher.quoteReplacement(put));
        }
        moment.appendTail(text);
        return text.toString();
    }

    public static String translated(String definition) {
        Matcher token = TOKEN.matcher(definition);
        StringBuilder text = new StringBuilder();
        while (token.find()) {
            String word = token.group(1);
            String put =
                    word == null
                            ? token.group()
                            : WORDS.get(word.toUpperCase(Locale.ROOT).replaceAll("\\s+", " "));
            token.appendReplacement(text, Matcher.quoteReplacement(put));
        }
        token.appendTail(text);
        return text.toString();
    }
}
