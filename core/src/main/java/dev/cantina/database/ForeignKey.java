package dev.cantina.database;

import dev.cantina.catalog.Table;
import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * A foreign key, by the database's own names.
 *
 * @param table that has it
 * @param columns its columns in the key's order
 * @param of the table that it refers to
 * @param referred the columns there, in the same order
 */
public record ForeignKey(String table, List<String> columns, String of, List<String> referred) {
    /** The foreign keys of a table (JDBC, {@code DatabaseMetaData.getImportedKeys}). */
    public static List<ForeignKey> of(Connection connection, Table table) throws SQLException {
        return read(connection, table, true);
    }

    /** The foreign keys of other tables that refer to a table. */
    public static List<ForeignKey> to(Connection connection, Table table) throws SQLException {
        return read(connection, table, false);
    }

    private static List<ForeignKey> read(Connection connection, Table table, boolean own)
            throws SQLException {
        DatabaseMetaData data = connection.getMetaData();
        String name = stored(data, table);
        Map<String, ForeignKey> keys = new LinkedHashMap<>();
        try (ResultSet row =
                own
                        ? data.getImportedKeys(
                                connection.getCatalog(), connection.getSchema(), name)
                        : data.getExportedKeys(
                                connection.getCatalog(), connection.getSchema(), name)) {
            while (row.next()) {
                String of = row.getString("FKTABLE_NAME");
                ForeignKey key =
                        keys.computeIfAbsent(
                                of + "." + row.getString("FK_NAME"),
                                k ->
                                        new ForeignKey(
                                                of,
                                                new ArrayList<>(),
                                                text(row),
                                                new ArrayList<>()));
                key.columns().add(row.getString("FKCOLUMN_NAME"));
                key.referred().add(row.getString("PKCOLUMN_NAME"));
            }
        }
        return List.copyOf(keys.values());
    }

    private static String text(ResultSet row) {
        try {
            return row.getString("PKTABLE_NAME");
        } catch (SQLException e) {
            throw new IllegalStateException(e);
        }
    }

    /** The name under which the database keeps a table, whose key is in the standard's letters. */
    private static String stored(DatabaseMetaData data, Table table) throws SQLException {
        boolean ordinary = table.key().equals(table.key().toUpperCase(java.util.Locale.ROOT));
        return ordinary && !data.storesUpperCaseIdentifiers() ? table.name() : table.key();
    }
}
