package dev.cantina.advice;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundSql;
import dev.cantina.binding.BoundStatement;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Span;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** A data statement that only the embedded database takes, or only one of the servers. */
final class BoundToOneDatabase implements Advice.Rule {
    private static final Map<Pattern, String> WORDS = new LinkedHashMap<>();

    static {
        String embedded = "the embedded database";
        String servers = "PostgreSQL";
        only(embedded, "LISTAGG\\s*\\(", "CASEWHEN\\s*\\(", "SYSTEM_RANGE\\s*\\(");
        only(embedded, "CSVREAD\\s*\\(", "CSVWRITE\\s*\\(", "FORMATDATETIME\\s*\\(");
        only(embedded, "PARSEDATETIME\\s*\\(", "RANDOM_UUID\\s*\\(", "DATEADD\\s*\\(");
        only(embedded, "HISTOGRAM\\s*\\(", "QUALIFY\\b", "ROWNUM\\s*\\(", "_ROWID_");
        only(embedded, "MERGE\\s+INTO\\s+[^;]*?\\bKEY\\s*\\(", "SELECT\\s+TOP\\s+\\d");
        only(servers, "ON\\s+CONFLICT\\b", "DISTINCT\\s+ON\\s*\\(");
        only("MariaDB", "ON\\s+DUPLICATE\\s+KEY\\b", "REPLACE\\s+INTO\\b", "INSERT\\s+IGNORE\\b");
    }

    private static void only(String database, String... patterns) {
        for (String pattern : patterns) {
            WORDS.put(
                    Pattern.compile(
                            (Character.isLetter(pattern.charAt(0)) ? "\\b" : "") + pattern,
                            Pattern.CASE_INSENSITIVE),
                    database);
        }
    }

    @Override
    public String name() {
        return "bound-to-one-database";
    }

    @Override
    public void look(Subject subject, List<Problem> advice) {
        subject.sent().forEach(sent -> look(sent.sql(), advice));
        for (BoundStatement s : subject.statements()) {
            if (s instanceof BoundStatement.Block block) {
                block.cursors().forEach(c -> c.query().ifPresent(sql -> look(sql, advice)));
            }
        }
        for (BoundExpression e : subject.expressions()) {
            if (e instanceof BoundExpression.DatabaseExpression ask) {
                look(ask.sql(), advice);
            }
        }
    }

    /** The words that one of the patterns begins with, or has in it, by their first letter. */
    private static final String[][] SIGNS = new String['_' + 1][];

    static {
        String words =
                "LISTAGG CASEWHEN SYSTEM_RANGE CSVREAD CSVWRITE FORMATDATETIME PARSEDATETIME "
                        + "RANDOM_UUID DATEADD HISTOGRAM QUALIFY ROWNUM _ROWID_ KEY "
                        + "TOP CONFLICT DISTINCT DUPLICATE REPLACE IGNORE";
        Stream.of(words.split(" "))
                .collect(Collectors.groupingBy(word -> word.charAt(0)))
                .forEach((letter, same) -> SIGNS[letter] = same.toArray(String[]::new));
    }

    /** Whether a text has one of the signs: most have none, and need no closer look. */
    private static boolean hasSign(Span span) {
        String text = span.source().text();
        boolean inWord = false;
        for (int i = span.start(); i < span.end(); i++) {
            char c = text.charAt(i);
            boolean letter = c == '_' || c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z';
            if (letter && !inWord && isSign(text, i, c >= 'a' ? (char) (c - 'a' + 'A') : c)) {
                return true;
            }
            inWord = letter;
        }
        return false;
    }

    private static boolean isSign(String text, int start, char first) {
        if (SIGNS[first] == null) {
            return false;
        }
        for (String sign : SIGNS[first]) {
            if (text.regionMatches(true, start, sign, 0, sign.length())) {
                return true;
            }
        }
        return false;
    }

    private void look(BoundSql sql, List<Problem> advice) {
        if (!hasSign(sql.span())) {
            return;
        }
        String text = withoutTexts(sql.span().text());
        for (Map.Entry<Pattern, String> entry : WORDS.entrySet()) {
            Matcher matcher = entry.getKey().matcher(text);
            if (matcher.find()) {
                int start = sql.span().start() + matcher.start();
                Span place = new Span(sql.span().source(), start, start + matcher.group().length());
                String words = matcher.group().replaceAll("[\\s(]+$", "");
                advice.add(
                        Problem.advice(
                                place,
                                name(),
                                words.replaceAll("\\s+", " ")
                                        + " is taken by "
                                        + entry.getValue()
                                        + " alone",
                                "say it in words of the standard, or keep this routine for that"
                                        + " database"));
                return;
            }
        }
    }

    /** The same text at the same places, with blanks for what stands in quotes and comments. */
    private static String withoutTexts(String text) {
        Matcher matcher = Pattern.compile("'(?:[^']|'')*'|\"[^\"]*\"|--[^\\n]*").matcher(text);
        return matcher.replaceAll(m -> " ".repeat(m.group().length()));
    }
}
