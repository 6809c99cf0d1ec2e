package dev.cantina.translate;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.Variable;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlWords;
import dev.cantina.types.SqlType;
import java.util.Optional;
import java.util.function.Function;

/** Tells what an author wrote from what the binder added. */
public final class SourceForm {
    private SourceForm() {}

    /** Without the conversions that nobody wrote. */
    public static BoundExpression bare(BoundExpression e) {
        BoundExpression bare = e;
        while (bare instanceof BoundExpression.Convert convert
                && convert.kind() != BoundExpression.ConvertKind.CAST) {
            bare = convert.operand();
        }
        return bare;
    }

    /** BETWEEN SYMMETRIC, as somebody wrote it. */
    public record Symmetric(
            Span span,
            BoundExpression operand,
            BoundExpression low,
            BoundExpression high,
            boolean negated) {}

    /** BETWEEN SYMMETRIC where the expression is the comparisons that the binder makes of it. */
    public static Optional<Symmetric> symmetric(BoundExpression e) {
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
     * Whether nobody wrote an expression: it stands for the head of a loop over a range of numbers,
     * {@code FOR i IN 1..9 DO}.
     */
    public static boolean isMade(BoundExpression e) {
        String text = e.span().text();
        return text.regionMatches(true, Math.max(0, text.length() - 2), "DO", 0, 2)
                && isRange(e.span());
    }

    /** Whether what is no loop over rows begins with FOR: a loop over a range of numbers. */
    public static boolean isRange(Span span) {
        SqlWords words = SqlWords.of(span.text());
        return words.sees(0, "FOR") || words.sees(1, ":") && words.sees(2, "FOR");
    }

    /**
     * An expression that nobody wrote, in words that every server knows.
     *
     * @param written says what somebody wrote
     * @throws UnsupportedConstructException for a bound that is no whole number
     */
    public static String made(
            BoundExpression e,
            Function<BoundExpression, String> written,
            Function<Variable, String> name) {
        Function<BoundExpression, String> part = p -> made(bare(p), written, name);
        if (!isMade(e)) {
            boolean whole =
                    e.type() instanceof SqlType.Integral
                            || e.type() instanceof SqlType.Exact exact && exact.scale() == 0;
            if (!whole) {
                throw new UnsupportedConstructException(
                        e.span(), "a bound of FOR that is no whole number there");
            }
            return written.apply(e);
        } else if (e instanceof BoundExpression.Read read) {
            return name.apply(read.variable());
        } else if (e instanceof BoundExpression.Constant constant) {
            return constant.value() instanceof String text
                    ? "'" + text.replace("'", "''") + "'"
                    : String.valueOf(constant.value());
        } else if (e instanceof BoundExpression.Arithmetic sum) {
            return part.apply(sum.left())
                    + " "
                    + sum.operator().sign()
                    + " "
                    + part.apply(sum.right());
        } else if (e instanceof BoundExpression.Compare compare) {
            return part.apply(compare.left())
                    + " "
                    + compare.operator().sign()
                    + " "
                    + part.apply(compare.right());
        } else if (e instanceof BoundExpression.Logical or && !or.and()) {
            return part.apply(or.left()) + " OR " + part.apply(or.right());
        } else if (e instanceof BoundExpression.IsNull none) {
            return part.apply(none.operand()) + " IS NULL";
        }
        throw new IllegalStateException("an expression that a loop over a range has not: " + e);
    }

    /** Whether it is a text of one character for certain. */
    public static boolean isOneCharacter(BoundExpression e) {
        return e instanceof BoundExpression.Constant constant
                && constant.value() instanceof String text
                && text.codePointCount(0, text.length()) == 1;
    }
}
