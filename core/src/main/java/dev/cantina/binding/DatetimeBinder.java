package dev.cantina.binding;

import dev.cantina.binding.BoundExpression.Constant;
import dev.cantina.syntax.Expression.Operator;
import dev.cantina.syntax.Span;
import dev.cantina.types.Functions;
import dev.cantina.types.SqlType;
import dev.cantina.types.TypeRules;
import java.util.List;
import java.util.Optional;

/** Binds what operators mean for dates, times and intervals (ISO 9075-2, 6.35 and 6.37). */
final class DatetimeBinder {
    private final Binding binding;

    DatetimeBinder(Binding binding) {
        this.binding = binding;
    }

    /** Whether an operand of this type makes an operator one of moments. */
    static boolean concerns(SqlType type) {
        return isMoment(type) || type instanceof SqlType.Interval;
    }

    /** A minus before an interval. */
    BoundExpression negated(Span span, BoundExpression interval) {
        return apply(span, "- OF INTERVAL", interval.type(), interval);
    }

    static boolean isMoment(SqlType type) {
        return type instanceof SqlType.Date
                || type instanceof SqlType.Time
                || type instanceof SqlType.Timestamp;
    }

    private static BoundExpression apply(
            Span span, String function, SqlType type, BoundExpression... arguments) {
        return new BoundExpression.Apply(span, Functions.get(function), List.of(arguments), type);
    }

    /** Operators on dates, times and intervals (ISO 9075-2, 6.35 and 6.37). */
    BoundExpression arithmetic(
            Span span, Operator operator, BoundExpression left, BoundExpression right) {
        SqlType a = left.type();
        SqlType b = right.type();
        boolean add = operator == Operator.ADD;
        boolean subtract = operator == Operator.SUBTRACT;
        boolean multiply = operator == Operator.MULTIPLY;
        if (isMoment(a) && b instanceof SqlType.Interval by && (add || subtract) && fits(a, by)) {
            return apply(span, operator.sign() + " INTERVAL", a, left, right);
        }
        if (add && a instanceof SqlType.Interval by && isMoment(b) && fits(b, by)) {
            return apply(span, "+ INTERVAL", b, right, left);
        }
        if (a instanceof SqlType.Interval && b instanceof SqlType.Interval && (add || subtract)) {
            Optional<SqlType> common = TypeRules.common(a, b);
            if (common.isPresent()) {
                return apply(
                        span,
                        "INTERVAL " + operator.sign() + " INTERVAL",
                        common.get(),
                        left,
                        right);
            }
        }
        if (a instanceof SqlType.Interval && b.isNumeric() && !add && !subtract) {
            return apply(span, "INTERVAL " + operator.sign(), a, left, right);
        }
        if (multiply && a.isNumeric() && b instanceof SqlType.Interval) {
            return apply(span, "INTERVAL *", b, right, left);
        }
        boolean moments = subtract && isMoment(a) && isMoment(b);
        binding.error(
                span,
                "wrong-type",
                "'" + operator.sign() + "' can't be evaluated for " + a.sql() + " and " + b.sql(),
                moments
                        ? "say what to count in: (" + span.text() + ") DAY"
                        : "add an interval, such as INTERVAL '1' DAY; for hours cast a DATE to TIMESTAMP");
        return new Constant(span, null, isMoment(a) ? a : b);
    }

    /** A date takes years, months and days, a time the rest. */
    private static boolean fits(SqlType moment, SqlType.Interval interval) {
        boolean small =
                interval.fields().contains("HOUR")
                        || interval.fields().contains("MINUTE")
                        || interval.fields().contains("SECOND");
        boolean date = moment instanceof SqlType.Date;
        boolean time = moment instanceof SqlType.Time;
        return !(date && small) && !(time && !small);
    }

    /** {@code (later - earlier) fields}. */
    BoundExpression difference(
            Span span, BoundExpression later, BoundExpression earlier, String fields) {
        boolean both = isMoment(later.type()) && isMoment(earlier.type());
        if (!both || TypeRules.common(later.type(), earlier.type()).isEmpty()) {
            binding.error(
                    span,
                    "wrong-type",
                    "an interval lies between two dates, times or timestamps, and these are "
                            + later.type().sql()
                            + " and "
                            + earlier.type().sql());
        }
        Constant counted = new Constant(span, fields, SqlType.VARCHAR);
        return apply(span, "DIFFERENCE", new SqlType.Interval(fields), later, earlier, counted);
    }
}
