package dev.cantina.translate.postgresql;

import dev.cantina.binding.BoundExpression;
import dev.cantina.syntax.TextEdits;
import dev.cantina.translate.SourceForm;
import dev.cantina.translate.UnsupportedConstructException;
import dev.cantina.types.SqlType;
import dev.cantina.types.SqlType.Shape;

/** Texts on PostgreSQL: what is put together, what stands for a value, and how they compare. */
final class PostgresTexts {
    private final PostgresExpressions words;

    /**
     * @param words for their parts
     */
    PostgresTexts(PostgresExpressions words) {
        this.words = words;
    }

    /** {@code a || b}, in the server's words. */
    void concatenate(BoundExpression.Concatenate both, TextEdits edits) {
        if (both.type() instanceof SqlType.Array) {
            // The server's own takes NULL for an array without elements.
            edits.put(
                    both.span(),
                    "cantina.joined("
                            + words.of(both.left())
                            + ", "
                            + words.of(both.right())
                            + ")");
            return;
        }
        if (both.type() instanceof SqlType.Bytes) {
            words.parts(both, edits);
            return;
        }
        BoundExpression left = SourceForm.bare(both.left());
        BoundExpression right = SourceForm.bare(both.right());
        joined(both.left(), right, edits);
        joined(both.right(), left, edits);
    }

    private void joined(BoundExpression part, BoundExpression other, TextEdits edits) {
        BoundExpression bare = SourceForm.bare(part);
        boolean otherIsText =
                other.type() instanceof SqlType.Text text && text.shape() != Shape.FIXED;
        if (bare.type() instanceof SqlType.Text text && text.shape() == Shape.FIXED) {
            edits.put(
                    bare.span(),
                    "rpad(" + words.of(bare) + ", " + Math.max(1, text.length()) + ")");
        } else if (bare.type() instanceof SqlType.Text || bare.type() instanceof SqlType.Unknown) {
            words.edit(bare, edits);
        } else {
            boolean simple =
                    bare instanceof BoundExpression.Read
                            || bare instanceof BoundExpression.Field
                            || bare instanceof BoundExpression.Constant
                            || bare instanceof BoundExpression.Invoke;
            boolean asItIs =
                    otherIsText
                            && (bare.type() instanceof SqlType.Integral
                                    || bare.type() instanceof SqlType.Exact
                                    || bare.type() instanceof SqlType.Date);
            if (asItIs && simple) {
                words.edit(bare, edits);
            } else {
                edits.put(bare.span(), words.text(bare));
            }
        }
    }

    /** What CAST AS VARCHAR makes of a value. */
    String shown(BoundExpression value) {
        BoundExpression e = SourceForm.bare(value);
        if (e.type() instanceof SqlType.Bool) {
            return "upper(CAST(" + words.of(e) + " AS text))";
        }
        if (e.type() instanceof SqlType.Text text && text.shape() == Shape.FIXED) {
            return "rpad(" + words.of(e) + ", " + Math.max(1, text.length()) + ")";
        }
        if (e.type() instanceof SqlType.Bytes) {
            return "upper(encode(" + words.of(e) + ", 'hex'))";
        }
        boolean zoned =
                e.type() instanceof SqlType.Timestamp stamp && stamp.zone()
                        || e.type() instanceof SqlType.Time time && time.zone();
        if (zoned || e.type() instanceof SqlType.Interval) {
            throw new UnsupportedConstructException(
                    e.span(), "the text of " + e.type().sql() + " is another there");
        }
        if (e.type() instanceof SqlType.Approximate) {
            throw new UnsupportedConstructException(
                    e.span(), "an approximate number is written another way there; cast it first");
        }
        return e.type() instanceof SqlType.Text ? words.of(e) : "CAST(" + words.of(e) + " AS text)";
    }

    /** A comparison of values that are no rows. */
    void compare(BoundExpression.Compare compare, TextEdits edits) {
        BoundExpression left = words.held(SourceForm.bare(compare.left()));
        BoundExpression right = words.held(SourceForm.bare(compare.right()));
        boolean arrays =
                left.type() instanceof SqlType.Array && right.type() instanceof SqlType.Array;
        if (arrays) {
            // The server takes NULL in two arrays for the same.
            String same =
                    "cantina.same("
                            + words.of(compare.left())
                            + ", "
                            + words.of(compare.right())
                            + ")";
            switch (compare.operator()) {
                case EQUAL -> edits.put(compare.span(), same);
                case NOT_EQUAL -> edits.put(compare.span(), "(NOT " + same + ")");
                default ->
                        throw new UnsupportedConstructException(
                                compare.span(), "the order of arrays");
            }
            return;
        }
        boolean texts = left.type() instanceof SqlType.Text || right.type() instanceof SqlType.Text;
        boolean ordering =
                switch (compare.operator()) {
                    case LESS, LESS_OR_EQUAL, GREATER, GREATER_OR_EQUAL -> true;
                    default -> false;
                };
        if (texts && ordering) {
            boolean simple =
                    right instanceof BoundExpression.Constant
                            || right instanceof BoundExpression.Read;
            edits.aroundOnce(
                    right.span(), simple ? "(" : "((", (simple ? "" : ")") + " COLLATE \"C\")");
        }
        if (compare.fixed()) {
            padded(left, right, edits);
            padded(right, left, edits);
        }
        words.parts(compare, edits);
    }

    /** A CHAR beside a VARCHAR: trailing blanks count on neither side. */
    private void padded(BoundExpression e, BoundExpression other, TextEdits edits) {
        boolean varying =
                e.type() instanceof SqlType.Text text
                        && text.shape() != Shape.FIXED
                        && !(e instanceof BoundExpression.Constant);
        boolean fixed = other.type() instanceof SqlType.Text text && text.shape() == Shape.FIXED;
        if (varying && fixed) {
            edits.put(e.span(), "CAST(" + words.of(e) + " AS bpchar)");
        }
    }
}
