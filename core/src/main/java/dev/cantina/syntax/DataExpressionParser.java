package dev.cantina.syntax;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * What stands in the expressions of data statements and nowhere else: aggregates, windows, markers
 * (ISO 9075-2, 6.10 and 10.9), and the words and signs that only one database has.
 */
final class DataExpressionParser {
    /** Words and signs that a value in a data statement ends at. */
    private static final Set<String> ENDS =
            Set.of(
                    ", ) ] ; WHEN THEN ELSE END AS FROM FOR PLACING IN AND OR ORDER FILTER OVER"
                            .split(" "));

    /** What aggregates are called, those that every database has. */
    private static final Set<String> AGGREGATES = Set.of("AVG", "COUNT", "MAX", "MIN", "SUM");

    private static final String[] WINDOW_WORDS = {"PARTITION", "ROWS", "RANGE", "GROUPS"};

    private final TokenReader reader;
    private final ExpressionParser expressions;
    private final TypeParser types;

    DataExpressionParser(TokenReader reader, ExpressionParser expressions, TypeParser types) {
        this.reader = reader;
        this.expressions = expressions;
        this.types = types;
    }

    /**
     * What stands in a stretch of a data statement; empty where that can't be read.
     *
     * @param queries the queries in the statement, by where they begin
     */
    static Optional<Expression> of(Span span, Map<Integer, SqlText> queries) {
        TokenReader reader = new TokenReader(span.source(), Lexer.ofStretch(span));
        if (reader.atEnd()) {
            return Optional.empty();
        }
        try {
            ExpressionParser parser =
                    new ExpressionParser(reader, new KnownQueries(reader, queries));
            return Optional.of(parser.data().whole());
        } catch (TokenReader.Failure e) {
            return Optional.empty();
        }
    }

    /** Queries that are read already, by where they begin. */
    private static final class KnownQueries implements ExpressionParser.Queries {
        private final TokenReader reader;
        private final Map<Integer, SqlText> known;
        private SqlReader sql;

        KnownQueries(TokenReader reader, Map<Integer, SqlText> known) {
            this.reader = reader;
            this.known = known;
        }

        @Override
        public boolean seesBracketedQuery() {
            if (!reader.sees("(") || known.isEmpty()) {
                return false;
            }
            sql = sql == null ? new SqlReader(reader) : sql;
            return sql.seesBracketedQuery();
        }

        @Override
        public SqlText query() {
            SqlText query = known.get(reader.peek().start());
            if (query == null) {
                throw reader.expected("a query", "");
            }
            while (!reader.atEnd() && reader.peek().start() < query.span().end()) {
                reader.take();
            }
            return query;
        }
    }

    /** All that stands there. */
    private Expression whole() {
        Token first = reader.peek();
        // In a WINDOW clause the name of another one may come first.
        Expression read = seesWindow(2) ? window() : expressions.expression();
        if (reader.atEnd()) {
            return read;
        }
        List<Expression> parts = new ArrayList<>(List.of(read));
        while (!reader.atEnd()) {
            if (endsHere() || !operand(parts)) {
                skip(parts);
            }
        }
        return new Expression.Opaque(reader.since(first), parts);
    }

    /** An expression, or what stands there where that is not known. */
    Expression value() {
        Token first = reader.peek();
        int before = reader.position();
        List<Expression> parts = new ArrayList<>();
        boolean known = operand(parts) && endsHere();
        while (!known && !endsHere()) {
            if (!operand(parts)) {
                skip(parts);
            }
        }
        if (reader.position() == before) {
            throw reader.expected("a value", "");
        }
        return known && parts.size() == 1
                ? parts.get(0)
                : new Expression.Opaque(reader.since(first), parts);
    }

    private boolean endsHere() {
        Token next = reader.peek();
        return reader.atEnd()
                || next.kind() != Token.Kind.DELIMITED
                        && !next.isLiteral()
                        && ENDS.contains(next.text());
    }

