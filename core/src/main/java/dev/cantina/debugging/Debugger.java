package dev.cantina.debugging;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.debugging.Breakpoints.InstalledBreakpoint;
import dev.cantina.runtime.Frame;
import dev.cantina.runtime.Performed;
import dev.cantina.runtime.Probe;
import dev.cantina.runtime.Program;
import dev.cantina.runtime.RaisedException;
import dev.cantina.runtime.ResultRows;
import dev.cantina.runtime.RowEvent;
import dev.cantina.runtime.ServerFrame;
import dev.cantina.runtime.Session;
import dev.cantina.runtime.TableChanges;
import dev.cantina.types.Condition;
import dev.cantina.types.ConditionException;
import dev.cantina.types.SqlType;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Queue;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.function.Predicate;
import java.util.function.Supplier;

/**
 * Stops a run where it was asked to: the probe of a session. Before the run, breakpoints may be
 * set; during it, everything belongs to the listener's call (see the package).
 *
 * <p>To go back ends the run, as an interrupt does, and {@link #isAgain} says so: whoever runs it
 * takes back what it did and runs it once more with this probe, after {@link #begin}.
 */
public final class Debugger implements Probe {
    private final StopListener listener;
    private final boolean stopAtStart;
    private final Breakpoints breakpoints = new Breakpoints();
    private final Replay replay = new Replay();
    private final Watches watches = new Watches(breakpoints);
    private final LastSeenState sights = new LastSeenState();
    private Program program;
    private volatile Session session;
    private Resume.Kind mode;
    private int modeDepth;
    private int modeLine;
    private String modeInto = "";
    private int modeTime;
    private int entered;
    private BoundRoutine modeRoutine;
    private boolean started;
    private boolean working;
    private boolean again;
    private volatile boolean breakIn;
    private final Queue<Runnable> meanwhile = new ConcurrentLinkedQueue<>();
    private Optional<ExecutionPoint> shownEnd = Optional.empty();
    private Optional<ExecutionPoint> last = Optional.empty();
    private volatile Optional<Stop> standing = Optional.empty();

    /**
     * @param stopAtStart whether the first statement is a stop
     */
    public Debugger(Program program, StopListener listener, boolean stopAtStart) {
        this.listener = listener;
        this.stopAtStart = stopAtStart;
        begin(program, Optional.empty());
    }

    /**
     * Says what will be run, so that breakpoints can be looked at before.
     *
     * @param routines the names of the routines that are called from outside
     * @param script the code of a script, where one is run
     */
    public void runs(Collection<String> routines, Optional<BoundRoutine> script) {
        breakpoints.runs(program, routines, script);
    }

    /**
     * A run is about to begin, or to begin once more.
     *
     * @param script the code of a script, where one is run
     */
    public void begin(Program with, Optional<BoundRoutine> script) {
        program = with;
        breakpoints.begin(with, script);
        session = null;
        watches.begin();
        sights.begin();
        boolean stops = stopAtStart || stopAtNextStart;
        mode = stops && !again ? Resume.Kind.INTO : Resume.Kind.CONTINUE;
        stopAtNextStart = false;
        started = again;
        again = false;
        doMeanwhile();
    }

    private volatile boolean stopAtNextStart;

    /** The first statement of the next run is a stop; may be called from any thread. */
    public void stopAtNextStart() {
        stopAtNextStart = true;
    }

    /**
     * Has something done at the next statement, or before the next run: breakpoints set and taken
     * away while it goes on. May be called from any thread.
     */
    public void meanwhile(Runnable work) {
        meanwhile.add(work);
        Session running = session;
        if (running != null) {
            running.breakIn();
        }
    }

    /** Does what was asked for meanwhile, where no statement comes that would do it. */
    public void catchUp() {
        doMeanwhile();
    }

    private void doMeanwhile() {
        for (Runnable work = meanwhile.poll(); work != null; work = meanwhile.poll()) {
            work.run();
        }
    }

