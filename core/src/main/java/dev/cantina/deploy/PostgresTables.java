package dev.cantina.deploy;

import java.util.Locale;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Definitions of tables in the standard's words as PostgreSQL reads them. */
final class PostgresTables {
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

    private PostgresTables() {}

    static String translated(String definition) {
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
