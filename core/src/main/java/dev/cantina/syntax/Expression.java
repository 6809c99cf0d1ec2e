package dev.cantina.syntax;

import java.util.List;
import java.util.Optional;

/** A value expression or a search condition (ISO 9075-2, 6.28 and 8.21). */
public sealed interface Expression extends Node {
    /** What kind of literal a text is. */
    enum LiteralKind {
        NULL,
        BOOLEAN,
        INTEGER,
        DECIMAL,
        APPROXIMATE,
        TEXT,
        BYTES,
        DATE,
        TIME,
        TIMESTAMP,
        INTERVAL,
        DEFAULT
    }

    /** The operators with two sides. */
    enum Operator {
        ADD("+"),
        SUBTRACT("-"),
        MULTIPLY("*"),
        DIVIDE("/"),
        CONCATENATE("||"),
        EQUAL("="),
        NOT_EQUAL("<>"),
        LESS("<"),
        LESS_OR_EQUAL("<="),
        GREATER(">"),
        GREATER_OR_EQUAL(">="),
        AND("AND"),
        OR("OR");

        private final String sign;

        Operator(String sign) {
            this.sign = sign;
        }

        public String sign() {
            return sign;
        }

        public boolean isComparison() {
            return ordinal() >= EQUAL.ordinal() && ordinal() <= GREATER_OR_EQUAL.ordinal();
        }

        public boolean isArithmetic() {
            return ordinal() <= DIVIDE.ordinal();
        }
    }

    /**
     * A literal.
     *
     * @param text its value: digits, text without quotes, {@code TRUE}, {@code UNKNOWN}
     * @param qualifier an interval's fields, otherwise empty
     */
    record Literal(Span span, LiteralKind kind, String text, String qualifier)
            implements Expression {}

    /** A name, or several with dots between: a variable, a field, or one in full. */
    record Reference(Span span, List<Name> names) implements Expression {
        public Reference {
            names = List.copyOf(names);
        }
    }

    /** {@code a[i].f}: a field of a row that no name alone names. */
    record FieldOf(Span span, Expression row, Name field) implements Expression {}

    record Negation(Span span, Expression operand) implements Expression {}

    record Not(Span span, Expression operand) implements Expression {}

    record Binary(Span span, Operator operator, Expression left, Expression right)
            implements Expression {}

    record IsNull(Span span, Expression operand, boolean negated) implements Expression {}

    /** {@code e IS [NOT] TRUE | FALSE | UNKNOWN}; {@code truth} is empty for UNKNOWN. */
    record IsTruth(Span span, Expression operand, Optional<Boolean> truth, boolean negated)
            implements Expression {}

    /** {@code a IS [NOT] DISTINCT FROM b}. */
    record IsDistinct(Span span, Expression left, Expression right, boolean negated)
            implements Expression {}

    record Between(
            Span span,
            Expression operand,
            Expression low,
            Expression high,
            boolean symmetric,
            boolean negated)
            implements Expression {}

    /** {@code WHEN a, b THEN} in a CASE statement over an operand: any of these. */
    record AnyOf(Span span, List<Expression> values) implements Expression {
        public AnyOf {
            values = List.copyOf(values);
        }
    }

    record InList(Span span, Expression operand, List<Expression> values, boolean negated)
            implements Expression {}

    record Like(
            Span span,
            Expression operand,
            Expression pattern,
            Optional<Expression> escape,
            boolean negated)
            implements Expression {}

    /** {@code CASE [operand] WHEN … THEN … [ELSE …] END}. */
    record Case(
            Span span,
            Optional<Expression> operand,
            List<When> branches,
            Optional<Expression> otherwise)
            implements Expression {}

    /** A branch of a CASE expression. */
    record When(Span span, Expression when, Expression then) implements Node {}

    record Cast(Span span, Expression operand, TypeSyntax type) implements Expression {}

    /**
     * A function, Cantina's own, a routine of the project or the database's. Functions with words
     * between their arguments are kept under one name: {@code TRIM LEADING}, {@code EXTRACT YEAR}.
     */
    record Call(Span span, List<Name> name, List<Argument> arguments) implements Expression {
        public Call {
            name = List.copyOf(name);
            arguments = List.copyOf(arguments);
        }

        /** The last part of the name, in upper case unless delimited. */
        public String key() {
            return name.get(name.size() - 1).key();
        }
    }

    /** An argument, by position or by name. */
    record Argument(Span span, Optional<Name> name, Expression value) implements Node {}

    /** {@code (SELECT …)} where one value is wanted. */
    record ScalarQuery(Span span, SqlText query) implements Expression {}

    /** {@code EXISTS (SELECT …)}. */
    record Exists(Span span, SqlText query) implements Expression {}

    /**
     * {@code e [NOT] IN (SELECT …)} and {@code e > ALL (SELECT …)}.
     *
     * @param comparison the words between operand and query, as SQL
     */
    record QueryComparison(Span span, Expression operand, String comparison, SqlText query)
            implements Expression {}

    /**
     * {@code SUM([DISTINCT] e) [FILTER (WHERE condition)] [OVER (…)]}: in data statements alone.
     *
     * @param all whether its argument is {@code *}
     * @param keys what its values are sorted by
     * @param window what stands behind OVER
     */
    record Aggregate(
            Span span,
            Name function,
            boolean distinct,
            boolean all,
            List<Expression> arguments,
            List<Key> keys,
            Optional<Expression> filter,
            Optional<Window> window)
            implements Expression {
        public Aggregate {
            arguments = List.copyOf(arguments);
            keys = List.copyOf(keys);
        }
    }

    /**
     * {@code name}, or {@code ([PARTITION BY e, …] [ORDER BY e, …] [frame])}: in data statements
     * alone.
     *
     * @param keys what rows are sorted by
     */
    record Window(Span span, List<Expression> partition, List<Key> keys) implements Expression {
        public Window {
            partition = List.copyOf(partition);
            keys = List.copyOf(keys);
        }
    }

    /** What the rows of a window, or the values of an aggregate, are sorted by. */
    record Key(Span span, Expression value, boolean descending, boolean saysNulls)
            implements Node {}

    /**
     * A stretch of a data statement that holds what is not known: another operator, or words that
     * only one database has. Nothing may be concluded about it.
     *
     * @param parts what was read in it, in the order of the text
     */
    record Opaque(Span span, List<Expression> parts) implements Expression {
        public Opaque {
            parts = List.copyOf(parts);
        }
    }

    /** {@code ?}: the place of a value, in a statement on its way to a database. */
    record Parameter(Span span) implements Expression {}

    /** {@code a[i]}. */
    record Element(Span span, Expression array, Expression index) implements Expression {}

    /** {@code (later - earlier) fields}: the interval between two moments. */
    record Difference(Span span, Expression later, Expression earlier, String fields)
            implements Expression {}

    /** {@code ARRAY[e, …]}. */
    record ArrayValue(Span span, List<Expression> elements) implements Expression {}

    /** {@code ROW(e, …)} or {@code (e, e, …)}. */
    record RowValue(Span span, List<Expression> fields) implements Expression {}
}
