package dev.cantina.database.mariadb;

import dev.cantina.catalog.Column;
import dev.cantina.catalog.Table;
import dev.cantina.database.RowLines;
import dev.cantina.database.RowReader;
import dev.cantina.database.ServerValues;
import dev.cantina.runtime.RowChange;
import dev.cantina.types.SqlType;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * The changes in a scratch database: triggers write each row's before and after into a table beside
 * it. Rows that a foreign key changes set off no trigger on this server, so the trigger of the row
 * that they refer to writes them down first. What is rolled back takes its lines with it.
 */
final class MariaLog implements MariaChanges {
    private static final String NUMBERS = "cantina_numbers";

    /** The columns that have a check of their own. */
    private static final String CHECKS =
            "SELECT CONCAT(TABLE_NAME, '.', CONSTRAINT_NAME) FROM"
                    + " information_schema.CHECK_CONSTRAINTS"
                    + " WHERE CONSTRAINT_SCHEMA = DATABASE() AND LEVEL = 'Column'";

    private final Connection connection;
    private final Set<String> checks;
    private Connection reading;
    private final List<Table> tables;
    private final RowReader reader;
    private final List<Reference> references = new ArrayList<>();
    private boolean dirty = true;
    private long position;

    /** A foreign key that changes rows by itself. */
    private record Reference(
            String child, String column, String parent, String key, String onDelete) {}

    MariaLog(Connection connection, List<Table> tables, RowReader reader) throws SQLException {
        this.connection = connection;
        this.reading = connection;
        this.tables = tables;
        this.reader = reader;
        references();
        firsts();
        this.checks = ServerValues.names(connection, CHECKS);
        execute("CREATE SEQUENCE " + NUMBERS);
        for (int i = 0; i < tables.size(); i++) {
            table(i);
        }
        for (int i = 0; i < tables.size(); i++) {
            triggers(i);
        }
    }

