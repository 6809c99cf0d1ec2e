package dev.cantina.types;

import dev.cantina.types.SqlType.Approximate;
import dev.cantina.types.SqlType.Exact;
import dev.cantina.types.SqlType.Integral;
import dev.cantina.types.SqlType.Shape;
import dev.cantina.types.SqlType.Text;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Which type comes of which (ISO 9075-2, 9.5 and 6.29), and what fits where (9.2). */
public final class TypeRules {
    private static final int LONGEST_EXACT = 1000;

    private TypeRules() {}

    /** The type that holds values of both; empty where there is none. */
    public static Optional<SqlType> common(SqlType a, SqlType b) {
        if (a.equals(b) || b instanceof SqlType.Unknown) {
            return Optional.of(a);
        }
        if (a instanceof SqlType.Unknown) {
            return Optional.of(b);
        }
        if (a.isNumeric() && b.isNumeric()) {
            return Optional.of(commonNumber(a, b));
        }
        if (a instanceof Text x && b instanceof Text y) {
            boolean unbounded = x.length() == 0 || y.length() == 0;
            Shape shape =
                    x.shape() == Shape.LARGE || y.shape() == Shape.LARGE
                            ? Shape.LARGE
                            : x.shape() == y.shape() ? x.shape() : Shape.VARYING;
            int length = unbounded ? 0 : Math.max(x.length(), y.length());
            return Optional.of(new Text(shape, length));
        }
        if (a instanceof SqlType.Bytes && b instanceof SqlType.Bytes) {
            return Optional.of(new SqlType.Bytes(Shape.VARYING, 0));
        }
        if (isTimestamp(a) && isTimestamp(b)) {
            boolean zone = hasZone(a) || hasZone(b);
            return Optional.of(new SqlType.Timestamp(9, zone));
        }
        if (a instanceof SqlType.Time x && b instanceof SqlType.Time y) {
            return Optional.of(
                    new SqlType.Time(Math.max(x.precision(), y.precision()), x.zone() || y.zone()));
        }
        if (a instanceof SqlType.Interval x && b instanceof SqlType.Interval y) {
            return IntervalValue.isYearMonth(x.fields()) == IntervalValue.isYearMonth(y.fields())
                    ? Optional.of(new SqlType.Interval(IntervalValue.wider(x.fields(), y.fields())))
                    : Optional.empty();
        }
        if (a instanceof SqlType.Array x && b instanceof SqlType.Array y) {
            return common(x.element(), y.element()).map(e -> new SqlType.Array(e, 0));
        }
        if (a instanceof SqlType.Row x && b instanceof SqlType.Row y) {
            return commonRow(x, y);
        }
        return Optional.empty();
    }

    private static Optional<SqlType> commonRow(SqlType.Row a, SqlType.Row b) {
        if (a.fields().size() != b.fields().size()) {
            return Optional.empty();
        }
        List<SqlType.Field> fields = new ArrayList<>();
        for (int i = 0; i < a.fields().size(); i++) {
            Optional<SqlType> type = common(a.fields().get(i).type(), b.fields().get(i).type());
            if (type.isEmpty()) {
                return Optional.empty();
            }
            fields.add(new SqlType.Field(a.fields().get(i).name(), type.get()));
        }
        return Optional.of(new SqlType.Row(fields));
    }

    private static boolean isTimestamp(SqlType type) {
        return type instanceof SqlType.Timestamp || type instanceof SqlType.Date;
    }

    private static boolean hasZone(SqlType type) {
        return type instanceof SqlType.Timestamp timestamp && timestamp.zone();
    }

