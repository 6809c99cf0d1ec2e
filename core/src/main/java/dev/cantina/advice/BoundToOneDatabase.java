package dev.cantina.advice;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundSql;
import dev.cantina.binding.BoundStatement;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlWords;
import java.util.List;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** A data statement that only the embedded database takes, or only one of the servers. */
final class BoundToOneDatabase implements Advice.Rule {
    private record Only(String database, String... words) {}

    private static final String EMBEDDED = "the embedded database";

    /** Rows of words; a function's name has its bracket behind it. */
    private static final List<Only> WORDS =
            List.of(
                    new Only(EMBEDDED, "LISTAGG", "("),
                    new Only(EMBEDDED, "CASEWHEN", "("),
                    new Only(EMBEDDED, "SYSTEM_RANGE", "("),
                    new Only(EMBEDDED, "CSVREAD", "("),
                    new Only(EMBEDDED, "CSVWRITE", "("),
                    new Only(EMBEDDED, "FORMATDATETIME", "("),
                    new Only(EMBEDDED, "PARSEDATETIME", "("),
                    new Only(EMBEDDED, "RANDOM_UUID", "("),
                    new Only(EMBEDDED, "DATEADD", "("),
                    new Only(EMBEDDED, "HISTOGRAM", "("),
                    new Only(EMBEDDED, "QUALIFY"),
                    new Only(EMBEDDED, "ROWNUM", "("),
                    new Only(EMBEDDED, "_ROWID_"),
                    new Only(EMBEDDED, "SELECT", "TOP"),
                    new Only("PostgreSQL", "ON", "CONFLICT"),
                    new Only("PostgreSQL", "DISTINCT", "ON", "("),
                    new Only("MariaDB", "ON", "DUPLICATE", "KEY"),
                    new Only("MariaDB", "REPLACE", "INTO"),
                    new Only("MariaDB", "INSERT", "IGNORE"));

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
        SqlWords words = SqlWords.of(sql.span().text());
        boolean merge = words.sees(0, "MERGE", "INTO");
        for (int i = 0; i < words.all().size(); i++) {
            if (merge && words.all().get(i).depth() == 0 && words.sees(i, "KEY", "(")) {
                advice.add(advice(sql, words, 0, i + 1, EMBEDDED));
                return;
            }
            for (Only only : WORDS) {
                if (words.sees(i, only.words()) && !isOther(words, i, only)) {
                    int end = i + only.words().length;
                    boolean called = words.sees(end - 1, "(");
                    advice.add(advice(sql, words, i, called ? end - 1 : end, only.database()));
                    return;
                }
            }
        }
    }

    /** A name with something before it, or TOP as a column. */
    private static boolean isOther(SqlWords words, int at, Only only) {
        boolean qualified = words.sees(at - 1, ".");
        boolean top = only.words().length == 2 && only.words()[1].equals("TOP");
        boolean number =
                at + 2 < words.all().size()
                        && words.all().get(at + 2).kind() == SqlWords.Kind.LITERAL;
        return qualified || top && !number;
    }

    private Problem advice(BoundSql sql, SqlWords words, int from, int to, String database) {
        Span whole = sql.span();
        int start = whole.start() + words.all().get(from).start();
        int end = whole.start() + words.all().get(to - 1).end();
        List<String> said =
                words.all().subList(from, to).stream().map(SqlWords.Word::text).toList();
        return Problem.advice(
                new Span(whole.source(), start, end),
                name(),
                String.join(" ", said) + " is taken by " + database + " alone",
                "say it in words of the standard, or keep this routine for that database");
    }
}
