package dev.cantina.syntax;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * A value in a data statement. It is read as an expression when somebody first asks; where it holds
 * what is not known there is none, and nothing may be concluded about it.
 */
public final class SqlValue implements Node {
    private final Span span;

    /** The queries in the statement, by where they begin. */
    private final Map<Integer, SqlText> queries;

    private Optional<Expression> expression;

    SqlValue(Span span, Map<Integer, SqlText> queries) {
        this.span = span;
        this.queries = queries;
    }

    @Override
    public Span span() {
        return span;
    }

    /** What it is; empty where it can't be read whole. */
    public synchronized Optional<Expression> expression() {
        if (expression == null) {
            expression = name().or(() -> DataExpressionParser.of(span, queries));
        }
        return expression;
    }

    /** A name and nothing else, as most values are: it need not be read word by word. */
    private Optional<Expression> name() {
        String text = span.text();
        if (text.isEmpty() || !Character.isLetter(text.charAt(0))) {
            return Optional.empty();
        }
        for (int i = 1; i < text.length(); i++) {
            char c = text.charAt(i);
            if (c != '_' && !Character.isLetterOrDigit(c)) {
                return Optional.empty();
            }
        }
        String key = text.toUpperCase(Locale.ROOT);
        boolean word =
                TokenReader.isReserved(key)
                        || ExpressionParser.MOMENTS.contains(key)
                        || VALUES.contains(key);
        return word
                ? Optional.empty()
                : Optional.of(
                        new Expression.Reference(span, List.of(new Name(text, false, span, key))));
    }

    /** Words that are values by themselves, and no names. */
    private static final Set<String> VALUES =
            Set.of("NULL", "TRUE", "FALSE", "UNKNOWN", "DEFAULT", "INTERVAL");

    @Override
    public String toString() {
        return span.text();
    }
}
