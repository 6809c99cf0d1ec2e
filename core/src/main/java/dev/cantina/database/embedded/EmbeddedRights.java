package dev.cantina.database.embedded;

import dev.cantina.syntax.SqlWords;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Set;
import org.h2.engine.SessionLocal;
import org.h2.engine.User;
import org.h2.jdbc.JdbcConnection;

/**
 * Who may do what in the embedded database. A project's own text runs as a user who may make and
 * change tables, views and what belongs to them, and nothing else: no functions in Java, no files,
 * no other databases, no settings. What Cantina itself needs beyond that is done while no text of
 * the project runs.
 */
final class EmbeddedRights {
    /** Statements of the engine that would change the session, and need no right. */
    private static final Set<String> SETTINGS = Set.of("SET", "HELP", "PREPARE");

    private final User user;

    /**
     * Takes the administrator's rights from a connection.
     *
     * @throws SQLException where the connection is no longer open
     */
    EmbeddedRights(Connection connection) throws SQLException {
        user = ((SessionLocal) ((JdbcConnection) connection).getSession()).getUser();
        try (Statement statement = connection.createStatement()) {
            statement.execute(
                    "GRANT ALTER ANY SCHEMA TO " + EmbeddedDatabase.quoted(user.getName()));
        }
        user.setAdmin(false);
    }

    /**
     * Registers a class of Cantina's own with the engine: a function or a trigger. No text of the
     * project's may be in it but names.
     */
    void register(Statement statement, String sql) throws SQLException {
        user.setAdmin(true);
        try {
            statement.execute(sql);
        } finally {
            user.setAdmin(false);
        }
    }

    /**
     * Looks at a statement that the project gives to the engine as it is.
     *
     * @throws SQLException 42501, where it would change how the engine works
     */
    static void admit(String statement) throws SQLException {
        SqlWords words = SqlWords.of(statement);
        boolean setting = SETTINGS.stream().anyMatch(word -> words.sees(0, word));
        if (setting && !words.sees(0, "SET", "SCHEMA")) {
            throw new SQLException(
                    "a project may not change the settings of the database", "42501");
        }
    }
}
