package dev.cantina.runtime;

import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Proxy;
import java.sql.Connection;
import java.sql.Driver;
import java.sql.DriverManager;
import java.sql.DriverPropertyInfo;
import java.sql.SQLException;
import java.sql.SQLFeatureNotSupportedException;
import java.util.Properties;
import java.util.Set;
import java.util.function.Supplier;
import java.util.logging.Logger;

/**
 * {@code jdbc:default:connection} for external Java routines (ISO/IEC 9075-13, 4.5): the connection
 * of the session that calls them. Closing it does nothing, and its transaction is the caller's.
 */
final class DefaultConnection implements Driver {
    private static final String URL = "jdbc:default:connection";
    private static final Set<String> TRANSACTION =
            Set.of("commit", "rollback", "setAutoCommit", "setSavepoint", "releaseSavepoint");
    private static final ThreadLocal<Connection> CURRENT = new ThreadLocal<>();

    static {
        try {
            DriverManager.registerDriver(new DefaultConnection());
        } catch (SQLException e) {
            throw new ExceptionInInitializerError(e);
        }
    }

    private DefaultConnection() {}

    /** Does something for which the default connection is this one. */
    static <T> T during(Connection connection, Supplier<T> work) {
        Connection outer = CURRENT.get();
        CURRENT.set(lent(connection));
        try {
            return work.get();
        } finally {
            CURRENT.set(outer);
        }
    }

    private static Connection lent(Connection connection) {
        return (Connection)
                Proxy.newProxyInstance(
                        DefaultConnection.class.getClassLoader(),
                        new Class<?>[] {Connection.class},
                        (proxy, method, arguments) -> {
                            if (method.getName().equals("close")) {
                                return null;
                            }
                            if (TRANSACTION.contains(method.getName())) {
                                throw new SQLException(
                                        "the transaction belongs to the caller of the routine",
                                        "2D000");
                            }
                            try {
                                return method.invoke(connection, arguments);
                            } catch (InvocationTargetException e) {
                                throw e.getCause();
                            }
                        });
    }

    @Override
    public Connection connect(String url, Properties info) {
        return acceptsURL(url) ? CURRENT.get() : null;
    }

    @Override
    public boolean acceptsURL(String url) {
        return URL.equals(url) && CURRENT.get() != null;
    }

    @Override
    public DriverPropertyInfo[] getPropertyInfo(String url, Properties info) {
        return new DriverPropertyInfo[0];
    }

    @Override
    public int getMajorVersion() {
        return 1;
    }

    @Override
    public int getMinorVersion() {
        return 0;
    }

    @Override
    public boolean jdbcCompliant() {
        return false;
    }

    @Override
    public Logger getParentLogger() throws SQLFeatureNotSupportedException {
        throw new SQLFeatureNotSupportedException();
    }
}
