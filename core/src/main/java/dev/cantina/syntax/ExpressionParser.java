package dev.cantina.syntax;

import dev.cantina.syntax.Expression.LiteralKind;
import dev.cantina.syntax.Expression.Operator;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Value expressions and search conditions (ISO 9075-2, 6.28, 8.21). */
final class ExpressionParser {
    private static final Map<String, Operator> COMPARISONS =
            Map.of(
                    "=", Operator.EQUAL,
                    "<>", Operator.NOT_EQUAL,
                    "!=", Operator.NOT_EQUAL,
                    "<", Operator.LESS,
                    "<=", Operator.LESS_OR_EQUAL,
                    ">", Operator.GREATER,
                    ">=", Operator.GREATER_OR_EQUAL);

    /** Functions that are written without brackets. */
    static final Set<String> MOMENTS =
            Set.of(
                    "CURRENT_DATE",
                    "CURRENT_TIME",
                    "CURRENT_TIMESTAMP",
                    "LOCALTIME",
                    "LOCALTIMESTAMP",
                    "CURRENT_USER",
                    "SESSION_USER",
                    "USER");

    /** How many operators may stand in one row: they nest in the tree, whatever they look like. */
    private static final int LONGEST_CHAIN = 1000;

    private final TokenReader reader;
    private final TypeParser types;
    private final Queries sql;

    /** What is read otherwise in a data statement; empty outside one. */
    private final Optional<DataExpressionParser> data;

    ExpressionParser(TokenReader reader, TypeParser types, SqlReader sql) {
        this.reader = reader;
        this.types = types;
        this.sql =
                new Queries() {
                    @Override
                    public boolean seesBracketedQuery() {
                        return sql.seesBracketedQuery();
                    }

                    @Override
                    public SqlText query() {
                        return sql.query(")");
                    }
                };
        this.data = Optional.empty();
    }

    /** For what stands in a data statement, whose queries are read already. */
    ExpressionParser(TokenReader reader, Queries queries) {
        this.reader = reader;
        this.types = new TypeParser(reader);
        this.sql = queries;
        this.data = Optional.of(new DataExpressionParser(reader, this, types));
    }

    /** What is read otherwise in a data statement. */
    DataExpressionParser data() {
        return data.orElseThrow();
    }

    /** Reads the queries in expressions. */
    interface Queries {
        boolean seesBracketedQuery();

        /** The query here, up to the bracket that closes it. */
        SqlText query();
    }

    private int chain;

    /** {@code expression ::= term { OR term }}. */
    Expression expression() {
        int around = chain;
        chain = 0;
        Expression expression = data.isPresent() ? data.get().value() : disjunction();
        chain = around;
        return expression;
    }

    /** An expression of which all must be known. */
    Expression disjunction() {
        reader.enter();
        Token first = reader.peek();
        Expression left = conjunction();
        while (reader.accept("OR")) {
            left = binary(first, Operator.OR, left, conjunction());
        }
        reader.leave();
        return left;
    }

    /** {@code conjunction ::= negation { AND negation }}. */
    private Expression conjunction() {
        Token first = reader.peek();
        Expression left = negation();
        while (reader.accept("AND")) {
            left = binary(first, Operator.AND, left, negation());
        }
        return left;
    }

    /** {@code negation ::= [NOT] test [IS [NOT] truth]}. */
    private Expression negation() {
        Token first = reader.peek();
        if (reader.accept("NOT")) {
            reader.enter();
            Expression operand = negation();
            reader.leave();
            return new Expression.Not(reader.since(first), operand);
        }
        return predicate();
    }

