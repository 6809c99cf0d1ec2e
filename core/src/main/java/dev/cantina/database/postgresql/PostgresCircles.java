package dev.cantina.database.postgresql;

import dev.cantina.database.References;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;

/**
 * Foreign keys by which tables refer to each other in a circle, or to themselves. While rows are
 * loaded they are looked at behind the last of them.
 */
final class PostgresCircles {
    private static final String KEYS =
            """
            SELECT k.conrelid::regclass::text, k.confrelid::regclass::text,
                   quote_ident(k.conname),
                   CASE WHEN NOT k.condeferrable THEN 'NOT DEFERRABLE'
                        WHEN k.condeferred THEN 'DEFERRABLE INITIALLY DEFERRED'
                        ELSE 'DEFERRABLE INITIALLY IMMEDIATE' END
              FROM pg_constraint k
             WHERE k.contype = 'f' AND k.conparentid = 0
             ORDER BY k.oid
            """;

    /** A foreign key, and when it is looked at otherwise. */
    private record Key(References.Edge edge, String name, String otherwise) {}

    private final Connection connection;
    private final List<Key> loosened = new ArrayList<>();

    PostgresCircles(Connection connection) {
        this.connection = connection;
    }

    void loosen() throws SQLException {
        List<Key> all = new ArrayList<>();
        try (Statement statement = connection.createStatement()) {
            try (ResultSet row = statement.executeQuery(KEYS)) {
                while (row.next()) {
                    all.add(
                            new Key(
                                    new References.Edge(row.getString(1), row.getString(2)),
                                    row.getString(3),
                                    row.getString(4)));
                }
            }
            References references = new References(all.stream().map(Key::edge).toList());
            for (Key key : all) {
                if (references.isInCircle(key.edge())) {
                    loosened.add(key);
                    statement.execute(alter(key, "DEFERRABLE INITIALLY DEFERRED"));
                }
            }
        }
    }

    void tighten() throws SQLException {
        if (loosened.isEmpty()) {
            return;
        }
        try (Statement statement = connection.createStatement()) {
            statement.execute("SET CONSTRAINTS ALL IMMEDIATE");
            for (Key key : loosened) {
                statement.execute(alter(key, key.otherwise()));
            }
        }
        loosened.clear();
    }

    private static String alter(Key key, String when) {
        return "ALTER TABLE " + key.edge().from() + " ALTER CONSTRAINT " + key.name() + " " + when;
    }
}
