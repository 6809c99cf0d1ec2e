package dev.cantina.deploy;

import dev.cantina.catalog.Catalog;
import dev.cantina.check.Binder;
import java.sql.SQLException;
import java.util.Collection;
import java.util.List;
import java.util.Map;

/** A server that routines are shipped to. */
public interface Server extends AutoCloseable {
    /** What it is, for a person: its kind, version and the schema that is shipped to. */
    String description() throws SQLException;

    Translation translate(Catalog catalog, Binder binder);

    /** Names of the project's tables that it has not got. */
    List<String> missing(Catalog catalog) throws SQLException;

    /** The objects whose names it has for something of its own, so that calls would miss them. */
    List<ServerObject> hidden(List<ServerObject> objects) throws SQLException;

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
            String standing) {}

    /** How the parts stand on the server now, by identity; one that is not there is left out. */
    Map<String, String> standing(Collection<String> identities) throws SQLException;

    /**
     * Does what a plan says, all of it or nothing.
     *
     * @throws SQLException with nothing done
     */
    void perform(String project, Plan plan, List<ServerObject> support) throws SQLException;

    @Override
    void close() throws SQLException;
}
