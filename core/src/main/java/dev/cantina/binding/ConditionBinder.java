package dev.cantina.binding;

import dev.cantina.binding.BoundStatement.Assignment;
import dev.cantina.binding.BoundStatement.Target;
import dev.cantina.syntax.EditPlaces;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Statement;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;

/** Binds what raises conditions and asks about them (ISO 9075-4, clause 22; 9075-2, 23.1). */
final class ConditionBinder {
    private static final Set<String> SIGNAL_ITEMS =
            Set.of(
                    "MESSAGE_TEXT",
                    "CONSTRAINT_NAME",
                    "CONSTRAINT_SCHEMA",
                    "CONSTRAINT_CATALOG",
                    "TABLE_NAME",
                    "COLUMN_NAME",
                    "SCHEMA_NAME",
                    "CATALOG_NAME",
                    "CURSOR_NAME",
                    "ROUTINE_NAME",
                    "ROUTINE_SCHEMA",
                    "ROUTINE_CATALOG",
                    "SPECIFIC_NAME",
                    "TRIGGER_NAME",
                    "TRIGGER_SCHEMA",
                    "TRIGGER_CATALOG",
                    "PARAMETER_NAME",
                    "PARAMETER_MODE",
                    "SERVER_NAME",
                    "CONNECTION_NAME",
                    "CLASS_ORIGIN",
                    "SUBCLASS_ORIGIN");
    private static final Set<String> STATEMENT_ITEMS =
            Set.of("NUMBER", "ROW_COUNT", "COMMAND_FUNCTION", "MORE");
    private static final Set<String> CONDITION_ITEMS =
            Set.of(
                    Stream.concat(
                                    SIGNAL_ITEMS.stream(),
                                    Stream.of(
                                            "RETURNED_SQLSTATE",
                                            "MESSAGE_LENGTH",
                                            "MESSAGE_OCTET_LENGTH",
                                            "CONDITION_IDENTIFIER",
                                            "CONDITION_NUMBER"))
                            .toArray(String[]::new));

    private final Binding binding;
    private final ExpressionBinder expressions;
    private final TargetBinder targets;

    ConditionBinder(Binding binding, ExpressionBinder expressions, TargetBinder targets) {
        this.binding = binding;
        this.expressions = expressions;
        this.targets = targets;
    }

    BoundStatement signal(Statement.Signal signal, Scope scope) {
        int at = binding.place(signal.span(), scope, signal.resignal() ? "RESIGNAL" : "SIGNAL");
        Optional<String> state = signal.sqlstate();
        Optional<String> name = Optional.empty();
        boolean stateless = false;
        if (signal.condition().isPresent()) {
            Name condition = signal.condition().get();
            Optional<Optional<String>> found = scope.condition(condition.key());
            scope.conditionName(condition.key())
                    .ifPresent(
                            n ->
                                    binding.means(
                                            condition.span(), new NamedUse.Meaning.OfCondition(n)));
            if (found.isEmpty()) {
                binding.noCondition(condition.span(), condition.text());
                return binding.nothing(signal.span());
            }
            // A condition without a state is unhandled user-defined exception (9075-4, 14.5):
            // 45000.
            stateless = found.get().isEmpty();
            state = Optional.of(found.get().orElse("45000"));
            name = Optional.of(condition.key());
        }
        if (state.filter(s -> s.startsWith("00")).isPresent()) {
            binding.error(
                    Problem.error(
                                    signal.span(),
                                    "wrong-sqlstate",
                                    "class 00 means success and can't be signalled",
                                    "use '45000' for a condition of your own")
                            .with(EditPlaces.text(signal.span(), state.get()), "'45000'"));
        }
        List<BoundStatement.SignalItem> items = new ArrayList<>();
        for (Statement.SignalItem item : signal.items()) {
            if (!SIGNAL_ITEMS.contains(item.item().key())) {
                binding.unknown(
                        item.item().span(), "signal item", item.item().text(), SIGNAL_ITEMS);
                continue;
            }
            BoundExpression value = expressions.bind(item.value(), scope);
            BoundExpression text =
                    new BoundExpression.Convert(
                            value.span(),
                            value,
                            SqlType.VARCHAR,
                            BoundExpression.ConvertKind.IMPLICIT);
            items.add(new BoundStatement.SignalItem(item.item().key(), text));
        }
        return new BoundStatement.Signal(at, signal.resignal(), state, name, stateless, items);
    }

    BoundStatement diagnostics(Statement.GetDiagnostics get, Scope scope) {
        int at = binding.place(get.span(), scope, "GET DIAGNOSTICS");
        binding.asksDiagnostics = true;
        Set<String> known = get.condition().isPresent() ? CONDITION_ITEMS : STATEMENT_ITEMS;
        Optional<BoundExpression> condition =
                get.condition().map(e -> expressions.stored(e, SqlType.BIGINT, scope, "a number"));
        List<BoundStatement.DiagnosticsItem> items = new ArrayList<>();
        for (Statement.DiagnosticsItem item : get.items()) {
            String key = item.item().key();
            if (!known.contains(key)) {
                if (CONDITION_ITEMS.contains(key)) {
                    Problem problem =
                            Problem.error(
                                    item.item().span(),
                                    "unknown-name",
                                    item.item() + " belongs to a condition",
                                    "write GET DIAGNOSTICS CONDITION 1 " + item.span().text());
                    binding.error(
                            get.items().size() == 1
                                    ? problem.with(EditPlaces.before(item.span()), "CONDITION 1 ")
                                    : problem);
                } else {
                    binding.unknown(
                            item.item().span(), "diagnostics item", item.item().text(), known);
                }
                continue;
            }
            boolean number =
                    key.endsWith("NUMBER") || key.endsWith("_LENGTH") || key.equals("ROW_COUNT");
            Variable holder =
                    binding.hidden(number ? SqlType.BIGINT : SqlType.VARCHAR, item.span());
            Target target = targets.bind(item.target(), scope);
            BoundExpression read = new BoundExpression.Read(item.span(), holder);
            Assignment assignment =
                    new Assignment(
                            target,
                            expressions.stored(
                                    read,
                                    TargetBinder.typeOf(target),
                                    item.target().span().text()));
            items.add(new BoundStatement.DiagnosticsItem(key, holder, assignment));
        }
        return new BoundStatement.GetDiagnostics(at, get.stacked(), condition, items);
    }
}
