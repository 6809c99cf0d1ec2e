package dev.cantina.database;

import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Describer;
import dev.cantina.catalog.Table;
import dev.cantina.runtime.Database;
import dev.cantina.syntax.Source;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;

/**
 * The database that a project's routines run on, open for as long as the project is. What is done
 * in it is taken back unless somebody keeps it.
 */
public interface ProjectDatabase extends Database, Describer, AutoCloseable {
    /** The tables as they are now. */
    List<Table> tables() throws SQLException;

    /**
     * Runs a script of the project's tables, or of a fixture.
     *
     * @throws DatabaseException with the statement that the database refuses
     */
    void create(Source script) throws DatabaseException;

    /** Why calls can't be made with the rights of a role; empty where they can. */
    default Optional<String> cannotActAs(String role) throws SQLException {
        return Optional.of(
                "as is for routines in PostgreSQL's own language: elsewhere a role takes no rights"
                        + " away");
    }

    /** Makes identity columns go on after the numbers that are there. */
    void numberOn(List<Table> tables) throws SQLException;

    /**
     * The rows of a fixture are about to come. Foreign keys in a circle, which no order of tables
     * satisfies, are looked at by {@link #afterFixture} where the database can wait with them.
     */
    default void beforeFixture() throws SQLException {}

    /**
     * All rows of a fixture are there.
     *
     * @throws SQLException where one refers to a row that is not there
     */
    default void afterFixture() throws SQLException {}

    /** What an INSERT says before VALUES so that it gives even the keys that are numbered. */
    default String givesKeys() {
        return "";
    }

    /** The keys of the same tables, those that others refer to before those. */
    List<String> inReferenceOrder(List<String> tables) throws SQLException;

    /** A table's or a column's name, as a statement may say it whatever it is. */
    String written(String name, String key);

    /** Makes the routines of a catalog known, as far as SQL calls them or sets them off. */
    void install(Catalog catalog) throws SQLException;

    /** Keeps the rows and numbers as they are now, for {@link #restore}. */
    void keep() throws SQLException;

    /** Takes back all since {@link #keep}; where {@link #isAltered}, that can't be done. */
    void restore() throws SQLException;

    /** Whether a schema statement has been run that the database commits by itself. */
    boolean isAltered();

    /**
     * Another connection to the same tables and rows, with transactions of its own; what is
     * committed on one is there for the other. This one must stay open meanwhile.
     *
     * @param tables that there are
     */
    default ProjectDatabase beside(List<Table> tables) throws SQLException {
        throw new UnsupportedOperationException();
    }

    /**
     * Whether another connection, of {@link #beside}, waits for a lock of a third.
     *
     * @param by runs its statement
     */
    default boolean waitsForLock(ProjectDatabase another, Thread by) throws SQLException {
        throw new UnsupportedOperationException();
    }

    /** How long to wait before {@link #waitsForLock} is asked again; its answer is new then. */
    default int lockWaitPauseMillis() {
        return 2;
    }

    /** How often in a row it must say so until that is sure. */
    default int lockWaitLooks() {
        return 2;
    }

    /** A statement that is run. */
    interface Running<T> {
        T run() throws SQLException;
    }

    /** Runs a statement, by which the database may call back to this connection's session. */
    default <T> T running(Running<T> work) throws SQLException {
        return work.run();
    }

    /** Makes what was done since the opening last; nothing of Cantina's own stays behind. */
    void commit() throws SQLException;

    /** Makes the database's random numbers those that follow from a seed. */
    void seed(int seed) throws SQLException;

    @Override
    void close() throws SQLException;
}
