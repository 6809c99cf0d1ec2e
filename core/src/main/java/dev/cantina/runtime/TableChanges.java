package dev.cantina.runtime;

import dev.cantina.catalog.Table;
import dev.cantina.types.Values;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What a run changed in one table in the end, whatever it did on the way: a row added and removed
 * again does not appear, nor one changed back.
 *
 * @param added whole rows, in the order in which they came
 * @param removed whole rows
 * @param changed rows that kept their key
 */
public record TableChanges(
        Table table, List<WrittenRow> added, List<WrittenRow> removed, List<Changed> changed) {
    /** A row that was added or removed, and the statement that did it last. */
    public record WrittenRow(Object[] row, Optional<StackEntry> writer) {}

    /** A row before and after, and the statement that changed it last. */
    public record Changed(Object[] before, Object[] after, Optional<StackEntry> writer) {
        /** The positions of the columns that differ. */
        public List<Integer> columns() {
            List<Integer> columns = new ArrayList<>();
            for (int i = 0; i < before.length; i++) {
                if (!Values.same(before[i], after[i])) {
                    columns.add(i);
                }
            }
            return columns;
        }
    }

    /** A row on its way from the first event to the last; null where it is not there. */
    private static final class Journey {
        Object[] before;
        Object[] after;
        Optional<StackEntry> writer = Optional.empty();

        Journey(Object[] before) {
            this.before = before;
        }
    }

    /**
     * The changes of each table that has some, in the order in which the tables were first touched.
     */
    public static List<TableChanges> of(List<RowEvent> events) {
        Map<Table, List<RowEvent>> byTable = new LinkedHashMap<>();
        for (RowEvent event : events) {
            byTable.computeIfAbsent(event.table(), t -> new ArrayList<>()).add(event);
        }
        List<TableChanges> all = new ArrayList<>();
        byTable.forEach(
                (table, list) -> {
                    TableChanges changes = of(table, list);
                    if (!changes.isEmpty()) {
                        all.add(changes);
                    }
                });
        return all;
    }

    private static TableChanges of(Table table, List<RowEvent> events) {
        Map<List<String>, Journey> now = new LinkedHashMap<>();
        List<Journey> journeys = new ArrayList<>();
        for (RowEvent event : events) {
            Journey journey = null;
            if (event.before() != null) {
                journey = now.remove(key(table, event.before()));
            }
            if (journey == null) {
                journey = new Journey(event.before());
                journeys.add(journey);
            }
            journey.after = event.after();
            journey.writer = event.writer();
            if (event.after() != null) {
                now.put(key(table, event.after()), journey);
            }
        }
        return sorted(table, journeys);
    }

    private static TableChanges sorted(Table table, List<Journey> journeys) {
        List<WrittenRow> added = new ArrayList<>();
        List<WrittenRow> removed = new ArrayList<>();
        List<Changed> changed = new ArrayList<>();
        Map<List<String>, Journey> gone = new LinkedHashMap<>();
        for (Journey journey : journeys) {
            if (journey.before != null && journey.after == null) {
                gone.put(key(table, journey.before), journey);
            }
        }
        for (Journey journey : journeys) {
            if (journey.before == null && journey.after != null) {
                // Removed and added again under its key is a change of that row.
                Journey old = gone.remove(key(table, journey.after));
                if (old == null) {
                    added.add(new WrittenRow(journey.after, journey.writer));
                } else {
                    change(changed, old.before, journey.after, journey.writer);
                }
            } else if (journey.before != null && journey.after != null) {
                if (key(table, journey.before).equals(key(table, journey.after))) {
                    change(changed, journey.before, journey.after, journey.writer);
                } else {
                    removed.add(new WrittenRow(journey.before, journey.writer));
                    added.add(new WrittenRow(journey.after, journey.writer));
                }
            }
        }
        gone.values().forEach(j -> removed.add(new WrittenRow(j.before, j.writer)));
        return new TableChanges(table, added, removed, changed);
    }

    private static void change(
            List<Changed> changed, Object[] before, Object[] after, Optional<StackEntry> writer) {
        Changed change = new Changed(before, after, writer);
        if (!change.columns().isEmpty()) {
            changed.add(change);
        }
    }

    private static List<String> key(Table table, Object[] row) {
        List<String> key = new ArrayList<>();
        if (table.primaryKey().isEmpty()) {
            Arrays.stream(row).forEach(value -> key.add(Values.literal(value)));
        } else {
            table.primaryKey().forEach(i -> key.add(Values.literal(row[i])));
        }
        return key;
    }

    public boolean isEmpty() {
        return added.isEmpty() && removed.isEmpty() && changed.isEmpty();
    }
}
