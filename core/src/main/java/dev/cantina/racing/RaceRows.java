package dev.cantina.racing;

import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Column;
import dev.cantina.catalog.Table;
import dev.cantina.database.ForeignKey;
import dev.cantina.programs.ProgramSettings;
import dev.cantina.project.Invariant;
import dev.cantina.project.Invariants;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Session;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;

/** The rows that there are before and after an order of steps, and the invariants. */
final class RaceRows {
    private static final String NULL = "NULL";

    private final Workspace workspace;
    private final ProgramSettings settings;
    private final Catalog catalog;
    private final Connection connection;
    private final Map<Table, List<ForeignKey>> keys = new HashMap<>();
    private final Invariants before;

    /**
     * What there is at the end.
     *
     * @param rows of each table, each as a text by its columns
     * @param numbers that the database has given to rows; they are in no row's text
     * @param broken the names of the invariants that do not hold
     */
    record End(Map<String, List<String>> rows, Set<String> numbers, List<String> broken) {}

    /**
     * Looks before anything is called.
     *
     * @throws ProjectException where an invariant does not hold already
     */
    RaceRows(Workspace workspace, ProgramSettings settings, List<Invariant> invariants)
            throws ProjectException, SQLException {
        this.workspace = workspace;
        this.settings = settings;
        this.catalog = workspace.catalog();
        this.connection = workspace.database().connection();
        for (Table table : catalog.tables()) {
            keys.put(table, ForeignKey.of(connection, table));
        }
        try (Session session = session()) {
            before = Invariants.before(invariants, session);
        }
        connection.rollback();
    }

    /** A session that sees what is committed. */
    private Session session() throws SQLException {
        connection.rollback();
        return new Session(
                workspace.program(),
                workspace.database(),
                settings.limits(),
                settings.clock(),
                Optional.empty());
    }

    /** The tables that foreign keys lead to and from, by the keys of tables. */
    Map<String, Set<String>> related() {
        Map<String, Set<String>> related = new HashMap<>();
        keys.forEach(
                (table, all) ->
                        all.forEach(
                                key ->
                                        catalog.tableCalled(key.of())
                                                .ifPresent(
                                                        of -> {
                                                            add(related, table.key(), of.key());
                                                            add(related, of.key(), table.key());
                                                        })));
        return related;
    }

    private static void add(Map<String, Set<String>> sets, String key, String value) {
        sets.computeIfAbsent(key, k -> new HashSet<>()).add(value);
    }

    /** Looks after all calls. */
    End end() throws ProjectException, SQLException {
        List<String> broken;
        try (Session session = session()) {
            broken = before.after(session).stream().map(b -> b.invariant().name()).toList();
        }
        connection.rollback();
        Map<String, Set<Integer>> given = given();
        Map<String, List<String>> all = new TreeMap<>();
        Set<String> numbers = new HashSet<>();
        try (Statement statement = connection.createStatement()) {
            statement.setEscapeProcessing(false);
            for (Table table : catalog.tables()) {
                if (table.view()) {
                    continue;
                }
                List<String> rows = new ArrayList<>();
                String name = workspace.database().written(table.name(), table.key());
                try (ResultSet row = statement.executeQuery("SELECT * FROM " + name)) {
                    while (row.next()) {
                        rows.add(text(table, row, given, numbers));
                    }
                }
                Collections.sort(rows);
                all.put(table.name(), rows);
            }
        }
        connection.rollback();
        return new End(all, Set.copyOf(numbers), broken);
    }

    private static String text(
            Table table, ResultSet row, Map<String, Set<Integer>> given, Set<String> numbers)
            throws SQLException {
        List<String> values = new ArrayList<>();
        Set<Integer> ofTable = given.getOrDefault(table.key(), Set.of());
        for (int i = 0; i < table.columns().size(); i++) {
            String value = row.getString(i + 1);
            if (value != null && ofTable.contains(i)) {
                numbers.add(value);
                continue;
            }
            values.add(
                    table.columns().get(i).name()
                            + " "
                            + (value == null ? NULL : value.equals(NULL) ? "'NULL'" : value));
        }
        return String.join(", ", values);
    }

    /**
     * The columns of each table, counted from 0, that the database numbers, and those that refer to
     * such: what stands there is other in each order.
     */
    private Map<String, Set<Integer>> given() {
        Map<String, Set<Integer>> given = new HashMap<>();
        for (Table table : catalog.tables()) {
            List<Column> columns = table.columns();
            for (int i = 0; i < columns.size(); i++) {
                if (columns.get(i).identity()) {
                    given.computeIfAbsent(table.key(), k -> new HashSet<>()).add(i);
                }
            }
        }
        keys.forEach(
                (table, all) -> {
                    for (ForeignKey key : all) {
                        Optional<Table> of = catalog.tableCalled(key.of());
                        for (int i = 0; of.isPresent() && i < key.columns().size(); i++) {
                            boolean isGiven =
                                    given.getOrDefault(of.get().key(), Set.of())
                                            .contains(
                                                    of.get().positionCalled(key.referred().get(i)));
                            if (isGiven) {
                                given.computeIfAbsent(table.key(), k -> new HashSet<>())
                                        .add(table.positionCalled(key.columns().get(i)));
                            }
                        }
                    }
                });
        return given;
    }
}
