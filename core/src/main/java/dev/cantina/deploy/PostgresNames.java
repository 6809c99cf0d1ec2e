package dev.cantina.deploy;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/** Names that a PostgreSQL server has given to functions of its own. */
final class PostgresNames {
    private PostgresNames() {}

    /**
     * The routines that a call would not reach, because the server finds its own function of the
     * name first.
     */
    static List<ServerObject> taken(Connection connection, List<ServerObject> objects)
            throws SQLException {
        List<ServerObject> taken = new ArrayList<>();
        String sql =
                "SELECT 1 FROM pg_proc p WHERE p.pronamespace = 'pg_catalog'::regnamespace"
                        + " AND p.proname = ?";
        try (PreparedStatement statement = connection.prepareStatement(sql)) {
            for (ServerObject object : objects) {
                boolean routine =
                        object.kind().equals("function") || object.kind().equals("procedure");
                if (routine && !object.name().contains(".")) {
                    statement.setString(1, object.name().toLowerCase(Locale.ROOT));
                    try (ResultSet row = statement.executeQuery()) {
                        if (row.next()) {
                            taken.add(object);
                        }
                    }
                }
            }
        }
        return taken;
    }
}