    /** At a statement that is told of although nobody waits for it: does what was asked for. */
    private void listen() {
        if (meanwhile.isEmpty()) {
            return;
        }
        doMeanwhile();
        session.stopAt(replay.isOn() ? replay.next() : Long.MAX_VALUE);
    }

    /** Ends what a person has asked a run that stands; may be called from any thread. */
    public void callOff() {
        Session running = session;
        if (running != null) {
            running.questions().callOff();
        }
    }

    /** Ends the run as soon as it can be ended; may be called from any thread. */
    public void stopRun() {
        Session running = session;
        if (running != null) {
            running.questions().callOff();
            running.interrupt();
        }
    }

    /**
     * Stops at the next statement, wherever that is; asked for twice, ends the run. What a person
     * asks of a run that stands is called off. May be called from any thread.
     */
    public void breakIn() {
        Session running = session;
        if (running == null) {
            return;
        }
        if (standing.isPresent()) {
            // Nothing runs but what was asked.
            running.questions().callOff();
        } else if (breakIn) {
            running.interrupt();
        } else {
            breakIn = true;
            running.breakIn();
        }
    }

    /** Whether the run was ended only to be begun again, to reach an earlier moment. */
    public boolean isAgain() {
        return again;
    }

    /**
     * Where the run ended: at the condition that nothing took, or at the end of its routine; empty
     * where it never began.
     */
    public Optional<ExecutionPoint> end() {
        return last;
    }

    /** After the run: takes it up once more, at a moment of it. */
    public void takeUp(ExecutionPoint moment, Stop.Reason reason) {
        replay.to(moment, reason);
        again = true;
    }

    /** After the run: takes it up once more, from its start. */
    public void restart() {
        replay.restart();
        again = true;
    }

    /** Whether the run has ended before the moment that it was repeated for. */
    public boolean isStrayed() {
        return !again && replay.isOn();
    }

    public List<Breakpoint> breakpoints() {
        return breakpoints.list();
    }

    // What the session tells.

    @Override
    public void entered(Frame frame) {
        if (working) {
            return;
        }
        if (session != frame.session) {
            session = frame.session;
            if (replay.isOn()) {
                session.watchAll(false);
                session.stopAt(replay.next());
            } else {
                applyMode(mode, frame);
            }
        }
        if (mode == Resume.Kind.INTO_CALL
                && frame.depth() == modeDepth + 1
                && frame.routine().name().equalsIgnoreCase(modeInto)) {
            entered++;
        }
        breakpoints.mark(frame, replay.isOn() && !replay.seeksBreakpoint());
        if (replay.isOn()) {
            replay.mark(frame);
        }
    }

    @Override
    public void left(Frame frame, Condition condition) {
        watches.left(frame);
        sights.left(frame);
        boolean unhandled =
                frame.depth() == 1
                        && condition != null
                        && condition.isException()
                        && !condition.isLimit();
        if (unhandled
                && !again
                && !replay.isOn()
                && breakpoints.stopsForUnhandled()
                && last.filter(l -> l.phase() == ExecutionPoint.Phase.RAISED).isPresent()
                && !last.equals(shownEnd)) {
            shownEnd = last;
            takeUp(last.get(), Stop.Reason.CONDITION);
        }
    }

    @Override
    public void said(String message) {
        if (!working && !replay.isOn()) {
            listener.said(message);
        }
    }

    @Override
    public void reached(Frame frame) {
        if (working) {
            return;
        }
        listen();
        if (replay.isOn()) {
            InstalledBreakpoint passed = breakpointAt(frame);
            countChanges(frame, ExecutionPoint.Phase.BEFORE);
            passes(passed, frame, ExecutionPoint.Phase.BEFORE);
            replayed(frame, ExecutionPoint.Phase.BEFORE);
            return;
        }
        Optional<Watches.Changed> changed = changeIn(frame);
        InstalledBreakpoint hit = breakpointAt(frame);
        if (hit != null) {
            stop(Stop.Reason.BREAKPOINT, frame, ExecutionPoint.Phase.BEFORE, null, hit.breakpoint);
        } else if (changed.isPresent()) {
            stop(changed.get(), frame, ExecutionPoint.Phase.BEFORE);
        } else if (breakIn) {
            stop(Stop.Reason.BREAK_IN, frame, ExecutionPoint.Phase.BEFORE, null, null);
        } else if (isStepTo(frame)) {
            Stop.Reason reason = started ? Stop.Reason.STEP : Stop.Reason.START;
            stop(reason, frame, ExecutionPoint.Phase.BEFORE, null, null);
        }
    }