    /** {@code predicate ::= sum { comparison sum | IS … | [NOT] BETWEEN … | IN … | LIKE … }}. */
    private Expression predicate() {
        Token first = reader.peek();
        Expression left = joined();
        while (true) {
            Operator comparison =
                    reader.peek().kind() == Token.Kind.SYMBOL
                            ? COMPARISONS.get(reader.peek().text())
                            : null;
            if (comparison != null) {
                left = comparison(first, left, comparison);
            } else if (reader.accept("IS")) {
                left = is(first, left);
            } else if (reader.seesAny("BETWEEN", "IN", "LIKE")
                    || reader.sees("NOT", "BETWEEN")
                    || reader.sees("NOT", "IN")
                    || reader.sees("NOT", "LIKE")) {
                left = negatable(first, left, reader.accept("NOT"));
            } else if (reader.accept("OVERLAPS")) {
                Expression right = joined();
                left =
                        new Expression.Call(
                                reader.since(first),
                                List.of(Name.of("OVERLAPS", reader.spanOf(first))),
                                List.of(argument(left), argument(right)));
            } else {
                return left;
            }
        }
    }

    private Expression comparison(Token first, Expression left, Operator operator) {
        Token sign = reader.take();
        if (reader.seesAny("ALL", "ANY", "SOME") && reader.peek(1).is("(")) {
            String words = sign.text() + " " + reader.take().text();
            SqlText query = bracketedQuery();
            return new Expression.QueryComparison(reader.since(first), left, words, query);
        }
        return binary(first, operator, left, joined());
    }

    private Expression is(Token first, Expression left) {
        boolean negated = reader.accept("NOT");
        if (reader.accept("NULL")) {
            return new Expression.IsNull(reader.since(first), left, negated);
        }
        if (reader.accept("DISTINCT", "FROM")) {
            Expression right = joined();
            return new Expression.IsDistinct(reader.since(first), left, right, negated);
        }
        Optional<Boolean> truth;
        if (reader.accept("TRUE")) {
            truth = Optional.of(true);
        } else if (reader.accept("FALSE")) {
            truth = Optional.of(false);
        } else if (reader.accept("UNKNOWN")) {
            truth = Optional.empty();
        } else {
            throw reader.expected("NULL, TRUE, FALSE, UNKNOWN or DISTINCT FROM", "after IS");
        }
        return new Expression.IsTruth(reader.since(first), left, truth, negated);
    }

    private Expression negatable(Token first, Expression left, boolean negated) {
        if (reader.accept("BETWEEN")) {
            boolean symmetric = reader.accept("SYMMETRIC");
            reader.accept("ASYMMETRIC");
            Expression low = joined();
            reader.expect("AND", "between the two bounds of BETWEEN");
            Expression high = joined();
            return new Expression.Between(reader.since(first), left, low, high, symmetric, negated);
        }
        if (reader.accept("LIKE")) {
            Expression pattern = joined();
            Optional<Expression> escape =
                    reader.accept("ESCAPE") ? Optional.of(joined()) : Optional.empty();
            return new Expression.Like(reader.since(first), left, pattern, escape, negated);
        }
        reader.expect("IN", "");
        if (sql.seesBracketedQuery()) {
            SqlText query = bracketedQuery();
            return new Expression.QueryComparison(
                    reader.since(first), left, negated ? "NOT IN" : "IN", query);
        }
        reader.expect("(", "after IN");
        List<Expression> values = expressions();
        reader.expect(")", "after the values of IN");
        return new Expression.InList(reader.since(first), left, values, negated);
    }

    /** {@code joined ::= sum { || sum }}, as the databases read it. */
    Expression joined() {
        Token first = reader.peek();
        Expression left = numericSum();
        while (reader.accept("||")) {
            left = binary(first, Operator.CONCATENATE, left, numericSum());
        }
        return left;
    }

    /** {@code sum ::= product { (+ | -) product }}. */
    private Expression numericSum() {
        Token first = reader.peek();
        Expression left = product();
        while (true) {
            if (reader.accept("+")) {
                left = binary(first, Operator.ADD, left, product());
            } else if (reader.accept("-")) {
                left = binary(first, Operator.SUBTRACT, left, product());
            } else {
                return left;
            }
        }
    }

