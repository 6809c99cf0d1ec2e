package dev.cantina.database;

import dev.cantina.catalog.Table;
import dev.cantina.database.embedded.EmbeddedDatabase;
import dev.cantina.types.Values;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** All rows of a table by their keys, to be laid beside those of another moment. */
public final class TableRows {
    private TableRows() {}

    /**
     * Reads them in the order of the server.
     *
     * @param reader gives a value as Cantina holds it
     */
    public static Map<List<String>, Object[]> read(
            Connection connection, Table table, RowReader reader) throws SQLException {
        Map<List<String>, Object[]> rows = new LinkedHashMap<>();
        try (Statement statement = connection.createStatement();
                ResultSet row =
                        statement.executeQuery(
                                "SELECT * FROM " + EmbeddedDatabase.quoted(table.name()))) {
            while (row.next()) {
                Object[] values = reader.row(row, 1, table);
                rows.put(key(table, values, rows), values);
            }
        }
        return rows;
    }

    private static List<String> key(Table table, Object[] row, Map<List<String>, Object[]> rows) {
        List<String> key = new ArrayList<>();
        for (int i = 0; i < row.length; i++) {
            if (table.primaryKey().isEmpty() || table.primaryKey().contains(i)) {
                key.add(Values.literal(row[i]));
            }
        }
        // Rows without a key may be there several times.
        int copies = 0;
        while (table.primaryKey().isEmpty() && rows.containsKey(key)) {
            if (copies > 0) {
                key.remove(key.size() - 1);
            }
            key.add("copy " + ++copies);
        }
        return key;
    }
}
