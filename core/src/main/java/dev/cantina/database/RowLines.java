package dev.cantina.database;

import dev.cantina.runtime.RowChange;
import dev.cantina.types.Values;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Lines of a log of changes, one for each time that a row was changed. */
public final class RowLines {
    private RowLines() {}

    /** A row that was changed several times is as it was at first, and as it is at last. */
    public static List<RowChange> folded(List<RowChange> lines) {
        Map<List<String>, RowChange> rows = new LinkedHashMap<>();
        for (RowChange line : lines) {
            RowChange known = line.before() == null ? null : rows.remove(key(line, line.before()));
            Object[] before = known == null ? line.before() : known.before();
            if (before == null && line.after() == null) {
                continue;
            }
            Object[] row = line.after() == null ? line.before() : line.after();
            RowChange folded =
                    new RowChange(line.table(), before, line.after(), line.position() - 1);
            RowChange removed = rows.remove(key(line, row));
            if (removed != null && removed.after() == null && before == null) {
                // Taken away and put back with the same key: it has changed.
                folded =
                        new RowChange(
                                line.table(), removed.before(), line.after(), folded.position());
            }
            rows.put(key(line, row), folded);
        }
        return rows.values().stream()
                .filter(r -> r.before() == null || r.after() == null || differs(r))
                .toList();
    }

    private static boolean differs(RowChange change) {
        return !Values.same(change.before(), change.after());
    }

    private static List<String> key(RowChange change, Object[] row) {
        List<String> key = new ArrayList<>();
        key.add(change.table().key());
        List<Integer> columns = change.table().primaryKey();
        for (int i = 0; i < row.length; i++) {
            if (columns.isEmpty() || columns.contains(i)) {
                key.add(Values.text(row[i]));
            }
        }
        return key;
    }
}
