package dev.cantina.syntax;

import dev.cantina.syntax.Expression.Operator;
import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;

/**
 * {@code FOR i IN [REVERSE] low..high DO … END FOR}: a loop that counts, both bounds worked out
 * before its first turn. It is read as the statements of the standard that it stands for.
 */
public final class RangeLoop {
    /** The message of 22004 where a bound is NULL. */
    public static final String NO_BOUND = "a bound of FOR is NULL";

    private final TokenReader reader;
    private final ExpressionParser expressions;

    RangeLoop(TokenReader reader, ExpressionParser expressions) {
        this.reader = reader;
        this.expressions = expressions;
    }

    /**
     * @param turn reads the statements and the end of the loop
     */
    Statement read(
            Token first, Optional<Name> label, Name counter, Supplier<List<Statement>> turn) {
        boolean reverse = reader.accept("REVERSE");
        Expression low = expressions.joined();
        Token between = reader.peek();
        reader.expect("..", "between the bounds of FOR");
        Token after = reader.peek();
        if (after.start() == between.end() && after.text().startsWith(".")) {
            // Three points are no fraction after two.
            throw reader.failure(
                    after,
                    "there are three points between the bounds of FOR",
                    "write FOR i IN 1..3");
        }
        Expression high = expressions.joined();
        reader.expect("DO", "after the bounds of FOR");
        Span head = reader.since(first);
        List<Statement> statements = turn.get();
        Span whole = reader.since(first);
        String own = counter.text().replaceAll("[^\\p{L}\\p{N}_]", "_");
        Name next = Name.of("cantina_next_" + own, head);
        Name last = Name.of("cantina_last_" + own, head);
        Name loop = label.orElse(Name.of("cantina_turns_" + head.start(), head));
        TypeSyntax big = new TypeSyntax.Predefined(head, "BIGINT", List.of());
        Expression one = new Expression.Literal(head, Expression.LiteralKind.INTEGER, "1", "");
        Operator back = reverse ? Operator.ADD : Operator.SUBTRACT;
        Operator on = reverse ? Operator.SUBTRACT : Operator.ADD;
        Expression before = new Expression.Binary(head, back, reverse ? high : low, one);
        Expression step = new Expression.Binary(head, on, reference(next), one);
        Expression over =
                new Expression.Binary(
                        head,
                        reverse ? Operator.LESS : Operator.GREATER,
                        reference(next),
                        reference(last));
        List<Statement> each =
                new java.util.ArrayList<>(
                        List.of(
                                new Statement.Set(head, target(next), step),
                                new Statement.If(
                                        head,
                                        List.of(
                                                new Statement.Branch(
                                                        head,
                                                        over,
                                                        List.of(new Statement.Leave(head, loop)))),
                                        Optional.empty()),
                                new Statement.Set(head, target(counter), reference(next))));
        each.addAll(statements);
        return new Statement.Compound(
                whole,
                Optional.empty(),
                false,
                List.of(
                        variable(next, big, before),
                        variable(last, big, reverse ? low : high),
                        new Declaration.Variables(
                                head, List.of(counter), false, big, Optional.empty())),
                List.of(
                        new Statement.If(
                                head,
                                List.of(noBound(head, next, last)),
                                Optional.of(
                                        List.of(
                                                new Statement.Loop(
                                                        whole, Optional.of(loop), each))))));
    }

    /** A bound that is NULL is an error, and not a loop without an end. */
    private static Statement.Branch noBound(Span head, Name next, Name last) {
        Expression none =
                new Expression.Binary(
                        head,
                        Operator.OR,
                        new Expression.IsNull(head, reference(next), false),
                        new Expression.IsNull(head, reference(last), false));
        Expression text = new Expression.Literal(head, Expression.LiteralKind.TEXT, NO_BOUND, "");
        Statement signal =
                new Statement.Signal(
                        head,
                        false,
                        Optional.of("22004"),
                        Optional.empty(),
                        List.of(
                                new Statement.SignalItem(
                                        head, Name.of("MESSAGE_TEXT", head), text)));
        return new Statement.Branch(head, none, List.of(signal));
    }

    private static Expression reference(Name name) {
        return new Expression.Reference(name.span(), List.of(name));
    }

    private static Statement.Target target(Name name) {
        return new Statement.Target(name.span(), List.of(name), Optional.empty());
    }

    private static Declaration variable(Name name, TypeSyntax type, Expression initial) {
        return new Declaration.Variables(
                name.span(), List.of(name), false, type, Optional.of(initial));
    }
}
