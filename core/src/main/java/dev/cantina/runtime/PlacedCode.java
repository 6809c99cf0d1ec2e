package dev.cantina.runtime;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.runtime.ServerRoutines.ServerRun;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.concurrent.Callable;

/**
 * Copies of a program's routines, in a server's language, that the server runs by itself: its
 * triggers, and the functions that SQL calls. They can tell what happens in them.
 */
public interface PlacedCode extends AutoCloseable {
    /**
     * Somebody is going to watch runs, before any row is changed: the copies are made to tell.
     *
     * @param detail how much the probe wants
     * @return whether something was made that ends the transaction
     * @throws SQLException where the server refuses it
     */
    boolean expect(Probe.Detail detail) throws SQLException;

    /**
     * The copies are made to tell whoever wants to hear of it, on any number of connections, for as
     * long as they stand; the caller commits it.
     *
     * @param detail how much may be wanted
     * @throws SQLException where the server refuses it
     */
    void share(Probe.Detail detail) throws SQLException;

    /**
     * Follows the statements of a session that is watched.
     *
     * @param connection the session's; another than that on which they were placed only where they
     *     are shared
     * @throws SQLException where the server refuses it
     */
    Follower follow(Connection connection, ServerRun run) throws SQLException;

    /** Whether a routine has a copy that can tell. */
    boolean tellsOf(BoundRoutine routine);

    @Override
    void close();

    /** Follows what a session's statements set off. */
    interface Follower extends AutoCloseable {
        /**
         * Runs a statement, and hears what the copies tell meanwhile.
         *
         * @param work runs it; what it gives is given back
         * @throws SQLException as the server raises it; where a copy was running, with what it was
         *     raised as for its cause
         */
        boolean execute(Statement statement, Callable<Boolean> work) throws SQLException;

        @Override
        void close();
    }
}
