package dev.cantina.translate.postgresql;

import dev.cantina.translate.ServerObject;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;

/** Names that a PostgreSQL server has given to functions of its own. */
public final class PostgresNames {
    private PostgresNames() {}

    /**
     * The routines that a call would not reach, because the server finds its own function of the
     * name first.
     */
    public static List<ServerObject> taken(Connection connection, List<ServerObject> objects)
            throws SQLException {
        List<ServerObject> routines =
                objects.stream()
                        .filter(o -> o.kind().equals("function") || o.kind().equals("procedure"))
                        .filter(o -> !o.name().contains("."))
                        .toList();
        Set<String> known = new HashSet<>();
        String sql =
                "SELECT p.proname FROM pg_proc p"
                        + " WHERE p.pronamespace = 'pg_catalog'::regnamespace"
                        + " AND p.proname = ANY (?)";
        try (PreparedStatement statement = connection.prepareStatement(sql)) {
            Object[] names =
                    routines.stream().map(o -> o.name().toLowerCase(Locale.ROOT)).toArray();
            statement.setArray(1, connection.createArrayOf("text", names));
            try (ResultSet row = statement.executeQuery()) {
                while (row.next()) {
                    known.add(row.getString(1));
                }
            }
        }
        return routines.stream()
                .filter(o -> known.contains(o.name().toLowerCase(Locale.ROOT)))
                .toList();
    }
}