    @Override
    public void ending(Frame frame) {
        if (working) {
            return;
        }
        InstalledBreakpoint hit =
                hit(Breakpoint.Kind.END, frame, installed -> installed.routine == frame.routine());
        if (replay.isOn()) {
            countChanges(frame, ExecutionPoint.Phase.END);
            passes(hit, frame, ExecutionPoint.Phase.END);
            replayed(frame, ExecutionPoint.Phase.END);
            return;
        }
        if (frame.depth() == 1) {
            last = Optional.of(moment(frame, ExecutionPoint.Phase.END));
        }
        Optional<Watches.Changed> changed = changeIn(frame);
        if (hit != null) {
            stop(Stop.Reason.END, frame, ExecutionPoint.Phase.END, null, hit.breakpoint);
        } else if (changed.isPresent()) {
            stop(changed.get(), frame, ExecutionPoint.Phase.END);
        } else if (frame.depth() == 1 && mode != Resume.Kind.CONTINUE) {
            stop(Stop.Reason.END, frame, ExecutionPoint.Phase.END, null, null);
        }
    }

    @Override
    public void raised(Frame frame, Condition condition) {
        if (working || again) {
            return;
        }
        if (condition.isLimit()) {
            last = Optional.of(ExecutionPoint.before(frame.moment));
            return;
        }
        InstalledBreakpoint hit =
                hit(
                        Breakpoint.Kind.CONDITION,
                        frame,
                        installed -> Breakpoints.concerns(installed.breakpoint, condition));
        if (replay.isOn()) {
            passes(hit, frame, ExecutionPoint.Phase.RAISED);
            replayed(frame, ExecutionPoint.Phase.RAISED);
            return;
        }
        if (condition.isException()) {
            last = Optional.of(moment(frame, ExecutionPoint.Phase.RAISED));
        }
        if (hit != null) {
            stop(
                    Stop.Reason.CONDITION,
                    frame,
                    ExecutionPoint.Phase.RAISED,
                    condition,
                    hit.breakpoint);
        }
    }

    @Override
    public boolean wantsData() {
        return replay.isOn() || breakpoints.has(Breakpoint.Kind.WRITE);
    }

    @Override
    public void performed(Frame frame, Performed performed) {
        if (working || !performed.changes()) {
            return;
        }
        InstalledBreakpoint hit = null;
        if (breakpoints.has(Breakpoint.Kind.WRITE)) {
            List<RowEvent> own = written(frame, performed);
            hit =
                    hit(
                            Breakpoint.Kind.WRITE,
                            frame,
                            installed ->
                                    own.stream().anyMatch(e -> isOf(e, installed.breakpoint))
                                            || installed.routine == frame.routine()
                                                    && isOwn(performed, installed.breakpoint));
        }
        if (replay.isOn()) {
            passes(hit, frame, ExecutionPoint.Phase.WRITTEN);
            replayed(frame, ExecutionPoint.Phase.WRITTEN);
        } else if (hit != null) {
            stop(Stop.Reason.WRITE, frame, ExecutionPoint.Phase.WRITTEN, null, hit.breakpoint);
        }
    }

    /** The breakpoint of a kind to stop at, if there is one; counts those that are reached. */
    private InstalledBreakpoint hit(
            Breakpoint.Kind kind, Frame frame, Predicate<InstalledBreakpoint> fits) {
        for (InstalledBreakpoint installed : breakpoints.all()) {
            if (installed.is(kind)
                    && fits.test(installed)
                    && (installed.isUnconditional() || holds(installed, frame))
                    && installed.counts(frame.moment)
                    && !tells(installed, frame)) {
                return installed;
            }
        }
        return null;
    }

