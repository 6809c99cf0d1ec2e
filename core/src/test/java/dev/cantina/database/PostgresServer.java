package dev.cantina.database;

import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;

/**
 * A PostgreSQL server for the tests of one run: {@code CANTINA_POSTGRESQL_URL}, or one of their
 * own.
 */
public final class PostgresServer {
    private static String url;
    private static int count;

    private PostgresServer() {}

    /** The server's address, user included; it is started when this is first asked for. */
    public static synchronized String url() {
        if (url == null) {
            String own = System.getenv("CANTINA_POSTGRESQL_URL");
            url = own != null ? own : started();
        }
        return url;
    }

    private static String started() {
        try {
            EmbeddedPostgres server = EmbeddedPostgres.builder().start();
            Runtime.getRuntime()
                    .addShutdownHook(
                            new Thread(
                                    () -> {
                                        try {
                                            server.close();
                                        } catch (IOException e) {
                                            throw new UncheckedIOException(e);
                                        }
                                    }));
            return server.getJdbcUrl("postgres", "postgres");
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** The address of a schema of its own with these tables. */
    public static synchronized String schema(String tables) throws SQLException {
        String name = "cantina_test_" + ProcessHandle.current().pid() + "_" + count++;
        try (Connection connection = DriverManager.getConnection(url());
                Statement statement = connection.createStatement()) {
            statement.execute("CREATE SCHEMA " + name);
            statement.execute("SET search_path TO " + name);
            statement.execute(tables);
        }
        return url() + "&currentSchema=" + name;
    }
}
