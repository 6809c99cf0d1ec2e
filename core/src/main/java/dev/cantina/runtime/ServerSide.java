package dev.cantina.runtime;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.syntax.Source;
import dev.cantina.types.Condition;
import dev.cantina.types.ConditionException;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Optional;

/**
 * The routines of a session that its server runs itself: it is told what to do, and what it tells
 * meanwhile is handed to the session's probe.
 */
final class ServerSide implements ServerRoutines.ServerRun {
    private final Session session;
    private final Meter meter;
    private final Statements statements;
    private final Probe probe;

    ServerSide(Session session, Meter meter, Statements statements, Probe probe) {
        this.session = session;
        this.meter = meter;
        this.statements = statements;
        this.probe = probe;
    }

    /** What time it was when the server told what is handled now; 0 where it is now. */
    private long toldAt;

    /** What time it is, in nanoseconds; of what a server has told, when it was. */
    long nanos() {
        return toldAt == 0 ? System.nanoTime() : toldAt;
    }

    /** Whether what is handled now happened some time ago. */
    boolean isTold() {
        return toldAt != 0;
    }

    /** Has the server run a routine that is in its own language. */
    Object[] call(RoutineSymbol symbol, Object[] values) {
        if (isOnServer) {
            throw new ConditionException(
                    "55006",
                    "the server stands in a routine, and can be asked for "
                            + symbol.name()
                            + " by a query alone: (SELECT "
                            + symbol.name()
                            + "(…))");
        }
        return has(server -> server.call(symbol, values, this).values());
    }

    /** What the server is to do with the project's routines. */
    private interface OnServer<T> {
        T by(ServerRoutines server) throws SQLException;
    }

    private <T> T has(OnServer<T> done) {
        session.data.wrote();
        isOnServer = true;
        try {
            T given = done.by(session.program().onServer().orElseThrow());
            // Not all that is cut off ends in an error: a sleep does not.
            meter.poll(session.top());
            return given;
        } catch (SQLException e) {
            throw session.raised(session.top(), e);
        } finally {
            isOnServer = false;
        }
    }

    /** Whether the server runs a routine just now. */
    private boolean isOnServer;

    /** Has the server run a script in its own words. */
    Object script(Source script) {
        return has(
                server -> {
                    server.script(script, this);
                    return null;
                });
    }

    @Override
    public Session session() {
        return session;
    }

    @Override
    public void running(Statement statement) {
        statements.running(statement);
    }

    @Override
    public void told(String message) {
        session.say(message);
    }

    @Override
    public ResultRows read(ResultSet result) throws SQLException {
        return statements.read(result);
    }

    @Override
    public void result(ResultRows rows) {
        session.results().add(rows);
    }

    @Override
    public Condition condition(SQLException error) {
        return session.database().condition(error);
    }

    @Override
    public Optional<Probe> probe() {
        return session.probe();
    }

    @Override
    public Optional<String> role() {
        return session.role();
    }

    @Override
    public Optional<StandIn> standIn() {
        return session.standIn();
    }

    @Override
    public RuntimeException failed(Throwable error) {
        return session.raised(session.top(), error);
    }

    @Override
    public void entered(Frame frame) {
        session.frames().place(frame);
        session.frames().top(frame);
        probe.entered(frame);
    }

    @Override
    public void time(long nanos) {
        toldAt = nanos;
    }

    @Override
    public void wrote(Frame frame, long from, long rows) {
        boolean holds = probe.detail() == Probe.Detail.HOLD;
        if (holds) {
            session.transaction().wrote(from, frame);
        }
        if (probe.wantsData()) {
            probe.performed(
                    frame,
                    new Performed(
                            Optional.empty(),
                            Optional.of(frame.place().span().text()),
                            new Object[0],
                            rows,
                            true,
                            holds ? from : -1));
        }
    }

    @Override
    public void wroteOn(long from) {
        session.transaction().wrote(from, session.top());
    }

    @Override
    public void reached(Frame frame, int statement) {
        meter.statements++;
        frame.at = statement;
        frame.earlier = frame.moment;
        frame.moment = meter.statements;
        // Beside what a server's statement takes, looking takes no time.
        meter.poll(frame);
        if (frame.watch[statement] != 0 || meter.statements >= meter.stop) {
            probe.reached(frame);
        }
    }

    @Override
    public void counted(Frame frame, int statement, long times) {
        meter.statements += times;
        probe.counted(frame, statement, times);
    }

    @Override
    public void cutShort(Frame frame) {
        probe.cutShort(frame);
    }

    @Override
    public void passed(Frame frame, long[] times) {
        for (long one : times) {
            meter.statements += one;
        }
        probe.passed(frame, times);
    }

    @Override
    public void raised(Frame frame, Condition condition) {
        probe.raised(frame, condition);
    }

    @Override
    public void ending(Frame frame) {
        probe.ending(frame);
    }

    @Override
    public void left(Frame frame, Condition condition) {
        probe.left(frame, condition);
        session.frames().top(frame.caller);
    }
}
