package dev.cantina.database.mariadb;

import dev.cantina.syntax.SqlOperands;
import dev.cantina.syntax.SqlWords;
import dev.cantina.syntax.SqlWords.Word;
import java.util.List;
import java.util.TreeMap;

/**
 * Sums and products beside {@code ||}. MariaDB binds {@code ||} more than {@code *} and {@code +}
 * where it stands for concatenation, and Cantina, as PostgreSQL, less; so they are put in brackets.
 */
final class MariaConcatenation {
    private final String text;
    private final SqlWords words;
    private final List<Word> all;
    private final SqlOperands operands;

    private MariaConcatenation(String text) {
        this.text = text;
        words = SqlWords.of(text);
        all = words.all();
        operands = new SqlOperands(words);
    }

    /** A statement in which what stands beside {@code ||} is one value each. */
    static String bracketed(String text) {
        return text.contains("||") ? new MariaConcatenation(text).bracketed() : text;
    }

    private String bracketed() {
        TreeMap<Integer, String> put = new TreeMap<>();
        for (int i = 0; i < all.size(); i++) {
            if (all.get(i).is("||")) {
                wrap(before(i), i - 1, put);
                wrap(i + 1, after(i), put);
            }
        }
        StringBuilder made = new StringBuilder(text);
        put.descendingMap().forEach(made::insert);
        return made.toString();
    }

    /** Puts a stretch of words in brackets where a sign stands between values in it. */
    private void wrap(int from, int to, TreeMap<Integer, String> put) {
        if (from > to) {
            return;
        }
        int depth = all.get(from).depth();
        boolean sum = false;
        for (int i = from + 1; i < to; i++) {
            sum |= all.get(i).depth() == depth && operands.isSign(i);
        }
        if (sum) {
            put.put(all.get(from).start(), "(");
            put.put(all.get(to).end(), ")");
        }
    }

    /** The first word of the sum before a place. */
    private int before(int place) {
        int from = place;
        while (true) {
            int value = operands.before(from);
            if (value == from) {
                return place;
            }
            from = value;
            boolean signed = from > 0 && (all.get(from - 1).is("-") || all.get(from - 1).is("+"));
            if (from == 0 || !operands.isSign(from - 1) || signed && operands.isUnary(from - 1)) {
                return from;
            }
            from--;
        }
    }

    /** The last word of the sum after a place. */
    private int after(int place) {
        int to = place;
        while (true) {
            int next = to + 1;
            while (next < all.size() && (all.get(next).is("-") || all.get(next).is("+"))) {
                next++;
            }
            int value = operands.after(next);
            if (value < next) {
                return to == place ? place : to - 1;
            }
            to = value;
            if (to + 1 >= all.size() || !operands.isSign(to + 1)) {
                return to;
            }
            to++;
        }
    }
}
