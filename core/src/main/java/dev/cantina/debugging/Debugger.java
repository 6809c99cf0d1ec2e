package dev.cantina.debugging;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.check.BoundRoutine;
import dev.cantina.check.Variable;
import dev.cantina.runtime.Frame;
import dev.cantina.runtime.Probe;
import dev.cantina.runtime.ProbeCode;
import dev.cantina.runtime.Program;
import dev.cantina.runtime.RaisedException;
import dev.cantina.runtime.Routine;
import dev.cantina.runtime.RowEvent;
import dev.cantina.runtime.Session;
import dev.cantina.runtime.TableChanges;
import dev.cantina.syntax.Nearest;
import dev.cantina.types.Condition;
import dev.cantina.types.ConditionException;
import dev.cantina.types.SqlType;
import dev.cantina.types.Values;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/**
 * Stops a run where it was asked to: the probe of a session. Before the run, breakpoints may be
 * set; during it, everything belongs to the listener's call (see the package).
 */
public final class Debugger implements Probe {
    /** A breakpoint with how often it was reached, and its condition compiled. */
    private static final class Armed {
        Breakpoint breakpoint;
        Routine routine;
        int statement;
        long reached;
        ProbeCode condition;

        Armed(Breakpoint breakpoint) {
            this.breakpoint = breakpoint;
        }
    }

    private final Program program;
    private final StopListener listener;
    private final List<Armed> armed = new ArrayList<>();
    private final Map<Frame, Object[]> seen = new IdentityHashMap<>();
    private Session session;
    private Resume.Kind mode = Resume.Kind.INTO;
    private int modeDepth;
    private int modeLine;
    private BoundRoutine modeRoutine;
    private boolean started;
    private int nextNumber = 1;
    private long seenPosition = -1;
    private boolean working;

    /**
     * @param stopAtStart whether the first statement is a stop
     */
    public Debugger(Program program, StopListener listener, boolean stopAtStart) {
        this.program = program;
        this.listener = listener;
        this.mode = stopAtStart ? Resume.Kind.INTO : Resume.Kind.CONTINUE;
    }

    public List<Breakpoint> breakpoints() {
        return armed.stream().map(a -> a.breakpoint).toList();
    }

    @Override
    public void entered(Frame frame) {
        if (session == null) {
            session = frame.session;
            applyMode(mode, frame);
        }
    }

    @Override
    public void left(Frame frame, Condition condition) {
        seen.remove(frame);
    }

    @Override
    public void raised(Frame frame, Condition condition) {
        if (working || condition.isLimit()) {
            return;
        }
        for (Armed candidate : armed) {
            Breakpoint breakpoint = candidate.breakpoint;
            if (breakpoint.enabled()
                    && breakpoint.on().isPresent()
                    && concerns(breakpoint.on().get(), condition)
                    && counts(candidate)) {
                stop(Stop.Reason.CONDITION, frame, Optional.of(condition), Optional.of(breakpoint));
                return;
            }
        }
    }

    private static boolean concerns(String on, Condition condition) {
        return switch (on) {
            case "exception" -> condition.isException();
            case "not found" -> condition.isNotFound();
            default -> condition.sqlstate().equals(on);
        };
    }

    @Override
    public void reached(Frame frame) {
        if (working) {
            return;
        }
        for (Armed candidate : armed) {
            if (candidate.routine != null
                    && candidate.breakpoint.enabled()
                    && candidate.statement == frame.at
                    && candidate.routine.bound() == frame.routine()
                    && holds(candidate, frame)
                    && counts(candidate)) {
                stop(
                        Stop.Reason.BREAKPOINT,
                        frame,
                        Optional.empty(),
                        Optional.of(candidate.breakpoint));
                return;
            }
        }
        if (isStepTo(frame)) {
            Stop.Reason reason = started ? Stop.Reason.STEP : Stop.Reason.START;
            stop(reason, frame, Optional.empty(), Optional.empty());
        }
    }

    private boolean isStepTo(Frame frame) {
        return switch (mode) {
            case INTO -> true;
            case OVER -> frame.depth() <= modeDepth;
            case OUT -> frame.depth() < modeDepth;
            case TO ->
                    frame.depth() < modeDepth
                            || frame.depth() == modeDepth
                                    && frame.routine() == modeRoutine
                                    && frame.place().span().line() == modeLine;
            case CONTINUE, QUIT -> false;
        };
    }