    /** Reads one more part; where that fails nothing is taken. */
    private boolean operand(List<Expression> parts) {
        int before = reader.position();
        int depth = reader.depth();
        try {
            parts.add(expressions.disjunction());
            return true;
        } catch (TokenReader.Failure e) {
            reader.goTo(before);
            reader.depth(depth);
            return false;
        }
    }

    /** Passes over a token, or over a bracket with what can be read in it. */
    private void skip(List<Expression> parts) {
        if (!reader.accept("(")) {
            reader.take();
            return;
        }
        while (!reader.atEnd() && !reader.sees(")")) {
            if (endsHere() || !operand(parts)) {
                skip(parts);
            }
        }
        reader.expect(")", "to close the bracket");
    }

    /** Whether a marker, a window's bracket or an interval in a server's words stands here. */
    boolean seesPrimary() {
        return reader.sees("?")
                || reader.sees("INTERVAL") && reader.peek(1).kind() != Token.Kind.TEXT
                || seesWindow(1);
    }

    /** Whether a window's bracket stands here, whose first clause is so many tokens ahead. */
    private boolean seesWindow(int ahead) {
        Token next = reader.peek(ahead);
        return reader.sees("(")
                && (next.is("PARTITION") || next.is("ORDER"))
                && reader.peek(ahead + 1).is("BY");
    }

    /** What {@link #seesPrimary} saw. */
    Expression primary() {
        Token first = reader.peek();
        if (reader.accept("?")) {
            return new Expression.Parameter(reader.since(first));
        }
        return reader.sees("INTERVAL") ? interval() : window();
    }

    /** {@code INTERVAL number DAY}, as MariaDB has it. */
    private Expression interval() {
        Token first = reader.take();
        Expression number = expressions.joined();
        if (!reader.seesName()) {
            throw reader.expected("a unit", "after INTERVAL");
        }
        reader.take();
        return new Expression.Opaque(reader.since(first), List.of(number));
    }

    /** A type of CAST, also one that only one database has. */
    TypeSyntax type() {
        Token first = reader.peek();
        int before = reader.position();
        try {
            TypeSyntax type = types.type();
            if (reader.sees(")")) {
                return type;
            }
        } catch (TokenReader.Failure e) {
            // Kept by its name.
        }
        reader.goTo(before);
        StringBuilder name = new StringBuilder();
        while (reader.peek().kind() == Token.Kind.WORD) {
            name.append(name.length() == 0 ? "" : " ").append(reader.take().text());
        }
        if (name.length() == 0) {
            throw reader.expected("a type", "");
        }
        List<Integer> arguments = new ArrayList<>();
        if (reader.accept("(")) {
            do {
                Token number = reader.take();
                if (number.kind() != Token.Kind.INTEGER || number.text().length() > 9) {
                    throw reader.expected("a number", "in the type");
                }
                arguments.add(Integer.valueOf(number.text()));
            } while (reader.accept(","));
            reader.expect(")", "after the length");
        }
        return new TypeSyntax.Predefined(reader.since(first), name.toString(), arguments);
    }

    /**
     * {@code f([DISTINCT | ALL] {* | e, …} [ORDER BY …]) [WITHIN GROUP (ORDER BY …)] [FILTER (WHERE
     * …)] [OVER …]}, or a plain call.
     */
    Expression aggregateOrCall(Token first, List<Name> names) {
        Name function = names.get(0);
        int start = reader.position();
        reader.take();
        boolean distinct = reader.accept("DISTINCT");
        boolean quantified = distinct || reader.accept("ALL");
        boolean all = reader.accept("*", ")");
        boolean plain =
                !quantified
                        && !all
                        && (function.delimited() || !AGGREGATES.contains(function.key()));
        if (plain) {
            reader.goTo(start);
            return callOrAggregate(first, names);
        }
        List<Expression> arguments = all ? List.of() : expressions.expressions();
        List<Expression.Key> keys = new ArrayList<>();
        if (!all) {
            keys.addAll(keys());
            reader.expect(")", "after the arguments of " + function.text());
        }
        return aggregate(first, new Head(function, distinct, all, arguments, keys));
    }

