package dev.cantina.jdbc;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.UUID;

/** The demo winery, as the tests of the driver open it. */
final class Winery {
    static final Path FOLDER = Path.of("..", "demo", "winery").toAbsolutePath().normalize();

    private Winery() {}

    /** A URL whose rows nobody else sees. */
    static String url() {
        return "jdbc:cantina:" + FOLDER + "?fresh=yes&name=" + UUID.randomUUID();
    }

    static Connection open() throws SQLException {
        return DriverManager.getConnection(url());
    }

    /** The first value of the first row. */
    static Object ask(Connection connection, String query) throws SQLException {
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(query)) {
            return row.next() ? row.getObject(1) : null;
        }
    }

    static int change(Connection connection, String sql) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            return statement.executeUpdate(sql);
        }
    }
}