    private static boolean counts(Armed candidate) {
        long times = ++candidate.reached - candidate.breakpoint.after();
        return times > 0 && (times - 1) % candidate.breakpoint.every() == 0;
    }

    private boolean holds(Armed candidate, Frame frame) {
        if (candidate.breakpoint.condition().isEmpty()) {
            return true;
        }
        working = true;
        try {
            if (candidate.condition == null) {
                candidate.condition =
                        Looking.compile(
                                program,
                                session,
                                frame,
                                candidate.breakpoint.condition().get(),
                                Optional.of(SqlType.BOOLEAN));
            }
            return Boolean.TRUE.equals(candidate.condition.value(frame));
        } catch (DebugException | RaisedException e) {
            listener.troubled(candidate.breakpoint, e.getMessage());
            return false;
        } finally {
            working = false;
        }
    }

    private void stop(
            Stop.Reason reason,
            Frame frame,
            Optional<Condition> condition,
            Optional<Breakpoint> breakpoint) {
        started = true;
        List<RowEvent> fresh = events();
        Stop stop =
                new Stop(
                        reason,
                        frame,
                        variableChanges(frame),
                        TableChanges.of(fresh),
                        condition,
                        breakpoint);
        working = true;
        Resume resume;
        try {
            resume = listener.stopped(stop);
        } finally {
            working = false;
            seenPosition = position();
        }
        remember(frame);
        modeLine = resume.line();
        applyMode(resume.kind(), frame);
    }

    private long position() {
        try {
            return session.position();
        } catch (SQLException e) {
            throw new IllegalStateException(e);
        }
    }

    /** The rows changed since the last stop. */
    private List<RowEvent> events() {
        try {
            return seenPosition < 0 ? session.events() : session.eventsSince(seenPosition);
        } catch (SQLException e) {
            throw new IllegalStateException(e);
        }
    }

