package dev.cantina.debugging;

import dev.cantina.binding.BoundExpression;
import dev.cantina.debugging.Breakpoints.Armed;
import dev.cantina.runtime.Frame;
import dev.cantina.runtime.RaisedException;
import dev.cantina.runtime.Support;
import dev.cantina.types.Values;
import java.util.IdentityHashMap;
import java.util.Map;
import java.util.Optional;

/** Looks, statement by statement, whether what breakpoints on change are about has changed. */
final class Watches {
    /** A change of what a breakpoint watches. */
    record Changed(Armed armed, Stop.VariableChange change) {}

    /** What was seen in a frame. */
    private static final class Seen {
        final Map<Armed, Object> values = new IdentityHashMap<>();

        /** The statement that was reached last. */
        int at = -1;
    }

    private final Breakpoints breakpoints;
    private final Map<Frame, Seen> seen = new IdentityHashMap<>();

    /** The values of what all routines share. */
    private final Map<Armed, Object> shared = new IdentityHashMap<>();

    Watches(Breakpoints breakpoints) {
        this.breakpoints = breakpoints;
    }

    void begin() {
        seen.clear();
        shared.clear();
    }

    void left(Frame frame) {
        seen.remove(frame);
    }

    private static boolean concerns(Armed armed, Frame frame) {
        return armed.is(Breakpoint.Kind.CHANGE)
                && (armed.isShared() || armed.routine == frame.routine());
    }

    /** The first change to stop at, if there is one since the last look. */
    Optional<Changed> changeIn(Frame frame) {
        if (!breakpoints.has(Breakpoint.Kind.CHANGE)) {
            return Optional.empty();
        }
        Seen known = seen.computeIfAbsent(frame, f -> new Seen());
        int line = known.at < 0 ? 0 : frame.routine().places().get(known.at).span().line();
        known.at = frame.at;
        Optional<Changed> found = Optional.empty();
        for (Armed armed : breakpoints.all()) {
            if (!concerns(armed, frame)) {
                continue;
            }
            Object now = value(armed, frame);
            Map<Armed, Object> values = armed.isShared() ? shared : known.values;
            boolean first = !values.containsKey(armed);
            Object before = values.put(armed, Support.copy(now));
            if (!first
                    && !Values.same(before, now)
                    && armed.counts(frame.moment)
                    && found.isEmpty()) {
                String name = armed.breakpoint.on();
                found =
                        Optional.of(
                                new Changed(
                                        armed,
                                        new Stop.VariableChange(name, false, before, now, line)));
            }
        }
        return found;
    }

    /**
     * What is there now is known, in a frame and in those that called it; only what comes counts.
     */
    void know(Frame top) {
        shared.clear();
        for (Frame frame = top; frame != null; frame = frame.caller()) {
            Seen known = seen.computeIfAbsent(frame, f -> new Seen());
            known.at = frame.at;
            for (Armed armed : breakpoints.all()) {
                if (concerns(armed, frame)) {
                    Object value = Support.copy(value(armed, frame));
                    (armed.isShared() ? shared : known.values).put(armed, value);
                }
            }
        }
    }

    /** The value of what is watched; NULL where it can't be worked out. */
    private static Object value(Armed armed, Frame frame) {
        if (armed.watched instanceof BoundExpression.Read read) {
            return frame.get(read.variable());
        }
        if (armed.watched instanceof BoundExpression.ReadShared read) {
            return frame.session.module(read.module())[read.index()];
        }
        try {
            if (armed.value == null) {
                armed.value =
                        frame.session.compile(frame, armed.watched, frame.routine().variables());
            }
            return frame.session.glance(armed.value, frame);
        } catch (RaisedException e) {
            return null;
        }
    }
}
