package dev.cantina.observe;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.Variable;
import dev.cantina.catalog.Table;
import dev.cantina.runtime.DataSite;
import dev.cantina.runtime.Frame;
import dev.cantina.runtime.Performed;
import dev.cantina.runtime.Probe;
import dev.cantina.runtime.ResultRows;
import dev.cantina.runtime.RowEvent;
import dev.cantina.runtime.Session;
import dev.cantina.runtime.Support;
import dev.cantina.types.Condition;
import dev.cantina.types.Values;
import java.sql.SQLException;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;

/**
 * Tells the whole journey of a run as it goes: each routine, each statement with its time, its rows
 * and what it changed. It keeps nothing but what belongs to the statements that are running.
 */
public final class Trace implements Probe {
    private static final int MOST_ROWS = 5;

    private final Consumer<TraceEvent> told;
    private final Deque<Open> open = new ArrayDeque<>();
    private Session session;

    /** When the call that is running began, and how much time all calls before it have taken. */
    private long called;

    private long excused;

    /** A frame that runs, and its statement. */
    private static final class Open {
        final Frame frame;
        final long start;
        final Object[] values;
        int at = -1;
        long number;
        long began;
        boolean nested;
        long rows;
        long writes;
        final List<TraceEvent.Value> sent = new ArrayList<>();
        final List<String> tables = new ArrayList<>();
        final List<RowEvent> written = new ArrayList<>();

        Open(Frame frame, long start) {
            this.frame = frame;
            this.start = start;
            this.values = new Object[frame.routine().variables().size()];
        }

        void begin(Frame now, long clock) {
            at = now.at;
            number = now.moment;
            nested = false;
            rows = -1;
            writes = 0;
            sent.clear();
            tables.clear();
            written.clear();
            began = clock;
        }
    }

    /**
     * @param told is told of each event, while the run waits
     */
    public Trace(Consumer<TraceEvent> told) {
        this.told = told;
    }

    /** The time, without what the trace itself has taken. */
    private long clock() {
        return called - excused;
    }

    /** Does the work of a call, which is not the run's. */
    private void aside(Frame frame, Runnable work) {
        called = frame.session.nanos();
        work.run();
        if (!frame.session.isTold()) {
            excused += System.nanoTime() - called;
        }
    }

    @Override
    public Detail detail() {
        return Detail.VALUES;
    }

    @Override
    public void entered(Frame frame) {
        aside(frame, () -> enter(frame));
    }

    @Override
    public void reached(Frame frame) {
        aside(
                frame,
                () -> {
                    Open own = own(frame);
                    if (own != null) {
                        end(own);
                        own.begin(frame, clock());
                    }
                });
    }

    @Override
    public void performed(Frame frame, Performed performed) {
        aside(frame, () -> perform(frame, performed));
    }

    @Override
    public void raised(Frame frame, Condition condition) {
        aside(frame, () -> raise(frame, condition));
    }

    @Override
    public void left(Frame frame, Condition condition) {
        aside(frame, () -> leave(frame, condition));
    }

    private void enter(Frame frame) {
        if (session != frame.session) {
            session = frame.session;
            open.clear();
            session.watchAll(true);
        }
        java.util.Arrays.fill(frame.watch, (byte) 1);
        Open caller = open.peek();
        if (caller != null && caller.at >= 0 && !caller.nested) {
            caller.nested = true;
            told.accept(
                    new TraceEvent.Opened(
                            caller.frame.depth(),
                            caller.frame.routine().name(),
                            caller.number,
                            caller.frame.routine().places().get(caller.at).span()));
        }
        open.push(new Open(frame, clock()));
        BoundRoutine routine = frame.routine();
        told.accept(
                new TraceEvent.Entered(
                        frame.depth(),
                        routine.name(),
                        routine.kind().word(),
                        routine.span(),
                        arguments(frame)));
        changes(open.peek());
    }

    private void perform(Frame frame, Performed performed) {
        Open own = own(frame);
        if (own == null) {
            return;
        }
        own.rows = Math.max(0, own.rows) + performed.rows();
        if (performed.site().isPresent()) {
            sent(own, performed.site().get(), performed.values());
            performed.site().get().sql().tables().forEach(t -> table(own, named(t)));
        } else {
            for (int i = 0; i < performed.values().length; i++) {
                own.sent.add(new TraceEvent.Value("?" + (i + 1), performed.values()[i]));
            }
        }
        if (performed.changes() && performed.from() >= 0) {
            written(own, frame, performed);
        }
    }

    private String named(String key) {
        return session.program().catalog().table(key).map(Table::name).orElse(key);
    }

