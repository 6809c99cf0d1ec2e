package dev.cantina.syntax;

import java.util.ArrayList;
import java.util.List;
import java.util.function.Consumer;
import java.util.function.Predicate;

/** Visits an expression and what stands in it, the outer before the inner. */
public final class ExpressionWalk {
    private ExpressionWalk() {}

    /** All of them; the queries in it are not entered. */
    public static void each(Expression expression, Consumer<Expression> visitor) {
        visitor.accept(expression);
        parts(expression).forEach(part -> each(part, visitor));
    }

    /** Whether one of them is what is looked for; the queries in it are not entered. */
    public static boolean any(Expression expression, Predicate<Expression> sought) {
        return sought.test(expression)
                || parts(expression).stream().anyMatch(part -> any(part, sought));
    }

    /** Whether all of it is known. */
    public static boolean isKnown(Expression expression) {
        return !any(expression, e -> e instanceof Expression.Opaque);
    }

    /** The expressions right inside an expression, in the order in which they are written. */
    public static List<Expression> parts(Expression e) {
        if (e instanceof Expression.Literal
                || e instanceof Expression.Reference
                || e instanceof Expression.Parameter
                || e instanceof Expression.ScalarQuery
                || e instanceof Expression.Exists) {
            return List.of();
        }
        if (e instanceof Expression.Binary binary) {
            return List.of(binary.left(), binary.right());
        }
        if (e instanceof Expression.Call call) {
            return call.arguments().stream().map(Expression.Argument::value).toList();
        }
        if (e instanceof Expression.Case choice) {
            return parts(choice);
        }
        if (e instanceof Expression.Aggregate aggregate) {
            List<Expression> all = new ArrayList<>(aggregate.arguments());
            aggregate.keys().forEach(key -> all.add(key.value()));
            aggregate.filter().ifPresent(all::add);
            aggregate.window().ifPresent(all::add);
            return all;
        }
        if (e instanceof Expression.Window window) {
            List<Expression> all = new ArrayList<>(window.partition());
            window.keys().forEach(key -> all.add(key.value()));
            return all;
        }
        if (e instanceof Expression.Opaque opaque) {
            return opaque.parts();
        }
        return isTest(e) ? ofTest(e) : ofValue(e);
    }

    private static List<Expression> parts(Expression.Case choice) {
        List<Expression> all = new ArrayList<>(choice.operand().stream().toList());
        for (Expression.When branch : choice.branches()) {
            all.add(branch.when());
            all.add(branch.then());
        }
        choice.otherwise().ifPresent(all::add);
        return all;
    }

    private static boolean isTest(Expression e) {
        return e instanceof Expression.Not
                || e instanceof Expression.IsNull
                || e instanceof Expression.IsTruth
                || e instanceof Expression.IsDistinct
                || e instanceof Expression.Between
                || e instanceof Expression.AnyOf
                || e instanceof Expression.InList
                || e instanceof Expression.Like
                || e instanceof Expression.QueryComparison;
    }

    private static List<Expression> ofTest(Expression e) {
        if (e instanceof Expression.Not not) {
            return List.of(not.operand());
        }
        if (e instanceof Expression.IsNull test) {
            return List.of(test.operand());
        }
        if (e instanceof Expression.IsTruth test) {
            return List.of(test.operand());
        }
        if (e instanceof Expression.IsDistinct test) {
            return List.of(test.left(), test.right());
        }
        if (e instanceof Expression.Between between) {
            return List.of(between.operand(), between.low(), between.high());
        }
        if (e instanceof Expression.AnyOf any) {
            return any.values();
        }
        if (e instanceof Expression.InList in) {
            List<Expression> all = new ArrayList<>(List.of(in.operand()));
            all.addAll(in.values());
            return all;
        }
        if (e instanceof Expression.Like like) {
            List<Expression> all = new ArrayList<>(List.of(like.operand(), like.pattern()));
            like.escape().ifPresent(all::add);
            return all;
        }
        return List.of(((Expression.QueryComparison) e).operand());
    }

    private static List<Expression> ofValue(Expression e) {
        if (e instanceof Expression.Negation negation) {
            return List.of(negation.operand());
        }
        if (e instanceof Expression.Cast cast) {
            return List.of(cast.operand());
        }
        if (e instanceof Expression.FieldOf field) {
            return List.of(field.row());
        }
        if (e instanceof Expression.Element element) {
            return List.of(element.array(), element.index());
        }
        if (e instanceof Expression.Difference difference) {
            return List.of(difference.later(), difference.earlier());
        }
        if (e instanceof Expression.ArrayValue array) {
            return array.elements();
        }
        if (e instanceof Expression.RowValue row) {
            return row.fields();
        }
        throw new IllegalStateException("no parts are known of " + e.getClass().getSimpleName());
    }
}