    /** A call, which what stands in it or behind it may make an aggregate. */
    private Expression callOrAggregate(Token first, List<Name> names) {
        int start = reader.position();
        int depth = reader.depth();
        try {
            Expression call = expressions.call(first, names);
            boolean more =
                    reader.sees("FILTER", "(")
                            || reader.sees("OVER")
                            || reader.sees("WITHIN", "GROUP");
            return more && call instanceof Expression.Call read
                    ? aggregate(
                            first, new Head(names.get(0), false, false, values(read), List.of()))
                    : call;
        } catch (TokenReader.Failure e) {
            reader.goTo(start);
            reader.depth(depth);
            reader.take();
            List<Expression> arguments = expressions.expressions();
            List<Expression.Key> keys = keys();
            reader.expect(")", "after the arguments of " + names.get(0).text());
            return aggregate(first, new Head(names.get(0), false, false, arguments, keys));
        }
    }

    private static List<Expression> values(Expression.Call call) {
        return call.arguments().stream().map(Expression.Argument::value).toList();
    }

    /** An aggregate up to its bracket. */
    private record Head(
            Name function,
            boolean distinct,
            boolean all,
            List<Expression> arguments,
            List<Expression.Key> keys) {}

    private Expression aggregate(Token first, Head head) {
        List<Expression.Key> keys = new ArrayList<>(head.keys());
        if (reader.accept("WITHIN", "GROUP")) {
            reader.expect("(", "after WITHIN GROUP");
            keys.addAll(keys());
            reader.expect(")", "to close WITHIN GROUP");
        }
        Optional<Expression> filter = Optional.empty();
        if (reader.accept("FILTER", "(")) {
            reader.expect("WHERE", "in FILTER");
            filter = Optional.of(expressions.expression());
            reader.expect(")", "to close FILTER");
        }
        Optional<Expression.Window> window =
                reader.accept("OVER") ? Optional.of(window()) : Optional.empty();
        return new Expression.Aggregate(
                reader.since(first),
                head.function(),
                head.distinct(),
                head.all(),
                head.arguments(),
                keys,
                filter,
                window);
    }

    /** {@code name}, or {@code ([name] [PARTITION BY …] [ORDER BY …] [frame])}. */
    private Expression.Window window() {
        Token first = reader.peek();
        if (!reader.accept("(")) {
            reader.name("a window");
            return new Expression.Window(reader.since(first), List.of(), List.of());
        }
        if (reader.seesName() && !reader.seesAny(WINDOW_WORDS)) {
            reader.take();
        }
        List<Expression> partition =
                reader.accept("PARTITION", "BY") ? expressions.expressions() : List.of();
        List<Expression.Key> keys = keys();
        while (!reader.atEnd() && !reader.sees(")")) {
            if (reader.seesAny("(", ",")) {
                throw reader.expected("')'", "to close the window");
            }
            reader.take();
        }
        reader.expect(")", "to close the window");
        return new Expression.Window(reader.since(first), partition, keys);
    }

    /** {@code [ORDER BY e [ASC | DESC] [NULLS {FIRST | LAST}], …]}. */
    private List<Expression.Key> keys() {
        List<Expression.Key> keys = new ArrayList<>();
        if (!reader.accept("ORDER", "BY")) {
            return keys;
        }
        do {
            Token first = reader.peek();
            Expression value = expressions.disjunction();
            boolean descending = reader.accept("DESC");
            if (!descending) {
                reader.accept("ASC");
            }
            boolean saysNulls = reader.accept("NULLS", "FIRST") || reader.accept("NULLS", "LAST");
            keys.add(new Expression.Key(reader.since(first), value, descending, saysNulls));
        } while (reader.accept(","));
        return keys;
    }
}