    /** Whether a breakpoint only tells something, which is done, and does not stop. */
    private boolean tells(InstalledBreakpoint installed, Frame frame) {
        if (installed.breakpoint.tells().isEmpty()) {
            return false;
        }
        if (!replay.isOn()) {
            String text = installed.breakpoint.tells().get();
            listener.told(
                    installed.breakpoint,
                    frame,
                    looking(
                            () ->
                                    session.questions()
                                            .aside(() -> ToldText.of(text, e -> eval(frame, e)))));
        }
        return true;
    }

    /** A breakpoint that is passed while the run is repeated may be the one that is looked for. */
    private void passes(InstalledBreakpoint hit, Frame frame, ExecutionPoint.Phase phase) {
        if (hit != null && replay.seeksBreakpoint()) {
            replay.passes(moment(frame, phase), hit.breakpoint);
        }
    }

    private static boolean isOf(RowEvent event, Breakpoint breakpoint) {
        return event.table().name().equalsIgnoreCase(breakpoint.on());
    }

    /** Whether a statement has written to the table of a block, of which no log is kept. */
    private static boolean isOwn(Performed performed, Breakpoint breakpoint) {
        return performed.rows() > 0
                && performed.site().stream()
                        .flatMap(s -> s.sql().scope().tables().stream().limit(1))
                        .flatMap(t -> t.names().stream())
                        .anyMatch(n -> n.text().equalsIgnoreCase(breakpoint.on()));
    }

    /** The rows that a frame's statement has written itself, or by a cascade. */
    private List<RowEvent> written(Frame frame, Performed performed) {
        try {
            return session.eventsSince(performed.from()).stream()
                    .filter(e -> e.writer().filter(frame.entry()::equals).isPresent())
                    .toList();
        } catch (SQLException e) {
            throw new ConditionException(session.condition(e));
        }
    }

    // Whether to stop.

    private boolean isStepTo(Frame frame) {
        if (mode == Resume.Kind.CONTINUE) {
            return false;
        }
        BoundRoutine.Place place = frame.place();
        if (place.what().equals("REPORT")
                && !place.span().text().regionMatches(true, 0, "R", 0, 1)) {
            // A CALL of a script, telling what it gave.
            return false;
        }
        return switch (mode) {
            case INTO -> true;
            case OVER -> frame.depth() <= modeDepth;
            case INTO_CALL ->
                    frame.depth() <= modeDepth
                            || entered == modeTime
                                    && frame.depth() == modeDepth + 1
                                    && frame.routine().name().equalsIgnoreCase(modeInto);
            case OUT -> frame.depth() < modeDepth;
            case TO ->
                    frame.depth() < modeDepth
                            || frame.depth() == modeDepth
                                    && frame.routine() == modeRoutine
                                    && frame.place().span().line() == modeLine;
            default -> false;
        };
    }

    /** While a run is repeated changes are counted, where that matters, and stop nothing. */
    private void countChanges(Frame frame, ExecutionPoint.Phase phase) {
        if (breakpoints.countsChanges() || replay.seeksBreakpoint()) {
            changeIn(frame).ifPresent(c -> passes(c.installed(), frame, phase));
        }
    }

    private Optional<Watches.Changed> changeIn(Frame frame) {
        return breakpoints.watchesChanges()
                ? looking(() -> watches.changeIn(frame))
                : Optional.empty();
    }

    /** Does work in which functions may run that nobody wants to hear of. */
    private <T> T looking(Supplier<T> work) {
        boolean before = working;
        working = true;
        try {
            return work.get();
        } finally {
            working = before;
        }
    }

    /** The breakpoint to stop at, if there is one; counts those that are reached. */
    private InstalledBreakpoint breakpointAt(Frame frame) {
        List<InstalledBreakpoint> all = breakpoints.all();
        for (int i = 0; i < all.size(); i++) {
            InstalledBreakpoint installed = all.get(i);
            if (installed.statement == frame.at
                    && installed.routine == frame.routine()
                    && installed.isLive()
                    && (installed.isUnconditional() || holds(installed, frame))
                    && installed.counts(frame.moment)
                    && !tells(installed, frame)) {
                return installed;
            }
        }
        return null;
    }

