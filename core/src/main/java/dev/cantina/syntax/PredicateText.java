package dev.cantina.syntax;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;

/**
 * Tells from the words of a value in a select list whether it is true or false, for databases that
 * give such a value as a number (ISO 9075-2, 6.39 and 8.1 to 8.24).
 */
public final class PredicateText {
    private static final Set<String> SIGNS =
            Set.of(
                    "=",
                    "<>",
                    "!=",
                    "<",
                    ">",
                    "<=",
                    ">=",
                    "AND",
                    "OR",
                    "NOT",
                    "IS",
                    "IN",
                    "BETWEEN",
                    "LIKE",
                    "EXISTS",
                    "OVERLAPS");

    private static final Set<String> TRUTHS = Set.of("TRUE", "FALSE", "UNKNOWN");

    private final List<Token> tokens;

    private PredicateText(List<Token> tokens) {
        this.tokens = tokens;
    }

    /**
     * @param item a value, with its alias where it has one
     */
    public static boolean isPredicate(String item) {
        List<Token> tokens = new Lexer(new Source("item", item), new ArrayList<>()).tokens();
        int end = tokens.size() - 1;
        PredicateText text = new PredicateText(tokens);
        return text.isPredicate(0, text.withoutAlias(end));
    }

    /** A value without its alias. */
    public static String value(String item) {
        List<Token> tokens = new Lexer(new Source("item", item), new ArrayList<>()).tokens();
        int end = new PredicateText(tokens).withoutAlias(tokens.size() - 1);
        return end == 0 ? "" : item.substring(0, tokens.get(end - 1).end());
    }

    private int withoutAlias(int end) {
        if (end < 2 || !TokenReader.isName(tokens.get(end - 1)) || isTruth(end - 1)) {
            return end;
        }
        Token before = tokens.get(end - 2);
        if (before.is("AS")) {
            return end - 2;
        }
        boolean value =
                before.is(")")
                        || before.is("END")
                        || before.is("NULL")
                        || isTruth(end - 2)
                        || before.isLiteral()
                        || TokenReader.isName(before);
        return value ? end - 1 : end;
    }

    /** What a query gives is not told from its words. */
    private static boolean isQuery(Token first) {
        return first.is("SELECT") || first.is("WITH") || first.is("VALUES") || first.is("TABLE");
    }

    private boolean isTruth(int at) {
        Token token = tokens.get(at);
        return token.kind() == Token.Kind.WORD && TRUTHS.contains(token.text());
    }

    private boolean isPredicate(int start, int end) {
        if (end - start == 1) {
            return isTruth(start);
        }
        if (start >= end || isQuery(tokens.get(start))) {
            return false;
        }
        int depth = 0;
        for (int i = start; i < end; i++) {
            Token token = tokens.get(i);
            depth += opens(token) ? 1 : closes(token) ? -1 : 0;
            boolean word = token.kind() == Token.Kind.WORD || token.kind() == Token.Kind.SYMBOL;
            if (depth == 0 && word && SIGNS.contains(token.text())) {
                return true;
            }
        }
        Token first = tokens.get(start);
        if (first.is("(")) {
            return closeOf(start, end) == end - 1 && isPredicate(start + 1, end - 1);
        }
        if (first.is("CASE")) {
            return closeOf(start, end) == end - 1 && areResults(start + 1, end - 1);
        }
        return first.is("COALESCE")
                && tokens.get(start + 1).is("(")
                && closeOf(start + 1, end) == end - 1
                && areAll(start + 2, end - 1);
    }

    private static boolean opens(Token token) {
        return token.is("(") || token.is("CASE");
    }

    private static boolean closes(Token token) {
        return token.is(")") || token.is("END");
    }

    /** Where what opens at {@code start} is closed; -1 where it is not. */
    private int closeOf(int start, int end) {
        int depth = 0;
        for (int i = start; i < end; i++) {
            depth += opens(tokens.get(i)) ? 1 : closes(tokens.get(i)) ? -1 : 0;
            if (depth == 0) {
                return i;
            }
        }
        return -1;
    }

    /** The results of a CASE, its words taken off: true, false or NULL, and not NULL alone. */
    private boolean areResults(int start, int end) {
        boolean any = false;
        int from = -1;
        int depth = 0;
        for (int i = start; i <= end; i++) {
            Token token = tokens.get(i);
            boolean limit = i == end || token.is("WHEN") || token.is("ELSE") || token.is("THEN");
            if (depth == 0 && limit) {
                if (from >= 0 && !isNull(from, i)) {
                    if (!isPredicate(from, i)) {
                        return false;
                    }
                    any = true;
                }
                from = token.is("THEN") || token.is("ELSE") ? i + 1 : -1;
            }
            depth += opens(token) ? 1 : closes(token) ? -1 : 0;
        }
        return any;
    }

    /** Values between commas. */
    private boolean areAll(int start, int end) {
        boolean any = false;
        int from = start;
        int depth = 0;
        for (int i = start; i <= end; i++) {
            if (depth == 0 && (i == end || tokens.get(i).is(","))) {
                if (!isNull(from, i)) {
                    if (!isPredicate(from, i)) {
                        return false;
                    }
                    any = true;
                }
                from = i + 1;
            }
            depth += opens(tokens.get(i)) ? 1 : closes(tokens.get(i)) ? -1 : 0;
        }
        return any;
    }

    private boolean isNull(int start, int end) {
        return end - start == 1 && tokens.get(start).is("NULL");
    }
}
