package dev.cantina.database.mariadb;

import dev.cantina.database.ServerDatabase;
import dev.cantina.database.ServerKind;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.Properties;

/** MariaDB. */
public final class MariaKind implements ServerKind {
    @Override
    public String name() {
        return "mariadb";
    }

    @Override
    public String title() {
        return "MariaDB";
    }

    @Override
    public String prefix() {
        return "jdbc:mariadb:";
    }

    @Override
    public Version lowest() {
        return new Version(10, 6);
    }

    @Override
    public String encryption() {
        return "sslMode";
    }

    @Override
    public void prepare(Properties properties, int timeoutSeconds) {
        properties.setProperty("connectTimeout", timeoutSeconds + "000");
        // What an error says of the server's threads and transactions is not for the reader.
        properties.setProperty("includeInnodbStatusInDeadlockExceptions", "false");
        properties.setProperty("connectionAttributes", "program_name:cantina");
    }

    @Override
    public void begin(Connection connection) throws SQLException {
        MariaSession.begin(connection);
    }

    @Override
    public ServerDatabase database(Connection connection) throws SQLException {
        return new MariaDatabase(connection);
    }
}