    private boolean holds(InstalledBreakpoint installed, Frame frame) {
        working = true;
        try {
            if (frame instanceof ServerFrame own) {
                return holds(installed, own);
            }
            if (installed.condition == null) {
                installed.condition =
                        FrameInspector.compile(
                                program,
                                session,
                                frame,
                                installed.breakpoint.condition().get(),
                                Optional.of(SqlType.BOOLEAN));
            }
            return Boolean.TRUE.equals(
                    frame.session.questions().glance(installed.condition, frame));
        } catch (DebugException | RaisedException e) {
            listener.troubled(installed.breakpoint, e.getMessage());
            return false;
        } finally {
            working = false;
        }
    }

    /** The server works out a condition in its own language. */
    private boolean holds(InstalledBreakpoint installed, ServerFrame frame) {
        try {
            return frame.holds(installed.breakpoint.condition().get());
        } catch (SQLException e) {
            listener.troubled(installed.breakpoint, session.database().condition(e).message());
            return false;
        }
    }

    // A run that is repeated.

    /** Does again what is due, and stops where the run has been brought back to. */
    private void replayed(Frame frame, ExecutionPoint.Phase phase) {
        for (ReplayLog.Step step : replay.due(frame.moment, phase)) {
            try {
                perform(step, frame);
            } catch (DebugException e) {
                replay.note("what was done once can't be done again: " + e.getMessage());
            }
        }
        if (!replay.isThere(frame, phase)) {
            session.stopAt(replay.next());
            return;
        }
        if (replay.isFound()) {
            again(frame);
        }
        session.stopAt(Long.MAX_VALUE);
        looking(
                () -> {
                    watches.know(frame);
                    return null;
                });
        Stop.Reason reason = replay.reason();
        Breakpoint breakpoint = replay.breakpoint();
        List<String> notes = new ArrayList<>(replay.arrived());
        breakpoints.wentBack(moment(frame, phase).begun());
        sights.arrive(frame, reason == Stop.Reason.BACK).ifPresent(notes::add);
        stop(reason, frame, phase, null, breakpoint, sights.changes(frame), notes);
    }

    private void perform(ReplayLog.Step step, Frame top) throws DebugException {
        Frame frame = top;
        for (int i = 0; i < step.frame(); i++) {
            frame = frame.caller();
        }
        Frame in = frame;
        working = true;
        try {
            session.questions()
                    .aside(
                            () ->
                                    switch (step.deed()) {
                                        case SET ->
                                                FrameInspector.set(
                                                        program,
                                                        session,
                                                        in,
                                                        step.name(),
                                                        step.text());
                                        case SQL -> FrameInspector.change(session, step.text());
                                        case EVAL ->
                                                FrameInspector.eval(
                                                        program, session, in, step.text());
                                    });
        } finally {
            working = false;
        }
    }

    /** Ends the run, for it to begin again. */
    private void again(Frame frame) {
        sights.leaveBehind(frame);
        again = true;
        throw new ConditionException("UL000", "begins again");
    }

    // Stopping.

    private ExecutionPoint moment(Frame frame, ExecutionPoint.Phase phase) {
        return new ExecutionPoint(frame.moment, phase, session.statementCount());
    }

    private void stop(
            Stop.Reason reason,
            Frame frame,
            ExecutionPoint.Phase phase,
            Condition condition,
            Breakpoint breakpoint) {
        stop(reason, frame, phase, condition, breakpoint, sights.changes(frame), List.of());
    }

