package dev.cantina.syntax;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * {@code CASE operand WHEN value THEN …}, found by its words.
 *
 * @param operand the first word of what is compared, and the one behind its last
 * @param values the same of each value that it is compared with
 */
public record SimpleCase(Words operand, List<Words> values) {
    /**
     * A stretch of words.
     *
     * @param from the place of the first
     * @param to the place behind the last
     */
    public record Words(int from, int to) {}

    /** The one that begins at a word CASE; empty where each WHEN has a condition. */
    public static Optional<SimpleCase> at(SqlWords words, int at) {
        boolean ends = words.sees(at - 1, "END");
        if (ends || !words.sees(at, "CASE") || words.sees(at + 1, "WHEN")) {
            return Optional.empty();
        }
        List<Words> values = new ArrayList<>();
        Words operand = null;
        int depth = words.all().get(at).depth();
        int cases = 0;
        int from = at + 1;
        for (int i = at + 1; i < words.all().size(); i++) {
            if (words.all().get(i).depth() != depth) {
                continue;
            }
            if (cases == 0 && words.sees(i, "WHEN")) {
                operand = operand == null ? new Words(from, i) : operand;
                from = i + 1;
            } else if (cases == 0 && words.sees(i, "THEN")) {
                values.add(new Words(from, i));
            } else if (cases == 0 && words.sees(i, "END")) {
                break;
            }
            cases += words.sees(i, "CASE") ? 1 : words.sees(i, "END") ? -1 : 0;
        }
        return operand == null ? Optional.empty() : Optional.of(new SimpleCase(operand, values));
    }

    /** Whether one of its values before the last may be NULL, as far as the words tell. */
    public boolean mayMeetNull(SqlWords words) {
        return values.stream()
                .limit(Math.max(0, values.size() - 1))
                .anyMatch(v -> !isSure(words, v));
    }

    private static boolean isSure(SqlWords words, Words value) {
        int from = value.from();
        boolean signed = words.sees(from, "-") || words.sees(from, "+");
        boolean typed =
                words.sees(from, "DATE")
                        || words.sees(from, "TIME")
                        || words.sees(from, "TIMESTAMP");
        from += signed || typed ? 1 : 0;
        return value.to() == from + 1
                && (words.all().get(from).kind() == SqlWords.Kind.LITERAL
                        || words.sees(from, "TRUE")
                        || words.sees(from, "FALSE"));
    }
}
