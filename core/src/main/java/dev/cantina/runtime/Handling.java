package dev.cantina.runtime;

import dev.cantina.syntax.Declaration.HandlerAction;
import dev.cantina.types.Condition;
import dev.cantina.types.ConditionException;
import java.sql.SQLException;
import java.util.List;

/** For compiled code: how a session's conditions are raised, handled and asked about. */
public final class Handling {
    private final Session session;
    private final Diagnostics diagnostics;
    private final List<String> warnings;

    /**
     * @param warnings takes what the run is warned of
     */
    Handling(Session session, Diagnostics diagnostics, List<String> warnings) {
        this.session = session;
        this.diagnostics = diagnostics;
        this.warnings = warnings;
    }

    /** The handler for what was thrown; raises what none of them takes. */
    public int choose(Frame frame, Throwable thrown, HandlerTable table) throws SQLException {
        if (thrown instanceof Program.UnsoundException e) {
            throw e;
        }
        RaisedException raised = session.raised(frame, thrown);
        HandlerTable.Entry entry =
                raised.condition().isLimit() ? null : table.choose(raised.condition());
        if (entry == null) {
            throw raised;
        }
        int left = entry.left().outermost(frame);
        boolean goesOn = entry.action() == HandlerAction.CONTINUE;
        if (left >= 0 && !goesOn) {
            session.transaction().rollbackTo(frame.marks[left]);
        }
        frame.runs(entry.number(), goesOn ? left : -1);
        diagnostics.push(raised, frame);
        return entry.number();
    }

    /** A handler has ended. */
    public void handled() {
        diagnostics.pop();
    }

    /** An ATOMIC block is left by a condition; gives what to throw on. */
    public RuntimeException undone(Frame frame, Throwable thrown, Mark mark) throws SQLException {
        if (thrown instanceof Program.UnsoundException e) {
            throw e;
        }
        RaisedException raised = session.raised(frame, thrown);
        session.transaction().rollbackTo(mark);
        return raised;
    }

    /**
     * Raises the warning or NOT FOUND that the last statement left, where a handler is for it;
     * without one the routine goes on (ISO 9075-4, 14.2).
     */
    public void raiseCompletion(HandlerTable handlers) {
        Condition condition = diagnostics.current().condition();
        boolean completion = condition.isWarning() || condition.isNotFound();
        if (completion && handlers.choose(condition) != null) {
            throw new RaisedException(condition, Raising.stack(session.top()));
        }
    }

    /** SIGNAL and RESIGNAL (ISO 9075-4, 22.1 and 22.2). */
    public void signal(
            Frame frame,
            boolean resignal,
            String sqlstate,
            String name,
            String[] items,
            Object[] values) {
        Condition condition = diagnostics.signalled(resignal, sqlstate, name, items, values);
        if (condition.isWarning() || condition.isNotFound()) {
            String command = resignal ? "RESIGNAL" : "SIGNAL";
            diagnostics.set(new Diagnostics.Area(condition, 0, command, frame.routine().name()));
            if (condition.isWarning()) {
                warnings.add(condition.message());
            }
            session.noticed(condition);
            return;
        }
        if (resignal) {
            throw new RaisedException(condition, diagnostics.cause().stack());
        }
        throw new ConditionException(condition);
    }

    /** GET STACKED DIAGNOSTICS stands only in a handler. */
    public void checkStacked(boolean stacked) {
        diagnostics.checkStacked(stacked);
    }

    /** The number of a condition that is there. */
    public int conditionNumber(boolean stacked, Object number) {
        return diagnostics.conditionNumber(stacked, number);
    }

    /** An item of a diagnostics area, or of one of its conditions. */
    public Object diagnostic(boolean stacked, int condition, String item) {
        return diagnostics.item(stacked, condition, item);
    }
}
