package dev.cantina.binding;

import dev.cantina.binding.BoundExpression.Choice;
import dev.cantina.binding.BoundExpression.Constant;
import dev.cantina.binding.BoundExpression.Option;
import dev.cantina.catalog.Describer;
import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.syntax.Expression;
import dev.cantina.syntax.Expression.Operator;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlText;
import dev.cantina.types.Functions;
import dev.cantina.types.SqlType;
import dev.cantina.types.TypeRules;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Binds calls of functions: those of the project, the language and the database. */
final class FunctionBinder {
    static final Map<String, SqlType> MOMENTS =
            Map.of(
                    "CURRENT_DATE", SqlType.DATE,
                    "CURRENT_TIME", new SqlType.Time(0, true),
                    "CURRENT_TIMESTAMP", new SqlType.Timestamp(6, true),
                    "LOCALTIME", SqlType.TIME,
                    "LOCALTIMESTAMP", SqlType.TIMESTAMP,
                    "CURRENT_USER", SqlType.VARCHAR,
                    "SESSION_USER", SqlType.VARCHAR,
                    "USER", SqlType.VARCHAR);

    private final ExpressionBinder expressions;
    private final Binding binding;
    private final DatetimeBinder moments;

    FunctionBinder(ExpressionBinder expressions, Binding binding, DatetimeBinder moments) {
        this.expressions = expressions;
        this.binding = binding;
        this.moments = moments;
    }

    BoundExpression call(Expression.Call call, Scope scope) {
        String key = call.key();
        Span span = call.span();
        String routine = binding.catalog.keyOf(call.name(), binding.module);
        if (!binding.catalog.functions(routine).isEmpty()) {
            return invoke(call, routine, scope);
        }
        if (call.name().size() == 1) {
            if (MOMENTS.containsKey(key) && call.arguments().isEmpty()) {
                return moment(span, key);
            }
            if (key.equals("COALESCE") && !call.arguments().isEmpty()) {
                return coalesce(span, expressions.bindAll(positional(call), scope), 0);
            }
            if (key.equals("OVERLAPS") && call.arguments().size() == 2) {
                return overlaps(span, positional(call), scope);
            }
            if (key.equals("NULLIF") && call.arguments().size() == 2) {
                return nullIf(span, expressions.bindAll(positional(call), scope));
            }
            Optional<Functions.BuiltIn> function = Functions.find(key);
            if (function.isPresent()) {
                return apply(call, function.get(), scope);
            }
        }
        return ask(call, scope);
    }

    private BoundExpression overlaps(Span span, List<Expression> periods, Scope scope) {
        List<BoundExpression> values = new ArrayList<>();
        for (Expression period : periods) {
            if (!(period instanceof Expression.RowValue row) || row.fields().size() != 2) {
                binding.error(
                        period.span(),
                        "wrong-arguments",
                        "OVERLAPS compares two periods",
                        "write (start, end) on both sides");
                return new Constant(span, null, SqlType.BOOLEAN);
            }
            values.addAll(expressions.bindAll(row.fields(), scope));
        }
        for (int i = 0; i < values.size(); i++) {
            SqlType type = values.get(i).type();
            boolean fits =
                    DatetimeBinder.isMoment(type)
                            || type instanceof SqlType.Unknown
                            || i % 2 == 1 && type instanceof SqlType.Interval;
            boolean alike =
                    type instanceof SqlType.Interval
                            || TypeRules.common(type, values.get(0).type()).isPresent();
            if (!fits || !alike) {
                binding.error(
                        values.get(i).span(),
                        "wrong-type",
                        "a period lies between two dates, times or timestamps, and this is of type "
                                + type.sql());
                return new Constant(span, null, SqlType.BOOLEAN);
            }
        }
        return new BoundExpression.Apply(span, Functions.OVERLAPS, values, SqlType.BOOLEAN);
    }

    private BoundExpression nullIf(Span span, List<BoundExpression> sides) {
        return expressions
                .choices()
                .once(
                        span,
                        sides.get(0),
                        x -> {
                            BoundExpression same =
                                    expressions.compare(span, Operator.EQUAL, x, sides.get(1));
                            Constant none = new Constant(span, null, x.type());
                            return new Choice(span, List.of(new Option(same, none)), x, x.type());
                        });
    }

    static BoundExpression moment(Span span, String key) {
        return new BoundExpression.CurrentDatetime(span, key, MOMENTS.get(key));
    }

    private static List<Expression> positional(Expression.Call call) {
        return call.arguments().stream().map(Expression.Argument::value).toList();
    }

    private BoundExpression coalesce(Span span, List<BoundExpression> values, int from) {
        SqlType type = expressions.choices().commonType(values.subList(from, values.size()), span);
        if (from == values.size() - 1) {
            return expressions.convert(values.get(from), type, span);
        }
        BoundExpression rest = expressions.convert(coalesce(span, values, from + 1), type, span);
        return expressions
                .choices()
                .once(
                        span,
                        expressions.convert(values.get(from), type, span),
                        x -> {
                            BoundExpression there = new BoundExpression.IsNull(span, x, true);
                            return new Choice(span, List.of(new Option(there, x)), rest, type);
                        });
    }

