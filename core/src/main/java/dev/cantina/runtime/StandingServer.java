package dev.cantina.runtime;

import dev.cantina.types.SqlType;
import java.sql.Connection;
import java.sql.SQLException;

/** A server that is busy with a routine which stands at a statement, and answers meanwhile. */
public interface StandingServer {
    /**
     * Runs a query inside the running transaction.
     *
     * @param most how many rows to read at most
     */
    ResultRows query(String sql, long most) throws SQLException;

    /** Runs a change inside the running transaction; gives the number of rows. */
    int change(String sql) throws SQLException;

    /** Another connection that sees what the running transaction has written; null for none. */
    default Connection connection() {
        return null;
    }

    /** Ends what it is asked just now; may be called from any thread. */
    void callOff();

    /** A value as it stands in a statement's text. */
    String literal(Object value, SqlType type);

    /** The one text that a query gives; null where it gives NULL or no row. */
    String text(String sql) throws SQLException;
}
