package dev.cantina.syntax;

import java.util.Set;

/**
 * Where the blanks at the end of a CHAR count in a data statement (ISO 9075-2, 6.29, 8.5 and 9.2):
 * beside {@code ||} and LIKE, as a function's argument, and where it is stored.
 */
public final class KeptBlanks {
    /** Functions that take a text with all its blanks. */
    private static final Set<String> KEEPING =
            Set.of(
                    "CHAR_LENGTH",
                    "CHARACTER_LENGTH",
                    "OCTET_LENGTH",
                    "SUBSTRING",
                    "POSITION",
                    "REPLACE",
                    "LPAD",
                    "RPAD",
                    "LTRIM",
                    "TRIM",
                    "OVERLAY",
                    "CONCAT");

    private KeptBlanks() {}

    /**
     * Whether they count of a value.
     *
     * @param from its first word
     * @param to the word behind its last
     */
    public static boolean at(SqlWords words, int from, int to) {
        if (words.sees(to, "||") || words.sees(from - 1, "||") || words.sees(from - 1, "LIKE")) {
            return true;
        }
        if (words.sees(to, "LIKE") || words.sees(to, "NOT", "LIKE")) {
            return true;
        }
        if (words.sees(from - 2, "CAST", "(")) {
            return words.sees(to, "AS", "VARCHAR");
        }
        boolean argument =
                words.sees(from - 1, "(")
                        || words.sees(from - 1, ",")
                        || words.sees(from - 1, "IN")
                        || words.sees(from - 1, "FROM");
        int open = from - 1;
        int depth = words.all().get(from).depth() - 1;
        while (open > 0 && !(words.sees(open, "(") && words.all().get(open).depth() == depth)) {
            open--;
        }
        return isStored(words, from)
                || argument
                        && open > 0
                        && (KEEPING.contains(words.all().get(open - 1).text())
                                || isOfValues(words, open));
    }

    /** Whether a bracket holds a row of VALUES. */
    private static boolean isOfValues(SqlWords words, int open) {
        int depth = words.all().get(open).depth();
        for (int i = open - 1; i >= 0; i--) {
            if (words.all().get(i).depth() > depth) {
                continue;
            }
            boolean between = words.sees(i, ",") || words.sees(i, "(") || words.sees(i, ")");
            if (!between || words.all().get(i).depth() < depth) {
                return words.sees(i, "VALUES");
            }
        }
        return false;
    }

    /** Whether a value stands behind the sign of {@code SET column = value}. */
    private static boolean isStored(SqlWords words, int from) {
        if (!words.sees(from - 1, "=")) {
            return false;
        }
        int depth = words.all().get(from - 1).depth();
        for (int i = from - 2; i >= 0 && words.all().get(i).depth() >= depth; i--) {
            boolean other =
                    words.all().get(i).depth() == depth
                            && ENDING.contains(words.all().get(i).text());
            if (other || words.sees(i, "SET") && words.all().get(i).depth() == depth) {
                return !other && isColumn(words, from - 2);
            }
        }
        return false;
    }

    /** Words that SET is left by, or that a condition stands in. */
    private static final Set<String> ENDING =
            Set.of(
                    "WHERE", "FROM", "SELECT", "ON", "WHEN", "THEN", "ELSE", "AND", "OR", "NOT",
                    "CASE");

    /** Whether a name stands at a place that a column of SET may stand at. */
    private static boolean isColumn(SqlWords words, int last) {
        int name = last;
        while (words.sees(name - 1, ".")) {
            name -= 2;
        }
        return words.sees(name - 1, "SET") || words.sees(name - 1, ",");
    }

    private static final Set<String> COMPARISONS = Set.of("=", "<>", "!=", "<", "<=", ">", ">=");

    /** Whether a value stands beside a comparison, in which blanks at its end do not count. */
    public static boolean isCompared(SqlWords words, int from, int to) {
        boolean behind =
                COMPARISONS.stream().anyMatch(c -> words.sees(from - 1, c))
                        && !isStored(words, from);
        return behind
                || words.sees(from - 1, "BETWEEN")
                || COMPARISONS.stream().anyMatch(c -> words.sees(to, c));
    }
}
