package dev.cantina.hosting;

import dev.cantina.database.ServerConnection;
import dev.cantina.database.ServerConnection.Address;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ThreadLocalRandom;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A database of a run's own on a PostgreSQL that is somebody else's: made for it, and taken away
 * after it. What a run that was killed has left is taken away by a later one.
 */
public final class GuestDatabase implements PrivateServer.Lease {
    /** What such databases are called: with the second in which they were made. */
    private static final String NAME = "cantina_run_";

    private static final int LEFT_SECONDS = 600;

    private static final Pattern URL =
            Pattern.compile("^(jdbc:postgresql:(?://[^/?]*/)?)([^?]*)(\\?.*)?$");

    private final Address host;
    private final Path root;
    private final String name;

    private GuestDatabase(Address host, Path root, String name) {
        this.host = host;
        this.root = root;
        this.name = name;
    }

    /**
     * Makes one.
     *
     * @param host an address of the server
     * @param root the folder that a password's file is seen from
     * @throws HostingException where the user may make none there
     * @throws SQLException where the server can't be reached
     */
    public static GuestDatabase on(Address host, Path root) throws HostingException, SQLException {
        long now = Instant.now().getEpochSecond();
        String name = NAME + now + "_" + Integer.toHexString(ThreadLocalRandom.current().nextInt());
        try (Connection connection = ServerConnection.open(host, root)) {
            connection.rollback();
            connection.setAutoCommit(true);
            try (Statement statement = connection.createStatement()) {
                for (String left : left(statement, now)) {
                    statement.execute("DROP DATABASE IF EXISTS \"" + left + "\"");
                }
                statement.execute("CREATE DATABASE " + name + " TEMPLATE template0");
            } catch (SQLException e) {
                if ("42501".equals(e.getSQLState())) {
                    throw new HostingException(
                            "a run on "
                                    + host.name()
                                    + " wants a database of its own there, and its user may make none:"
                                    + " ALTER ROLE … CREATEDB lets it");
                }
                throw e;
            }
        }
        return new GuestDatabase(host, root, name);
    }

    /** The user's own of such databases that are old, and that nobody is connected to. */
    private static List<String> left(Statement statement, long now) throws SQLException {
        List<String> left = new ArrayList<>();
        try (ResultSet row =
                statement.executeQuery(
                        "SELECT datname FROM pg_database d WHERE datname ~ '^"
                                + NAME
                                + "[0-9]+_' AND pg_get_userbyid(datdba) = current_user"
                                + " AND split_part(datname, '_', 3)::bigint < "
                                + (now - LEFT_SECONDS)
                                + " AND NOT EXISTS (SELECT 1 FROM pg_stat_activity a"
                                + " WHERE a.datid = d.oid)")) {
            while (row.next()) {
                left.add(row.getString(1));
            }
        }
        return left;
    }

    @Override
    public Address address() {
        Matcher url = URL.matcher(host.url());
        if (!url.matches()) {
            throw new IllegalStateException("no url of PostgreSQL");
        }
        String options = url.group(3) == null ? "?" : url.group(3) + "&";
        return new Address(
                host.name(),
                // A text may become a value of whatever type is wanted.
                url.group(1) + name + options + "stringtype=unspecified",
                host.user(),
                host.password());
    }

    @Override
    public void staying() {}

    @Override
    public void role(String role, boolean inherits) throws SQLException {
        try (Connection connection = ServerConnection.open(host, root);
                Statement statement = connection.createStatement();
                ResultSet row =
                        statement.executeQuery(
                                "SELECT 1 FROM pg_roles WHERE rolname = '"
                                        + role.replace("'", "''")
                                        + "'")) {
            if (!row.next()) {
                throw new SQLException(
                        "role \"" + role + "\" does not exist, and " + NO_ROLES, "0LP01");
            }
        }
    }

    /** Who is a member of what is that server's business. */
    @Override
    public void member(String role, String of, boolean is) {}

    @Override
    public void close() {
        try (Connection connection = ServerConnection.open(host, root)) {
            connection.rollback();
            connection.setAutoCommit(true);
            try (Statement statement = connection.createStatement()) {
                statement.execute("DROP DATABASE IF EXISTS " + name + " WITH (FORCE)");
            }
        } catch (SQLException e) {
            // A later run takes it away.
            return;
        }
    }
}