    private BoundExpression apply(Expression.Call call, Functions.BuiltIn function, Scope scope) {
        List<BoundExpression> arguments = expressions.bindAll(positional(call), scope);
        if (arguments.size() < function.least() || arguments.size() > function.most()) {
            String wanted =
                    function.least() == function.most()
                            ? String.valueOf(function.least())
                            : function.least() + " to " + function.most();
            binding.error(
                    call.span(),
                    "wrong-arguments",
                    call.name().get(0)
                            + " takes "
                            + wanted
                            + " arguments, not "
                            + arguments.size());
            return new Constant(call.span(), null, SqlType.NULL);
        }
        if (function.name().equals("GREATEST") || function.name().equals("LEAST")) {
            SqlType common = expressions.choices().commonType(arguments, call.span());
            List<BoundExpression> alike =
                    arguments.stream().map(a -> expressions.convert(a, common, a.span())).toList();
            return new BoundExpression.Apply(call.span(), function, alike, common);
        }
        SqlType type =
                function.result().apply(arguments.stream().map(BoundExpression::type).toList());
        BoundExpression applied = new BoundExpression.Apply(call.span(), function, arguments, type);
        return function.name().equals("EXTRACT SECOND") && !isLong(arguments.get(0))
                ? expressions.convert(applied, new SqlType.Exact(8, 6), call.span())
                : applied;
    }

    /** Whether a moment is declared with more than six digits behind its seconds. */
    private static boolean isLong(BoundExpression moment) {
        boolean declared =
                moment instanceof BoundExpression.Read || moment instanceof BoundExpression.Field;
        return declared
                && (moment.type() instanceof SqlType.Timestamp stamp && stamp.precision() > 6
                        || moment.type() instanceof SqlType.Time time && time.precision() > 6);
    }

    private BoundExpression invoke(Expression.Call call, String key, Scope scope) {
        // Types matter only where there are several to choose from.
        boolean overloaded = binding.catalog.functions(key).size() > 1;
        List<SqlType> types = new ArrayList<>();
        for (Expression.Argument argument : call.arguments()) {
            types.add(overloaded ? expressions.quietly(argument.value(), scope) : SqlType.NULL);
        }
        Optional<RoutineSymbol> routine = binding.catalog.find(key, true, types);
        if (routine.isEmpty()) {
            RoutineSymbol one = binding.catalog.functions(key).get(0);
            binding.error(
                    call.span(),
                    "wrong-arguments",
                    "the arguments do not fit " + one.name(),
                    "it is " + one.signature());
            return new Constant(call.span(), null, one.returns().orElse(SqlType.NULL));
        }
        binding.calls(call.name(), routine.get());
        binding.checkPublic(routine.get(), call.span());
        if (routine.get().returns().orElse(SqlType.NULL) instanceof SqlType.Table) {
            binding.error(
                    call.span(),
                    "wrong-type",
                    routine.get().name() + " gives rows, and one value is wanted here",
                    "ask for it: (SELECT … FROM TABLE (" + call.span().text() + ") AS t)");
            return new Constant(call.span(), null, SqlType.NULL);
        }
        List<Optional<Expression>> matched =
                expressions.matched(routine.get(), call.arguments(), call.span());
        List<BoundExpression> arguments = new ArrayList<>();
        for (int i = 0; i < matched.size(); i++) {
            ParameterSymbol parameter = routine.get().parameters().get(i);
            arguments.add(expressions.value(parameter, matched.get(i), scope, call.span()));
        }
        return new BoundExpression.Invoke(call.span(), routine.get(), arguments);
    }

    /** A function that only the database knows. */
    private BoundExpression ask(Expression.Call call, Scope scope) {
        List<BoundExpression> arguments = expressions.bindAll(positional(call), scope);
        StringBuilder name = new StringBuilder("SELECT ");
        for (Name part : call.name()) {
            name.append(part == call.name().get(0) ? "" : ".").append(part.written());
        }
        List<String> pieces = new ArrayList<>();
        pieces.add(name.append("(").toString());
        for (int i = 0; i < arguments.size(); i++) {
            pieces.add(i == arguments.size() - 1 ? ")" : ", ");
        }
        if (arguments.isEmpty()) {
            pieces.set(0, pieces.get(0) + ")");
        }
        SqlType type = SqlType.NULL;
        if (binding.describer.isPresent()) {
            Describer.Answer answer =
                    binding.describer
                            .get()
                            .describe(pieces, BoundSql.parameterTypes(pieces, arguments));
            if (answer instanceof Describer.Answer.Taken taken && !taken.columns().isEmpty()) {
                type = taken.columns().get(0).type();
            } else if (answer instanceof Describer.Answer.Refused refused) {
                List<String> known = new ArrayList<>();
                binding.catalog.routines().forEach(r -> known.add(r.name()));
                binding.unknown(
                        call.name().get(0).span(), "function", call.name().get(0).text(), known);
            }
        }
        BoundSql text =
                new BoundSql(
                        call.span(),
                        "SELECT",
                        true,
                        pieces,
                        arguments,
                        List.of(),
                        java.util.Set.of(),
                        SqlText.plain(call.span(), "SELECT"),
                        0);
        return new BoundExpression.DatabaseExpression(call.span(), text, type);
    }
}