    private void execute(String sql) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.setEscapeProcessing(false);
            statement.execute(sql);
        }
    }

    private void references() throws SQLException {
        try (Statement statement = connection.createStatement();
                ResultSet row =
                        statement.executeQuery(
                                "SELECT k.TABLE_NAME, k.COLUMN_NAME, k.REFERENCED_TABLE_NAME,"
                                        + " k.REFERENCED_COLUMN_NAME, r.DELETE_RULE"
                                        + " FROM information_schema.REFERENTIAL_CONSTRAINTS r"
                                        + " JOIN information_schema.KEY_COLUMN_USAGE k"
                                        + " ON k.CONSTRAINT_SCHEMA = r.CONSTRAINT_SCHEMA"
                                        + " AND k.CONSTRAINT_NAME = r.CONSTRAINT_NAME"
                                        + " AND k.TABLE_NAME = r.TABLE_NAME"
                                        + " WHERE r.CONSTRAINT_SCHEMA = DATABASE()"
                                        + " AND r.DELETE_RULE IN ('CASCADE', 'SET NULL')")) {
            while (row.next()) {
                references.add(
                        new Reference(
                                row.getString(1),
                                row.getString(2),
                                row.getString(3),
                                row.getString(4),
                                row.getString(5)));
            }
        }
    }

    /** The first trigger behind each kind of change of a table, by both. */
    private final Map<String, String> firsts = new HashMap<>();

    private void firsts() throws SQLException {
        try (Statement statement = connection.createStatement();
                ResultSet row =
                        statement.executeQuery(
                                "SELECT EVENT_OBJECT_TABLE, EVENT_MANIPULATION, TRIGGER_NAME"
                                        + " FROM information_schema.TRIGGERS"
                                        + " WHERE TRIGGER_SCHEMA = DATABASE()"
                                        + " AND ACTION_TIMING = 'AFTER' AND ACTION_ORDER = 1")) {
            while (row.next()) {
                firsts.put(row.getString(2) + " " + row.getString(1), row.getString(3));
            }
        }
    }

    private static String log(int number) {
        return "cantina_log_" + number;
    }

    private static String quoted(String name) {
        return MariaSession.quoted(name);
    }

    private void table(int number) throws SQLException {
        Table table = tables.get(number);
        StringBuilder columns =
                new StringBuilder(
                        "CAST(0 AS SIGNED) AS seq, NULLIF('x', 'x') AS had,"
                                + " NULLIF('x', 'x') AS has");
        for (String side : List.of("was", "now")) {
            for (int i = 0; i < table.columns().size(); i++) {
                Column column = table.columns().get(i);
                String value = side + "." + quoted(column.name());
                // A column would bring its check along, by its own name; an expression does not.
                boolean open =
                        column.type() instanceof SqlType.Json
                                || column.type() instanceof SqlType.Text text && text.length() == 0;
                boolean checked = checks.contains(table.name() + "." + column.name());
                columns.append(", ")
                        .append(
                                open
                                        ? "CONCAT(" + value + ")"
                                        : checked ? "COALESCE(" + value + ")" : value)
                        .append(" AS ")
                        .append(side)
                        .append('_')
                        .append(i);
            }
        }
        String name = quoted(table.name());
        execute(
                "CREATE TABLE "
                        + log(number)
                        + " (INDEX (seq)) AS SELECT "
                        + columns
                        + " FROM (SELECT 1 AS one) AS o LEFT JOIN "
                        + name
                        + " AS was ON FALSE LEFT JOIN "
                        + name
                        + " AS now ON FALSE WHERE FALSE");
    }

    private void triggers(int number) throws SQLException {
        Table table = tables.get(number);
        trigger(number, "INSERT", line(number, "NULL", "NEW"));
        trigger(number, "UPDATE", line(number, "OLD", "NEW"));
        trigger(number, "DELETE", line(number, "OLD", "NULL"));
        List<String> lines = new ArrayList<>();
        cascades(table.name(), "OLD", "", "", lines);
        if (!lines.isEmpty()) {
            execute(
                    "CREATE TRIGGER cantina_cascade_"
                            + number
                            + " BEFORE DELETE ON "
                            + quoted(table.name())
                            + " FOR EACH ROW BEGIN "
                            + String.join("; ", lines)
                            + "; END");
        }
    }

    private void trigger(int number, String event, String line) throws SQLException {
        String first = firsts.get(event + " " + tables.get(number).name());
        execute(
                "CREATE TRIGGER cantina_"
                        + event.toLowerCase(java.util.Locale.ROOT)
                        + "_"
                        + number
                        + " AFTER "
                        + event
                        + " ON "
                        + quoted(tables.get(number).name())
                        + " FOR EACH ROW "
                        // What other triggers see has happened is written down by then.
                        + (first == null ? "" : "PRECEDES " + quoted(first) + " ")
                        + line);
    }

    private String line(int number, String was, String now) {
        return "INSERT INTO "
                + log(number)
                + " VALUES ("
                + String.join(", ", values(number, was, now))
                + ")";
    }

    private List<String> values(int number, String was, String now) {
        List<String> values = new ArrayList<>();
        values.add("NEXT VALUE FOR " + NUMBERS);
        values.add(was.equals("NULL") ? "NULL" : "'x'");
        values.add(now.equals("NULL") ? "NULL" : "'x'");
        for (String side : List.of(was, now)) {
            for (Column column : tables.get(number).columns()) {
                values.add(side.equals("NULL") ? "NULL" : side + "." + quoted(column.name()));
            }
        }
        return values;
    }

    /**
     * The rows that go, or lose their reference, with a row.
     *
     * @param of what names that row
     * @param from how it is reached from the row that is deleted
     * @param root what the first of them has to do with that row
     */
    private void cascades(String parent, String of, String from, String root, List<String> lines) {
        int depth = from.isEmpty() ? 0 : 1 + from.split(" JOIN ", -1).length - 1;
        for (Reference reference : references) {
            if (!reference.parent().equalsIgnoreCase(parent) || depth > 4) {
                continue;
            }
            int number = number(reference.child());
            if (number < 0) {
                continue;
            }
            String child = "c" + depth;
            String on =
                    child
                            + "."
                            + quoted(reference.column())
                            + " = "
                            + of
                            + "."
                            + quoted(reference.key());
            String row = quoted(reference.child()) + " AS " + child;
            String join = from.isEmpty() ? row : from + " JOIN " + row + " ON " + on;
            boolean gone = reference.onDelete().equals("CASCADE");
            List<String> values = values(number, child, gone ? "NULL" : child);
            if (!gone) {
                int columns = tables.get(number).columns().size();
                for (int i = 0; i < columns; i++) {
                    if (tables.get(number).columns().get(i).name().equals(reference.column())) {
                        values.set(3 + columns + i, "NULL");
                    }
                }
            }
            String first = from.isEmpty() ? " WHERE " + on : root;
            lines.add(
                    "INSERT INTO "
                            + log(number)
                            + " SELECT "
                            + String.join(", ", values)
                            + " FROM "
                            + join
                            + first);
            if (gone) {
                cascades(reference.child(), child, join, first, lines);
            }
        }
    }

    private int number(String table) {
        for (int i = 0; i < tables.size(); i++) {
            if (tables.get(i).name().equalsIgnoreCase(table)) {
                return i;
            }
        }
        return -1;
    }

    @Override
    public void reading(Connection by) {
        reading = by == null ? connection : by;
        dirty = true;
    }

    @Override
    public void touched() {
        dirty = true;
    }

    @Override
    public long position() throws SQLException {
        if (tables.isEmpty() || !dirty) {
            return position;
        }
        List<String> each = new ArrayList<>();
        for (int i = 0; i < tables.size(); i++) {
            each.add("SELECT MAX(seq) AS seq FROM " + log(i));
        }
        try (Statement statement = reading.createStatement();
                ResultSet row =
                        statement.executeQuery(
                                "SELECT COALESCE(MAX(seq), 0) FROM ("
                                        + String.join(" UNION ALL ", each)
                                        + ") AS every")) {
            row.next();
            position = row.getLong(1);
        }
        return position;
    }

    @Override
    public List<RowChange> since(long from) throws SQLException {
        List<RowChange> lines = new ArrayList<>();
        for (int i = 0; i < tables.size(); i++) {
            Table table = tables.get(i);
            int width = table.columns().size();
            try (PreparedStatement statement =
                    reading.prepareStatement(
                            "SELECT * FROM " + log(i) + " WHERE seq > ? ORDER BY seq")) {
                statement.setLong(1, from);
                try (ResultSet row = statement.executeQuery()) {
                    while (row.next()) {
                        boolean was = row.getString(2) != null;
                        boolean now = row.getString(3) != null;
                        lines.add(
                                new RowChange(
                                        table,
                                        was ? reader.row(row, 4, table) : null,
                                        now ? reader.row(row, 4 + width, table) : null,
                                        row.getLong(1)));
                    }
                }
            }
        }
        lines.sort(Comparator.comparingLong(RowChange::position));
        return RowLines.folded(lines);
    }
}
