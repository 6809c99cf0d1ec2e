package dev.cantina.binding;

import dev.cantina.binding.BoundExpression.Constant;
import dev.cantina.syntax.Expression;
import dev.cantina.syntax.Span;
import dev.cantina.types.ConditionException;
import dev.cantina.types.Conversion;
import dev.cantina.types.SqlType;
import dev.cantina.types.SqlType.Shape;
import java.math.BigDecimal;

/** Binds literals (ISO 9075-2, 5.3). */
final class LiteralBinder {
    private final ExpressionBinder expressions;
    private final Binding binding;

    LiteralBinder(ExpressionBinder expressions, Binding binding) {
        this.expressions = expressions;
        this.binding = binding;
    }

    BoundExpression literal(Expression.Literal literal) {
        String text = literal.text();
        Span span = literal.span();
        try {
            return switch (literal.kind()) {
                case NULL, DEFAULT -> new Constant(span, null, SqlType.NULL);
                case BOOLEAN ->
                        new Constant(
                                span,
                                text.equals("UNKNOWN") ? null : text.equals("TRUE"),
                                SqlType.BOOLEAN);
                case INTEGER -> integer(span, text);
                case DECIMAL -> {
                    BigDecimal value = new BigDecimal(text);
                    int precision = Math.max(value.precision(), value.scale());
                    yield new Constant(span, value, new SqlType.Exact(precision, value.scale()));
                }
                case APPROXIMATE ->
                        new Constant(span, Conversion.cast(text, SqlType.DOUBLE), SqlType.DOUBLE);
                case TEXT ->
                        new Constant(span, text, new SqlType.Text(Shape.VARYING, length(text)));
                case BYTES -> {
                    SqlType type = new SqlType.Bytes(Shape.VARYING, 0);
                    yield new Constant(span, Conversion.cast(text, type), type);
                }
                case DATE -> new Constant(span, Conversion.cast(text, SqlType.DATE), SqlType.DATE);
                case TIME -> moment(span, text, new SqlType.Time(9, zoned(text, 0)));
                case TIMESTAMP -> moment(span, text, new SqlType.Timestamp(9, zoned(text, 11)));
                case INTERVAL -> moment(span, text, new SqlType.Interval(literal.qualifier()));
            };
        } catch (ConditionException e) {
            binding.error(span, "wrong-literal", e.condition().message());
            return new Constant(span, null, SqlType.NULL);
        }
    }

    private static int length(String text) {
        return Math.max(1, text.codePointCount(0, text.length()));
    }

    private static Constant moment(Span span, String text, SqlType type) {
        return new Constant(span, Conversion.cast(text, type), type);
    }

    private static boolean zoned(String text, int from) {
        return text.length() > from && text.substring(from).matches(".*[+\\-Z].*");
    }

    private static Constant integer(Span span, String text) {
        BigDecimal value = new BigDecimal(text);
        if (value.compareTo(BigDecimal.valueOf(Long.MAX_VALUE)) <= 0) {
            long number = value.longValueExact();
            boolean small = (int) number == number;
            return new Constant(span, number, small ? SqlType.INTEGER : SqlType.BIGINT);
        }
        return new Constant(span, value, new SqlType.Exact(value.precision(), 0));
    }
}
