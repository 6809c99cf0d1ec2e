package dev.cantina.syntax;

import java.util.Set;

/**
 * Where the blanks at the end of a CHAR count in a data statement (ISO 9075-2, 6.29 and 8.5):
 * beside {@code ||} and LIKE, and as a function's argument.
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
                        || words.sees(from - 1, "IN");
        int open = from - 1;
        int depth = words.all().get(from).depth() - 1;
        while (open > 0 && !(words.sees(open, "(") && words.all().get(open).depth() == depth)) {
            open--;
        }
        return argument && open > 0 && KEEPING.contains(words.all().get(open - 1).text());
    }
}