    private static void table(Open own, String name) {
        if (own.tables.stream().noneMatch(name::equalsIgnoreCase)) {
            own.tables.add(name);
        }
    }

    /** The values that were sent, by the text that each comes from. */
    private static void sent(Open own, DataSite site, Object[] values) {
        for (int i = 0; i < values.length; i++) {
            String name = site.sql().parameters().get(i).span().text();
            Object value = values[i];
            boolean known =
                    own.sent.stream()
                            .anyMatch(s -> s.name().equals(name) && Values.same(s.value(), value));
            if (!known) {
                own.sent.add(new TraceEvent.Value(name, value));
            }
        }
    }

    private void written(Open own, Frame frame, Performed performed) {
        try {
            for (RowEvent event : session.eventsSince(performed.from())) {
                if (event.writer().filter(frame.entry()::equals).isPresent()) {
                    own.writes++;
                    table(own, event.table().name());
                    if (own.written.size() < MOST_ROWS) {
                        own.written.add(event);
                    }
                }
            }
        } catch (SQLException e) {
            throw new IllegalStateException(e);
        }
    }

    private void raise(Frame frame, Condition condition) {
        List<List<TraceEvent.Value>> arguments = new ArrayList<>();
        for (Frame f = frame; f != null; f = f.caller()) {
            arguments.add(arguments(f));
        }
        told.accept(
                new TraceEvent.Raised(
                        frame.depth(),
                        frame.routine().name(),
                        frame.entry().place(),
                        condition,
                        frame.session.stack(frame),
                        arguments));
    }

    private void leave(Frame frame, Condition condition) {
        Open own = own(frame);
        if (own == null) {
            return;
        }
        end(own);
        open.pop();
        List<TraceEvent.Value> given = new ArrayList<>();
        if (condition == null && frame.knowsWhatItGives()) {
            for (Variable variable : frame.routine().variables()) {
                if (variable.kind() == Variable.Kind.OUT
                        || variable.kind() == Variable.Kind.INOUT) {
                    given.add(new TraceEvent.Value(variable.name(), frame.get(variable)));
                }
            }
            if (frame.routine().kind() == BoundRoutine.Kind.FUNCTION) {
                Object result =
                        frame.result instanceof ResultRows rows
                                ? rows.rows().size() + " rows"
                                : frame.result;
                given.add(new TraceEvent.Value("", result));
            }
        }
        told.accept(
                new TraceEvent.Left(
                        frame.depth(),
                        frame.routine().name(),
                        clock() - own.start,
                        given,
                        Optional.ofNullable(condition)));
    }

    /** What is known of a frame that runs; frames that a condition has ended are let go. */
    private Open own(Frame frame) {
        return !open.isEmpty() && open.peek().frame == frame ? open.peek() : null;
    }

    private void end(Open own) {
        if (own.at < 0) {
            return;
        }
        long nanos = clock() - own.began;
        List<TraceEvent.Change> changes = changes(own);
        told.accept(
                new TraceEvent.Statement(
                        own.frame.depth(),
                        own.frame.routine().name(),
                        own.number,
                        own.frame.routine().places().get(own.at).span(),
                        own.nested,
                        nanos,
                        List.copyOf(own.sent),
                        own.rows,
                        List.copyOf(own.tables),
                        changes,
                        List.copyOf(own.written),
                        own.writes));
        own.at = -1;
    }

    /** The variables that have changed since this was asked last. */
    private static List<TraceEvent.Change> changes(Open own) {
        List<TraceEvent.Change> changes = new ArrayList<>();
        List<Variable> variables = own.frame.routine().variables();
        for (int i = 0; i < own.values.length; i++) {
            Variable variable = variables.get(i);
            Object now = own.frame.get(variable);
            Object then = own.values[i];
            if (now != then && !Values.same(then, now)) {
                own.values[i] = Support.copy(now);
                if (!variable.isHidden()) {
                    changes.add(
                            new TraceEvent.Change(
                                    variable.name(), variable.type(), then, own.values[i]));
                }
            }
        }
        return changes;
    }

    /** The arguments of a frame; of a trigger the row that it is about. */
    private static List<TraceEvent.Value> arguments(Frame frame) {
        if (frame.routine().kind() == BoundRoutine.Kind.TRIGGER) {
            return TriggerRow.of(frame);
        }
        List<TraceEvent.Value> arguments = new ArrayList<>();
        for (Variable variable : frame.routine().variables()) {
            if (variable.kind() == Variable.Kind.IN || variable.kind() == Variable.Kind.INOUT) {
                arguments.add(
                        new TraceEvent.Value(variable.name(), Support.copy(frame.get(variable))));
            }
        }
        return arguments;
    }
}
