package dev.cantina.database;

import dev.cantina.database.embedded.EmbeddedDatabase;
import dev.cantina.database.embedded.JavaTypes;
import dev.cantina.syntax.Unit;
import dev.cantina.types.SqlType;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.UnaryOperator;

/** What is read alike from every server. */
public final class ServerValues {
    private ServerValues() {}

    /**
     * A value of a result as Cantina holds it.
     *
     * @param time how the driver gives a time
     * @param stamp how it gives a timestamp
     */
    public static Object read(
            ResultSet row, int column, SqlType type, Class<?> time, Class<?> stamp)
            throws SQLException {
        if (type instanceof SqlType.Integral) {
            long value = row.getLong(column);
            return row.wasNull() ? null : (Object) value;
        }
        if (type instanceof SqlType.Text || type instanceof SqlType.Json) {
            return row.getString(column);
        }
        if (type instanceof SqlType.Exact) {
            return row.getBigDecimal(column);
        }
        if (type instanceof SqlType.Approximate) {
            double value = row.getDouble(column);
            return row.wasNull() ? null : (Object) value;
        }
        if (type instanceof SqlType.Bool) {
            boolean value = row.getBoolean(column);
            return row.wasNull() ? null : (Object) value;
        }
        if (type instanceof SqlType.Date) {
            return row.getObject(column, LocalDate.class);
        }
        if (type instanceof SqlType.Time) {
            return row.getObject(column, time);
        }
        if (type instanceof SqlType.Timestamp) {
            return row.getObject(column, stamp);
        }
        return JavaTypes.held(row.getObject(column));
    }

    /**
     * The keys of tables, those that others refer to before those.
     *
     * @param references asks for a table and one that it refers to
     * @param key of a name as the server has it
     */
    public static List<String> inReferenceOrder(
            Connection connection,
            String references,
            UnaryOperator<String> key,
            List<String> tables)
            throws SQLException {
        Map<String, List<String>> parents = new HashMap<>();
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(references)) {
            while (row.next()) {
                parents.computeIfAbsent(key.apply(row.getString(1)), t -> new ArrayList<>())
                        .add(key.apply(row.getString(2)));
            }
        }
        LinkedHashSet<String> ordered = new LinkedHashSet<>();
        for (String table : tables) {
            EmbeddedDatabase.place(table, parents, ordered, new HashSet<>());
        }
        ordered.retainAll(tables);
        return List.copyOf(ordered);
    }

    /**
     * What foreign keys do by themselves.
     *
     * @param query gives tables, and the rules of DELETE and UPDATE of a foreign key of each
     */
    public static Map<String, Set<Unit.Event>> cascaded(
            Connection connection, String query, UnaryOperator<String> key) throws SQLException {
        Map<String, Set<Unit.Event>> changed = new HashMap<>();
        Set<String> acting = Set.of("CASCADE", "SET NULL", "SET DEFAULT");
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(query)) {
            while (row.next()) {
                Set<Unit.Event> events = EnumSet.noneOf(Unit.Event.class);
                String deleting = row.getString(2);
                if (deleting != null && acting.contains(deleting)) {
                    boolean deletes = deleting.equals("CASCADE");
                    events.add(deletes ? Unit.Event.DELETE : Unit.Event.UPDATE);
                }
                String updating = row.getString(3);
                if (updating != null && acting.contains(updating)) {
                    events.add(Unit.Event.UPDATE);
                }
                if (!events.isEmpty()) {
                    changed.computeIfAbsent(
                                    key.apply(row.getString(1)),
                                    k -> EnumSet.noneOf(Unit.Event.class))
                            .addAll(events);
                }
            }
        }
        return changed;
    }

    /** The names in the first column of a query. */
    public static Set<String> names(Connection connection, String query) throws SQLException {
        Set<String> names = new HashSet<>();
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(query)) {
            while (row.next()) {
                names.add(row.getString(1));
            }
        }
        return names;
    }
}
