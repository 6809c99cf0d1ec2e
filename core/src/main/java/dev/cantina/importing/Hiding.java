package dev.cantina.importing;

import dev.cantina.syntax.Nearest;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeSet;

/** Which columns are hidden, and how, over the tables of a server. */
public final class Hiding {
    /** In the place of values stand others: see {@link MadeUp}. */
    public static final String MADE_UP = "made-up";

    /** In their place stands NULL. */
    public static final String NULL = "null";

    /** In their place stands the text behind it. */
    public static final String TEXT = "text:";

    /** A column that can't be hidden as it was said. */
    public static final class HidingException extends Exception {
        private static final long serialVersionUID = 1L;

        HidingException(String message) {
            super(message);
        }
    }

    private final Map<String, LiveTable> tables = new LinkedHashMap<>();
    private final Map<String, Map<Integer, String>> hidden = new HashMap<>();
    private final List<String> followed = new ArrayList<>();
    private final MadeUp madeUp;

    /**
     * @param columns how each is hidden, by {@code COLUMN} or {@code TABLE.COLUMN}
     * @param key that made-up values follow from
     */
    public Hiding(List<LiveTable> tables, Map<String, String> columns, byte[] key)
            throws HidingException {
        tables.forEach(t -> this.tables.put(t.name(), t));
        this.madeUp = new MadeUp(key);
        for (Map.Entry<String, String> entry : columns.entrySet()) {
            say(entry.getKey(), entry.getValue());
        }
        follow();
        for (LiveTable table : tables) {
            for (Map.Entry<Integer, String> entry : of(table).entrySet()) {
                check(table, entry.getKey(), entry.getValue());
            }
        }
    }

    private Map<Integer, String> of(LiveTable table) {
        return hidden.computeIfAbsent(table.name(), t -> new LinkedHashMap<>());
    }

    private void say(String column, String how) throws HidingException {
        boolean known = how.equals(MADE_UP) || how.equals(NULL) || how.startsWith(TEXT);
        if (!known) {
            throw new HidingException(
                    "a column is hidden by made-up, null or text:…, not by " + how);
        }
        int dot = column.lastIndexOf('.');
        String name = column.substring(dot + 1);
        Optional<String> of = dot < 0 ? Optional.empty() : Optional.of(column.substring(0, dot));
        boolean found = false;
        for (LiveTable table : tables.values()) {
            if (of.isEmpty() || table.name().equalsIgnoreCase(of.get())) {
                for (int i = 0; i < table.columns().size(); i++) {
                    if (table.columns().get(i).name().equalsIgnoreCase(name)) {
                        of(table).put(i, how);
                        found = true;
                    }
                }
            }
        }
        if (!found) {
            TreeSet<String> all = new TreeSet<>();
            for (LiveTable table : tables.values()) {
                table.columns()
                        .forEach(c -> all.add(dot < 0 ? c.name() : table.name() + "." + c.name()));
            }
            throw new HidingException(
                    "there is no column "
                            + column
                            + Nearest.to(column.toLowerCase(Locale.ROOT), all)
                                    .map(n -> "; did you mean " + n + "?")
                                    .orElse(""));
        }
    }

    /** A value and those that refer to it are made up alike. */
    private void follow() {
        boolean more = true;
        while (more) {
            more = false;
            for (LiveTable child : tables.values()) {
                for (LiveTable.Reference reference : child.references()) {
                    LiveTable parent = tables.get(reference.parent());
                    for (int i = 0; parent != null && i < reference.columns().size(); i++) {
                        int here = reference.columns().get(i);
                        int there = parent.position(reference.parents().get(i));
                        more |= follow(child, here, parent, there);
                        more |= follow(parent, there, child, here);
                    }
                }
            }
        }
    }

    private boolean follow(LiveTable from, int column, LiveTable to, int other) {
        boolean follows =
                MADE_UP.equals(of(from).get(column)) && !of(to).containsKey(other) && other >= 0;
        if (follows) {
            of(to).put(other, MADE_UP);
            followed.add(to.name() + "." + to.columns().get(other).name());
        }
        return follows;
    }

    private static void check(LiveTable table, int position, String how) throws HidingException {
        LiveTable.Column column = table.columns().get(position);
        String name = table.name() + "." + column.name();
        if (how.equals(MADE_UP)
                && (column.kind() == LiveTable.Kind.TRUTH
                        || column.kind() == LiveTable.Kind.OTHER)) {
            throw new HidingException(
                    name
                            + " is of the type "
                            + column.type()
                            + ", for which nothing can be made up; hide it by null or text:…");
        }
        if (how.equals(NULL) && !column.nullable()) {
            throw new HidingException(name + " takes no NULL; hide it by made-up or text:…");
        }
        boolean refers = table.references().stream().anyMatch(r -> r.columns().contains(position));
        if (how.startsWith(TEXT) && refers) {
            throw new HidingException(
                    name + " refers to another table's rows; hide it by made-up or null");
        }
        boolean unique = table.unique().stream().anyMatch(k -> k.contains(position));
        if (!how.equals(MADE_UP) && unique) {
            throw new HidingException(name + " belongs to a key; hide it by made-up");
        }
    }

    /** The columns that are hidden since they share values with one that is. */
    public List<String> followed() {
        return List.copyOf(followed);
    }

    /** A row with what is hidden in the place of what is there; NULL stays. */
    String[] row(LiveTable table, String[] row) {
        Map<Integer, String> columns = of(table);
        if (columns.isEmpty()) {
            return row;
        }
        String[] made = row.clone();
        columns.forEach(
                (position, how) -> {
                    if (row[position] == null) {
                        return;
                    }
                    made[position] =
                            how.equals(NULL)
                                    ? null
                                    : how.startsWith(TEXT)
                                            ? how.substring(TEXT.length())
                                            : madeUp.of(
                                                    row[position],
                                                    table.columns().get(position).kind());
                });
        return made;
    }
}
