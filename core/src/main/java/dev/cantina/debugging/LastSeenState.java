package dev.cantina.debugging;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.Variable;
import dev.cantina.runtime.Frame;
import dev.cantina.runtime.RowEvent;
import dev.cantina.runtime.Session;
import dev.cantina.runtime.Support;
import dev.cantina.types.ConditionException;
import dev.cantina.types.Values;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/** What a person has seen of a run: variables and rows as they were at the last stop. */
final class LastSeenState {
    private static final int MOST_NAMED = 10_000;

    private final Map<Frame, Object[]> seen = new IdentityHashMap<>();
    private long position = -1;
    private Optional<LeftBehind> leftBehind = Optional.empty();

    /** How things were when a person went back from there. */
    private record LeftBehind(
            BoundRoutine routine, Object[] values, Map<String, Integer> changedTables) {
        /** Which tables are not as they were there. */
        Optional<String> undone(Map<String, Integer> now) {
            List<String> names =
                    changedTables.keySet().stream()
                            .filter(t -> !changedTables.get(t).equals(now.get(t)))
                            .toList();
            return names.isEmpty()
                    ? Optional.empty()
                    : Optional.of("the rows are as they were then, in " + String.join(", ", names));
        }
    }

    /** Another run begins; what was left behind by going back is kept. */
    void begin() {
        seen.clear();
        position = -1;
    }

    void left(Frame frame) {
        seen.remove(frame);
    }

    static long position(Session session) {
        try {
            return session.position();
        } catch (SQLException e) {
            throw new ConditionException(session.condition(e));
        }
    }

    /** The rows changed since the last stop. */
    List<RowEvent> events(Session session) {
        try {
            return position < 0 ? session.events() : session.eventsSince(position);
        } catch (SQLException e) {
            throw new ConditionException(session.condition(e));
        }
    }

    /** The rows as they are now were seen. */
    void sawRows(Session session) {
        position = position(session);
    }

    /** The variables of a frame as they are now were seen. */
    void saw(Frame frame) {
        List<Variable> variables = frame.routine().variables();
        Object[] values = new Object[variables.size()];
        for (Variable variable : variables) {
            values[variable.slot()] = Support.copy(frame.get(variable));
        }
        seen.put(frame, values);
    }

    /** The variables that have changed since they were seen; at first the arguments. */
    List<Stop.VariableChange> changes(Frame frame) {
        List<Stop.VariableChange> changes = new ArrayList<>();
        Object[] before = seen.get(frame);
        for (Variable variable : frame.place().scope().variables()) {
            Object now = frame.get(variable);
            Object then = before == null ? null : before[variable.slot()];
            boolean shown =
                    before == null
                            ? variable.kind().isParameter() && now != null
                            : !Values.same(then, now);
            if (shown && !(now instanceof Object[] && before == null)) {
                changes.add(new Stop.VariableChange(variable.name(), before == null, then, now, 0));
            }
        }
        return changes;
    }

    /** A person goes back from a frame that was seen. */
    void leaveBehind(Frame frame) {
        if (leftBehind.isEmpty() && seen.containsKey(frame)) {
            leftBehind =
                    Optional.of(
                            new LeftBehind(
                                    frame.routine(),
                                    seen.get(frame),
                                    changedTables(frame.session)));
        }
    }

    /**
     * A person has come back: what is not as it was where they came from is what has changed.
     *
     * @param back whether they went there from another stop
     * @return what there is to say of the rows
     */
    Optional<String> arrive(Frame frame, boolean back) {
        Optional<String> note = Optional.empty();
        if (back) {
            leftBehind
                    .filter(b -> b.routine() == frame.routine())
                    .ifPresent(b -> seen.put(frame, b.values()));
            note = leftBehind.flatMap(b -> b.undone(changedTables(frame.session)));
        }
        leftBehind = Optional.empty();
        sawRows(frame.session);
        return note;
    }

    /** How many rows of each table are not as they were; of very many changes only that. */
    private static Map<String, Integer> changedTables(Session session) {
        Map<String, Integer> counts = new TreeMap<>();
        try {
            long position = session.position();
            if (position > MOST_NAMED) {
                return Map.of("several tables", (int) position);
            }
            session.events().forEach(e -> counts.merge(e.table().name(), 1, Integer::sum));
        } catch (SQLException e) {
            throw new ConditionException(session.condition(e));
        }
        return counts;
    }
}
