package dev.cantina.syntax;

/**
 * {@code CASE operand WHEN value THEN …} where a value before the last may be NULL: a server that
 * looks no further behind such a value finds nothing.
 */
public final class NullCases {
    private NullCases() {}

    /** Whether an expression is one. */
    public static boolean is(Expression e) {
        if (!(e instanceof Expression.Case choice) || choice.operand().isEmpty()) {
            return false;
        }
        return choice.branches().stream()
                .limit(Math.max(0, choice.branches().size() - 1))
                .anyMatch(branch -> !isSure(branch.when()));
    }

    private static boolean isSure(Expression e) {
        Expression value = e instanceof Expression.Negation negation ? negation.operand() : e;
        return value instanceof Expression.Literal literal
                && literal.kind() != Expression.LiteralKind.NULL
                && literal.kind() != Expression.LiteralKind.DEFAULT
                && !literal.text().equals("UNKNOWN");
    }
}
