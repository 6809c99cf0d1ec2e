package dev.cantina.hosting;

import dev.cantina.database.ServerConnection;
import dev.cantina.database.ServerConnection.Address;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.Map;

/** A private PostgreSQL. */
final class PrivatePostgres extends PrivateServer {
    private static final String ADMINISTRATOR = "administrator";

    PrivatePostgres(Map<String, String> environment) throws HostingException {
        super("postgresql", environment);
    }

    @Override
    public String title() {
        return "PostgreSQL";
    }

    @Override
    protected String probe() {
        return "bin/initdb";
    }

    @Override
    protected boolean refusesRoot() {
        return true;
    }

    @Override
    protected void initialize(Path programs) throws HostingException, IOException {
        run(
                List.of(
                        programs.resolve("bin/initdb").toString(),
                        "-D",
                        data().toString(),
                        "-U",
                        ADMINISTRATOR,
                        "--pwfile=" + password(true),
                        "-A",
                        "scram-sha-256",
                        "-E",
                        "UTF8",
                        "--locale=C",
                        "--no-sync"),
                Map.of());
        // Nothing in it is worth a disk's patience. The long query texts carry what a debugger
        // says.
        Files.writeString(
                data().resolve("postgresql.auto.conf"),
                """
                listen_addresses = '127.0.0.1'
                unix_socket_directories = ''
                fsync = off
                synchronous_commit = off
                full_page_writes = off
                wal_level = minimal
                max_wal_senders = 0
                max_connections = 40
                max_locks_per_transaction = 512
                shared_buffers = 64MB
                autovacuum = off
                # A project's statements that fail are no matter for a log that only grows.
                log_min_messages = log
                log_min_error_statement = panic
                track_activity_query_size = 262144
                """);
    }

    @Override
    protected void launch(Path programs, int port) throws HostingException, IOException {
        run(
                List.of(
                        programs.resolve("bin/pg_ctl").toString(),
                        "-D",
                        data().toString(),
                        "-l",
                        log().toString(),
                        "-o",
                        "-p " + port,
                        "-w",
                        "-t",
                        "20",
                        "start"),
                Map.of());
        try (Connection connection =
                        ServerConnection.open(address(port, "postgres", true), state());
                Statement statement = connection.createStatement()) {
            statement.execute(
                    "CREATE ROLE "
                            + USER
                            + " LOGIN CREATEDB PASSWORD '"
                            + Files.readString(password(false))
                            + "'");
            connection.commit();
        } catch (SQLException e) {
            throw trouble("can't be prepared: " + e.getMessage());
        }
    }

    @Override
    protected void end() throws HostingException, IOException {
        if (!Files.exists(data().resolve("postmaster.pid"))) {
            return;
        }
        run(
                List.of(
                        programs().resolve("bin/pg_ctl").toString(),
                        "-D",
                        data().toString(),
                        "-m",
                        "fast",
                        "-w",
                        "stop"),
                Map.of());
    }

    @Override
    protected Address address(int port, String database, boolean administrator) {
        return new Address(
                NAME,
                // A text may become a value of whatever type is wanted.
                "jdbc:postgresql://127.0.0.1:" + port + "/" + database + "?stringtype=unspecified",
                administrator ? ADMINISTRATOR : USER,
                "file:" + password(administrator));
    }

    @Override
    protected void create(int port, String database) throws HostingException {
        try (Connection connection =
                        ServerConnection.open(address(port, "postgres", false), state());
                Statement statement = connection.createStatement()) {
            boolean there;
            try (ResultSet row =
                    statement.executeQuery(
                            "SELECT 1 FROM pg_database WHERE datname = '" + database + "'")) {
                there = row.next();
            }
            if (!there) {
                connection.rollback();
                connection.setAutoCommit(true);
                statement.execute("CREATE DATABASE " + database + " TEMPLATE template0");
            }
        } catch (SQLException e) {
            throw trouble("makes no database: " + e.getMessage());
        }
    }

    @Override
    protected void drop(int port, String database) throws HostingException {
        try (Connection connection =
                        ServerConnection.open(address(port, "postgres", false), state());
                Statement statement = connection.createStatement()) {
            connection.rollback();
            connection.setAutoCommit(true);
            statement.execute("DROP DATABASE IF EXISTS " + database + " WITH (FORCE)");
        } catch (SQLException e) {
            throw trouble("takes no database away: " + e.getMessage());
        }
    }

    /** What a role is known by that a project has made. */
    private static final String MADE = "made for projects";

    @Override
    protected void role(int port, String name, boolean inherits) throws SQLException {
        String quoted = '"' + name.replace("\"", "\"\"") + '"';
        String inheriting = inherits ? "INHERIT" : "NOINHERIT";
        // Several runs may want the same one at once.
        administer(
                port,
                "SELECT pg_advisory_xact_lock(1)",
                """
                DO $do$ BEGIN
                  IF NOT EXISTS (SELECT 1 FROM pg_roles WHERE rolname = %1$s) THEN
                    CREATE ROLE %2$s NOLOGIN;
                    COMMENT ON ROLE %2$s IS '%3$s';
                    GRANT %2$s TO %4$s;
                  ELSIF shobj_description((SELECT oid FROM pg_roles WHERE rolname = %1$s), 'pg_authid')
                        IS DISTINCT FROM '%3$s' THEN
                    RAISE EXCEPTION USING ERRCODE = '42710', MESSAGE = 'role ' || %1$s
                      || ' is one of the server''s own';
                  END IF;
                  IF (SELECT rolinherit FROM pg_roles WHERE rolname = %1$s) <> %5$s THEN
                    ALTER ROLE %2$s %6$s;
                  END IF;
                END $do$"""
                        .formatted(
                                "'" + name.replace("'", "''") + "'",
                                quoted,
                                MADE,
                                USER,
                                inherits,
                                inheriting));
    }

    @Override
    protected void member(int port, String role, String of, boolean is) throws SQLException {
        String member = '"' + role.replace("\"", "\"\"") + '"';
        String group = '"' + of.replace("\"", "\"\"") + '"';
        administer(
                port,
                "SELECT pg_advisory_xact_lock(1)",
                is ? "GRANT " + group + " TO " + member : "REVOKE " + group + " FROM " + member);
    }

    /** The administrator's connection, for as long as a project may want more of him. */
    private Connection administrator;

    private void administer(int port, String... statements) throws SQLException {
        if (administrator == null) {
            administrator = ServerConnection.open(address(port, "postgres", true), state());
        }
        try (Statement statement = administrator.createStatement()) {
            statement.setEscapeProcessing(false);
            for (String sql : statements) {
                statement.execute(sql);
            }
            administrator.commit();
        } catch (SQLException e) {
            left();
            throw e;
        }
    }

    @Override
    protected void left() {
        try {
            if (administrator != null) {
                administrator.close();
            }
        } catch (SQLException e) {
            // The server is gone, and the connection with it.
            return;
        } finally {
            administrator = null;
        }
    }
}
