package dev.cantina.runtime;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.types.Conversion;
import dev.cantina.types.SqlType;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;

/**
 * The runs of a session, one after another: each in a transaction that it ends, or in one that an
 * earlier one has left open, and what each comes to.
 */
final class Runs {
    private final Session session;
    private final Meter meter;
    private final Limits limits;
    private final Transaction transaction;
    private final List<ResultRows> results = new ArrayList<>();
    private final List<String> messages = new ArrayList<>();
    private final List<String> warnings = new ArrayList<>();
    private Optional<Changes> unread = Optional.empty();

    Runs(Session session, Meter meter, Limits limits, Transaction transaction) {
        this.session = session;
        this.meter = meter;
        this.limits = limits;
        this.transaction = transaction;
    }

    /** The results that the run has given so far. */
    List<ResultRows> results() {
        return results;
    }

    /** What it has said. */
    List<String> messages() {
        return messages;
    }

    /** What it has been warned of. */
    List<String> warnings() {
        return warnings;
    }

    /** Reads what the last one has changed, before the database is let go of. */
    void close() {
        unread.ifPresent(Changes::events);
    }

    Session.Step open(String name, Object[] values, Supplier<Object> work, Object[][] given) {
        boolean started = transaction.isStarted();
        Outcome outcome = stepping(() -> finished(name, false, Map.of(), work));
        boolean done = outcome.kind() == Outcome.Kind.COMPLETED;
        return new Session.Step(
                outcome,
                done && given[0] != null ? given[0] : values,
                started && !transaction.isStarted());
    }

    /** Whether the transaction stays open behind what runs now. */
    private boolean stepping;

    /** Runs something in the transaction that is open, with limits of its own. */
    Outcome stepping(Supplier<Outcome> work) {
        meter.restart();
        session.stopClock();
        session.startClock(limits.seconds());
        session.newMoment();
        stepping = true;
        try {
            return work.get();
        } finally {
            stepping = false;
            session.stopClock();
        }
    }

    Outcome finished(
            String name, boolean function, Map<String, Object> out, Supplier<Object> work) {
        Object returned = null;
        RaisedException raised = null;
        begin();
        Optional<Mark> before = stepping ? Optional.of(marked()) : Optional.empty();
        Object committed = transaction.committed();
        try {
            returned = work.get();
            if (!stepping || !transaction.staysOpen()) {
                transaction.commit();
            }
        } catch (Program.UnsoundException e) {
            throw e;
        } catch (RuntimeException | SQLException | StackOverflowError e) {
            raised = session.raised(null, e);
            if (before.isPresent() && transaction.committed() == committed) {
                takeBack(before.get());
            } else {
                undoAll();
            }
        }
        if (raised != null && transaction.isReal() && !transaction.staysOpen()) {
            // Nothing is left to take back, but others may wait for its locks.
            undoAll();
        }
        Changes changes = new Changes(transaction.isReal() ? List::of : this::changes);
        unread = Optional.of(changes).filter(c -> !transaction.isReal());
        Outcome.Kind kind =
                raised == null
                        ? Outcome.Kind.COMPLETED
                        : raised.condition().isLimit() ? Outcome.Kind.LIMITED : Outcome.Kind.RAISED;
        return new Outcome(
                name,
                function,
                kind,
                raised == null ? Collections.unmodifiableMap(out) : Map.of(),
                returned,
                List.copyOf(results),
                List.copyOf(messages),
                List.copyOf(warnings),
                changes,
                Optional.ofNullable(raised).map(RaisedException::condition),
                raised == null ? List.of() : raised.stack(),
                meter.statements,
                meter.elapsedMillis());
    }

    Object argument(RoutineSymbol symbol, int position, Optional<Object> given) {
        SqlType type = symbol.parameters().get(position).type();
        if (given.isPresent()) {
            // A server knows values that the standard's types do not hold.
            return given.get() == Session.NULL
                    ? null
                    : symbol.isOnServer() ? given.get() : Conversion.store(given.get(), type);
        }
        if (symbol.parameters().get(position).initial().isEmpty()) {
            return null;
        }
        return symbol.isOnServer()
                ? ServerRoutines.OMITTED
                : session.program().defaultOf(symbol, position, session);
    }

    /** What was said and given belongs to the run before; module variables stay. */
    private void begin() {
        unread.ifPresent(Changes::events);
        results.clear();
        messages.clear();
        warnings.clear();
        try {
            session.unguarded();
            session.database().guard(session.probe().isPresent());
            transaction.begin();
        } catch (SQLException e) {
            throw session.raised(null, e);
        }
    }

    private List<RowEvent> changes() {
        try {
            return session.events();
        } catch (SQLException e) {
            throw new IllegalStateException("the changes can't be read: " + e.getMessage(), e);
        }
    }

    private Mark marked() {
        try {
            return transaction.mark();
        } catch (SQLException e) {
            throw session.raised(null, e);
        }
    }

    private void takeBack(Mark mark) {
        try {
            if (transaction.isGone(mark)) {
                // The database has taken all of it back, to end a deadlock for one.
                transaction.rollback();
                return;
            }
            transaction.rollbackTo(mark);
        } catch (SQLException e) {
            if (transaction.isReal()) {
                undoAll();
                return;
            }
            throw new IllegalStateException("the rollback failed: " + e.getMessage(), e);
        }
    }

    void undoAll() {
        try {
            transaction.rollback();
        } catch (SQLException e) {
            throw new IllegalStateException("the rollback failed: " + e.getMessage(), e);
        }
    }
}