    private List<Stop.VariableChange> variableChanges(Frame frame) {
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
                changes.add(new Stop.VariableChange(variable.name(), before == null, then, now));
            }
        }
        return changes;
    }

    private void remember(Frame frame) {
        List<Variable> variables = frame.routine().variables();
        Object[] values = new Object[variables.size()];
        for (Variable variable : variables) {
            values[variable.slot()] = copy(frame.get(variable));
        }
        seen.put(frame, values);
    }

    private static Object copy(Object value) {
        if (!(value instanceof Object[] parts)) {
            return value;
        }
        Object[] copies = new Object[parts.length];
        for (int i = 0; i < parts.length; i++) {
            copies[i] = copy(parts[i]);
        }
        return copies;
    }

    private void applyMode(Resume.Kind kind, Frame frame) {
        if (kind == Resume.Kind.QUIT) {
            throw new ConditionException("UL000", "ended from the debugger");
        }
        mode = kind;
        modeDepth = frame.depth();
        modeRoutine = frame.routine();
        watch();
    }

    /**
     * Tells the session which statements to ask about: all while stepping, else the breakpoints'.
     */
    private void watch() {
        if (session == null) {
            return;
        }
        session.watchAll(mode != Resume.Kind.CONTINUE);
        for (Armed candidate : armed) {
            if (candidate.routine != null && candidate.breakpoint.enabled()) {
                session.watch(candidate.routine, candidate.statement);
            }
        }
    }

    /**
     * Sets a breakpoint on a line; without a statement there, on the next one that has one.
     *
     * @throws DebugException where the routine is not there, or has no statement from that line on
     */
    public Breakpoint pauseAt(
            String routineName, int line, Optional<String> condition, int after, int every)
            throws DebugException {
        Routine routine = routine(routineName);
        int found = -1;
        int foundLine = Integer.MAX_VALUE;
        List<BoundRoutine.Place> places = routine.bound().places();
        for (int i = 0; i < places.size(); i++) {
            BoundRoutine.Place place = places.get(i);
            int at = place.span().line();
            if (isStop(place) && at >= line && at < foundLine) {
                found = i;
                foundLine = at;
            }
        }
        int first = routine.bound().span().line();
        int last = routine.bound().span().endLine();
        if (found < 0 || line < first) {
            throw new DebugException(
                    "there is no statement of "
                            + routine.bound().name()
                            + " at line "
                            + line
                            + "; it stands in lines "
                            + first
                            + " to "
                            + last);
        }
        if (condition.isPresent()) {
            Looking.readable(condition.get());
            Looking.bind(
                    program,
                    routine.bound(),
                    places.get(found).scope(),
                    condition.get(),
                    Optional.of(SqlType.BOOLEAN));
        }
        Armed added =
                new Armed(
                        new Breakpoint(
                                nextNumber++,
                                routine.bound().name(),
                                foundLine,
                                line,
                                condition,
                                after,
                                Math.max(1, every),
                                Optional.empty(),
                                true));
        added.routine = routine;
        added.statement = found;
        armed.add(added);
        watch();
        return added.breakpoint;
    }

    private static boolean isStop(BoundRoutine.Place place) {
        if (place.what().equals("BEGIN") || place.what().equals("LOOP")) {
            return false;
        }
        return !place.what().equals("DECLARE")
                || place.span().text().toUpperCase(Locale.ROOT).contains("DEFAULT");
    }

    /** Stops when a condition is raised: {@code exception}, {@code not found}, or an SQLSTATE. */
    public Breakpoint pauseOn(String what) throws DebugException {
        String on = what.toLowerCase(Locale.ROOT);
        if (!on.equals("exception") && !on.equals("not found")) {
            on = what.toUpperCase(Locale.ROOT).replace("'", "");
            if (!on.matches("[0-9A-Z]{5}")) {
                throw new DebugException(
                        "pause on takes exception, not found or an SQLSTATE such as 45000");
            }
        }
        Breakpoint breakpoint =
                new Breakpoint(
                        nextNumber++, "", 0, 0, Optional.empty(), 0, 1, Optional.of(on), true);
        armed.add(new Armed(breakpoint));
        return breakpoint;
    }

    /** Switches breakpoints on or off, or removes them; {@code 0} stands for all. */
    public int change(int number, Change change) throws DebugException {
        int touched = 0;
        for (Armed candidate : List.copyOf(armed)) {
            if (number != 0 && candidate.breakpoint.number() != number) {
                continue;
            }
            touched++;
            switch (change) {
                case EASE -> candidate.breakpoint = candidate.breakpoint.enabled(false);
                case ARM -> candidate.breakpoint = candidate.breakpoint.enabled(true);
                case REMOVE -> armed.remove(candidate);
            }
        }
        if (touched == 0 && number != 0) {
            throw new DebugException("there is no breakpoint " + number + "; pauses lists them");
        }
        watch();
        return touched;
    }

    /** What can be done to a breakpoint. */
    public enum Change {
        EASE,
        ARM,
        REMOVE
    }

    private Routine routine(String name) throws DebugException {
        Map<String, Object> known = new HashMap<>();
        for (RoutineSymbol symbol : program.catalog().routines()) {
            known.put(symbol.name(), symbol);
        }
        for (TriggerSymbol symbol : program.catalog().triggers()) {
            known.put(symbol.name(), symbol);
        }
        for (Map.Entry<String, Object> entry : known.entrySet()) {
            if (entry.getKey().equalsIgnoreCase(name)) {
                try {
                    return entry.getValue() instanceof RoutineSymbol routine
                            ? program.routine(routine)
                            : program.routine((TriggerSymbol) entry.getValue());
                } catch (Program.UnsoundException e) {
                    throw new DebugException(e.getMessage() + "; run cantina check");
                }
            }
        }
        throw new DebugException(
                "there is no routine "
                        + name
                        + Nearest.to(name, known.keySet())
                                .map(n -> "; did you mean " + n + "?")
                                .orElse(""));
    }

    /** Works an expression out in a frame; see {@link Looking#eval}. */
    public Object eval(Frame frame, String expression) throws DebugException {
        return Looking.eval(program, session, frame, expression);
    }

    /** Changes a variable of a frame; see {@link Looking#set}. */
    public Object set(Frame frame, String name, String expression) throws DebugException {
        return Looking.set(program, session, frame, name, expression);
    }
}
