package dev.cantina.runtime;

import dev.cantina.binding.DeclaredTable;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.syntax.Unit;
import dev.cantina.types.ConditionException;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;

/** The triggers of a session, as its database has them fire. */
final class TriggerRunner {
    private final Session session;
    private final TemporaryTables temporary;
    private final Diagnostics diagnostics;

    TriggerRunner(Session session, TemporaryTables temporary, Diagnostics diagnostics) {
        this.session = session;
        this.temporary = temporary;
        this.diagnostics = diagnostics;
    }

    /**
     * For the database: a trigger fires.
     *
     * @param before the old row, null for an insert
     * @param after the new row, null for a delete; a BEFORE trigger changes it in place
     * @param changes the rows that the statement changed, for a trigger with transition tables
     */
    void fire(TriggerSymbol trigger, Object[] before, Object[] after, List<RowChange> changes) {
        Routine routine = routine(trigger);
        if (changes.isEmpty()
                && routine.bound().oldTable().isEmpty()
                && routine.bound().newTable().isEmpty()) {
            fire(trigger, routine, before, after);
            return;
        }
        Object use = new Object();
        try {
            try {
                transition(use, routine.bound().oldTable(), changes, RowChange::before);
                transition(use, routine.bound().newTable(), changes, RowChange::after);
                fire(trigger, routine, before, after);
            } finally {
                temporary.close(use, 0);
            }
        } catch (SQLException e) {
            throw session.raised(session.top(), e);
        }
    }

    private void transition(
            Object use,
            Optional<DeclaredTable> table,
            List<RowChange> changes,
            Function<RowChange, Object[]> side)
            throws SQLException {
        if (table.isPresent()) {
            temporary.open(use, table.get());
            temporary.fill(table.get(), changes.stream().map(side).toList());
        }
    }

    private TriggerSymbol lastTrigger;
    private Routine lastFired;

    /** A trigger fires for many rows in a row, and need not be looked up for each. */
    private Routine routine(TriggerSymbol trigger) {
        if (trigger != lastTrigger) {
            lastFired = session.program().routine(trigger);
            lastTrigger = trigger;
        }
        return lastFired;
    }

    private void fire(TriggerSymbol trigger, Routine routine, Object[] before, Object[] after) {
        Object[] rows =
                !trigger.tree().eachRow()
                        ? new Object[0]
                        : switch (trigger.tree().event()) {
                            case INSERT -> new Object[] {after};
                            case DELETE -> new Object[] {before};
                            case UPDATE -> new Object[] {before, after};
                        };
        Diagnostics.Area area = diagnostics.current();
        long written = session.data.writes();
        Frame frame = session.frames().activate(routine, rows);
        if (trigger.tree().timing() == Unit.Timing.BEFORE && after != null) {
            Object[] left = frame.give();
            if (left[left.length - 1] == null) {
                throw session.raised(
                        session.top(),
                        new ConditionException(
                                "22004",
                                "the trigger " + trigger.name() + " has made its new row NULL"));
            }
        }
        diagnostics.set(area);
        if (session.data.writes() != written) {
            session.wroteOn();
        }
    }
}