    private static SqlType commonNumber(SqlType a, SqlType b) {
        if (a instanceof Approximate || b instanceof Approximate) {
            return SqlType.DOUBLE;
        }
        if (a instanceof SqlType.DecFloat || b instanceof SqlType.DecFloat) {
            return new SqlType.DecFloat(34);
        }
        if (a instanceof Integral x && b instanceof Integral y) {
            return x.size().compareTo(y.size()) >= 0 ? a : b;
        }
        Exact x = exact(a);
        Exact y = exact(b);
        if (x.precision() == 0 || y.precision() == 0) {
            return SqlType.DECIMAL;
        }
        int scale = Math.max(x.scale(), y.scale());
        int whole = Math.max(x.precision() - x.scale(), y.precision() - y.scale());
        return bounded(whole + scale, scale);
    }

    private static SqlType bounded(int precision, int scale) {
        return precision > LONGEST_EXACT ? SqlType.DECIMAL : new Exact(precision, scale);
    }

    private static Exact exact(SqlType type) {
        if (type instanceof Exact exact) {
            return exact;
        }
        return switch (((Integral) type).size()) {
            case SMALLINT -> new Exact(5, 0);
            case INTEGER -> new Exact(10, 0);
            case BIGINT -> new Exact(19, 0);
        };
    }

    /**
     * The type of a sum, difference, product or quotient of two numbers; {@code sign} is the
     * operator's. Whole numbers are worked out as BIGINT, so that nothing short of that overflows.
     */
    public static SqlType arithmetic(String sign, SqlType a, SqlType b) {
        if (a instanceof SqlType.Unknown && b instanceof SqlType.Unknown) {
            return SqlType.BIGINT;
        }
        SqlType left = a instanceof SqlType.Unknown ? b : a;
        SqlType right = b instanceof SqlType.Unknown ? a : b;
        if (left instanceof Integral && right instanceof Integral) {
            return SqlType.BIGINT;
        }
        SqlType common = commonNumber(left, right);
        if (!(common instanceof Exact)) {
            return common;
        }
        Exact x = exact(left);
        Exact y = exact(right);
        if (x.precision() == 0 || y.precision() == 0 || sign.equals("/")) {
            return SqlType.DECIMAL;
        }
        if (sign.equals("*")) {
            return bounded(x.precision() + y.precision(), x.scale() + y.scale());
        }
        int scale = Math.max(x.scale(), y.scale());
        int whole = Math.max(x.precision() - x.scale(), y.precision() - y.scale());
        return bounded(whole + scale + 1, scale);
    }

    /** Whether a value of one type may be stored where the other is, without a cast. */
    public static boolean storable(SqlType from, SqlType to) {
        if (from instanceof SqlType.Unknown || to instanceof SqlType.Unknown || from.equals(to)) {
            return true;
        }
        if (from.isNumeric() && to.isNumeric()
                || from instanceof Text && to instanceof Text
                || from instanceof SqlType.Bytes && to instanceof SqlType.Bytes
                || from instanceof SqlType.Time && to instanceof SqlType.Time
                || isTimestamp(from) && isTimestamp(to)) {
            return true;
        }
        if (from instanceof SqlType.Interval && to instanceof SqlType.Interval) {
            return common(from, to).isPresent();
        }
        if (from instanceof SqlType.Array x && to instanceof SqlType.Array y) {
            return storable(x.element(), y.element());
        }
        if (from instanceof SqlType.Row x && to instanceof SqlType.Row y) {
            boolean all = x.fields().size() == y.fields().size();
            for (int i = 0; all && i < x.fields().size(); i++) {
                all = storable(x.fields().get(i).type(), y.fields().get(i).type());
            }
            return all;
        }
        return to instanceof SqlType.Json && from instanceof Text;
    }

    /** Whether a cast from one type to the other can ever work. */
    public static boolean castable(SqlType from, SqlType to) {
        if (storable(from, to) || from instanceof Text || to instanceof Text) {
            return true;
        }
        if (from instanceof SqlType.Interval && to.isNumeric()
                || from.isNumeric() && to instanceof SqlType.Interval) {
            return true;
        }
        return (from instanceof SqlType.Timestamp || from instanceof SqlType.Time)
                && (to instanceof SqlType.Time || isTimestamp(to));
    }
}
