package dev.cantina.syntax;

import java.util.Map;
import java.util.Optional;

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
            expression = DataExpressionParser.of(span, queries);
        }
        return expression;
    }

    @Override
    public String toString() {
        return span.text();
    }
}
