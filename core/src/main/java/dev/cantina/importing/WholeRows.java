package dev.cantina.importing;

import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;

/**
 * Rows of several tables that are whole: whatever a row refers to by a foreign key is among them.
 * Nothing else is taken beside what was asked for.
 */
public final class WholeRows {
    private static final int BATCH = 500;

    private final LiveServer server;
    private final Map<String, LiveTable> tables;
    private final Map<String, List<String[]>> rows = new LinkedHashMap<>();

    /** What is known of each table's rows, to see one again. */
    private final Map<String, Set<List<String>>> seen = new HashMap<>();

    /** How many rows of a table have been looked at for what they refer to. */
    private final Map<String, Integer> done = new HashMap<>();

    private final Map<LiveTable.Reference, Set<List<String>>> asked = new HashMap<>();

    public WholeRows(LiveServer server, List<LiveTable> tables) {
        this.server = server;
        this.tables =
                tables.stream()
                        .collect(
                                Collectors.toMap(
                                        LiveTable::name,
                                        Function.identity(),
                                        (a, b) -> a,
                                        LinkedHashMap::new));
        tables.forEach(t -> rows.put(t.name(), new ArrayList<>()));
    }

    /** Takes rows that were asked for; one that is there already counts once. */
    public void add(LiveTable table, List<String[]> some) {
        Set<List<String>> known = seen.computeIfAbsent(table.name(), t -> new HashSet<>());
        Set<List<String>> before = new HashSet<>(known);
        for (String[] row : some) {
            List<String> identity = identity(table, row);
            // Without a key two rows may be the same, and are both there.
            boolean twice = table.key().isEmpty() ? before.contains(identity) : false;
            if (!twice && (known.add(identity) || table.key().isEmpty())) {
                rows.get(table.name()).add(row);
            }
        }
    }

    private static List<String> identity(LiveTable table, String[] row) {
        return table.key().isEmpty() ? Arrays.asList(row) : values(row, table.key());
    }

    private static List<String> values(String[] row, List<Integer> positions) {
        return positions.stream().map(i -> row[i]).collect(Collectors.toList());
    }

    /**
     * Takes all that the rows refer to, and all that those refer to.
     *
     * @return what is referred to and is not there, a sentence each
     */
    public List<String> complete() throws SQLException {
        boolean more = true;
        while (more) {
            more = false;
            for (LiveTable table : tables.values()) {
                List<String[]> all = rows.get(table.name());
                int from = done.getOrDefault(table.name(), 0);
                if (from < all.size()) {
                    List<String[]> fresh = List.copyOf(all.subList(from, all.size()));
                    done.put(table.name(), all.size());
                    for (LiveTable.Reference reference : table.references()) {
                        follow(reference, fresh);
                    }
                    more = true;
                }
            }
        }
        return missing();
    }

    private void follow(LiveTable.Reference reference, List<String[]> from) throws SQLException {
        LiveTable parent = tables.get(reference.parent());
        if (parent == null || !parent.readable()) {
            return;
        }
        List<Integer> columns = reference.parents().stream().map(parent::position).toList();
        Set<List<String>> there = new HashSet<>();
        rows.get(parent.name()).forEach(r -> there.add(values(r, columns)));
        Set<List<String>> done = asked.computeIfAbsent(reference, r -> new HashSet<>());
        List<List<String>> wanted = new ArrayList<>();
        for (String[] row : from) {
            List<String> values = values(row, reference.columns());
            // A reference with a NULL in it refers to nothing (ISO 9075-2, 11.8).
            if (!values.contains(null) && !there.contains(values) && done.add(values)) {
                wanted.add(values);
            }
        }
        for (int i = 0; i < wanted.size(); i += BATCH) {
            List<List<String>> some = wanted.subList(i, Math.min(wanted.size(), i + BATCH));
            add(parent, server.with(parent, columns, some));
        }
    }

    /** Rows whose reference leads nowhere would be refused: they are left out, and said. */
    private List<String> missing() {
        List<String> said = new ArrayList<>();
        boolean more = true;
        while (more) {
            more = false;
            for (LiveTable table : tables.values()) {
                for (LiveTable.Reference reference : table.references()) {
                    int count = leaveOut(table, reference);
                    if (count > 0) {
                        more = true;
                        said.add(
                                "rows of "
                                        + table.name()
                                        + " ("
                                        + count
                                        + "): what they refer to in "
                                        + reference.parent()
                                        + (tables.containsKey(reference.parent())
                                                        && tables.get(reference.parent()).readable()
                                                ? " is not there"
                                                : " can't be read"));
                    }
                }
            }
        }
        return said;
    }

    private int leaveOut(LiveTable table, LiveTable.Reference reference) {
        LiveTable parent = tables.get(reference.parent());
        Set<List<String>> there = new HashSet<>();
        if (parent != null) {
            List<Integer> columns = reference.parents().stream().map(parent::position).toList();
            rows.get(parent.name()).forEach(r -> there.add(alike(values(r, columns))));
        }
        List<String[]> all = rows.get(table.name());
        int before = all.size();
        all.removeIf(
                row -> {
                    List<String> values = values(row, reference.columns());
                    return !values.contains(null) && !there.contains(alike(values));
                });
        return before - all.size();
    }

    /** Servers may take texts of other case, or with blanks, and numbers with noughts for equal. */
    private static List<String> alike(List<String> values) {
        return values.stream()
                .map(v -> v == null ? null : v.strip().toLowerCase(java.util.Locale.ROOT))
                .map(v -> v != null && v.matches("-?\\d+\\.\\d*") ? v.replaceAll("\\.?0*$", "") : v)
                .collect(Collectors.toList());
    }

    /** The rows of each table that has some, in the order of their keys. */
    public Map<LiveTable, List<String[]>> rows() {
        Map<LiveTable, List<String[]>> taken = new LinkedHashMap<>();
        for (LiveTable table : tables.values()) {
            List<String[]> some = new ArrayList<>(rows.get(table.name()));
            if (!some.isEmpty()) {
                some.sort((a, b) -> compare(identity(table, a), identity(table, b)));
                taken.put(table, some);
            }
        }
        return taken;
    }

    private static int compare(List<String> a, List<String> b) {
        for (int i = 0; i < a.size(); i++) {
            int order = compare(a.get(i), b.get(i));
            if (order != 0) {
                return order;
            }
        }
        return 0;
    }

    private static int compare(String a, String b) {
        if (a == null || b == null) {
            return a == null ? b == null ? 0 : -1 : 1;
        }
        boolean whole = a.matches("-?\\d{1,18}") && b.matches("-?\\d{1,18}");
        return whole ? Long.compare(Long.parseLong(a), Long.parseLong(b)) : a.compareTo(b);
    }
}
