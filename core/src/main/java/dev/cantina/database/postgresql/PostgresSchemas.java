package dev.cantina.database.postgresql;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;

/**
 * Schemas that stay for a while, with all that belongs to them: their names end with a mark. As
 * long as their maker is there it holds a lock of the schema's name.
 */
public final class PostgresSchemas {
    private PostgresSchemas() {}

    /** Holds the lock of a schema for as long as the connection is open. */
    public static void hold(Connection connection, String schema) throws SQLException {
        execute(connection, "SELECT pg_advisory_lock(hashtext('" + schema + "'))");
    }

    /** Takes away the schemas of a mark. */
    public static void drop(Connection connection, String mark) throws SQLException {
        List<String> schemas =
                names(
                        connection,
                        "SELECT quote_ident(nspname) FROM pg_namespace WHERE nspname LIKE '%\\_"
                                + mark
                                + "'");
        if (!schemas.isEmpty()) {
            execute(connection, "DROP SCHEMA " + String.join(", ", schemas) + " CASCADE");
        }
    }

    /** Takes away what makers have left that were killed: nobody holds their locks. */
    public static void sweep(Connection connection, String prefix, String mark)
            throws SQLException {
        List<String> left =
                names(
                        connection,
                        "SELECT nspname FROM pg_namespace WHERE nspname LIKE '"
                                + prefix.replace("_", "\\_")
                                + "%' AND nspname <> '"
                                + prefix
                                + mark
                                + "' AND pg_try_advisory_xact_lock(hashtext(nspname))");
        for (String one : left) {
            drop(connection, one.substring(prefix.length()));
        }
        connection.commit();
    }

    private static List<String> names(Connection connection, String query) throws SQLException {
        List<String> names = new ArrayList<>();
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(query)) {
            while (row.next()) {
                names.add(row.getString(1));
            }
        }
        return names;
    }

    private static void execute(Connection connection, String sql) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.execute(sql);
        }
    }
}
