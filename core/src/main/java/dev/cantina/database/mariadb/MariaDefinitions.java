package dev.cantina.database.mariadb;

import dev.cantina.syntax.SqlWords;
import dev.cantina.syntax.SqlWords.Word;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * What is no query and no change, definitions of tables for one, as MariaDB reads it: types,
 * moments, and the few clauses that it says otherwise. What stands in quotes and comments is left
 * alone.
 */
final class MariaDefinitions {
    /** Types of several words, the longer ones before those that they begin with. */
    private static final List<List<String>> TYPES =
            List.of(
                    List.of("CHARACTER", "LARGE", "OBJECT"),
                    List.of("BINARY", "LARGE", "OBJECT"),
                    List.of("BINARY", "VARYING"),
                    List.of("CHARACTER", "VARYING"),
                    List.of("DOUBLE", "PRECISION"),
                    List.of("TIMESTAMP", "WITHOUT", "TIME", "ZONE"),
                    List.of("TIMESTAMP"),
                    List.of("CLOB"),
                    List.of("BLOB"),
                    List.of("DECFLOAT"),
                    List.of("REAL"));

    private static final Set<String> MOMENTS =
            Set.of("CURRENT_TIMESTAMP", "LOCALTIMESTAMP", "LOCALTIME", "CURRENT_TIME");

    private static final Map<String, String> OPEN =
            Map.of("DECIMAL", "decimal(65, 30)", "NUMERIC", "decimal(65, 30)", "VARCHAR", "char");

    private final String text;
    private final SqlWords words;
    private final List<Word> all;
    private final StringBuilder made = new StringBuilder();

    /** How much of the text is written. */
    private int at;

    private MariaDefinitions(String text) {
        this.text = text;
        this.words = SqlWords.of(text);
        this.all = words.all();
    }

    /** A text in the server's words. */
    static String of(String text) {
        return new MariaDefinitions(text).written();
    }

    private String written() {
        int i = 0;
        while (i < all.size()) {
            i = Math.max(i + 1, word(i));
        }
        return made.append(text, at, text.length()).toString();
    }

    /** Says what begins at a word; gives the word behind it, or the same where it is let be. */
    private int word(int i) {
        Word word = all.get(i);
        if (word.kind() != SqlWords.Kind.WORD) {
            return i;
        }
        if (MOMENTS.contains(word.text())) {
            return moment(i);
        }
        switch (word.text()) {
            case "AS" -> {
                return cast(i);
            }
            case "GENERATED" -> {
                return identity(i);
            }
            case "CURRENT_SCHEMA" -> {
                return put(i, words.sees(i + 1, "(", ")") ? i + 3 : i + 1, "DATABASE()");
            }
            case "IS" -> {
                return words.sees(i, "IS", "NOT", "DISTINCT", "FROM") ? put(i, i + 4, "<=>") : i;
            }
            case "DEFAULT" -> {
                return words.sees(i + 1, "VALUES") ? put(i, i + 2, "() VALUES ()") : i;
            }
            case "OVERRIDING" -> {
                return words.sees(i + 2, "VALUE") ? put(i, i + 3, "") : i;
            }
            default -> {
                return type(i);
            }
        }
    }

    /** Puts a text in the place of the words up to {@code to}. */
    private int put(int from, int to, String what) {
        made.append(text, at, all.get(from).start()).append(what);
        at = all.get(to - 1).end();
        return to;
    }

    private boolean isNumber(int i) {
        return i < all.size()
                && all.get(i).kind() == SqlWords.Kind.LITERAL
                && Character.isDigit(all.get(i).text().charAt(0));
    }

    private int moment(int i) {
        String name = all.get(i).text();
        if (words.sees(i + 1, "(", ")")) {
            return put(i, i + 3, MariaStatementRewriter.moment(name, ""));
        }
        if (words.sees(i + 1, "(") && isNumber(i + 2) && words.sees(i + 3, ")")) {
            String digits = all.get(i + 2).text();
            return put(i, i + 4, MariaStatementRewriter.moment(name, digits));
        }
        return put(i, i + 1, MariaStatementRewriter.moment(name, ""));
    }

    private int cast(int i) {
        if (i + 1 >= all.size()) {
            return i;
        }
        String type = all.get(i + 1).text();
        int end = i + 2;
        if (words.sees(i + 1, "CHARACTER", "LARGE", "OBJECT")) {
            type = "CHARACTER LARGE OBJECT";
            end = i + 4;
        }
        boolean ends = words.sees(end, "(") || words.sees(end, ")") || words.sees(end, ",");
        if (OPEN.containsKey(type) && words.sees(end, ")")) {
            return put(i, end, "AS " + OPEN.get(type));
        }
        return MariaTypeNames.CASTS.containsKey(type) && ends
                ? put(i, end, "AS " + MariaTypeNames.CASTS.get(type))
                : i;
    }

    /** The server numbers the columns of a key alone. */
    private int identity(int i) {
        int as = words.sees(i + 1, "BY", "DEFAULT") ? i + 3 : i + 2;
        if (!words.sees(as, "AS", "IDENTITY")) {
            return i;
        }
        int end = as + 2;
        if (words.sees(end, "(")) {
            end = words.closing(end) + 1;
        }
        if (words.sees(end, "PRIMARY", "KEY")) {
            return put(i, end + 2, "AUTO_INCREMENT " + words.between(end, end + 2));
        }
        return put(i, words.sees(end, "UNIQUE") ? end + 1 : end, "AUTO_INCREMENT UNIQUE");
    }

    private int type(int i) {
        for (List<String> type : TYPES) {
            int end = i + type.size();
            boolean here = words.sees(i, type.toArray(new String[0]));
            boolean literal =
                    end < all.size() && all.get(end).kind() == SqlWords.Kind.LITERAL
                            || end < all.size() && all.get(end).kind() == SqlWords.Kind.NAME;
            if (!here || literal || words.sees(end, ".") || words.sees(end, "=")) {
                continue;
            }
            boolean bracket = words.sees(end, "(") && isNumber(end + 1) && words.sees(end + 2, ")");
            if (type.get(0).equals("TIMESTAMP") && bracket) {
                int behind = end + 3;
                int zone = words.sees(behind, "WITHOUT", "TIME", "ZONE") ? 3 : 0;
                return put(i, behind + zone, "datetime(" + all.get(end + 1).text() + ")");
            }
            String own = MariaTypeNames.TYPES.get(String.join(" ", type));
            boolean bounded = own.equals("varchar") || own.equals("varbinary");
            String length = bounded && bracket ? words.between(end, end + 3) : "";
            return put(i, bracket ? end + 3 : end, own + length);
        }
        return i;
    }
}
