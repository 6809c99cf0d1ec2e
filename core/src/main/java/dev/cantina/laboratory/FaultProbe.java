package dev.cantina.laboratory;

import dev.cantina.runtime.Frame;
import dev.cantina.runtime.PassingProbe;
import dev.cantina.runtime.Performed;
import dev.cantina.runtime.Probe;
import dev.cantina.runtime.Session;
import dev.cantina.syntax.Nearest;
import dev.cantina.types.Condition;
import dev.cantina.types.ConditionException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Collectors;

/**
 * Makes things go wrong in one run, and hands all that it hears on to another probe. The second
 * fault is armed when the first has come, and so on.
 */
public final class FaultProbe extends PassingProbe {
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
    private final Map<String, Map<Integer, Integer>> times =
            new TreeMap<>(String.CASE_INSENSITIVE_ORDER);
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

    /** Why the next of its faults has not come; empty where all have. */
    public Optional<String> notCome() {
        if (next == faults.size()) {
            return Optional.empty();
        }
        Fault fault = faults.get(next);
        Map<Integer, Integer> lines = times.getOrDefault(fault.routine(), Map.of());
        int often = lines.getOrDefault(fault.line(), 0);
        String why;
        if (often > 0) {
            why =
                    "line "
                            + fault.line()
                            + " has touched data "
                            + often
                            + (often == 1 ? " time" : " times");
        } else if (lines.isEmpty()) {
            why =
                    "no statement of "
                            + fault.routine()
                            + " has touched data"
                            + Nearest.to(fault.routine(), times.keySet())
                                    .map(n -> "; did you mean " + n + "?")
                                    .orElse("");
        } else {
            why =
                    fault.routine()
                            + " has touched data in "
                            + (lines.size() == 1 ? "line " : "lines ")
                            + lines.keySet().stream()
                                    .map(String::valueOf)
                                    .collect(Collectors.joining(", "));
        }
        return Optional.of(
                "the fault "
                        + fault
                        + " did not come"
                        + (next > 0 ? " after the one before it" : "")
                        + ": "
                        + why);
    }

    /** Whether a transaction was open when the run ended. */
    public boolean isLeftOpen() {
        return leftOpen;
    }

    @Override
    public void performing(Frame frame, Performed performed) {
        String routine = frame.routine().name();
        int line = frame.place().span().line();
        int time =
                times.computeIfAbsent(routine, r -> new TreeMap<>()).merge(line, 1, Integer::sum);
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
    protected Probe target() {
        return inner;
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

    /** The touches of a run, in their order. */
    static final class Recorder implements Listener {
        final List<Touch> touches = new ArrayList<>();

        @Override
        public void touches(Touch touch) {
            touches.add(touch);
        }
    }
}