    private void stop(Watches.Changed change, Frame frame, ExecutionPoint.Phase phase) {
        List<Stop.VariableChange> changed = new ArrayList<>();
        changed.add(change.change());
        for (Stop.VariableChange other : sights.changes(frame)) {
            if (!other.name().equalsIgnoreCase(change.change().name())) {
                changed.add(other);
            }
        }
        Breakpoint breakpoint = change.installed().breakpoint;
        stop(Stop.Reason.CHANGE, frame, phase, null, breakpoint, changed, List.of());
    }

    private void stop(
            Stop.Reason reason,
            Frame frame,
            ExecutionPoint.Phase phase,
            Condition condition,
            Breakpoint breakpoint,
            List<Stop.VariableChange> changed,
            List<String> notes) {
        started = true;
        ExecutionPoint moment = moment(frame, phase);
        Stop stop =
                new Stop(
                        reason,
                        frame,
                        moment,
                        changed,
                        TableChanges.of(sights.events(session)),
                        Optional.ofNullable(condition),
                        Optional.ofNullable(breakpoint),
                        notes);
        working = true;
        standing = Optional.of(stop);
        Resume resume;
        try {
            resume = session.questions().waiting(() -> listener.stopped(stop));
        } finally {
            working = false;
            standing = Optional.empty();
            sights.sawRows(session);
            breakIn = false;
            session.stopAt(Long.MAX_VALUE);
        }
        sights.saw(frame);
        goOn(resume, stop);
    }

    private void goOn(Resume resume, Stop stop) {
        Frame frame = stop.frame();
        modeLine = resume.line();
        modeInto = resume.into();
        modeTime = resume.line();
        entered = 0;
        if (resume.kind().isBack()) {
            shownEnd = Optional.empty();
        }
        switch (resume.kind()) {
            case QUIT -> throw new ConditionException("UL000", "ended from the debugger");
            case BACK -> back(before(stop), frame);
            case BACK_INTO ->
                    back(Optional.of(ExecutionPoint.before(stop.moment().begun() - 1)), frame);
            case RESTART -> {
                replay.restart();
                again(frame);
            }
            case BACK_CONTINUE -> {
                replay.findBreakpoint(stop);
                again(frame);
            }
            case RESTART_FRAME -> {
                Frame chosen = frame;
                for (int i = 0; i < resume.line() && chosen.caller() != null; i++) {
                    chosen = chosen.caller();
                }
                replay.findStart(stop, chosen);
                again(frame);
            }
            case BACK_TO -> {
                replay.find(stop, resume.line());
                again(frame);
            }
            default -> applyMode(resume.kind(), frame);
        }
    }

    private void back(Optional<ExecutionPoint> moment, Frame frame) {
        replay.to(moment.orElse(ExecutionPoint.before(1)), Stop.Reason.BACK);
        again(frame);
    }

    /** Whether there is anything before a stop to go back to. */
    public boolean hasBefore(Stop stop) {
        return before(stop).isPresent();
    }

    /** The moment before a stop: of this statement, of the one before it, or of the call. */
    private static Optional<ExecutionPoint> before(Stop stop) {
        Frame frame = stop.frame();
        if (stop.moment().phase() != ExecutionPoint.Phase.BEFORE) {
            return Optional.of(ExecutionPoint.before(frame.moment));
        }
        if (frame.earlier > 0) {
            return Optional.of(ExecutionPoint.before(frame.earlier));
        }
        return Optional.ofNullable(frame.caller()).map(f -> ExecutionPoint.before(f.moment));
    }

    private void applyMode(Resume.Kind kind, Frame frame) {
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
        for (Frame frame = session.top(); frame != null; frame = frame.caller()) {
            breakpoints.mark(frame, false);
        }
    }

    // Breakpoints.

    /** Since when a breakpoint that is set now counts. */
    private long now() {
        return standing.map(s -> s.moment().begun()).orElse(0L);
    }

    private Breakpoint add(Breakpoint wanted) throws DebugException {
        Breakpoint added = breakpoints.add(wanted, now());
        if (added.kind() == Breakpoint.Kind.CHANGE && standing.isPresent()) {
            watches.know(standing.get().frame());
        }
        watch();
        return added;
    }

