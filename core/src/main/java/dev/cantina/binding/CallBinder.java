package dev.cantina.binding;

import dev.cantina.binding.BoundStatement.Assignment;
import dev.cantina.binding.BoundStatement.Target;
import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.syntax.Expression;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.Statement;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Binds CALL (ISO 9075-2, 15.1). */
final class CallBinder {
    private final Binding binding;
    private final ExpressionBinder expressions;
    private final TargetBinder targets;
    private final BoundRoutine.Kind kind;

    CallBinder(
            Binding binding,
            ExpressionBinder expressions,
            TargetBinder targets,
            BoundRoutine.Kind kind) {
        this.binding = binding;
        this.expressions = expressions;
        this.targets = targets;
        this.kind = kind;
    }

    BoundStatement bind(Statement.Call call, Scope scope) {
        Name name = call.name().get(call.name().size() - 1);
        String key = binding.catalog.keyOf(call.name(), binding.module);
        List<RoutineSymbol> named = binding.catalog.routines(key);
        List<SqlType> unknown = call.arguments().stream().<SqlType>map(a -> SqlType.NULL).toList();
        Optional<RoutineSymbol> found = binding.catalog.find(key, false, unknown);
        if (found.isEmpty()) {
            noProcedure(call, name, named);
            return binding.nothing(call.span());
        }
        RoutineSymbol routine = found.get();
        binding.calls(call.name(), routine);
        binding.checkPublic(routine, call.span());
        int at = binding.place(call.span(), scope, "CALL");
        List<Optional<Expression>> matched =
                expressions.matched(routine, call.arguments(), call.span());
        List<BoundStatement.Argument> arguments = new ArrayList<>();
        for (int i = 0; i < matched.size(); i++) {
            arguments.add(argument(routine.parameters().get(i), matched.get(i), scope, call));
        }
        BoundStatement.Call bound = new BoundStatement.Call(at, routine, arguments);
        return kind == BoundRoutine.Kind.SCRIPT ? reported(bound, call, matched, scope) : bound;
    }

    /** In a script a value that goes into no variable is reported, so that it is not lost. */
    private BoundStatement reported(
            BoundStatement.Call call,
            Statement.Call tree,
            List<Optional<Expression>> given,
            Scope scope) {
        List<BoundStatement.Argument> arguments = new ArrayList<>(call.arguments());
        List<BoundStatement> statements = new ArrayList<>();
        for (int i = 0; i < arguments.size(); i++) {
            ParameterSymbol parameter = call.routine().parameters().get(i);
            if (!parameter.mode().isOutput() || given.get(i).isPresent()) {
                continue;
            }
            Variable holder = binding.hidden(parameter.type(), tree.span());
            BoundExpression read = new BoundExpression.Read(tree.span(), holder);
            Variable shown = binding.hidden(parameter.type(), tree.span());
            arguments.set(
                    i,
                    new BoundStatement.Argument(
                            arguments.get(i).value(),
                            Optional.of(new Assignment(new Target.Whole(shown), read))));
            statements.add(
                    new BoundStatement.Report(
                            binding.place(tree.span(), scope, "REPORT"),
                            List.of(
                                    new BoundExpression.Constant(
                                            tree.span(),
                                            call.routine().name()
                                                    + " gives "
                                                    + parameter.name()
                                                    + " = ",
                                            SqlType.VARCHAR),
                                    new BoundExpression.Read(tree.span(), shown))));
        }
        if (statements.isEmpty()) {
            return call;
        }
        statements.add(0, new BoundStatement.Call(call.at(), call.routine(), arguments));
        return new BoundStatement.Block(
                call.at(),
                new JumpTarget("", false),
                false,
                List.of(),
                List.of(),
                List.of(),
                List.of(),
                statements);
    }

    private void noProcedure(Statement.Call call, Name name, List<RoutineSymbol> named) {
        if (named.isEmpty()) {
            binding.unknown(
                    name.span(),
                    "procedure",
                    name.text(),
                    binding.catalog.routines().stream().map(RoutineSymbol::name).toList());
        } else if (named.stream().allMatch(RoutineSymbol::isFunction)) {
            binding.error(
                    name.span(),
                    "unknown-name",
                    name + " is a function, and CALL takes a procedure",
                    "use its value: SET v = " + name + "(…)");
        } else {
            binding.error(
                    call.span(),
                    "wrong-arguments",
                    name + " does not take " + call.arguments().size() + " arguments",
                    "it is " + named.get(0).signature());
        }
    }

    /** What an argument gives a value back to: a variable, a field, an element of an array. */
    private static Optional<Statement.Target> written(Expression argument) {
        if (argument instanceof Expression.Reference reference) {
            return Optional.of(
                    new Statement.Target(reference.span(), reference.names(), Optional.empty()));
        }
        if (argument instanceof Expression.FieldOf field
                && field.row() instanceof Expression.Element element
                && element.array() instanceof Expression.Reference array) {
            return Optional.of(
                    new Statement.Target(
                            field.span(),
                            array.names(),
                            Optional.of(element.index()),
                            Optional.of(field.field())));
        }
        return argument instanceof Expression.Element element
                        && element.array() instanceof Expression.Reference array
                ? Optional.of(
                        new Statement.Target(
                                element.span(), array.names(), Optional.of(element.index())))
                : Optional.empty();
    }

    private BoundStatement.Argument argument(
            ParameterSymbol parameter, Optional<Expression> given, Scope scope, Statement call) {
        Optional<BoundExpression> value =
                parameter.mode().isInput()
                        ? Optional.of(expressions.value(parameter, given, scope, call.span()))
                        : Optional.empty();
        Optional<Assignment> result = Optional.empty();
        if (parameter.mode().isOutput() && given.isPresent()) {
            Optional<Statement.Target> written = written(given.get());
            if (written.isPresent()) {
                Span span = written.get().span();
                Target target = targets.bind(written.get(), scope);
                Variable holder = binding.hidden(parameter.type(), span);
                BoundExpression read = new BoundExpression.Read(span, holder);
                String where = span.text();
                result =
                        Optional.of(
                                new Assignment(
                                        target,
                                        expressions.stored(
                                                read, TargetBinder.typeOf(target), where)));
            } else {
                binding.error(
                        given.get().span(),
                        "wrong-arguments",
                        "parameter "
                                + parameter.name()
                                + " gives a value back, so it needs a variable",
                        "declare one and pass it");
            }
        }
        return new BoundStatement.Argument(value, result);
    }
}
