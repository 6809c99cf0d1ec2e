package dev.cantina.cli;

import dev.cantina.catalog.Table;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.ResultRows;
import dev.cantina.runtime.StackEntry;
import dev.cantina.runtime.TableChanges;
import dev.cantina.types.Condition;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/** An outcome as the JSON contract has it. */
final class OutcomeJson {
    private OutcomeJson() {}

    static Map<String, Object> of(Outcome outcome) {
        Map<String, Object> object = new LinkedHashMap<>();
        object.put("routine", outcome.routine());
        object.put("outcome", outcome.kind().name().toLowerCase(Locale.ROOT));
        object.put("returned", outcome.returned());
        object.put("out", outcome.out());
        object.put("results", outcome.results().stream().map(OutcomeJson::rows).toList());
        object.put("messages", outcome.messages());
        object.put("warnings", outcome.warnings());
        object.put("changes", changes(TableChanges.of(outcome.events())));
        object.put("condition", condition(outcome.condition(), outcome.stack()));
        object.put("statements", outcome.statements());
        object.put("elapsed_ms", Json.millis(outcome.elapsedMillis()));
        return object;
    }

    private static Map<String, Object> rows(ResultRows result) {
        Map<String, Object> object = new LinkedHashMap<>();
        object.put("columns", result.columns().stream().map(SqlType.Field::name).toList());
        object.put("rows", result.rows());
        return object;
    }

    private static Map<String, Object> changes(List<TableChanges> changes) {
        Map<String, Object> tables = new LinkedHashMap<>();
        for (TableChanges table : changes) {
            Map<String, Object> object = new LinkedHashMap<>();
            object.put("added", whole(table.table(), table.added()));
            object.put("removed", whole(table.table(), table.removed()));
            List<Object> changed = new ArrayList<>();
            for (TableChanges.Changed change : table.changed()) {
                Map<String, Object> one = new LinkedHashMap<>();
                one.put("key", row(table.table(), change.after(), key(table.table())));
                one.put("before", row(table.table(), change.before(), change.columns()));
                one.put("after", row(table.table(), change.after(), change.columns()));
                changed.add(one);
            }
            object.put("changed", changed);
            tables.put(table.table().name(), object);
        }
        return tables;
    }

    private static List<Object> whole(Table table, List<TableChanges.WrittenRow> rows) {
        List<Object> list = new ArrayList<>();
        rows.forEach(r -> list.add(row(table, r.row(), all(table))));
        return list;
    }

    private static List<Integer> all(Table table) {
        List<Integer> columns = new ArrayList<>();
        for (int i = 0; i < table.columns().size(); i++) {
            columns.add(i);
        }
        return columns;
    }

    private static List<Integer> key(Table table) {
        return table.primaryKey().isEmpty() ? all(table) : table.primaryKey();
    }

    private static Map<String, Object> row(Table table, Object[] row, List<Integer> columns) {
        Map<String, Object> object = new LinkedHashMap<>();
        columns.forEach(i -> object.put(table.columns().get(i).name(), row[i]));
        return object;
    }

    static Map<String, Object> condition(Optional<Condition> condition, List<StackEntry> stack) {
        if (condition.isEmpty()) {
            return null;
        }
        Map<String, Object> object = new LinkedHashMap<>();
        object.put("sqlstate", condition.get().sqlstate());
        object.put("message", condition.get().message());
        object.put("items", new java.util.TreeMap<>(condition.get().items()));
        object.put("stack", stack.stream().map(OutcomeJson::entry).toList());
        return object;
    }

    private static Map<String, Object> entry(StackEntry entry) {
        Map<String, Object> object = new LinkedHashMap<>();
        object.put("routine", entry.routine());
        object.put("file", entry.place().source().name());
        object.put("line", entry.place().line());
        object.put("column", entry.place().column());
        return object;
    }
}
