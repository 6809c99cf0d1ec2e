package dev.cantina.database.mariadb;

import dev.cantina.database.References;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * Foreign keys by which tables refer to each other in a circle, or to themselves. The server looks
 * at each row at once: while rows are loaded it does not, and the rows are looked at afterwards.
 */
final class MariaCircles {
    private static final String KEYS =
            """
            SELECT k.CONSTRAINT_NAME, k.TABLE_NAME, k.REFERENCED_TABLE_NAME, k.COLUMN_NAME,
                   k.REFERENCED_COLUMN_NAME
              FROM information_schema.KEY_COLUMN_USAGE k
             WHERE k.TABLE_SCHEMA = DATABASE() AND k.REFERENCED_TABLE_NAME IS NOT NULL
             ORDER BY k.TABLE_NAME, k.CONSTRAINT_NAME, k.ORDINAL_POSITION
            """;

    /** A foreign key, with its columns and those that they refer to. */
    private record Key(
            References.Edge edge, String name, List<String> columns, List<String> parents) {}

    private final Connection connection;
    private boolean loosened;

    MariaCircles(Connection connection) {
        this.connection = connection;
    }

    void loosen() throws SQLException {
        List<Key> keys = keys();
        References references = new References(keys.stream().map(Key::edge).toList());
        if (keys.stream().anyMatch(k -> references.isInCircle(k.edge()))) {
            loosened = true;
            execute("SET SESSION foreign_key_checks = 0");
        }
    }

    /**
     * @throws SQLException where a row refers to one that is not there
     */
    void tighten() throws SQLException {
        if (!loosened) {
            return;
        }
        loosened = false;
        execute("SET SESSION foreign_key_checks = 1");
        for (Key key : keys()) {
            List<String> given = new ArrayList<>();
            List<String> same = new ArrayList<>();
            for (int i = 0; i < key.columns().size(); i++) {
                String column = "c." + MariaSession.quoted(key.columns().get(i));
                given.add(column + " IS NOT NULL");
                same.add("p." + MariaSession.quoted(key.parents().get(i)) + " = " + column);
            }
            String orphan =
                    "SELECT CONCAT_WS(', ', c."
                            + String.join(
                                    ", c.",
                                    key.columns().stream().map(MariaSession::quoted).toList())
                            + ") FROM "
                            + MariaSession.quoted(key.edge().from())
                            + " c WHERE "
                            + String.join(" AND ", given)
                            + " AND NOT EXISTS (SELECT 1 FROM "
                            + MariaSession.quoted(key.edge().to())
                            + " p WHERE "
                            + String.join(" AND ", same)
                            + ") LIMIT 1";
            try (Statement statement = connection.createStatement();
                    ResultSet row = statement.executeQuery(orphan)) {
                if (row.next()) {
                    throw new SQLException(
                            "a row of "
                                    + key.edge().from()
                                    + " refers to "
                                    + row.getString(1)
                                    + ", which is not in "
                                    + key.edge().to()
                                    + " (foreign key "
                                    + key.name()
                                    + ")",
                            "23000");
                }
            }
        }
    }

    private List<Key> keys() throws SQLException {
        Map<String, Key> keys = new LinkedHashMap<>();
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(KEYS)) {
            while (row.next()) {
                String name = row.getString(1);
                References.Edge edge = new References.Edge(row.getString(2), row.getString(3));
                Key key =
                        keys.computeIfAbsent(
                                edge.from() + "." + name,
                                k -> new Key(edge, name, new ArrayList<>(), new ArrayList<>()));
                key.columns().add(row.getString(4));
                key.parents().add(row.getString(5));
            }
        }
        return List.copyOf(keys.values());
    }

    private void execute(String sql) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.execute(sql);
        }
    }
}