    /** {@code product ::= factor { (* | /) factor }}. */
    private Expression product() {
        Token first = reader.peek();
        Expression left = factor();
        while (true) {
            if (reader.accept("*")) {
                left = binary(first, Operator.MULTIPLY, left, factor());
            } else if (reader.accept("/")) {
                left = binary(first, Operator.DIVIDE, left, factor());
            } else if (reader.sees("%")) {
                left = called("MOD", first, left);
            } else if (data.isPresent() && reader.sees("DIV")) {
                left = called("DIV", first, left);
            } else {
                return left;
            }
        }
    }

    /** {@code a % b}, which is MOD(a, b), and its like. */
    private Expression called(String function, Token first, Expression left) {
        Token sign = reader.take();
        Name mod = new Name(function, false, reader.spanOf(sign), function);
        Expression right = factor();
        return new Expression.Call(
                reader.since(first),
                List.of(mod),
                List.of(
                        new Expression.Argument(left.span(), Optional.empty(), left),
                        new Expression.Argument(right.span(), Optional.empty(), right)));
    }

    /** {@code factor ::= [+ | -] primary { '[' index ']' | '.' field }}. */
    private Expression factor() {
        Token first = reader.peek();
        if (reader.accept("-")) {
            reader.enter();
            Expression operand = factor();
            reader.leave();
            return new Expression.Negation(reader.since(first), operand);
        }
        if (reader.accept("+")) {
            reader.enter();
            Expression operand = factor();
            reader.leave();
            return operand;
        }
        Expression value = primary();
        while (reader.accept("[")) {
            Expression index = expression();
            reader.expect("]", "after the index");
            value = new Expression.Element(reader.since(first), value, index);
            if (reader.accept(".")) {
                Name field = anyName();
                value = new Expression.FieldOf(reader.since(first), value, field);
            }
        }
        return value;
    }

    private Expression primary() {
        Token first = reader.peek();
        if (first.isLiteral()) {
            reader.take();
            return literal(first);
        }
        if (data.isPresent() && data.get().seesPrimary()) {
            return data.get().primary();
        }
        if (first.is("(")) {
            return bracketed();
        }
        if (first.kind() != Token.Kind.WORD) {
            return referenceOrCall();
        }
        switch (first.text()) {
            case "NULL", "TRUE", "FALSE", "UNKNOWN", "DEFAULT" -> {
                reader.take();
                LiteralKind kind =
                        switch (first.text()) {
                            case "NULL" -> LiteralKind.NULL;
                            case "DEFAULT" -> LiteralKind.DEFAULT;
                            default -> LiteralKind.BOOLEAN;
                        };
                return new Expression.Literal(reader.since(first), kind, first.text(), "");
            }
            case "CASE" -> {
                return caseExpression();
            }
            case "CAST" -> {
                return cast();
            }
            case "EXISTS" -> {
                reader.take();
                SqlText query = bracketedQuery();
                return new Expression.Exists(reader.since(first), query);
            }
            case "DATE", "TIME", "TIMESTAMP", "INTERVAL" -> {
                if (reader.peek(1).kind() == Token.Kind.TEXT) {
                    return datetimeLiteral();
                }
            }
            case "ARRAY" -> {
                if (reader.peek(1).is("[")) {
                    return arrayValue();
                }
            }
            case "ROW" -> {
                if (reader.peek(1).is("(")) {
                    reader.take();
                    reader.take();
                    List<Expression> fields = expressions();
                    reader.expect(")", "after the fields of ROW");
                    return new Expression.RowValue(reader.since(first), fields);
                }
            }
            default -> {
                if (MOMENTS.contains(first.text()) && !reader.peek(1).is(".")) {
                    return moment();
                }
            }
        }
        return referenceOrCall();
    }

    private Expression bracketed() {
        Token first = reader.peek();
        if (sql.seesBracketedQuery()) {
            SqlText query = bracketedQuery();
            return new Expression.ScalarQuery(reader.since(first), query);
        }
        reader.expect("(", "");
        List<Expression> values = expressions();
        reader.expect(")", "to close the bracket");
        if (values.size() == 1
                && values.get(0) instanceof Expression.Binary difference
                && difference.operator() == Operator.SUBTRACT
                && reader.seesAny("YEAR", "MONTH", "DAY", "HOUR", "MINUTE", "SECOND")) {
            String fields = types.intervalQualifier();
            return new Expression.Difference(
                    reader.since(first), difference.left(), difference.right(), fields);
        }
        return values.size() == 1
                ? values.get(0)
                : new Expression.RowValue(reader.since(first), values);
    }

