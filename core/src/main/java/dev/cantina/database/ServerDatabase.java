package dev.cantina.database;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import java.util.function.UnaryOperator;

/** A server that a project's routines run on. */
public interface ServerDatabase extends ProjectDatabase {
    /**
     * Connects to a server of whatever kind its address says.
     *
     * @param root the folder that a password's file is seen from
     * @throws UnreachableException where it can't be used
     */
    static ServerDatabase open(ServerConnection.Address address, Path root) throws SQLException {
        Connection connection = ServerConnection.open(address, root);
        ServerDatabase database = ServerKind.of(address.url()).orElseThrow().database(connection);
        database.reachedBy(() -> ServerConnection.open(address, root));
        return database;
    }

    /** Connects to the server. */
    @FunctionalInterface
    interface Opener {
        Connection open() throws SQLException;
    }

    /** How one more connection to the same server is made, in a transaction. */
    void reachedBy(Opener opener);

    /**
     * Takes away a place of {@link #scratch(String)} with all that was placed for it, and others of
     * that beginning whose makers are gone.
     *
     * @param prefix that such names begin with
     * @param mark that this one's ends with
     */
    void abandon(String prefix, String mark) throws SQLException;

    /**
     * From now on it is spoken to in its own language, and its conditions are told by its own
     * states; the database is this run's own, and nothing in it is to stay.
     */
    void speakOwn() throws SQLException;

    /**
     * In its own language it sees the session's clock from now on.
     *
     * @param sent how the statements of somebody else are sent for that
     * @param made how what it is to have itself is
     */
    default void seeClock(UnaryOperator<String> sent, UnaryOperator<String> made) {}

    /** Whether nothing stands in the database yet, as in one that a run has for itself. */
    default boolean isEmpty() throws SQLException {
        return true;
    }

    /** What kind of server it is. */
    ServerKind kind();

    /** A place of its own for tables and rows, which are gone when this is closed or dies. */
    void scratch() throws SQLException;

    /** The same by a name that the caller gives, and takes away. */
    void scratch(String name) throws SQLException;

    /**
     * Makes code stand on the server for as long as this is open.
     *
     * @return what was made: all but that which stands there already
     */
    List<ServerPart> place(List<ServerPart> parts) throws SQLException;
}
