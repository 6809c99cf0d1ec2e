package dev.cantina.database;

import dev.cantina.syntax.SimpleCase;
import dev.cantina.syntax.SqlWords;
import java.util.Optional;

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
