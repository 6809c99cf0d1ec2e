package dev.cantina.runtime;

import dev.cantina.binding.DeclaredTable;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.sql.Types;
import java.time.LocalTime;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Deque;
import java.util.List;

/**
 * The tables that belong to blocks and triggers. The database has each of them once; where one is
 * in use already, by a caller or in a recursion, its rows are put aside meanwhile.
 */
final class TemporaryTables {
    /** A table in use; {@code aside} are the rows of the use around it. */
    private record Use(Object owner, DeclaredTable table, List<Object[]> aside) {}

    private final Database database;
    private final Deque<Use> uses = new ArrayDeque<>();

    TemporaryTables(Database database) {
        this.database = database;
    }

    /** A block or a trigger begins: its table is there, and empty. */
    void open(Object owner, DeclaredTable table) throws SQLException {
        boolean used = uses.stream().anyMatch(u -> u.table.sqlName().equals(table.sqlName()));
        List<Object[]> aside = used ? rows(table) : List.of();
        database.empty(table.sqlName());
        uses.push(new Use(owner, table, aside));
    }

    /** The block ends: the tables from a number on are gone. */
    void close(Object owner, int from) throws SQLException {
        while (!uses.isEmpty()
                && uses.peek().owner == owner
                && uses.peek().table.number() >= from) {
            Use use = uses.pop();
            database.empty(use.table.sqlName());
            fill(use.table, use.aside);
        }
    }

    /** COMMIT: what is not said to be preserved is empty again. */
    void committed() throws SQLException {
        for (Use use : uses) {
            if (!use.table.preserve() && !use.table.readOnly()) {
                database.empty(use.table.sqlName());
            }
        }
    }

    private List<Object[]> rows(DeclaredTable table) throws SQLException {
        List<Object[]> rows = new ArrayList<>();
        try (Statement statement = database.connection().createStatement();
                ResultSet row = statement.executeQuery("SELECT * FROM " + own(table))) {
            while (row.next()) {
                Object[] values = new Object[table.table().columns().size()];
                for (int i = 0; i < values.length; i++) {
                    // Some drivers hand a time out in milliseconds otherwise.
                    boolean time = row.getMetaData().getColumnType(i + 1) == Types.TIME;
                    values[i] = time ? row.getObject(i + 1, LocalTime.class) : row.getObject(i + 1);
                }
                rows.add(values);
            }
        }
        return rows;
    }

    /** Adds rows as they are, identity columns included. */
    void fill(DeclaredTable table, List<Object[]> rows) throws SQLException {
        if (rows.isEmpty()) {
            return;
        }
        String markers = String.join(", ", Collections.nCopies(rows.get(0).length, "?"));
        boolean numbered = table.table().columns().stream().anyMatch(c -> c.identity());
        String sql =
                "INSERT INTO "
                        + own(table)
                        + (numbered ? " OVERRIDING SYSTEM VALUE" : "")
                        + " VALUES ("
                        + markers
                        + ")";
        try (PreparedStatement statement =
                database.connection().prepareStatement(database.words(sql))) {
            for (Object[] row : rows) {
                for (int i = 0; i < row.length; i++) {
                    statement.setObject(
                            i + 1,
                            database.driverValue(row[i], table.table().columns().get(i).type()));
                }
                statement.executeUpdate();
            }
        }
    }

    private String own(DeclaredTable table) {
        return database.ownTable(table.sqlName());
    }
}
