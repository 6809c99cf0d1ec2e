package dev.cantina.runtime;

import dev.cantina.types.Condition;
import dev.cantina.types.SqlType;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.Optional;

/**
 * What the runtime needs of a database: a connection inside a transaction, and what differs from
 * one database to the next. One adapter each in {@code dev.cantina.database}.
 */
public interface Database {
    /**
     * Asks whether it takes a statement, without running it.
     *
     * @throws SQLException where it is none, or names what is not there
     */
    default void validate(String sql) throws SQLException {
        connection().prepareStatement(sql).close();
    }

    /**
     * Looks at a statement that is only known as a text before it is given to the database.
     *
     * @throws SQLException where no project may give it such a statement
     */
    default void admit(String statement) throws SQLException {}

    /** The name of a table that belongs to a routine, as SQL has it, of its key. */
    default String ownTable(String key) {
        return '"' + key.replace("\"", "\"\"") + '"';
    }

    /**
     * Looks at what a query that was run has warned of.
     *
     * @throws SQLException where the standard has an exception for what the database only warns of
     */
    default void checkWarnings(Statement query) throws SQLException {}

    /**
     * The messages that a statement has brought along: what code of the server's own has said while
     * it ran. Asked for once.
     */
    default List<String> notices(Statement statement) throws SQLException {
        return List.of();
    }

    /** The connection of the session, with auto-commit off. */
    Connection connection();

    /** A statement in the standard's words as this database wants it written. */
    default String words(String statement) {
        return statement;
    }

    /** How a parameter of a type is written in a statement: a question mark, typed if need be. */
    String parameter(SqlType type);

    /** The standard condition that an error of this database means. */
    Condition condition(SQLException error);

    /** The type of a result's column, counted from 1. */
    SqlType typeOf(ResultSetMetaData columns, int column) throws SQLException;

    /** A result's column, counted from 1, named as its author wrote it. */
    String columnName(ResultSetMetaData columns, int column) throws SQLException;

    /** A value of a result, as {@link SqlType} says values are held. */
    Object read(ResultSet row, int column, SqlType type) throws SQLException;

    /** A value as the driver takes it. */
    Object driverValue(Object value, SqlType type);

    /**
     * Marks this moment of the transaction. It may be called while a statement is running, from a
     * trigger for one.
     */
    Object mark() throws SQLException;

    /** Takes back all since the mark, which stays good. */
    void rollbackTo(Object mark) throws SQLException;

    /** Takes all rows out of a table that belongs to a routine, and begins its numbers anew. */
    void empty(String table) throws SQLException;

    /**
     * How far the transaction's log of changes has got; it grows with every change, and goes back
     * when changes are taken back.
     */
    long position() throws SQLException;

    /**
     * Whether what was done up to a position was taken back by the database itself, as far as it
     * can tell that without being asked.
     */
    default boolean isBehind(long position) {
        return false;
    }

    /** Whether {@link #position} tells of each change; otherwise nobody writes them down. */
    default boolean tellsChanges() {
        return true;
    }

    /** The rows that are not as they were at a position, in the order of their first change. */
    List<RowChange> changesSince(long position) throws SQLException;

    /**
     * How a statement finds its rows, table by table, as the database itself tells it. It may run
     * the statement in order to find out; the caller takes back what that changes.
     *
     * @param values for the markers, as the driver takes them
     * @throws SQLException where it can't tell
     */
    List<AccessPath> accessPaths(String sql, Object[] values) throws SQLException;

    /**
     * Says whether a statement that fails must undo itself alone, because somebody goes on after
     * it; otherwise a failure may leave the transaction good for nothing but going back to a mark.
     * A database where it is always so need not listen.
     */
    default void guard(boolean on) throws SQLException {}

    /** Whether it listens, and is to undo statements that fail. */
    default boolean isGuarded() {
        return false;
    }

    /** A statement that is sent often, with what makes its failure undo it alone. */
    default String guarded(String sql) {
        return sql;
    }

    /**
     * Runs a statement prepared from what {@link #guarded} gave.
     *
     * @return whether it gives rows, as {@link PreparedStatement#execute} does
     */
    default boolean executeGuarded(PreparedStatement statement) throws SQLException {
        return statement.execute();
    }

    /**
     * A routine of the server's own may end transactions from now on, or no longer. All that was
     * done so far is made last first, and nothing of it can be taken back any more.
     */
    default void letCommit(boolean on) throws SQLException {
        throw new UnsupportedOperationException();
    }

    /** Whether the current time can be made another for a run. */
    default boolean hasClock() {
        return true;
    }

    /**
     * What answers while the connection is busy with a routine that stands; empty where it is not.
     */
    default Optional<StandingServer> standing() {
        return Optional.empty();
    }

    /** From now on this answers; null where the connection does so itself again. */
    default void standing(StandingServer server) {}

    /**
     * Ends the real transaction, for good; where another begins, that is for the next statement.
     */
    default void end(boolean commit) throws SQLException {
        if (commit) {
            connection().commit();
        } else {
            connection().rollback();
        }
    }

    /** A schema statement was run, which may have ended the transaction. */
    void schemaChanged();

    /** Makes triggers and functions of the database run in this session, until it is closed. */
    void attach(Session session);

    /** Ends what {@link #attach} began. */
    void detach(Session session);
}