    /**
     * Sets a breakpoint on a line; without a statement there, on the next one that has one.
     *
     * @throws DebugException where the routine is not there, or has no statement from that line on
     */
    public Breakpoint pauseAt(
            String routine, int line, Optional<String> condition, int after, int every)
            throws DebugException {
        return pauseAt(routine, line, condition, after, every, Optional.empty());
    }

    /**
     * The same for one that may only tell something.
     *
     * @param tells what is told there, where the run is not to stop: a text with expressions in
     *     braces
     */
    public Breakpoint pauseAt(
            String routine,
            int line,
            Optional<String> condition,
            int after,
            int every,
            Optional<String> tells)
            throws DebugException {
        if (tells.isPresent()) {
            ToldText.check(tells.get());
        }
        if (condition.isPresent() && program.serverRoutines().isEmpty()) {
            FrameInspector.readable(condition.get());
        }
        return add(
                Breakpoint.of(Breakpoint.Kind.LINE, routine, line, "")
                        .when(condition)
                        .counted(after, every)
                        .telling(tells));
    }

    private static Breakpoint other(
            Breakpoint.Kind kind, String routine, String on, int after, int every) {
        return Breakpoint.of(kind, routine, 0, on).counted(after, every);
    }

    /** Stops before a routine ends, when what it gives can be changed still. */
    public Breakpoint pauseAtEnd(String routine, int after, int every) throws DebugException {
        String name = breakpoints.routine(routine, 0).name();
        return add(other(Breakpoint.Kind.END, name, "", after, every));
    }

    /**
     * Stops when a condition is raised: {@code exception}, {@code not found}, or an SQLSTATE; with
     * {@code unhandled} where the one was raised that has ended the run.
     */
    public Breakpoint pauseOn(String what, int after, int every) throws DebugException {
        String on = what.toLowerCase(Locale.ROOT);
        if (!List.of("exception", "not found", Breakpoints.UNHANDLED).contains(on)) {
            on = what.toUpperCase(Locale.ROOT).replace("'", "");
            if (!on.matches("[0-9A-Z]{5}")) {
                throw new DebugException(
                        "pause on takes exception, unhandled, not found, an SQLSTATE such as 45000,"
                                + " change of VARIABLE or write to TABLE");
            }
        }
        return add(other(Breakpoint.Kind.CONDITION, "", on, after, every));
    }

    /**
     * Stops when a variable of a routine, an element or a field of it has changed: at the next
     * statement that sees it.
     */
    public Breakpoint pauseOnChange(String routine, String variable, int after, int every)
            throws DebugException {
        String name = breakpoints.routine(routine, 0).name();
        return add(other(Breakpoint.Kind.CHANGE, name, variable, after, every));
    }

    /**
     * Stops when a row of a table was written, by whatever statement, cascade or trigger.
     *
     * @param routine which may declare the table; then its statements alone are meant
     */
    public Breakpoint pauseOnWrite(String routine, String table, int after, int every)
            throws DebugException {
        boolean own = !routine.isEmpty() && breakpoints.declares(routine, table);
        return add(other(Breakpoint.Kind.WRITE, own ? routine : "", table, after, every));
    }

    /**
     * The line of a frame's routine at which a run can stop: the one asked for, or the next with a
     * statement.
     *
     * @throws DebugException where there is none from there on
     */
    public int lineAt(Frame frame, int line) throws DebugException {
        int statement = Breakpoints.statementAt(frame.routine(), line);
        return frame.routine().places().get(statement).span().line();
    }

    /** The line of a routine's first statement. */
    public int firstLine(String routine) throws DebugException {
        BoundRoutine found = breakpoints.routine(routine, 0);
        int statement = Breakpoints.statementAt(found, found.span().line());
        return found.places().get(statement).span().line();
    }

    /** The lines of a file at which a run can stop, within some of its lines, in order. */
    public List<Integer> stopLines(String file, int from, int to) {
        return breakpoints.stopLines(file, from, to);
    }

    /** Sets a breakpoint that was kept from an earlier run. */
    Breakpoint keep(Breakpoint kept) throws DebugException {
        return add(kept);
    }

