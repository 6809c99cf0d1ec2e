package dev.cantina.runtime;

import dev.cantina.types.Condition;
import dev.cantina.types.ConditionException;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;

/** Makes conditions of what is thrown in a session, with the call stack as it is then. */
final class Raising {
    private final Session session;
    private final Meter meter;
    private final Diagnostics diagnostics;
    private final Probe probe;

    Raising(Session session, Meter meter, Diagnostics diagnostics, Probe probe) {
        this.session = session;
        this.meter = meter;
        this.diagnostics = diagnostics;
        this.probe = probe;
    }

    /**
     * Makes a condition of whatever was thrown, with the call stack as it is now where it has none
     * yet.
     */
    RaisedException raised(Frame frame, Throwable thrown) {
        if (thrown instanceof RaisedException known) {
            return known;
        }
        Condition condition;
        if (thrown instanceof ConditionException e) {
            condition = e.condition();
        } else if (thrown instanceof SQLException e) {
            for (Throwable cause = e; cause != null; cause = cause.getCause()) {
                if (cause instanceof RaisedException known) {
                    return known;
                }
                if (cause instanceof Program.UnsoundException unsound) {
                    throw unsound;
                }
            }
            condition = fromDatabase(frame, e);
        } else if (thrown instanceof StackOverflowError) {
            condition = tooDeep();
        } else if (thrown instanceof RuntimeException e) {
            throw e;
        } else {
            throw new IllegalStateException(thrown);
        }
        Frame at = frame == null ? session.top() : frame;
        RaisedException raised = new RaisedException(condition, stack(at, thrown));
        diagnostics.set(
                at == null
                        ? new Diagnostics.Area(condition, 0, "", "")
                        : new Diagnostics.Area(
                                condition, 0, at.place().command(), at.routine().name()));
        if (at != null) {
            probe.raised(at, condition);
        }
        return raised;
    }

    private Condition tooDeep() {
        return new Condition(
                "UL003",
                "the calls are nested too deep for this machine's stack " + cycle(session.top()));
    }

    /** What an error of the database is: its own, or the end that was put to it. */
    Condition fromDatabase(Frame frame, SQLException e) {
        if (meter.isInterrupted()) {
            return meter.interruption(frame).condition();
        }
        if (meter.isExpired()) {
            return meter.expiry(frame).condition();
        }
        if (meter.isCalledOff()) {
            return Meter.calledOff().condition();
        }
        for (Throwable cause = e; cause != null; cause = cause.getCause()) {
            if (cause instanceof StackOverflowError) {
                return tooDeep();
            }
        }
        return session.database().condition(e);
    }

    /** The call stack from a frame down, innermost first. */
    static List<StackEntry> stack(Frame from) {
        List<StackEntry> stack = new ArrayList<>();
        for (Frame f = from; f != null; f = f.caller) {
            stack.add(f.entry());
        }
        return stack;
    }

    /** The same, with what the server has run inside of it. */
    private List<StackEntry> stack(Frame from, Throwable thrown) {
        if (session.program().onServer().isEmpty() || !(thrown instanceof SQLException error)) {
            return stack(from);
        }
        List<StackEntry> all = new ArrayList<>(session.program().onServer().get().stack(error));
        Frame outside = from;
        while (outside instanceof ServerFrame && !all.isEmpty()) {
            // The server knows better where it was.
            outside = outside.caller;
        }
        all.addAll(stack(outside));
        return all;
    }

    /** The routines that call each other, for a run that has gone too deep. */
    static String cycle(Frame top) {
        List<String> names = new ArrayList<>();
        for (Frame f = top; f != null && names.size() < 6; f = f.caller) {
            if (!names.isEmpty() && names.get(0).equals(f.routine().name())) {
                break;
            }
            names.add(f.routine().name());
        }
        Collections.reverse(names);
        return "(" + String.join(" → ", names) + " → …)";
    }
}
