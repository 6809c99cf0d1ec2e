package dev.cantina.runtime;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.syntax.Expression;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.Optional;

/**
 * The session of a program that calls routines and sends statements of its own. Its transactions
 * are real: what it commits is there for others. What a condition ends is taken back, and nothing
 * before it.
 */
public final class CallerSession implements AutoCloseable {
    private final Session session;
    private final Transaction transaction;

    /** What sends a statement, and gives what came of it. */
    public interface Sending {
        Object send() throws SQLException;
    }

    /**
     * @param session that nobody else uses; closed with this
     */
    public CallerSession(Session session) {
        this.session = session;
        this.transaction = session.transaction();
        transaction.real();
    }

    public Session session() {
        return session;
    }

    /**
     * Says whether each statement is a transaction of its own, or whether they belong to one that
     * {@link #commit} or {@link #rollback} ends.
     */
    public void setAutoCommit(boolean each) {
        transaction.open(!each);
    }

    /**
     * Calls a routine.
     *
     * @param arguments as {@link Session#run} takes them
     * @throws Program.UnsoundException where it, or what it reaches, has errors
     */
    public Outcome call(RoutineSymbol routine, List<Optional<Object>> arguments) {
        return session.call(routine, arguments);
    }

    /**
     * Has a statement sent; what it gives is the outcome's returned value.
     *
     * @param statement its text, by which its triggers know what it sets
     * @param on what is executed once by it; empty where nobody can hear what that sets off on a
     *     server
     */
    public Outcome send(String statement, Optional<Statement> on, Sending sending) {
        return session.send(statement, on, sending::send);
    }

    /** Has a value that stands in a call worked out; the outcome's returned value. */
    public Outcome evaluate(Expression expression) {
        return session.work(expression);
    }

    public void commit() throws SQLException {
        transaction.commit();
    }

    public void rollback() throws SQLException {
        transaction.rollback();
    }

    /** This moment of the transaction, for {@link #backTo}. */
    public Mark mark() throws SQLException {
        return transaction.mark();
    }

    /** Takes back all since a moment of the same transaction. */
    public void backTo(Mark mark) throws SQLException {
        transaction.rollbackTo(mark);
    }

    /** How often something was committed. */
    public long commits() {
        return transaction.commits();
    }

    /** How often a whole transaction was taken back. */
    public long rollbacks() {
        return transaction.rollbacks();
    }

    /** Whether something is not committed yet. */
    public boolean hasChanges() {
        return transaction.hasChanges();
    }

    /** What tells one transaction from the next: another object after each end of one. */
    public Object transactionMark() {
        return transaction.committed();
    }

    /** Ends what runs as soon as it can be ended; may be called from any thread. */
    public void interrupt() {
        session.interrupt();
    }

    /** Takes back what is not committed, and lets go of the database. */
    @Override
    public void close() {
        try {
            transaction.rollback();
        } catch (SQLException e) {
            // The connection is gone, and took it back.
            return;
        } finally {
            session.close();
        }
    }
}
