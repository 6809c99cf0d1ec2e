package dev.cantina.binding;

import dev.cantina.binding.BoundExpression.Choice;
import dev.cantina.binding.BoundExpression.Constant;
import dev.cantina.binding.BoundExpression.Option;
import dev.cantina.syntax.Expression;
import dev.cantina.syntax.Expression.Operator;
import dev.cantina.syntax.Span;
import dev.cantina.types.SqlType;
import dev.cantina.types.TypeRules;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Binds what chooses between values or tests one against several: CASE, BETWEEN, IN. */
final class ChoiceBinder {
    private final ExpressionBinder expressions;
    private final Binding binding;

    ChoiceBinder(ExpressionBinder expressions, Binding binding) {
        this.expressions = expressions;
        this.binding = binding;
    }

    /** Makes an operand that is used more than once be worked out once. */
    BoundExpression once(
            Span span,
            BoundExpression operand,
            java.util.function.UnaryOperator<BoundExpression> body) {
        if (operand instanceof BoundExpression.Read || operand instanceof Constant) {
            return body.apply(operand);
        }
        Variable variable = binding.hidden(operand.type(), operand.span());
        BoundExpression read = new BoundExpression.Read(operand.span(), variable);
        return new BoundExpression.Let(span, variable, operand, body.apply(read));
    }

    BoundExpression between(Expression.Between e, Scope scope) {
        Span span = e.span();
        BoundExpression low = expressions.bind(e.low(), scope);
        BoundExpression high = expressions.bind(e.high(), scope);
        return once(
                span,
                expressions.bind(e.operand(), scope),
                x -> {
                    BoundExpression inside = within(span, x, low, high);
                    if (e.symmetric()) {
                        inside =
                                new BoundExpression.Logical(
                                        span, false, inside, within(span, x, high, low));
                    }
                    return e.negated() ? new BoundExpression.Not(span, inside) : inside;
                });
    }

    private BoundExpression within(
            Span span, BoundExpression x, BoundExpression low, BoundExpression high) {
        return new BoundExpression.Logical(
                span,
                true,
                expressions.compare(span, Operator.GREATER_OR_EQUAL, x, low),
                expressions.compare(span, Operator.LESS_OR_EQUAL, x, high));
    }

    BoundExpression in(Expression.InList e, Scope scope) {
        List<BoundExpression> values = expressions.bindAll(e.values(), scope);
        return once(
                e.span(),
                expressions.bind(e.operand(), scope),
                x -> {
                    List<BoundExpression> tests = new ArrayList<>();
                    for (BoundExpression value : values) {
                        tests.add(expressions.compare(e.span(), Operator.EQUAL, x, value));
                    }
                    BoundExpression any = any(e.span(), tests);
                    return e.negated() ? new BoundExpression.Not(e.span(), any) : any;
                });
    }

    /** One OR of all, as a balanced tree: a long list must not become a deep one. */
    private static BoundExpression any(Span span, List<BoundExpression> tests) {
        if (tests.size() == 1) {
            return tests.get(0);
        }
        int half = tests.size() / 2;
        return new BoundExpression.Logical(
                span,
                false,
                any(span, tests.subList(0, half)),
                any(span, tests.subList(half, tests.size())));
    }

    /** Whether an operand is what a branch says, or one of several values. */
    BoundExpression anyOf(Expression when, BoundExpression operand, Scope scope) {
        List<Expression> values =
                when instanceof Expression.AnyOf any ? any.values() : List.of(when);
        List<BoundExpression> tests = new ArrayList<>();
        for (Expression value : values) {
            tests.add(
                    expressions.compare(
                            value.span(), Operator.EQUAL, operand, expressions.bind(value, scope)));
        }
        return any(when.span(), tests);
    }

    BoundExpression choice(Expression.Case e, Scope scope) {
        if (e.operand().isPresent()) {
            return once(
                    e.span(),
                    expressions.bind(e.operand().get(), scope),
                    operand -> branches(e, Optional.of(operand), scope));
        }
        return branches(e, Optional.empty(), scope);
    }

    private BoundExpression branches(
            Expression.Case e, Optional<BoundExpression> operand, Scope scope) {
        List<Option> options = new ArrayList<>();
        List<BoundExpression> values = new ArrayList<>();
        for (Expression.When branch : e.branches()) {
            BoundExpression test =
                    operand.isPresent()
                            ? expressions.compare(
                                    branch.when().span(),
                                    Operator.EQUAL,
                                    operand.get(),
                                    expressions.bind(branch.when(), scope))
                            : expressions.condition(branch.when(), scope);
            BoundExpression value = expressions.bind(branch.then(), scope);
            options.add(new Option(test, value));
            values.add(value);
        }
        BoundExpression otherwise =
                e.otherwise()
                        .map(o -> expressions.bind(o, scope))
                        .orElse(new Constant(e.span(), null, SqlType.NULL));
        values.add(otherwise);
        return choiceOf(e.span(), options, otherwise, commonType(values, e.span()));
    }

    private Choice choiceOf(
            Span span, List<Option> options, BoundExpression otherwise, SqlType type) {
        List<Option> typed = new ArrayList<>();
        for (Option option : options) {
            typed.add(
                    new Option(
                            option.condition(), expressions.convert(option.value(), type, span)));
        }
        return new Choice(span, typed, expressions.convert(otherwise, type, span), type);
    }

    SqlType commonType(List<BoundExpression> values, Span span) {
        SqlType common = SqlType.NULL;
        for (BoundExpression value : values) {
            Optional<SqlType> wider = TypeRules.common(common, value.type());
            if (wider.isEmpty()) {
                binding.error(
                        value.span(),
                        "wrong-type",
                        "values of type "
                                + common.sql()
                                + " and "
                                + value.type().sql()
                                + " have no common type",
                        "cast them to one type");
                return common;
            }
            common = wider.get();
        }
        return common;
    }
}
