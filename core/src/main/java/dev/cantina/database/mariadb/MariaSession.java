package dev.cantina.database.mariadb;

import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;

/**
 * How a session on MariaDB has to be set so that it takes the standard's words for what they mean.
 * The server keeps this mode, and this collation, with each routine that is made under them.
 */
public final class MariaSession {
    /** How texts compare: by code point, and blanks count. */
    public static final String COLLATION = "utf8mb4_nopad_bin";

    private static final String MODE =
            "ANSI_QUOTES,PIPES_AS_CONCAT,NO_BACKSLASH_ESCAPES,STRICT_ALL_TABLES,"
                    + "ERROR_FOR_DIVISION_BY_ZERO,NO_ZERO_DATE,NO_ZERO_IN_DATE,"
                    + "SIMULTANEOUS_ASSIGNMENT,TIME_ROUND_FRACTIONAL,NO_AUTO_VALUE_ON_ZERO,"
                    + "NO_ENGINE_SUBSTITUTION";

    private MariaSession() {}

    /** A name in the quotes that the server takes in every mode. */
    static String quoted(String name) {
        return '`' + name.replace("`", "``") + '`';
    }

    /** Takes the server's words for what they mean to it: as a client of it would begin. */
    static void beginOwn(Connection connection) throws SQLException {
        execute(connection, ownStatements());
        execute(
                connection,
                List.of(
                        "SET time_zone = @@GLOBAL.time_zone, div_precision_increment ="
                                + " DEFAULT"));
    }

    /** What lets words mean again what they mean to the server, a statement each. */
    public static List<String> ownStatements() {
        return List.of("SET NAMES utf8mb4", "SET sql_mode = @@GLOBAL.sql_mode");
    }

    static void execute(Connection connection, List<String> statements) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            for (String sql : statements) {
                statement.execute(sql);
            }
        }
    }

    /** What sets it, a statement each. */
    public static List<String> statements() {
        return List.of("SET NAMES utf8mb4 COLLATE " + COLLATION, "SET sql_mode = '" + MODE + "'");
    }

    public static void begin(Connection connection) throws SQLException {
        execute(connection, statements());
        execute(connection, List.of("SET time_zone = '+00:00', div_precision_increment = 20"));
    }
}
