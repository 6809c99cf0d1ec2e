package dev.cantina.ship;

import dev.cantina.binding.Binder;
import dev.cantina.catalog.Catalog;
import dev.cantina.database.ServerConnection;
import dev.cantina.database.ServerKind;
import dev.cantina.ship.mariadb.MariaTarget;
import dev.cantina.ship.postgresql.PostgresTarget;
import dev.cantina.translate.ServerObject;
import dev.cantina.translate.Translation;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** A server that routines are shipped to. */
public interface Server extends AutoCloseable {
    /** Makes one of a connection. */
    interface Opening {
        Server open(Connection connection) throws SQLException;
    }

    /** All that there are, by the names of their kinds. */
    Map<String, Opening> KINDS =
            Map.of("postgresql", PostgresTarget::new, "mariadb", MariaTarget::new);

    /**
     * Connects to a server of whatever kind its address says.
     *
     * @param root the folder that a password's file is seen from
     */
    static Server open(ServerConnection.Address address, Path root) throws SQLException {
        Connection connection = ServerConnection.open(address, root);
        String kind = ServerKind.of(address.url()).orElseThrow().name();
        return KINDS.get(kind).open(connection);
    }

    /** What it is, for a person: its kind, version and the schema that is shipped to. */
    String description() throws SQLException;

    /** A project in its language, as it is to stand in the place that is shipped to. */
    Translation translate(Catalog catalog, Binder binder) throws SQLException;

    /** Names are looked for in these schemas from now on, where the server knows such a thing. */
    default void searchPath(List<String> schemas) throws SQLException {}

    /** Those of some tables, by their own names, that it has not got. */
    List<String> missing(List<String> tables) throws SQLException;

    /** Names of the project's tables that it has not got. */
    List<String> missing(Catalog catalog) throws SQLException;

    /** The objects whose names it has for something of its own, so that calls would miss them. */
    List<ServerObject> hidden(List<ServerObject> objects) throws SQLException;

    /**
     * What was said of the project's sources when all of it was shipped, so that nothing need be
     * translated where they are the same; empty where not all of it was.
     */
    String fingerprint(String project) throws SQLException;

    /** What a translation depends on beside the project's sources. */
    default String circumstances() throws SQLException {
        return "";
    }

    /** What was shipped before from a project, in the order of creation. */
    List<Entry> ledger(String project) throws SQLException;

    /**
     * What the ledger knows of a part.
     *
     * @param shipped the statement that made it
     * @param standing what the server said it had right after that
     */
    record Entry(
            String kind,
            String name,
            String file,
            String identity,
            String shipped,
            String drop,
            String standing) {
        /** Read from a row of these columns, in this order. */
        public static Entry of(ResultSet row) throws SQLException {
            return new Entry(
                    row.getString(1),
                    row.getString(2),
                    row.getString(3),
                    row.getString(4),
                    row.getString(5),
                    row.getString(6),
                    row.getString(7));
        }
    }

    /**
     * Whether something that Cantina needs itself is needed by what other projects have shipped.
     *
     * @throws SQLException where the connection is broken
     */
    default boolean isShared(String project, Entry entry) throws SQLException {
        return false;
    }

    /** How the parts stand on the server now, by identity; one that is not there is left out. */
    Map<String, String> standing(Collection<String> identities) throws SQLException;

    /** What a ship that was cut off has left behind, in words; empty where there is nothing. */
    default Optional<String> unfinished() throws SQLException {
        return Optional.empty();
    }

    /** Puts back what stood there before a ship that was cut off. */
    default void recover() throws SQLException {}

    /**
     * Does what a plan says, all of it or nothing.
     *
     * @param fingerprint of the sources, where all of them are shipped; otherwise empty
     * @throws SQLException with nothing done
     */
    void perform(String project, Plan plan, String fingerprint) throws SQLException;

    @Override
    void close() throws SQLException;
}
