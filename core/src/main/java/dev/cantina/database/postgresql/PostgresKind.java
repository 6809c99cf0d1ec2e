package dev.cantina.database.postgresql;

import dev.cantina.database.ServerDatabase;
import dev.cantina.database.ServerKind;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.Properties;

/** PostgreSQL. */
public final class PostgresKind implements ServerKind {
    @Override
    public String name() {
        return "postgresql";
    }

    @Override
    public String title() {
        return "PostgreSQL";
    }

    @Override
    public String prefix() {
        return "jdbc:postgresql:";
    }

    @Override
    public Version lowest() {
        return new Version(14, 0);
    }

    @Override
    public String encryption() {
        return "sslmode";
    }

    @Override
    public void prepare(Properties properties, int timeoutSeconds) {
        properties.setProperty("connectTimeout", String.valueOf(timeoutSeconds));
        properties.setProperty("loginTimeout", String.valueOf(timeoutSeconds));
        // A statement that fails undoes itself, and leaves the transaction as it was.
        properties.setProperty("autosave", "always");
        // Without this each statement would stand one deeper than the one before it.
        properties.setProperty("cleanupSavepoints", "true");
        properties.setProperty("ApplicationName", "cantina");
    }

    @Override
    public void begin(Connection connection) {}

    @Override
    public ServerDatabase database(Connection connection) throws SQLException {
        return new PostgresDatabase(connection);
    }
}
