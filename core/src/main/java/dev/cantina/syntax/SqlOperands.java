package dev.cantina.syntax;

import dev.cantina.syntax.SqlWords.Kind;
import dev.cantina.syntax.SqlWords.Word;
import java.util.List;
import java.util.Set;

/** The values that stand beside a sign in a data statement, found by their words. */
public final class SqlOperands {
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

    /** What follows a call and belongs to it: {@code SUM(x) FILTER (…) OVER (…)}. */
    private static final Set<String> BEHIND = Set.of("OVER", "FILTER");

    private final SqlWords words;
    private final List<Word> all;

    public SqlOperands(SqlWords words) {
        this.words = words;
        this.all = words.all();
    }

    /** Whether a sign of a sum or product stands at a place. */
    public boolean isSign(int i) {
        return SIGNS.stream().anyMatch(all.get(i)::is);
    }

    /** Whether a sign has no value before it. */
    public boolean isUnary(int sign) {
        return sign == 0 || before(sign) == sign;
    }

    /** Where the value begins that ends right before a place; the place if there is none. */
    public int before(int place) {
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
            boolean behind = open > 1 && BEHIND.contains(all.get(open - 1).text());
            if (behind && all.get(open - 2).is(")")) {
                return before(open - 1);
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

    /** Where the value ends that begins at a place; before the place if there is none. */
    public int after(int first) {
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
        to = called ? Math.min(words.closing(to + 1), all.size() - 1) : to;
        while (called
                && to + 2 < all.size()
                && BEHIND.contains(all.get(to + 1).text())
                && all.get(to + 2).is("(")) {
            to = Math.min(words.closing(to + 2), all.size() - 1);
        }
        return to;
    }
}