    private SqlText bracketedQuery() {
        reader.expect("(", "before a query");
        SqlText query = sql.query();
        reader.expect(")", "after the query");
        return query;
    }

    List<Expression> expressions() {
        List<Expression> values = new ArrayList<>();
        do {
            values.add(expression());
        } while (reader.accept(","));
        return values;
    }

    private Expression literal(Token token) {
        LiteralKind kind =
                switch (token.kind()) {
                    case INTEGER -> LiteralKind.INTEGER;
                    case DECIMAL -> LiteralKind.DECIMAL;
                    case APPROXIMATE -> LiteralKind.APPROXIMATE;
                    case BYTES -> LiteralKind.BYTES;
                    default -> LiteralKind.TEXT;
                };
        StringBuilder text = new StringBuilder(token.text());
        // ISO 9075-2, 5.3: texts with only white space and a line end between them are one text.
        while (token.kind() == Token.Kind.TEXT && reader.peek().kind() == Token.Kind.TEXT) {
            text.append(reader.take().text());
        }
        return new Expression.Literal(reader.since(token), kind, text.toString(), "");
    }

    private Expression datetimeLiteral() {
        Token first = reader.take();
        Token text = reader.take();
        String qualifier = "";
        if (first.is("INTERVAL")) {
            qualifier = types.intervalQualifier();
        }
        return new Expression.Literal(
                reader.since(first), LiteralKind.valueOf(first.text()), text.text(), qualifier);
    }

    private Expression arrayValue() {
        Token first = reader.take();
        reader.expect("[", "after ARRAY");
        List<Expression> elements = reader.sees("]") ? List.of() : expressions();
        reader.expect("]", "after the elements of ARRAY");
        return new Expression.ArrayValue(reader.since(first), elements);
    }

    private Expression moment() {
        Token first = reader.take();
        if (data.isPresent()) {
            // As some servers have it.
            reader.accept("(", ")");
        }
        if (reader.sees("(") && reader.peek(1).kind() == Token.Kind.INTEGER) {
            reader.take();
            reader.take();
            reader.expect(")", "after the precision");
        }
        return new Expression.Call(
                reader.since(first),
                List.of(Name.of(first.text(), reader.spanOf(first))),
                List.of());
    }

    /** {@code CASE [operand] { WHEN when THEN then } [ELSE otherwise] END}. */
    private Expression caseExpression() {
        Token first = reader.take();
        Optional<Expression> operand =
                reader.sees("WHEN") ? Optional.empty() : Optional.of(expression());
        List<Expression.When> branches = new ArrayList<>();
        while (reader.sees("WHEN")) {
            Token start = reader.take();
            Expression when = expression();
            reader.expect("THEN", "after WHEN");
            Expression then = expression();
            branches.add(new Expression.When(reader.since(start), when, then));
        }
        if (branches.isEmpty()) {
            throw reader.expected("WHEN", "in CASE");
        }
        Optional<Expression> otherwise =
                reader.accept("ELSE") ? Optional.of(expression()) : Optional.empty();
        reader.expect("END", "to close CASE");
        return new Expression.Case(reader.since(first), operand, branches, otherwise);
    }

    private Expression cast() {
        Token first = reader.take();
        reader.expect("(", "after CAST");
        Expression operand = expression();
        reader.expect("AS", "between the value and the type of CAST");
        TypeSyntax type = data.map(DataExpressionParser::type).orElseGet(types::type);
        reader.expect(")", "to close CAST");
        return new Expression.Cast(reader.since(first), operand, type);
    }

