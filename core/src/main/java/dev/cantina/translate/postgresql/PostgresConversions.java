package dev.cantina.translate.postgresql;

import dev.cantina.binding.BoundExpression;
import dev.cantina.syntax.TextEdits;
import dev.cantina.translate.FixedTexts;
import dev.cantina.translate.SourceForm;
import dev.cantina.translate.UnsupportedConstructException;
import dev.cantina.types.SqlType;
import dev.cantina.types.SqlType.Shape;
import java.util.List;
import java.util.Optional;

/** Conversions on PostgreSQL, said and unsaid. */
public final class PostgresConversions {
    private final PostgresExpressions words;

    /**
     * @param words for what is converted
     */
    PostgresConversions(PostgresExpressions words) {
        this.words = words;
    }

    /** A conversion, in the server's words. */
    void convert(BoundExpression.Convert convert, TextEdits edits) {
        if (convert.kind() == BoundExpression.ConvertKind.CAST) {
            edits.put(convert.span(), cast(convert));
            return;
        }
        if (convert.store()
                && convert.type().equals(SqlType.INTEGER)
                && (convert.operand() instanceof BoundExpression.Arithmetic sum
                                && (isInteger(sum.left()) || isInteger(sum.right()))
                        || convert.operand() instanceof BoundExpression.Negate negate
                                && isInteger(negate.operand()))) {
            words.narrow(convert.operand());
        }
        BoundExpression bare = SourceForm.bare(convert.operand());
        if (convert.type() instanceof SqlType.Bytes bytes && bytes.length() > 0) {
            edits.put(bare.span(), octets(words.of(bare), bytes));
            return;
        }
        if (FixedTexts.loseBlanks(bare, convert.type())) {
            edits.put(bare.span(), words.text(bare));
            return;
        }
        words.edit(convert.operand(), edits);
    }

    /** A binary string of a type with a length. */
    static String octets(String value, SqlType.Bytes type) {
        return "cantina.octets("
                + value
                + ", "
                + type.length()
                + ", "
                + (type.shape() == Shape.FIXED)
                + ")";
    }

    private static boolean isInteger(BoundExpression e) {
        return SourceForm.bare(e).type().equals(SqlType.INTEGER);
    }

    private String cast(BoundExpression.Convert convert) {
        SqlType from = convert.operand().type();
        boolean days =
                convert.operand() instanceof BoundExpression.Apply apply
                        && apply.function().name().equals("DIFFERENCE")
                        && convert.type() instanceof SqlType.Integral
                        && PostgresBuiltIns.areDays(apply);
        if (days) {
            List<BoundExpression> moments = ((BoundExpression.Apply) convert.operand()).arguments();
            return "(" + words.of(moments.get(0)) + " - " + words.of(moments.get(1)) + ")";
        }
        if (from instanceof SqlType.Interval) {
            throw new UnsupportedConstructException(
                    convert.span(), "an interval is another thing there");
        }
        boolean seen = convert.type() instanceof SqlType.Text && from instanceof SqlType.Exact;
        String operand = words.digits(convert.operand(), seen);
        if (convert.type() instanceof SqlType.Bytes && !(from instanceof SqlType.Bytes)) {
            throw new UnsupportedConstructException(
                    convert.span(), "a text of hexadecimal digits is no binary string there");
        }
        if (convert.type() instanceof SqlType.Text
                && (from instanceof SqlType.Bytes
                        || from instanceof SqlType.Approximate
                        || from instanceof SqlType.Timestamp stamp && stamp.zone())) {
            operand = words.text(convert.operand());
        }
        if (FixedTexts.loseBlanks(SourceForm.bare(convert.operand()), convert.type())) {
            operand = words.text(convert.operand());
        }
        if (convert.type() instanceof SqlType.Text text && from instanceof SqlType.Bool) {
            return "CAST(upper(CAST("
                    + operand
                    + " AS text)) AS "
                    + PostgresTypes.of(text, convert.span())
                    + ")";
        }
        if (convert.type() instanceof SqlType.Bool && from instanceof SqlType.Text) {
            return "cantina.truth(" + operand + ")";
        }
        if (from instanceof SqlType.Text && kind(convert.type()).isPresent()) {
            operand = "cantina.moment(" + operand + ", '" + kind(convert.type()).get() + "')";
        }
        boolean shortens =
                convert.type() instanceof SqlType.Text text
                        && text.length() > 0
                        && !(from instanceof SqlType.Text)
                        && !(from instanceof SqlType.Unknown);
        if (convert.type() instanceof SqlType.Bytes bytes && bytes.length() > 0) {
            return octets("CAST(" + operand + " AS bytea)", bytes);
        }
        String type = PostgresTypes.of(convert.type(), convert.span());
        if (shortens) {
            int length = ((SqlType.Text) convert.type()).length();
            boolean fits =
                    from instanceof SqlType.Integral && length >= 20
                            || from instanceof SqlType.Exact exact
                                    && exact.precision() + 2 <= length
                                    && exact.precision() > 0
                            || from instanceof SqlType.Date && length >= 10;
            if (!fits) {
                return "CAST(cantina.fitting(CAST("
                        + operand
                        + " AS text), "
                        + length
                        + ") AS "
                        + type
                        + ")";
            }
        }
        if (convert.type() instanceof SqlType.Integral && from instanceof SqlType.Approximate) {
            return "CAST(CAST(" + operand + " AS numeric) AS " + type + ")";
        }
        return "CAST(" + operand + " AS " + type + ")";
    }

    /** What a text is looked at as before it is cast; nothing for what has a zone. */
    private static Optional<String> kind(SqlType type) {
        if (type instanceof SqlType.Date) {
            return Optional.of("date");
        }
        if (type instanceof SqlType.Time time && !time.zone()) {
            return Optional.of("time");
        }
        return type instanceof SqlType.Timestamp stamp && !stamp.zone()
                ? Optional.of("timestamp")
                : Optional.empty();
    }
}
