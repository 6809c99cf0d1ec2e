package dev.cantina.testing;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.Variable;
import dev.cantina.catalog.Table;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.debugging.ExecutionPoint;
import dev.cantina.runtime.Frame;
import dev.cantina.runtime.Performed;
import dev.cantina.runtime.Probe;
import dev.cantina.runtime.RowEvent;
import dev.cantina.runtime.StackEntry;
import dev.cantina.syntax.Unit;
import dev.cantina.types.Condition;
import dev.cantina.types.Values;
import java.sql.SQLException;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Finds the moment at which a run does what makes a case fail: it watches the case once more, and
 * keeps the last moment that fits its first difference.
 */
public final class Culprit implements Probe {
    private final Difference difference;

    /** Where the difference is, without the call that it is about. */
    private final String at;

    private Optional<ExecutionPoint> found = Optional.empty();
    private Optional<ExecutionPoint> end = Optional.empty();
    private Optional<ExecutionPoint> overwritten = Optional.empty();
    private final Map<Frame, Object> values = new IdentityHashMap<>();

    private Culprit(Difference difference) {
        this.difference = difference;
        this.at = difference.at().replaceFirst("^calls\\[\\d+\\]\\.", "");
    }

    /**
     * The moment before the statement that is to blame for a difference, or at the condition that
     * is; where there is none, at the end of the run. Empty where nothing ran at all.
     *
     * @param run runs the case that has the difference, watched by a probe
     */
    public static Optional<ExecutionPoint> find(
            Difference difference, java.util.function.Consumer<Probe> run) {
        Culprit culprit = new Culprit(difference);
        run.accept(culprit);
        return culprit.found.or(() -> culprit.end);
    }

    /**
     * The difference to look into: the first that some statement wrote, for one that nothing wrote
     * has no place.
     */
    public static Difference chosen(List<Difference> differences) {
        return differences.stream()
                .filter(d -> d.writer().isPresent())
                .findFirst()
                .orElse(differences.get(0));
    }

    private boolean isAbout(String what) {
        return at.startsWith(what);
    }

    @Override
    public void entered(Frame frame) {
        if (frame.depth() == 1) {
            frame.session.watchAll(true);
        }
    }

    @Override
    public void reached(Frame frame) {
        returned(frame, frame.earlier);
        overwritten(frame, frame.earlier);
        String what = frame.place().what();
        boolean blamed =
                isAbout("says") && what.equals("REPORT")
                        || !isAbout("data")
                                && difference.writer().filter(w -> isAt(w, frame)).isPresent();
        if (blamed) {
            found = Optional.of(before(frame.moment));
        }
    }

    private static boolean isAt(StackEntry writer, Frame frame) {
        return writer.equals(frame.entry());
    }

    @Override
    public void performed(Frame frame, Performed performed) {
        if (isAbout("results") && !performed.changes()) {
            found = Optional.of(before(frame.moment));
        }
        if (!isAbout("data") || !performed.changes()) {
            return;
        }
        try {
            for (RowEvent event : frame.session.eventsSince(performed.from())) {
                boolean own = event.writer().filter(frame.entry()::equals).isPresent();
                if (own && wrote(event)) {
                    // A trigger may have changed the row on its way to the table.
                    found =
                            overwritten
                                    .filter(m -> m.statement() > frame.moment)
                                    .or(() -> Optional.of(before(frame.moment)));
                }
            }
        } catch (SQLException e) {
            throw new IllegalStateException(e);
        }
    }

    /** Whether a row was given the value that is not as expected. */
    private boolean wrote(RowEvent event) {
        String table = "data." + event.table().name();
        if (!at.regionMatches(true, 0, table, 0, table.length())) {
            return false;
        }
        if (difference.writer().isPresent() && !difference.writer().equals(event.writer())) {
            return false;
        }
        List<Integer> keys = event.table().primaryKey();
        if (keys.size() != 1 || !at.startsWith(".changed.", table.length())) {
            return true;
        }
        Object[] row = event.after() == null ? event.before() : event.after();
        String place = table + ".changed." + Values.text(row[keys.get(0)]);
        return at.regionMatches(true, 0, place, 0, place.length());
    }

    @Override
    public void raised(Frame frame, Condition condition) {
        if (isAbout("raises") && condition.isException()) {
            found =
                    Optional.of(
                            new ExecutionPoint(
                                    frame.moment,
                                    ExecutionPoint.Phase.RAISED,
                                    frame.session.statementCount()));
        }
    }

    @Override
    public void ending(Frame frame) {
        returned(frame, frame.moment);
        overwritten(frame, frame.moment);
        if (frame.depth() == 1) {
            end =
                    Optional.of(
                            new ExecutionPoint(
                                    frame.moment,
                                    ExecutionPoint.Phase.END,
                                    frame.session.statementCount()));
            if (at.equals("returns")) {
                found = Optional.of(before(frame.moment));
            }
        }
    }

    /** Notes that a BEFORE trigger gives a column the value that is not as expected. */
    private void overwritten(Frame frame, long statement) {
        Optional<TriggerSymbol> trigger =
                !isAbout("data") || frame.routine().kind() != BoundRoutine.Kind.TRIGGER
                        ? Optional.empty()
                        : frame.session
                                .program()
                                .catalog()
                                .triggerAt(frame.routine().span())
                                .filter(t -> t.tree().timing() == Unit.Timing.BEFORE);
        if (trigger.isEmpty()) {
            return;
        }
        Table table = trigger.get().table();
        for (Variable variable : frame.routine().variables()) {
            if (variable.kind() == Variable.Kind.NEW_ROW
                    && frame.get(variable) instanceof Object[] row) {
                int column = columnAt(table, row);
                Object now = column < 0 ? null : row[column];
                boolean known = values.containsKey(frame);
                Object then = values.put(frame, now);
                if (known && !Values.same(then, now)) {
                    overwritten = Optional.of(before(statement));
                }
            }
        }
    }

    /** The column that the difference is about, where it is about this row; otherwise -1. */
    private int columnAt(Table table, Object[] row) {
        List<Integer> keys = table.primaryKey();
        for (int i = 0; keys.size() == 1 && i < row.length; i++) {
            String place =
                    "data."
                            + table.name()
                            + ".changed."
                            + Values.text(row[keys.get(0)])
                            + "."
                            + table.columns().get(i).name();
            if (at.equalsIgnoreCase(place)) {
                return i;
            }
        }
        return -1;
    }

    /** Notes a change of the parameter that gives what was not expected. */
    private void returned(Frame frame, long statement) {
        if (!isAbout("returns.") || frame.depth() != 1) {
            return;
        }
        BoundRoutine routine = frame.routine();
        for (Variable variable : routine.variables()) {
            if (variable.kind().isParameter()
                    && at.equalsIgnoreCase("returns." + variable.name())) {
                Object now = frame.get(variable);
                boolean known = values.containsKey(frame);
                Object then = values.put(frame, now);
                if (known && !Values.same(then, now)) {
                    found = Optional.of(before(statement));
                }
            }
        }
    }

    private static ExecutionPoint before(long statement) {
        return new ExecutionPoint(statement, ExecutionPoint.Phase.BEFORE, statement);
    }
}
