package dev.cantina.importing;

import dev.cantina.importing.mariadb.MariaLive;
import dev.cantina.importing.postgresql.PgLive;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import java.util.Map;

/** A server that is read from, in one transaction that can't write, and sees one moment. */
public interface LiveServer {
    /** Begins to read on a connection. */
    interface Opening {
        LiveServer on(Connection connection) throws SQLException;
    }

    /** All that there are, by the names of their kinds of server. */
    Map<String, Opening> KINDS = Map.of("postgresql", PgLive::new, "mariadb", MariaLive::new);

    /**
     * All that is to be had.
     *
     * @param schemas those that are wanted; empty for all that are the user's
     * @throws UnknownSchemaException where there is none of a name
     */
    Live read(List<String> schemas) throws SQLException, UnknownSchemaException;

    /**
     * The first rows of a table, in the order of its key.
     *
     * @return values as a fixture has them; null for NULL
     */
    List<String[]> first(LiveTable table, int most) throws SQLException;

    /** The rows of a table that a query gives, with all its columns. */
    List<String[]> of(LiveTable table, String query) throws SQLException;

    /**
     * The rows that have these values.
     *
     * @param columns the positions of the columns that are looked at
     * @param values of those columns, row by row
     */
    List<String[]> with(LiveTable table, List<Integer> columns, List<List<String>> values)
            throws SQLException;

    /** A schema that is not there. */
    final class UnknownSchemaException extends Exception {
        private static final long serialVersionUID = 1L;

        public UnknownSchemaException(String message) {
            super(message);
        }
    }
}