    Breakpoints known() {
        return breakpoints;
    }

    /** Switches breakpoints on or off, or removes them; {@code 0} stands for all. */
    public int change(int number, Change change) throws DebugException {
        int touched = breakpoints.change(number, change);
        watch();
        return touched;
    }

    /** What can be done to a breakpoint. */
    public enum Change {
        DISABLE,
        ENABLE,
        REMOVE
    }

    // Looking and changing, while a stop is shown.

    /** The value of an expression in a frame; see {@link #evaluate}. */
    public Object eval(Frame frame, String expression) throws DebugException {
        return evaluate(frame, expression).value();
    }

    /**
     * Works an expression out in a frame. It may take as long as a run may, and {@link #callOff}
     * ends it.
     *
     * @throws DebugException where it can't be read, or raises a condition
     */
    public Evaluated evaluate(Frame frame, String expression) throws DebugException {
        long before = LastSeenState.position(session);
        Evaluated value =
                session.questions()
                        .asked(() -> FrameInspector.eval(program, session, frame, expression));
        if (LastSeenState.position(session) != before) {
            tell(frame, ReplayLog.UserAction.EVAL, "", expression);
        }
        return value;
    }

    /**
     * What a text names in a frame: a variable, a field, an element. Nothing is set off by it;
     * empty for any other expression.
     */
    public Optional<Evaluated> glance(Frame frame, String name) throws DebugException {
        return session.questions()
                .asked(() -> FrameInspector.glance(program, session, frame, name));
    }

    /**
     * The rows of a query as the running transaction sees them; it may use the frame's variables.
     *
     * @param most how many rows to read at most
     * @throws DebugException where it can't be read, or the database refuses it
     */
    public ResultRows query(Frame frame, String query, int most) throws DebugException {
        return session.questions()
                .asked(() -> FrameInspector.query(program, session, frame, query, most));
    }

    private static final List<String> QUERIES = List.of("SELECT", "WITH", "VALUES", "TABLE");

    /** Whether a text is a query, and not an expression. */
    public static boolean isQuery(String text) {
        return QUERIES.contains(text.strip().split("[^A-Za-z]", 2)[0].toUpperCase(Locale.ROOT));
    }

    /** Whether a text is a statement that changes rows. */
    public static boolean isChange(String text) {
        return FrameInspector.isChange(text);
    }

    /** The routines that the statement of a frame calls, in the order in which it names them. */
    public List<CallTarget> calls(Frame frame) {
        return CallTarget.of(frame, breakpoints.routineNames());
    }

    /** Changes a variable of a frame; see {@link FrameInspector#set}. */
    public Object set(Frame frame, String name, String expression) throws DebugException {
        Object value =
                session.questions()
                        .asked(() -> FrameInspector.set(program, session, frame, name, expression));
        tell(frame, ReplayLog.UserAction.SET, name, expression);
        return value;
    }

    /**
     * Changes rows by a statement, inside the running transaction; gives how many.
     *
     * @throws DebugException where the database refuses it
     */
    public int change(Frame frame, String statement) throws DebugException {
        int rows = session.questions().asked(() -> FrameInspector.change(session, statement));
        tell(frame, ReplayLog.UserAction.SQL, "", statement);
        return rows;
    }

    /** What a person does is part of the story, and done again when it is repeated. */
    private void tell(Frame frame, ReplayLog.UserAction deed, String name, String text) {
        if (standing.isEmpty()) {
            return;
        }
        int number = 0;
        for (Frame f = standing.get().frame(); f != null && f != frame; f = f.caller()) {
            number++;
        }
        replay.story().add(new ReplayLog.Step(standing.get().moment(), deed, number, name, text));
    }

    /** The trigger that a frame runs, if it runs one. */
    public Optional<TriggerSymbol> trigger(Frame frame) {
        if (frame.routine().kind() != BoundRoutine.Kind.TRIGGER) {
            return Optional.empty();
        }
        return program.catalog().triggerAt(frame.routine().span());
    }
}
