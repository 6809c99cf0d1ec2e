package dev.cantina.database.mariadb;

import dev.cantina.syntax.KeptBlanks;
import dev.cantina.syntax.SqlWords;
import dev.cantina.syntax.SqlWords.Word;
import java.util.ArrayList;
import java.util.List;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** CAST in data statements. MariaDB has one whole type to cast to, of 64 bits. */
public final class MariaCasts {
    /**
     * A CAST.
     *
     * @param start the offset of the word CAST
     * @param operand the offset of what is cast
     * @param as the offset of the word AS
     * @param end the offset behind it all
     * @param type what it is cast to, in upper case with single blanks
     * @param blanks whether the blanks at its end count
     */
    public record Cast(int start, int operand, int as, int end, String type, boolean blanks) {}

    private MariaCasts() {}

    /** Those of a statement, in their order, outer ones before inner ones. */
    public static List<Cast> of(String statement) {
        List<Cast> casts = new ArrayList<>();
        if (!SqlWords.mayHold(statement, "CAST")) {
            return casts;
        }
        SqlWords words = SqlWords.of(statement);
        List<Word> all = words.all();
        for (int i = 0; i + 1 < all.size(); i++) {
            if (!words.sees(i, "CAST", "(")) {
                continue;
            }
            int close = words.closing(i + 1);
            int as = close - 1;
            while (as > i && !(all.get(as).is("AS") && all.get(as).depth() == depth(all, i))) {
                as--;
            }
            if (close < all.size() && as > i + 2) {
                List<String> type = new ArrayList<>();
                all.subList(as + 1, close).forEach(w -> type.add(w.text()));
                casts.add(
                        new Cast(
                                all.get(i).start(),
                                all.get(i + 1).end(),
                                all.get(as).start(),
                                all.get(close).end(),
                                String.join(" ", type),
                                KeptBlanks.at(words, i, close + 1)));
            }
        }
        return casts;
    }

    private static int depth(List<Word> all, int cast) {
        return all.get(cast).depth() + 1;
    }

    private static final Pattern TEXT =
            Pattern.compile("(?:VARCHAR|CHAR|CHARACTER|CHARACTER VARYING) \\( (\\d+) \\)");

    /**
     * A statement in which a CAST to a smaller whole type is an error where it does not fit, and
     * one to a shorter text is none, in a change neither.
     */
    static String narrowed(String statement) {
        TreeMap<Integer, String> put = new TreeMap<>();
        StringBuilder made = new StringBuilder(statement);
        for (Cast cast : of(statement)) {
            long most =
                    switch (cast.type()) {
                        case "SMALLINT" -> Short.MAX_VALUE;
                        case "INTEGER", "INT" -> Integer.MAX_VALUE;
                        default -> 0;
                    };
            Matcher text = TEXT.matcher(cast.type());
            if (most > 0) {
                // What is beyond the type is beyond 64 bits with this added or taken away.
                long far = Long.MAX_VALUE - most;
                put.put(cast.start(), "(");
                String ends = " + " + far + " - " + far + " - " + far + " + " + far + ")";
                put.merge(cast.end(), ends, (inner, outer) -> inner + outer);
            } else if (text.matches()) {
                boolean padded = cast.blanks() && !cast.type().contains("VAR");
                put.put(cast.start(), padded ? "RPAD(" : "LEFT(");
                String ends = ", " + text.group(1) + (padded ? ", ' ')" : ")");
                put.merge(cast.end(), ends, String::concat);
                // The type keeps its place, so that all that was found keeps its own.
                int from = cast.as() + 2;
                int to = cast.end() - 1;
                made.replace(from, to, " CHAR" + " ".repeat(Math.max(0, to - from - 5)));
            }
        }
        put.descendingMap().forEach(made::insert);
        return made.toString();
    }
}
