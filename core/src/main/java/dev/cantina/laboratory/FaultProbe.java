package dev.cantina.laboratory;

import dev.cantina.runtime.Frame;
import dev.cantina.runtime.Performed;
import dev.cantina.runtime.Probe;
import dev.cantina.runtime.Session;
import dev.cantina.types.Condition;
import dev.cantina.types.ConditionException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Makes things go wrong in one run, and hands all that it hears on to another probe. The second
 * fault is armed when the first has come, and so on.
 */
public final class FaultProbe implements Probe {
    private static final Probe NOBODY = new Probe() {};

    /** A statement that was about to touch data. */
    public record Touch(Frame frame, Performed performed, String routine, int line, int time) {}

    /** Is told of each, before anything is raised in it. */
    public interface Listener {
        void touches(Touch touch);
    }

    private final List<Fault> faults;
    private final Probe inner;
    private final Listener listener;
    private final Map<String, Integer> times = new HashMap<>();
    private int next;
    private boolean leftOpen;

    public FaultProbe(List<Fault> faults, Optional<Probe> inner) {
        this(faults, inner, touch -> {});
    }

    public FaultProbe(List<Fault> faults, Optional<Probe> inner, Listener listener) {
        this.faults = List.copyOf(faults);
        this.inner = inner.orElse(NOBODY);
        this.listener = listener;
    }

    /** How many of its faults have come. */
    public int reached() {
        return next;
    }

    /** Whether a transaction was open when the run ended. */
    public boolean isLeftOpen() {
        return leftOpen;
    }

    @Override
    public void performing(Frame frame, Performed performed) {
        String routine = frame.routine().name();
        int line = frame.place().span().line();
        int time = times.merge(routine + ":" + line, 1, Integer::sum);
        listener.touches(new Touch(frame, performed, routine, line, time));
        if (next < faults.size()) {
            Fault fault = faults.get(next);
            if (fault.routine().equalsIgnoreCase(routine)
                    && fault.line() == line
                    && fault.time() == time) {
                next++;
                times.clear();
                raise(fault, frame.session);
            }
        }
        inner.performing(frame, performed);
    }

    private static void raise(Fault fault, Session session) {
        if (fault.sqlstate().equals(Fault.LOST)) {
            // What is not committed is gone, and nobody is there to handle it.
            throw new ConditionException(
                    "UL008", "the connection was lost (a fault that was asked for)");
        }
        if (fault.sqlstate().startsWith("40")) {
            session.loseTransaction();
        }
        throw new ConditionException(
                fault.sqlstate(), fault.what() + " (a fault that was asked for)");
    }

    /** What the faults need; the inner probe may want less. */
    @Override
    public boolean wantsData() {
        return true;
    }

    @Override
    public Detail detail() {
        return inner.detail();
    }

    @Override
    public void performed(Frame frame, Performed performed) {
        if (inner.wantsData()) {
            inner.performed(frame, performed);
        }
    }

    @Override
    public void left(Frame frame, Condition condition) {
        if (frame.depth() == 1) {
            leftOpen = frame.session.isTransactionStarted();
        }
        inner.left(frame, condition);
    }

    @Override
    public void counted(Frame frame, int statement, long times) {
        inner.counted(frame, statement, times);
    }

    @Override
    public void passed(Frame frame, long[] times) {
        inner.passed(frame, times);
    }

    @Override
    public void cutShort(Frame frame) {
        inner.cutShort(frame);
    }

    @Override
    public void entered(Frame frame) {
        inner.entered(frame);
    }

    @Override
    public void reached(Frame frame) {
        inner.reached(frame);
    }

    @Override
    public void said(String message) {
        inner.said(message);
    }

    @Override
    public void ending(Frame frame) {
        inner.ending(frame);
    }

    @Override
    public void raised(Frame frame, Condition condition) {
        inner.raised(frame, condition);
    }

    /** The touches of a run, in their order. */
    static final class Recorder implements Listener {
        final List<Touch> touches = new ArrayList<>();

        @Override
        public void touches(Touch touch) {
            touches.add(touch);
        }
    }
}
