package dev.cantina.database.mariadb;

import dev.cantina.syntax.SimpleCase;
import dev.cantina.syntax.SqlWords;
import java.util.Optional;
import java.util.TreeMap;

/**
 * {@code CASE operand WHEN value THEN …} in data statements. MariaDB finds nothing any more behind
 * a value that is NULL, so the comparisons are written out.
 */
final class MariaSearched {
    private MariaSearched() {}

    /** A statement without those, but for one whose operand is a marker, or has one in it. */
    static String of(String statement) {
        String text = statement;
        Optional<String> next = next(text);
        while (next.isPresent()) {
            text = next.get();
            next = next(text);
        }
        return text;
    }

    /**
     * A statement in which REPLACE by NULL is NULL, which it is there only where something is
     * replaced; but for one by a marker.
     */
    static String replaced(String statement) {
        if (!SqlWords.mayHold(statement, "REPLACE")) {
            return statement;
        }
        SqlWords words = SqlWords.of(statement);
        TreeMap<Integer, String> put = new TreeMap<>();
        for (int i = 0; i < words.all().size(); i++) {
            if (!words.sees(i, "REPLACE", "(")) {
                continue;
            }
            int close = words.closing(i + 1);
            int depth = words.all().get(i).depth() + 1;
            int from = i + 2;
            for (int k = i + 2; k < close; k++) {
                from = words.sees(k, ",") && words.all().get(k).depth() == depth ? k + 1 : from;
            }
            String by = words.between(from, Math.min(close, words.all().size()));
            boolean sure =
                    close == from + 1 && words.all().get(from).kind() == SqlWords.Kind.LITERAL;
            if (close < words.all().size() && !sure && from > i + 2 && !by.contains("?")) {
                put.put(words.all().get(i).start(), "IF((" + by + ") IS NULL, NULL, ");
                put.merge(words.all().get(close).end(), ")", String::concat);
            }
        }
        StringBuilder made = new StringBuilder(statement);
        put.descendingMap().forEach(made::insert);
        return made.toString();
    }

    /** Whether one is left that may find nothing. */
    static boolean isLeft(String statement) {
        if (!SqlWords.mayHold(statement, "CASE")) {
            return false;
        }
        SqlWords words = SqlWords.of(statement);
        for (int i = 0; i < words.all().size(); i++) {
            if (SimpleCase.at(words, i).filter(c -> c.mayMeetNull(words)).isPresent()) {
                return true;
            }
        }
        return false;
    }

    private static Optional<String> next(String text) {
        if (!SqlWords.mayHold(text, "CASE")) {
            return Optional.empty();
        }
        SqlWords words = SqlWords.of(text);
        for (int i = 0; i < words.all().size(); i++) {
            Optional<SimpleCase> found =
                    SimpleCase.at(words, i)
                            .filter(c -> c.mayMeetNull(words))
                            .filter(c -> !hasMarker(words, c.operand()));
            if (found.isPresent()) {
                return Optional.of(searched(text, words, found.get()));
            }
        }
        return Optional.empty();
    }

    private static boolean hasMarker(SqlWords words, SimpleCase.Words operand) {
        return words.all().subList(operand.from(), operand.to()).stream().anyMatch(w -> w.is("?"));
    }

    private static String searched(String text, SqlWords words, SimpleCase simple) {
        String operand = words.between(simple.operand().from(), simple.operand().to());
        StringBuilder made = new StringBuilder();
        int at = words.all().get(simple.operand().from()).start();
        made.append(text, 0, at);
        at = words.all().get(simple.operand().to() - 1).end();
        for (SimpleCase.Words value : simple.values()) {
            int start = words.all().get(value.from()).start();
            int end = words.all().get(value.to() - 1).end();
            made.append(text, at, start).append('(').append(operand).append(") = (");
            made.append(text, start, end).append(')');
            at = end;
        }
        return made.append(text, at, text.length()).toString();
    }
}
