package dev.cantina.binding;

import dev.cantina.catalog.Describer;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.Table;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.SqlText;
import dev.cantina.syntax.SqlText.NameUse;
import dev.cantina.syntax.SqlText.TableUse;
import dev.cantina.types.Condition;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** The columns that the database gives a statement, or its objection, said where it belongs. */
final class DescribedColumns {
    private final Binding binding;

    DescribedColumns(Binding binding) {
        this.binding = binding;
    }

    /** None where it is refused, which has then been said. */
    List<SqlType.Field> of(SqlText text, List<String> pieces, List<BoundExpression> parameters) {
        boolean schema =
                !text.isQuery()
                        && !Set.of("INSERT", "UPDATE", "DELETE", "MERGE").contains(text.verb());
        if (binding.describer.isEmpty() || schema) {
            return List.of();
        }
        Describer.Answer answer =
                binding.describer
                        .get()
                        .describe(pieces, BoundSql.parameterTypes(pieces, parameters));
        if (answer instanceof Describer.Answer.Refused refused) {
            refused(text, refused.reason());
            return List.of();
        }
        List<SqlType.Field> columns = ((Describer.Answer.Taken) answer).columns();
        return binding.describer.get().knowsBooleans() ? columns : told(text, columns, parameters);
    }

    /** The columns that are true or false, or bytes, and numbers and texts to the database. */
    private List<SqlType.Field> told(
            SqlText text, List<SqlType.Field> columns, List<BoundExpression> parameters) {
        Map<String, SqlType> variables = new HashMap<>();
        parameters.forEach(p -> variables.put(p.span().text(), p.type()));
        ItemType types =
                new ItemType(
                        name ->
                                Optional.ofNullable(variables.get(name))
                                        .or(
                                                () ->
                                                        ColumnTypes.of(
                                                                name,
                                                                text.scope(),
                                                                binding.catalog)),
                        this::returned);
        List<SqlType.Field> all = new ArrayList<>(columns);
        for (int i = 0; i < Math.min(all.size(), text.items().size()); i++) {
            String item = text.items().get(i).text();
            if (item.endsWith("*")) {
                // It stands for any number of columns.
                break;
            }
            SqlType given = all.get(i).type();
            String name = all.get(i).name();
            boolean number = given instanceof SqlType.Integral;
            if (number || given instanceof SqlType.Text || given instanceof SqlType.Unknown) {
                int at = i;
                types.of(item)
                        .filter(t -> t instanceof SqlType.Bool || !number)
                        .ifPresent(t -> all.set(at, new SqlType.Field(name, t)));
            }
        }
        return all;
    }

    /** The type that a function of the project's gives, if it is one of them. */
    private Optional<SqlType> returned(List<Name> function) {
        String key = binding.catalog.keyOf(function, binding.module);
        return binding.catalog.functions(key).stream().findFirst().flatMap(RoutineSymbol::returns);
    }

    /** Puts the database's objection at the name that it is about, where there is one. */
    private void refused(SqlText text, Condition reason) {
        if (reason.sqlstate().startsWith("22")) {
            // A value that can't be evaluated is a condition of the run, which may be handled.
            return;
        }
        if (allTables(text.scope(), new ArrayList<>()).stream()
                .flatMap(use -> use.names().stream())
                .anyMatch(name -> binding.made.containsKey(name.key()))) {
            // It is judged when the routine runs, and has made the table.
            return;
        }
        for (TableUse use : allTables(text.scope(), new ArrayList<>())) {
            if (use.names().size() == 1
                    && binding.catalog.table(use.names().get(0)).isEmpty()
                    && reason.sqlstate().equals("42S02")) {
                binding.unknown(
                        use.names().get(0).span(),
                        "table",
                        use.names().get(0).text(),
                        binding.catalog.tables().stream().map(Table::name).toList());
                return;
            }
        }
        if (reason.sqlstate().equals("42S22") && unknownColumn(text, reason)) {
            return;
        }
        binding.error(text.span(), "refused-sql", "the database refuses this: " + reason.message());
    }

    private boolean unknownColumn(SqlText text, Condition reason) {
        String column = reason.item("COLUMN_NAME").orElse("");
        Optional<NameUse> use = findName(text.scope(), column);
        if (use.isEmpty()) {
            return false;
        }
        List<String> known = new ArrayList<>();
        List<Table> tables = new ArrayList<>();
        for (TableUse table : allTables(text.scope(), new ArrayList<>())) {
            if (!table.names().isEmpty()) {
                binding.catalog
                        .table(table.names().get(table.names().size() - 1))
                        .ifPresent(tables::add);
            }
        }
        tables.forEach(t -> t.columns().forEach(c -> known.add(c.name())));
        List<Name> names = use.get().names();
        Name last = names.get(names.size() - 1);
        boolean one = tables.size() == 1;
        String message =
                "column " + last + " not found" + (one ? " in " + tables.get(0).name() : "");
        boolean mayBeVariable = names.size() == 1 && use.get().use() == SqlText.Use.VALUE;
        if (known.isEmpty()) {
            binding.error(
                    use.get().span(),
                    "unknown-name",
                    "there is no variable " + use.get().span().text() + " here",
                    names.size() > 1
                            ? "say the name alone, or label the block that declares it"
                            : "declare it");
            return true;
        }
        Optional<String> nearest = dev.cantina.syntax.Nearest.to(last.text(), known);
        binding.problems.add(
                Problem.unknown(
                        last.span(),
                        "unknown-name",
                        message + (mayBeVariable ? ", and there is no variable of that name" : ""),
                        nearest,
                        (mayBeVariable ? "declare it, or name a column: " : "there are ")
                                + String.join(", ", known)));
        return true;
    }

    private static Optional<NameUse> findName(SqlText.Scope scope, String column) {
        for (NameUse use : scope.names()) {
            Name last = use.names().get(use.names().size() - 1);
            if (use.use() != SqlText.Use.CALL && last.key().equalsIgnoreCase(column)) {
                return Optional.of(use);
            }
        }
        for (SqlText.Scope child : scope.children()) {
            Optional<NameUse> found = findName(child, column);
            if (found.isPresent()) {
                return found;
            }
        }
        return Optional.empty();
    }

    private static List<TableUse> allTables(SqlText.Scope scope, List<TableUse> into) {
        into.addAll(scope.tables());
        scope.children().forEach(child -> allTables(child, into));
        return into;
    }
}
