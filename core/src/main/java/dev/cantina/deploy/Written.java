package dev.cantina.deploy;

import dev.cantina.check.BoundExpression;
import dev.cantina.check.BoundStatement;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlWords;
import java.util.Optional;

/** Tells what an author wrote from what the binder added. */
final class Written {
    private Written() {}

    /** Without the conversions that nobody wrote. */
    static BoundExpression bare(BoundExpression e) {
        BoundExpression bare = e;
        while (bare instanceof BoundExpression.Convert convert && !isCast(convert)) {
            bare = convert.operand();
        }
        return bare;
    }

    /** BETWEEN SYMMETRIC, as somebody wrote it. */
    record Symmetric(
            Span span,
            BoundExpression operand,
            BoundExpression low,
            BoundExpression high,
            boolean negated) {}

    /** BETWEEN SYMMETRIC where the expression is the comparisons that the binder makes of it. */
    static Optional<Symmetric> symmetric(BoundExpression e) {
        if (e instanceof BoundExpression.Let let) {
            return symmetric(let.body())
                    .filter(s -> s.span().equals(let.span()))
                    .map(s -> new Symmetric(s.span, let.value(), s.low, s.high, s.negated));
        }
        if (e instanceof BoundExpression.Not not) {
            return symmetric(not.operand())
                    .filter(s -> s.span().equals(not.span()))
                    .map(s -> new Symmetric(s.span, s.operand, s.low, s.high, !s.negated));
        }
        if (e instanceof BoundExpression.Logical or
                && !or.and()
                && or.span().equals(or.left().span())
                && or.left() instanceof BoundExpression.Logical within
                && within.left() instanceof BoundExpression.Compare least
                && within.right() instanceof BoundExpression.Compare most
                && or.span().text().matches("(?is).*\\bBETWEEN\\s+SYMMETRIC\\b.*")) {
            return Optional.of(
                    new Symmetric(or.span(), least.left(), least.right(), most.right(), false));
        }
        return Optional.empty();
    }

    /**
     * @throws Refusal for a block that its author wrote as a loop over a range of numbers
     */
    static void refuseRange(BoundStatement s, Span span) {
        if (!(s instanceof BoundStatement.Block)) {
            return;
        }
        SqlWords words = SqlWords.of(span.text());
        if (words.sees(0, "FOR") || words.sees(1, ":") && words.sees(2, "FOR")) {
            throw new Refusal(
                    span, "a loop over a range of numbers is not shipped; write it with WHILE");
        }
    }

    /** Whether it is a CAST that somebody wrote. */
    static boolean isCast(BoundExpression.Convert convert) {
        if (convert.span().equals(convert.operand().span())) {
            return false;
        }
        // The whole of it is CAST(…), and not only its beginning.
        String text = convert.span().text();
        if (!text.matches("(?is)CAST\\s*\\(.*")) {
            return false;
        }
        int depth = 0;
        boolean quoted = false;
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            quoted ^= c == '\'';
            depth += quoted ? 0 : c == '(' ? 1 : c == ')' ? -1 : 0;
            if (c == ')' && !quoted && depth == 0) {
                return i == text.length() - 1;
            }
        }
        return false;
    }
}
