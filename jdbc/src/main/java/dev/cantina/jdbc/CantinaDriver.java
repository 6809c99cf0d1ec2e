package dev.cantina.jdbc;

import java.sql.Connection;
import java.sql.Driver;
import java.sql.DriverManager;
import java.sql.DriverPropertyInfo;
import java.sql.SQLException;
import java.sql.SQLFeatureNotSupportedException;
import java.util.Properties;
import java.util.logging.Logger;

/** The driver of {@code jdbc:cantina:FOLDER}; {@link java.sql.DriverManager} finds it by itself. */
public final class CantinaDriver implements Driver {
    static final String NAME = "Cantina";
    static final int MAJOR = 0;
    static final int MINOR = 1;

    static {
        try {
            DriverManager.registerDriver(new CantinaDriver());
        } catch (SQLException e) {
            throw new ExceptionInInitializerError(e);
        }
    }

    /**
     * Opens a connection.
     *
     * @return null for a URL of another driver
     * @throws SQLException 08001 where the folder is no project, or it can't be opened
     */
    @Override
    public Connection connect(String url, Properties info) throws SQLException {
        return acceptsURL(url) ? Databases.connect(DriverUrl.of(url, info)) : null;
    }

    @Override
    public boolean acceptsURL(String url) {
        return url != null && url.startsWith(DriverUrl.PREFIX);
    }

    @Override
    public DriverPropertyInfo[] getPropertyInfo(String url, Properties info) {
        return DriverUrl.KEYS.entrySet().stream()
                .map(
                        e -> {
                            DriverPropertyInfo one =
                                    new DriverPropertyInfo(
                                            e.getKey(), info.getProperty(e.getKey()));
                            one.description = e.getValue();
                            return one;
                        })
                .toArray(DriverPropertyInfo[]::new);
    }

    @Override
    public int getMajorVersion() {
        return MAJOR;
    }

    @Override
    public int getMinorVersion() {
        return MINOR;
    }

    @Override
    public boolean jdbcCompliant() {
        return false;
    }

    @Override
    public Logger getParentLogger() throws SQLFeatureNotSupportedException {
        throw new SQLFeatureNotSupportedException("Cantina logs nothing", "0A000");
    }
}
