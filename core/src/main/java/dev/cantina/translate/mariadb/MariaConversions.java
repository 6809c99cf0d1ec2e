package dev.cantina.translate.mariadb;

import dev.cantina.binding.BoundExpression;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.TextEdits;
import dev.cantina.translate.FixedTexts;
import dev.cantina.translate.SourceForm;
import dev.cantina.translate.UnsupportedConstructException;
import dev.cantina.types.SqlType;
import dev.cantina.types.SqlType.Shape;

/** Conversions on MariaDB, said and unsaid. */
final class MariaConversions {
    private final MariaExpressions words;

    /**
     * @param words for what is converted
     */
    MariaConversions(MariaExpressions words) {
        this.words = words;
    }

    /** A conversion, in the server's words. */
    void convert(BoundExpression.Convert convert, TextEdits edits) {
        if (convert.kind() == BoundExpression.ConvertKind.CAST) {
            edits.put(convert.span(), cast(convert));
            return;
        }
        boolean parsed =
                convert.operand().type() instanceof SqlType.Text
                        && !(convert.type() instanceof SqlType.Text)
                        && !(convert.operand() instanceof BoundExpression.Constant);
        if (parsed) {
            edits.put(convert.span(), cast(convert.operand(), convert.type(), convert.span()));
            return;
        }
        BoundExpression bare = SourceForm.bare(convert.operand());
        if (FixedTexts.loseBlanks(bare, convert.type())) {
            edits.put(bare.span(), words.text(bare));
            return;
        }
        boolean rounded =
                bare.type() instanceof SqlType.Approximate
                        && convert.type() instanceof SqlType.Integral
                        && !(bare instanceof BoundExpression.Constant);
        if (rounded) {
            // The server rounds the half of an approximate number to the even one.
            edits.put(convert.span(), cast(convert.operand(), convert.type(), convert.span()));
            return;
        }
        words.edit(convert.operand(), edits);
    }

    private String cast(BoundExpression.Convert convert) {
        boolean days =
                convert.operand() instanceof BoundExpression.Apply apply
                        && apply.function().name().equals("DIFFERENCE")
                        && convert.type() instanceof SqlType.Integral;
        if (days) {
            BoundExpression.Apply apply = (BoundExpression.Apply) convert.operand();
            String fields = ((SqlType.Interval) apply.type()).fields();
            boolean dates =
                    apply.arguments().stream()
                            .limit(2)
                            .allMatch(a -> a.type() instanceof SqlType.Date);
            if (!fields.equalsIgnoreCase("DAY") || !dates) {
                throw new UnsupportedConstructException(
                        convert.span(), "MariaDB keeps no intervals");
            }
            return "DATEDIFF("
                    + words.of(apply.arguments().get(0))
                    + ", "
                    + words.of(apply.arguments().get(1))
                    + ")";
        }
        if (convert.operand().type() instanceof SqlType.Interval
                || convert.type() instanceof SqlType.Interval) {
            throw new UnsupportedConstructException(convert.span(), "MariaDB keeps no intervals");
        }
        return cast(convert.operand(), convert.type(), convert.span());
    }

    private String cast(BoundExpression operand, SqlType to, Span span) {
        SqlType from = operand.type();
        String maria = words.type(to, span);
        if (to instanceof SqlType.Array) {
            throw new UnsupportedConstructException(span, "MariaDB has no arrays");
        }
        boolean nothing =
                SourceForm.bare(operand) instanceof BoundExpression.Constant constant
                        && constant.value() == null;
        if (nothing) {
            return "NULL";
        }
        if (to instanceof SqlType.Bytes && !(from instanceof SqlType.Bytes)) {
            throw new UnsupportedConstructException(
                    span, "a text of hexadecimal digits is no binary string there");
        }
        if (to instanceof SqlType.Text text) {
            String value = words.text(operand);
            if (text.length() == 0) {
                return value;
            }
            if (from instanceof SqlType.Text) {
                String cut = "LEFT(" + value + ", " + text.length() + ")";
                return text.shape() == Shape.FIXED
                        ? "RPAD(" + value + ", " + text.length() + ", ' ')"
                        : cut;
            }
            boolean fits =
                    from instanceof SqlType.Integral && text.length() >= 20
                            || from instanceof SqlType.Exact exact
                                    && exact.precision() + 2 <= text.length()
                                    && exact.precision() > 0
                            || from instanceof SqlType.Date && text.length() >= 10;
            if (fits && text.shape() != Shape.FIXED) {
                return "CAST(" + value + " AS CHAR)";
            }
            // A number that goes to a function as it is may lose its decimals on the way.
            return words.made(to, maria, from.isNumeric() ? "CONCAT(" + value + ")" : value);
        }
        if (from.equals(to)) {
            return words.of(operand);
        }
        boolean wider =
                from instanceof SqlType.Integral
                        && (to.equals(SqlType.BIGINT)
                                || to instanceof SqlType.Exact exact && exact.precision() == 0);
        if (wider) {
            return "CAST(" + words.of(operand) + " AS " + castable(maria) + ")";
        }
        if (to instanceof SqlType.Approximate) {
            return from instanceof SqlType.Text
                    ? words.made(to, maria, words.of(operand))
                    : "CAST(" + words.of(operand) + " AS DOUBLE)";
        }
        if (to instanceof SqlType.Date && from instanceof SqlType.Timestamp
                || to instanceof SqlType.Timestamp && from instanceof SqlType.Date
                || to instanceof SqlType.Time && from instanceof SqlType.Timestamp
                || to instanceof SqlType.Timestamp && from instanceof SqlType.Timestamp
                || to instanceof SqlType.Json) {
            return to instanceof SqlType.Json
                    ? words.of(operand)
                    : "CAST(" + words.of(operand) + " AS " + maria + ")";
        }
        return words.made(to, maria, words.of(operand));
    }

    private static String castable(String maria) {
        return maria.equals("BIGINT") ? "SIGNED" : maria;
    }
}