    private Expression referenceOrCall() {
        Token first = reader.peek();
        if (reader.isReservedCall()) {
            return call(first, List.of(reader.nameOf(reader.take())));
        }
        if (!reader.seesName()) {
            throw reader.expected("a value", "");
        }
        List<Name> names = new ArrayList<>();
        names.add(reader.nameOf(reader.take()));
        while (reader.sees(".")) {
            reader.take();
            names.add(anyName());
        }
        if (reader.sees("(")) {
            return data.isPresent() && names.size() == 1
                    ? data.get().aggregateOrCall(first, names)
                    : call(first, names);
        }
        return new Expression.Reference(reader.since(first), names);
    }

    /** A name after a dot: nothing needs to be kept free there. */
    Name anyName() {
        Token token = reader.peek();
        if (token.kind() != Token.Kind.WORD && token.kind() != Token.Kind.DELIMITED) {
            throw reader.expected("a name", "after the dot");
        }
        return reader.nameOf(reader.take());
    }

    Expression call(Token first, List<Name> names) {
        reader.expect("(", "");
        Name last = names.get(names.size() - 1);
        String key = names.size() == 1 ? last.key() : "";
        List<Expression.Argument> arguments = new ArrayList<>();
        switch (key) {
            case "TRIM" -> last = trim(last, arguments);
            case "EXTRACT" -> {
                Token field = reader.take();
                last = Name.of("EXTRACT " + field.text(), last.span());
                reader.expect("FROM", "after the field of EXTRACT");
                arguments.add(argument(expression()));
            }
            case "POSITION" -> {
                arguments.add(argument(joined()));
                if (!reader.accept("IN")) {
                    reader.expect(",", "in POSITION");
                }
                arguments.add(argument(expression()));
            }
            case "SUBSTRING", "OVERLAY" -> {
                arguments.add(argument(expression()));
                while (reader.accept(",")
                        || reader.accept("PLACING")
                        || reader.accept("FROM")
                        || reader.accept("FOR")) {
                    arguments.add(argument(expression()));
                }
            }
            default -> arguments(arguments);
        }
        reader.expect(")", "after the arguments of " + last.text());
        List<Name> name = new ArrayList<>(names);
        name.set(names.size() - 1, last);
        return new Expression.Call(reader.since(first), name, arguments);
    }

    /** The arguments of a call up to its closing bracket, by position or by name. */
    void arguments(List<Expression.Argument> arguments) {
        if (reader.sees(")")) {
            return;
        }
        do {
            Token start = reader.peek();
            Optional<Name> name = Optional.empty();
            if (TokenReader.isName(start) && reader.peek(1).is("=>")) {
                name = Optional.of(reader.nameOf(reader.take()));
                reader.take();
            }
            Expression value = expression();
            arguments.add(new Expression.Argument(reader.since(start), name, value));
        } while (reader.accept(","));
    }

    /** {@code TRIM([[LEADING | TRAILING | BOTH] [what] FROM] text)}. */
    private Name trim(Name name, List<Expression.Argument> arguments) {
        String side = "BOTH";
        if (reader.seesAny("LEADING", "TRAILING", "BOTH")) {
            side = reader.take().text();
        }
        Optional<Expression> what = Optional.empty();
        if (!reader.accept("FROM")) {
            Expression value = expression();
            if (reader.accept("FROM")) {
                what = Optional.of(value);
            } else {
                arguments.add(argument(value));
                return Name.of("TRIM " + side, name.span());
            }
        }
        arguments.add(argument(expression()));
        what.ifPresent(value -> arguments.add(argument(value)));
        return Name.of("TRIM " + side, name.span());
    }

    private static Expression.Argument argument(Expression value) {
        return new Expression.Argument(value.span(), Optional.empty(), value);
    }

    private Expression binary(Token first, Operator operator, Expression left, Expression right) {
        if (++chain > LONGEST_CHAIN) {
            throw reader.failure(
                    first,
                    "this expression has more than " + LONGEST_CHAIN + " operators",
                    "work it out in several statements");
        }
        return new Expression.Binary(reader.since(first), operator, left, right);
    }
}
