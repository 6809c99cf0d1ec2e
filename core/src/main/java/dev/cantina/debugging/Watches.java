package dev.cantina.debugging;

import dev.cantina.binding.BoundExpression;
import dev.cantina.debugging.Breakpoints.InstalledBreakpoint;
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
    record Changed(InstalledBreakpoint installed, Stop.VariableChange change) {}

    /** What was seen in a frame. */
    private static final class Seen {
        final Map<InstalledBreakpoint, Object> values = new IdentityHashMap<>();

        /** The statement that was reached last. */
        int at = -1;
    }

    private final Breakpoints breakpoints;
    private final Map<Frame, Seen> seen = new IdentityHashMap<>();

    /** The values of what all routines share. */
    private final Map<InstalledBreakpoint, Object> shared = new IdentityHashMap<>();

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

    private static boolean concerns(InstalledBreakpoint installed, Frame frame) {
        return installed.is(Breakpoint.Kind.CHANGE)
                && (installed.isShared() || installed.routine == frame.routine());
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
        for (InstalledBreakpoint installed : breakpoints.all()) {
            if (!concerns(installed, frame)) {
                continue;
            }
            Object now = value(installed, frame);
            Map<InstalledBreakpoint, Object> values = installed.isShared() ? shared : known.values;
            boolean first = !values.containsKey(installed);
            Object before = values.put(installed, Support.copy(now));
            if (!first
                    && !Values.same(before, now)
                    && installed.counts(frame.moment)
                    && found.isEmpty()) {
                String name = installed.breakpoint.on();
                found =
                        Optional.of(
                                new Changed(
                                        installed,
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
            for (InstalledBreakpoint installed : breakpoints.all()) {
                if (concerns(installed, frame)) {
                    Object value = Support.copy(value(installed, frame));
                    (installed.isShared() ? shared : known.values).put(installed, value);
                }
            }
        }
    }

    /** The value of what is watched; NULL where it can't be evaluated. */
    private static Object value(InstalledBreakpoint installed, Frame frame) {
        if (installed.watched instanceof BoundExpression.Read read) {
            return frame.get(read.variable());
        }
        if (installed.watched instanceof BoundExpression.ReadShared read) {
            return frame.session.module(read.module())[read.index()];
        }
        try {
            if (installed.value == null) {
                installed.value =
                        frame.session
                                .questions()
                                .compile(frame, installed.watched, frame.routine().variables());
            }
            return frame.session.questions().glance(installed.value, frame);
        } catch (RaisedException e) {
            return null;
        }
    }
}
