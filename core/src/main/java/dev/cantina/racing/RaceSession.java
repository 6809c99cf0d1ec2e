package dev.cantina.racing;

import dev.cantina.programs.ProgramConnection;
import dev.cantina.programs.ProgramWatcher;
import dev.cantina.runtime.Frame;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.Performed;
import dev.cantina.runtime.Probe;
import dev.cantina.types.Condition;
import dev.cantina.types.ConditionException;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * One session of a race, on a thread of its own: it stands before each statement that touches data,
 * before each that ends a transaction, and before its end, until it may go on.
 */
final class RaceSession implements Probe, ProgramWatcher.Watch {
    /** What it does. */
    enum State {
        STANDS,
        RUNS,
        ENDED
    }

    private static final Set<String> ENDINGS =
            Set.of("COMMIT", "ROLLBACK", "ROLLBACK TO SAVEPOINT", "START TRANSACTION");
    private static final long STACK = 64L << 20;
    static final String BEGINS = "begins";

    private final int number;
    private final Object monitor;
    private final Footprints footprints;

    /** Whether the first statement of a transaction sees all tables as they are then. */
    private final boolean isSnapshot;

    private State state = State.RUNS;
    private RaceStep next;
    private boolean granted;
    private boolean cancelled;
    private Outcome outcome;
    private Throwable failure;
    private Thread thread;
    private ProgramConnection connection;

    /** What the transaction has touched so far. */
    private Footprint touched = Footprint.NOTHING;

    private boolean isFirst = true;

    /** The frame whose statement the database runs now: what that sets off is part of it. */
    private Frame performing;

    private int performingAt;
    private long rows = -1;
    private String raised = "";

    /**
     * @param monitor is held where what sessions do is looked at or changed
     */
    RaceSession(int number, Object monitor, Footprints footprints, boolean isSnapshot) {
        this.number = number;
        this.monitor = monitor;
        this.footprints = footprints;
        this.isSnapshot = isSnapshot;
    }

    /** Begins; it stands before its first step soon. */
    void start(ProgramConnection on, RaceCall.Found call) {
        connection = on;
        thread =
                new Thread(
                        null,
                        () -> {
                            Outcome ended = null;
                            Throwable failed = null;
                            try {
                                begin(call);
                                ended = on.call(call.routine(), call.arguments());
                            } catch (SQLException | RuntimeException | StackOverflowError e) {
                                failed = e;
                            }
                            synchronized (monitor) {
                                outcome = ended;
                                failure = failed;
                                state = State.ENDED;
                                monitor.notifyAll();
                            }
                        },
                        "race-" + number,
                        STACK);
        thread.setDaemon(true);
        thread.start();
    }

    // ------------------------------------------------------------------ asked under the monitor

    State state() {
        return state;
    }

    int number() {
        return number;
    }

    /** What it stands before. */
    RaceStep next() {
        return next;
    }

    Thread thread() {
        return thread;
    }

    ProgramConnection connection() {
        return connection;
    }

    Outcome outcome() {
        return outcome;
    }

    Optional<Throwable> failure() {
        return Optional.ofNullable(failure);
    }

    /** How many rows its last step has changed or given. */
    long rows() {
        return rows;
    }

    /** The SQLSTATE that its last step has ended in; empty where it has not. */
    String raised() {
        return raised;
    }

    /** Lets it take its next step. */
    void grant() {
        granted = true;
        rows = -1;
        raised = "";
        state = State.RUNS;
        monitor.notifyAll();
    }

    /** Ends it, wherever it is. */
    void cancel() {
        cancelled = true;
        monitor.notifyAll();
        connection.caller().interrupt();
    }

    // ------------------------------------------------------------------ its own thread

    /** What a call sees of all tables may be what is there when it begins. */
    private void begin(RaceCall.Found call) {
        if (isSnapshot) {
            stand(
                    new RaceStep(
                            number,
                            BEGINS,
                            call.routine().name(),
                            Optional.empty(),
                            Footprint.ALL_SEEN,
                            -1,
                            false,
                            ""));
            isFirst = false;
        }
    }

    private void stand(RaceStep before) {
        synchronized (monitor) {
            next = before;
            state = State.STANDS;
            monitor.notifyAll();
            while (!granted && !cancelled) {
                try {
                    monitor.wait();
                } catch (InterruptedException e) {
                    Thread.currentThread().interrupt();
                    cancelled = true;
                }
            }
            granted = false;
            state = State.RUNS;
            if (cancelled) {
                throw new ConditionException("UL000", "called off");
            }
        }
    }

    private RaceStep step(Frame frame, Footprint footprint) {
        return new RaceStep(
                number,
                frame.place().span().text().replaceAll("\\s+", " ").strip(),
                frame.routine().name(),
                Optional.of(frame.place().span()),
                footprint,
                -1,
                false,
                "");
    }

    private boolean isInside(Frame frame) {
        if (performing != null && frame.depth() <= performing.depth()) {
            boolean same = frame == performing && frame.at == performingAt;
            if (!same) {
                performing = null;
            }
        }
        return performing != null;
    }

    @Override
    public void reached(Frame frame) {
        if (isInside(frame) && frame != performing) {
            return;
        }
        performing = null;
        if (ENDINGS.contains(frame.place().what())) {
            stand(step(frame, ended()));
        }
    }

    /** What the end of a transaction touches: all that it shows to others, or takes back. */
    private Footprint ended() {
        Footprint all = touched;
        touched = Footprint.NOTHING;
        isFirst = true;
        return all;
    }

    @Override
    public void performing(Frame frame, Performed performed) {
        if (isInside(frame) && frame != performing) {
            return;
        }
        Footprint footprint = footprints.of(performed);
        touched = touched.and(footprint);
        boolean sees = isFirst && isSnapshot;
        isFirst = false;
        // It may touch several things one after the other: each is a step.
        stand(step(frame, sees ? footprint.and(Footprint.ALL_SEEN) : footprint));
        performing = frame;
        performingAt = frame.at;
    }

    @Override
    public void performed(Frame frame, Performed performed) {
        if (frame == performing) {
            performing = null;
            rows = performed.rows();
        }
    }

    @Override
    public void raised(Frame frame, Condition condition) {
        raised = condition.sqlstate();
    }

    @Override
    public void entered(Frame frame) {
        if (frame.depth() == 1) {
            frame.session.watchAll(true);
            java.util.Arrays.fill(frame.watch, (byte) 1);
        }
    }

    @Override
    public void left(Frame frame, Condition condition) {
        if (frame.depth() == 1) {
            stand(
                    new RaceStep(
                            number,
                            condition == null ? "ends" : "ends in " + condition.sqlstate(),
                            frame.routine().name(),
                            Optional.empty(),
                            ended(),
                            -1,
                            false,
                            ""));
        }
    }

    // ------------------------------------------------------------------ what watches a program

    @Override
    public Probe probe() {
        return this;
    }

    @Override
    public Outcome watch(ProgramWatcher.Run run) {
        return run.once();
    }

    /** The sessions that could take a step now. */
    static List<Integer> standing(List<RaceSession> all) {
        return all.stream()
                .filter(s -> s.state() == State.STANDS)
                .map(RaceSession::number)
                .toList();
    }
}
