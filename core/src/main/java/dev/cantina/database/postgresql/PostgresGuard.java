package dev.cantina.database.postgresql;

import dev.cantina.database.ServerConnection;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Statement;
import org.postgresql.PGConnection;
import org.postgresql.jdbc.AutoSave;

/**
 * Marks in a transaction of PostgreSQL, and statements that undo themselves alone when they fail:
 * there a failure spoils the whole transaction, unless a savepoint stands before it.
 *
 * <p>A statement that is sent often takes its savepoint with it: the one before is released, the
 * new one set, and the statement run, in one message. (The driver can do the same by itself, and
 * does for all other statements; it needs three messages. It leaves a text alone that begins with
 * RELEASE.)
 */
final class PostgresGuard {
    private static final String SAVEPOINT = "SAVEPOINT cantina_statement";
    private static final String BEFORE = "RELEASE " + SAVEPOINT + "; " + SAVEPOINT + "; ";

    private final Connection connection;
    private boolean on = true;

    /** Whether the savepoint of the statement before stands, with no mark above it. */
    private boolean standing;

    private long marks;

    /**
     * @param connection whose driver guards all statements, as {@link ServerConnection} opens it
     */
    PostgresGuard(Connection connection) {
        this.connection = connection;
    }

    boolean isOn() {
        return on;
    }

    /** Whether statements are guarded from now on. */
    void turn(boolean wanted) throws SQLException {
        connection
                .unwrap(PGConnection.class)
                .setAutosave(wanted ? AutoSave.ALWAYS : AutoSave.NEVER);
        on = wanted;
    }

    /** Somebody else has set marks or gone back. */
    void forget() {
        standing = false;
    }

    /** A statement with what makes it guard itself, for {@link #execute}. */
    String text(String sql) {
        return BEFORE + sql;
    }

    /**
     * Runs a statement of {@link #text}.
     *
     * @return whether it gives rows, as {@link PreparedStatement#execute} does
     */
    boolean execute(PreparedStatement statement) throws SQLException {
        if (!standing) {
            send(SAVEPOINT);
            standing = true;
        }
        try {
            statement.execute();
            statement.getMoreResults();
            return statement.getMoreResults();
        } catch (SQLException e) {
            undo(e);
            throw e;
        }
    }

    private void undo(SQLException reason) {
        try {
            send("ROLLBACK TO " + SAVEPOINT);
        } catch (SQLException e) {
            // The connection is gone, which the reason says.
            standing = false;
            reason.addSuppressed(e);
        }
    }

    /** Marks this moment; the statements' own savepoint stands above it, and never below. */
    String mark() throws SQLException {
        String mark = "cantina_mark_" + ++marks;
        send(
                (standing ? "RELEASE " + SAVEPOINT + "; " : "")
                        + "SAVEPOINT "
                        + mark
                        + (on ? "; " + SAVEPOINT : ""));
        standing = on;
        return mark;
    }

    void rollbackTo(String mark) throws SQLException {
        send("ROLLBACK TO SAVEPOINT " + mark + (on ? "; " + SAVEPOINT : ""));
        standing = on;
    }

    private void send(String sql) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.execute(sql);
        }
    }
}
