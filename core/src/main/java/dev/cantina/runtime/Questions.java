package dev.cantina.runtime;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundSql;
import dev.cantina.binding.Variable;
import dev.cantina.types.Condition;
import dev.cantina.types.SqlType;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Future;

/**
 * What a probe, or the person before it, asks of a session that stands: nothing of it is to be seen
 * in the run, but for changes that are asked for as such.
 */
public final class Questions {
    private final Session session;
    private final Meter meter;
    private final Diagnostics diagnostics;
    private final Statements statements;
    private final Transaction transaction;
    private final double seconds;

    /**
     * @param seconds how long a question may take
     */
    Questions(
            Session session,
            Meter meter,
            Diagnostics diagnostics,
            Statements statements,
            Transaction transaction,
            double seconds) {
        this.session = session;
        this.meter = meter;
        this.diagnostics = diagnostics;
        this.statements = statements;
        this.transaction = transaction;
        this.seconds = seconds;
    }

    private Database database() {
        return session.database();
    }

    /**
     * How the database finds the rows of a statement that is about to be sent. What it does in
     * order to find out is taken back.
     *
     * @throws SQLException where it can't tell
     */
    public List<AccessPath> accessPaths(Performed performed) throws SQLException {
        Object[] values = new Object[performed.values().length];
        for (int i = 0; i < values.length; i++) {
            SqlType type =
                    performed.site().isPresent()
                            ? performed.site().get().parameterTypes().get(i)
                            : SqlType.NULL;
            values[i] = database().driverValue(performed.values()[i], type);
        }
        Mark mark = transaction.mark();
        try {
            return database().accessPaths(session.text(performed), values);
        } finally {
            transaction.rollbackTo(mark);
        }
    }

    /** Work of a probe on a session that stands still. */
    public interface Aside<T, E extends Exception> {
        T run() throws E;
    }

    /**
     * Does something while the run waits, which leaves no trace in it: not in the time that it may
     * take, nor in the count of its statements, nor in its diagnostics area.
     */
    public <T, E extends Exception> T aside(Aside<T, E> work) throws E {
        long count = meter.statements;
        Diagnostics.Area area = diagnostics.current();
        long start = System.nanoTime();
        long begun = meter.begun();
        long next = meter.next;
        try {
            return work.run();
        } finally {
            // What waited inside this is part of it, and not to be taken off twice.
            meter.begin(begun + System.nanoTime() - start);
            meter.statements = count;
            meter.next = next;
            diagnostics.set(area);
        }
    }

    private volatile boolean asked;

    /**
     * {@link #aside} for what a person asks: it may take as long as a run may, counted afresh, and
     * {@link #callOff} ends it.
     */
    public <T, E extends Exception> T asked(Aside<T, E> work) throws E {
        boolean within = asked;
        Future<?> end = session.program().watchdog().after(seconds, this::expire);
        asked = true;
        try {
            return aside(
                    () -> {
                        meter.begin(System.nanoTime());
                        meter.statements = 0;
                        return work.run();
                    });
        } finally {
            asked = within;
            end.cancel(false);
            meter.answered();
        }
    }

    /** Ends what a person has asked, and not the run; may be called from any thread. */
    public void callOff() {
        if (asked) {
            meter.callOff();
            end();
        }
    }

    private void expire() {
        if (asked) {
            meter.expire();
            end();
        }
    }

    private void end() {
        if (database().standing().isPresent()) {
            database().standing().get().callOff();
        } else {
            statements.cancel();
        }
    }

    /** {@link #aside} for an expression that is looked at often. */
    public Object glance(ProbeCode code, Frame frame) {
        long count = meter.statements;
        Diagnostics.Area area = diagnostics.current();
        try {
            return code.value(frame);
        } finally {
            meter.statements = count;
            diagnostics.set(area);
        }
    }

    /** The same for work that waits for a person, whom the limit of seconds does not hurry. */
    public <T, E extends Exception> T waiting(Aside<T, E> work) throws E {
        session.stopClock();
        try {
            return aside(work);
        } finally {
            session.startClock(meter.left());
        }
    }

    /** A diagnostics area, as a person looks at it (ISO 9075-2, 23.1). */
    public record Diagnosis(
            Condition condition, long rowCount, String command, String routine, boolean handled) {}

    /** The area of the last statement, then those of the handlers that run, innermost first. */
    public List<Diagnosis> diagnoses() {
        List<Diagnosis> all = new ArrayList<>();
        for (Diagnostics.Area area : diagnostics.all()) {
            all.add(
                    new Diagnosis(
                            area.condition(),
                            area.rowCount(),
                            area.command(),
                            area.routine(),
                            !all.isEmpty()));
        }
        return all;
    }

    /** What was changed since the last COMMIT. */
    public List<RowEvent> uncommitted() throws SQLException {
        return transaction.uncommitted();
    }

    /** Compiles an expression to be worked out in frames of a routine, by this session alone. */
    public ProbeCode compile(Frame frame, BoundExpression expression, List<Variable> variables) {
        return RoutineCompiler.expression(session.program(), frame.code(), expression, variables);
    }

    /**
     * Runs a query that a person asks, with the variables of a frame in it.
     *
     * @param most how many rows to read at most
     * @throws SQLException where the database refuses
     */
    public ResultRows inspect(Frame frame, BoundSql query, long most) throws SQLException {
        Object[] values = new Object[query.parameters().size()];
        for (int i = 0; i < values.length; i++) {
            values[i] =
                    compile(frame, query.parameters().get(i), frame.routine().variables())
                            .value(frame);
        }
        return statements.once(new DataSite(0, query, session.program().catalog()), values, most);
    }

    /**
     * Runs a query given as text, as the running transaction sees it.
     *
     * @param most how many rows to read at most
     * @throws SQLException where the database refuses
     */
    public ResultRows inspect(String sql, long most) throws SQLException {
        TransactionWords.check(session.program(), sql);
        if (database().standing().isPresent()) {
            return database().standing().get().query(sql, most);
        }
        Statement before = null;
        try (var statement = database().connection().createStatement()) {
            before = statements.running(statement);
            ResultSet result = statement.executeQuery(database().words(sql));
            List<SqlType.Field> columns = statements.columns(result.getMetaData());
            return new ResultRows(columns, statements.rows(result, columns, most));
        } finally {
            statements.running(before);
        }
    }

    /**
     * Runs a change given as text, inside the running transaction; gives the number of rows.
     *
     * @throws SQLException where the database refuses
     */
    public int change(String sql) throws SQLException {
        TransactionWords.check(session.program(), sql);
        if (database().standing().isPresent()) {
            transaction.written(null, true);
            return database().standing().get().change(sql);
        }
        session.program().admit(sql);
        transaction.written(null, true);
        Statement before = null;
        try (var statement = database().connection().createStatement()) {
            before = statements.running(statement);
            // What gives rows is run for what it does: nobody asks for these.
            return statement.execute(database().words(sql))
                    ? 0
                    : Math.max(0, statement.getUpdateCount());
        } catch (SQLException e) {
            transaction.failed();
            throw e;
        } finally {
            statements.running(before);
        }
    }
}
