package dev.cantina.runtime;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.syntax.Unit;
import dev.cantina.types.ConditionException;
import java.sql.SQLException;
import java.util.Arrays;
import java.util.HashMap;
import java.util.Map;
import java.util.function.Predicate;

/** The frames of a session's routines that run, each above the one that has called it. */
final class CallStack {
    private final Session session;
    private final Meter meter;
    private final Limits limits;
    private final Probe probe;
    private final boolean probed;
    private final Map<RoutineCode, byte[]> watches = new HashMap<>();
    private Frame top;

    /** How many routines on the stack have said that they change no data. */
    private int restricting;

    /** How many routines on the stack can go on after a statement of theirs has failed. */
    private int guarding;

    private byte watching;

    CallStack(Session session, Meter meter, Limits limits, Probe probe) {
        this.session = session;
        this.meter = meter;
        this.limits = limits;
        this.probe = probe;
        this.probed = session.probe().isPresent();
    }

    /** The frame that runs; null where none does. */
    Frame top() {
        return top;
    }

    /** Another frame runs from now on. */
    void top(Frame frame) {
        top = frame;
    }

    /** Whether a routine on the stack has said that it changes no data. */
    boolean isRestricted() {
        return restricting > 0;
    }

    /** No routine stands that can go on behind a failure. */
    void unguarded() {
        guarding = 0;
    }

    /** Puts a frame on the stack, runs it, and takes it off; the frame is good to read after. */
    Frame activate(Routine routine, Object[] values) {
        Frame frame = routine.code(probed).newFrame();
        place(frame);
        frame.take(values);
        top = frame;
        boolean restricts = routine.bound().access() != Unit.SqlAccess.MODIFIES_SQL_DATA;
        restricting += restricts ? 1 : 0;
        boolean guards = routine.outlivesFailures();
        RaisedException raised = null;
        try {
            if (guards && guarding++ == 0) {
                guard();
            }
            probe.entered(frame);
            int end = frame.run();
            probe.ending(frame);
            if (end == 0 && routine.bound().kind() == BoundRoutine.Kind.FUNCTION) {
                throw new ConditionException(
                        "2F005", routine.bound().name() + " ended without a RETURN");
            }
            handOutCursors(frame);
            return frame;
        } catch (Program.UnsoundException e) {
            throw e;
        } catch (RuntimeException | StackOverflowError e) {
            raised = session.raised(frame, e);
            throw raised;
        } finally {
            probe.left(frame, raised == null ? null : raised.condition());
            session.closeTables(frame, 0);
            top = frame.caller;
            restricting -= restricts ? 1 : 0;
            if (guards && --guarding == 0) {
                guard();
            }
        }
    }

    /** Gives a frame its place above the one that runs. */
    void place(Frame frame) {
        frame.session = session;
        frame.meter = meter;
        frame.caller = top;
        frame.depth = top == null ? 1 : top.depth + 1;
        if (probed) {
            frame.watch = watch(frame.code);
        }
        if (frame.depth > limits.depth()) {
            throw session.raised(
                    top,
                    meter.limit(
                            "UL003",
                            "the limit of " + limits.depth() + " calls deep " + Raising.cycle(top),
                            top,
                            "depth=" + limits.depth() * 10));
        }
    }

    /** A run that is watched is looked into by others, who must not find a transaction spoilt. */
    private void guard() {
        try {
            session.database().guard(probed || guarding > 0);
        } catch (SQLException e) {
            throw session.raised(top, e);
        }
    }

    /** Closes those cursors of all routines that run (ISO 9075-2, 17.7 and 17.8). */
    void closeCursors(Predicate<Cursor> which) {
        for (Frame f = top; f != null; f = f.caller) {
            for (int i = 0; f.cursors != null && i < f.cursors.length; i++) {
                if (f.cursors[i] != null && which.test(f.cursors[i])) {
                    f.cursors[i] = null;
                }
            }
        }
    }

    private void handOutCursors(Frame frame) {
        if (frame.cursors != null) {
            for (Cursor cursor : frame.cursors) {
                if (cursor != null && cursor.isReturned()) {
                    session.results().add(cursor.rest());
                }
            }
        }
    }

    private byte[] watch(RoutineCode code) {
        return watches.computeIfAbsent(
                code,
                c -> {
                    byte[] flags = new byte[Math.max(1, c.routine().places().size())];
                    Arrays.fill(flags, watching);
                    return flags;
                });
    }

    /** From now on the probe is told of every statement, or only of those marked one by one. */
    void watchAll(boolean all) {
        watching = (byte) (all ? 1 : 0);
        watches.values().forEach(flags -> Arrays.fill(flags, watching));
    }

    /** Marks a statement of a routine, for the probe to be told when it is reached. */
    void watch(Routine routine, int statement) {
        watch(routine.code(true))[statement] = 1;
    }
}
