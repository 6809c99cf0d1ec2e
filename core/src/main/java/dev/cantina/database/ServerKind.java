package dev.cantina.database;

import dev.cantina.database.mariadb.MariaKind;
import dev.cantina.database.postgresql.PostgresKind;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import java.util.Properties;

/** A kind of server: what has to be known to reach one and to run on it. */
public interface ServerKind {
    /** All that there are. A new server is a line here, and a room each below. */
    List<ServerKind> ALL = List.of(new PostgresKind(), new MariaKind());

    /** Its name in projects and on the command line, in lower case. */
    String name();

    /** What people call it. */
    String title();

    /** What its addresses begin with. */
    String prefix();

    /** The lowest version that is wanted. */
    Version lowest();

    /** How an address says whether the connection is encrypted. */
    String encryption();

    /** Adds what its driver has to be told. */
    void prepare(Properties properties, int timeoutSeconds);

    /** Sets a new session so that it takes the standard's words for what they mean. */
    void begin(Connection connection) throws SQLException;

    /** A server that routines run on. */
    ServerDatabase database(Connection connection) throws SQLException;

    /** A version of a server. */
    record Version(int major, int minor) {
        boolean isBefore(Version other) {
            return major < other.major || major == other.major && minor < other.minor;
        }

        /** As people write it: without a minor one of 0. */
        @Override
        public String toString() {
            return minor == 0 ? String.valueOf(major) : major + "." + minor;
        }
    }

    /** The kind whose address a url is. */
    static Optional<ServerKind> of(String url) {
        return ALL.stream().filter(kind -> url.startsWith(kind.prefix())).findFirst();
    }

    /** The kind of a name. */
    static Optional<ServerKind> named(String name) {
        return ALL.stream().filter(kind -> kind.name().equals(name)).findFirst();
    }
}
