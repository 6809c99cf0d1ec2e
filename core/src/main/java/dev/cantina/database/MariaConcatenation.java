package dev.cantina.database;

import dev.cantina.syntax.SqlWords;
import dev.cantina.syntax.SqlWords.Kind;
import dev.cantina.syntax.SqlWords.Word;
import java.util.List;
import java.util.Set;
import java.util.TreeMap;

/**
 * Sums and products beside {@code ||}. MariaDB binds {@code ||} more than {@code *} and {@code +}
 * where it stands for concatenation, and Cantina, as PostgreSQL, less; so they are put in brackets.
 */
final class MariaConcatenation {
    private static final Set<String> SIGNS = Set.of("+", "-", "*", "/", "%", "DIV");

    /** Words that a bracket may follow without being their arguments. */
    private static final Set<String> APART =
            Set.of(
                    "SELECT",
                    "DISTINCT",
                    "ALL",
                    "WHERE",
                    "AND",
                    "OR",
                    "NOT",
                    "IN",
                    "LIKE",
                    "BETWEEN",
                    "WHEN",
                    "THEN",
                    "ELSE",
                    "CASE",
                    "ON",
                    "HAVING",
                    "BY",
                    "SET",
                    "VALUES",
                    "AS",
                    "RETURNING",
                    "IS",
                    "FROM",
                    "EXISTS",
                    "ANY",
                    "SOME",
                    "ESCAPE",
                    "LIMIT",
                    "OFFSET",
                    "USING",
                    "INTO",
                    "UNION",
                    "EXCEPT",
                    "INTERSECT",
                    "RETURN",
                    "IF",
                    "ELSEIF");

    private static final Set<String> TYPED = Set.of("DATE", "TIME", "TIMESTAMP", "INTERVAL");

    private static final Set<String> UNITS =
            Set.of("YEAR", "MONTH", "DAY", "HOUR", "MINUTE", "SECOND", "TO");

    private final String text;
    private final SqlWords words;
    private final List<Word> all;

    private MariaConcatenation(String text) {
        this.text = text;
        words = SqlWords.of(text);
        all = words.all();
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
            sum |= all.get(i).depth() == depth && isSign(i);
        }
        if (sum) {
            put.put(all.get(from).start(), "(");
            put.put(all.get(to).end(), ")");
        }
    }

    private boolean isSign(int i) {
        return SIGNS.stream().anyMatch(all.get(i)::is);
    }

    /** The first word of the sum before a place. */
    private int before(int place) {
        int from = place;
        while (true) {
            int value = valueBefore(from);
            if (value == from) {
                return place;
            }
            from = value;
            boolean signed = from > 0 && (all.get(from - 1).is("-") || all.get(from - 1).is("+"));
            if (from == 0 || !isSign(from - 1) || signed && isUnary(from - 1)) {
                return from;
            }
            from--;
        }
    }

    /** Whether a sign has no value before it. */
    private boolean isUnary(int sign) {
        return sign == 0 || valueBefore(sign) == sign;
    }

    /** Where the value begins that ends right before a place; the place if there is none. */
    private int valueBefore(int place) {
        int last = place - 1;
        if (last < 0) {
            return place;
        }
        Word word = all.get(last);
        if (word.is(")")) {
            int open = last - 1;
            while (open >= 0 && !(all.get(open).is("(") && all.get(open).depth() == word.depth())) {
                open--;
            }
            boolean called = open > 0 && isName(open - 1);
            return called ? named(open - 1) : Math.max(open, 0);
        }
        if (word.is("END")) {
            int cases = 1;
            int i = last - 1;
            while (i >= 0 && cases > 0) {
                cases += all.get(i).is("END") ? 1 : all.get(i).is("CASE") ? -1 : 0;
                i--;
            }
            return i + 1;
        }
        if (isUnit(last)) {
            int from = last;
            while (from > 0 && isUnit(from)) {
                from--;
            }
            boolean interval = from > 0 && all.get(from - 1).is("INTERVAL");
            return interval ? from - 1 : last;
        }
        if (word.kind() == Kind.LITERAL || word.is("?")) {
            boolean typed = last > 0 && TYPED.stream().anyMatch(all.get(last - 1)::is);
            return typed ? last - 1 : last;
        }
        return isName(last) ? named(last) : place;
    }

    private boolean isUnit(int i) {
        return UNITS.stream().anyMatch(all.get(i)::is);
    }

    /** Where a name begins whose last part stands at a place. */
    private int named(int last) {
        int from = last;
        while (from > 1 && all.get(from - 1).is(".")) {
            from -= 2;
        }
        return from;
    }

    private boolean isName(int i) {
        Word word = all.get(i);
        return word.kind() == Kind.NAME
                || word.kind() == Kind.WORD
                        && !APART.contains(word.text())
                        && !SIGNS.contains(word.text());
    }

    /** The last word of the sum after a place. */
    private int after(int place) {
        int to = place;
        while (true) {
            int next = to + 1;
            while (next < all.size() && (all.get(next).is("-") || all.get(next).is("+"))) {
                next++;
            }
            int value = valueAfter(next);
            if (value < next) {
                return to == place ? place : to - 1;
            }
            to = value;
            if (to + 1 >= all.size() || !isSign(to + 1)) {
                return to;
            }
            to++;
        }
    }

    /** Where the value ends that begins at a place; before the place if there is none. */
    private int valueAfter(int first) {
        if (first >= all.size()) {
            return first - 1;
        }
        Word word = all.get(first);
        if (word.is("(")) {
            return Math.min(words.closing(first), all.size() - 1);
        }
        if (word.is("CASE")) {
            int cases = 1;
            int i = first + 1;
            while (i < all.size() && cases > 0) {
                cases += all.get(i).is("CASE") ? 1 : all.get(i).is("END") ? -1 : 0;
                i++;
            }
            return i - 1;
        }
        boolean typed =
                TYPED.stream().anyMatch(word::is)
                        && first + 1 < all.size()
                        && all.get(first + 1).kind() == Kind.LITERAL;
        if (typed) {
            int to = first + 1;
            while (word.is("INTERVAL") && to + 1 < all.size() && isUnit(to + 1)) {
                to++;
            }
            return to;
        }
        if (word.kind() == Kind.LITERAL || word.is("?")) {
            return first;
        }
        if (!isName(first)) {
            return first - 1;
        }
        int to = first;
        while (to + 2 < all.size() && all.get(to + 1).is(".")) {
            to += 2;
        }
        boolean called = to + 1 < all.size() && all.get(to + 1).is("(");
        return called ? Math.min(words.closing(to + 1), all.size() - 1) : to;
    }
}
