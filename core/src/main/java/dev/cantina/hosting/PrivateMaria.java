package dev.cantina.hosting;

import dev.cantina.database.ServerConnection;
import dev.cantina.database.ServerConnection.Address;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;

/** A private MariaDB. */
final class PrivateMaria extends PrivateServer {
    private static final String ADMINISTRATOR = "administrator";
    private static final int WAIT_MILLIS = 50;
    private static final int TRIES = 400;

    PrivateMaria(Map<String, String> environment) throws HostingException {
        super("mariadb", environment);
    }

    @Override
    public String title() {
        return "MariaDB";
    }

    @Override
    protected String probe() {
        return "bin/mariadbd";
    }

    @Override
    protected boolean refusesRoot() {
        return false;
    }

    @Override
    protected void initialize(Path programs) throws HostingException, IOException {
        Files.createDirectories(data());
        bootstrap(programs);
        Files.writeString(
                state().resolve("first.sql"),
                "CREATE USER '"
                        + ADMINISTRATOR
                        + "'@'localhost' IDENTIFIED BY '"
                        + Files.readString(password(true))
                        + "';\nGRANT ALL ON *.* TO '"
                        + ADMINISTRATOR
                        + "'@'localhost' WITH GRANT OPTION;\nCREATE USER '"
                        + USER
                        + "'@'localhost' IDENTIFIED BY '"
                        + Files.readString(password(false))
                        + "';\nGRANT ALL ON `"
                        + USER
                        + "\\_%`.* TO '"
                        + USER
                        + "'@'localhost';\nDROP USER IF EXISTS 'root'@'localhost',"
                        + " ''@'localhost', 'root'@'127.0.0.1', 'root'@'::1';\n");
    }

    /**
     * Makes the system's own tables: as the server's script does, without the texts of its help and
     * the schema of views, which take most of the time.
     */
    private void bootstrap(Path programs) throws HostingException, IOException {
        StringBuilder sql =
                new StringBuilder(
                        "CREATE DATABASE IF NOT EXISTS mysql;\nUSE mysql;\nSET @auth_root_socket = NULL;\n");
        Path share =
                Files.isDirectory(programs.resolve("share/mysql"))
                        ? programs.resolve("share/mysql")
                        : programs.resolve("share");
        for (String name : SYSTEM_TABLES) {
            Path file = share.resolve("mariadb_" + name);
            sql.append(
                    Files.readString(Files.exists(file) ? file : share.resolve("mysql_" + name)));
        }
        Path script = state().resolve("system.sql");
        Files.writeString(script, sql);
        List<String> command =
                new ArrayList<>(
                        List.of(
                                programs.resolve("bin/mariadbd").toString(),
                                "--no-defaults",
                                "--bootstrap",
                                "--basedir=" + programs,
                                "--datadir=" + data(),
                                "--tmpdir=" + temporary(),
                                "--max-allowed-packet=8M",
                                "--innodb-log-file-size=16M",
                                "--log-warnings=0"));
        if (System.getProperty("user.name").equals("root")) {
            command.add("--user=root");
        }
        run(command, Map.of(), script);
    }

    /** One of its own: a server that starts takes away what another has in the common one. */
    private Path temporary() throws IOException {
        return Files.createDirectories(state().resolve("temporary"));
    }

    private static final List<String> SYSTEM_TABLES =
            List.of("system_tables.sql", "performance_tables.sql", "system_tables_data.sql");

    @Override
    protected void launch(Path programs, int port) throws HostingException, IOException {
        List<String> command =
                new ArrayList<>(
                        List.of(
                                programs.resolve("bin/mariadbd").toString(),
                                "--no-defaults",
                                "--basedir=" + programs,
                                "--datadir=" + data(),
                                "--tmpdir=" + temporary(),
                                "--bind-address=127.0.0.1",
                                "--port=" + port,
                                "--socket=" + state().resolve("socket"),
                                "--pid-file=" + data().resolve("server.pid"),
                                "--log-error=" + log(),
                                "--init-file=" + state().resolve("first.sql"),
                                "--innodb-flush-log-at-trx-commit=0",
                                "--innodb-buffer-pool-size=64M",
                                "--innodb-log-file-size=16M",
                                "--log-bin-trust-function-creators=1",
                                "--character-set-server=utf8mb4",
                                "--local-infile=0",
                                // A key for encryption takes seconds to make, and nothing leaves
                                // here.
                                "--skip-ssl",
                                "--secure-file-priv=" + data(),
                                "--max-connections=40"));
        if (System.getProperty("user.name").equals("root")) {
            command.add("--user=root");
        }
        if (Files.isExecutable(Path.of("/usr/bin/setsid"))) {
            // What ends this process from the keyboard must not end the server.
            command.add(0, "/usr/bin/setsid");
        }
        Process process =
                new ProcessBuilder(command)
                        .redirectErrorStream(true)
                        .redirectOutput(state().resolve("said").toFile())
                        .redirectInput(ProcessBuilder.Redirect.from(Path.of("/dev/null").toFile()))
                        .start();
        for (int i = 0; i < TRIES; i++) {
            try (Connection connection =
                    ServerConnection.open(address(port, "mysql", true), state())) {
                Files.deleteIfExists(state().resolve("first.sql"));
                connection.rollback();
                return;
            } catch (SQLException e) {
                if (!process.isAlive() && process.exitValue() != 0) {
                    break;
                }
                pause();
            }
        }
        throw trouble("can't be started; its log is " + log());
    }

    private void pause() throws HostingException {
        try {
            TimeUnit.MILLISECONDS.sleep(WAIT_MILLIS);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw trouble("was not waited for");
        }
    }

    @Override
    protected void end() throws HostingException, IOException {
        Path file = data().resolve("server.pid");
        if (!Files.exists(file)) {
            return;
        }
        Optional<ProcessHandle> server =
                ProcessHandle.of(Long.parseLong(Files.readString(file).strip()))
                        .filter(
                                p ->
                                        p.info()
                                                .command()
                                                .map(c -> c.endsWith("mariadbd"))
                                                .orElse(false));
        if (server.isPresent()) {
            server.get().destroy();
            for (int i = 0; i < TRIES && server.get().isAlive(); i++) {
                pause();
            }
        }
    }

    @Override
    protected Address address(int port, String database, boolean administrator) {
        return new Address(
                NAME,
                "jdbc:mariadb://127.0.0.1:" + port + "/" + database,
                administrator ? ADMINISTRATOR : USER,
                "file:" + password(administrator));
    }

    @Override
    protected void create(int port, String database) throws HostingException {
        try (Connection connection = ServerConnection.open(address(port, "", false), state());
                Statement statement = connection.createStatement()) {
            statement.execute("CREATE DATABASE IF NOT EXISTS `" + database + "`");
        } catch (SQLException e) {
            throw trouble("makes no database: " + e.getMessage());
        }
    }
}
