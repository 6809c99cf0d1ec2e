package dev.cantina.workbench;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.debugging.DebugRun;
import dev.cantina.debugging.Debugger;
import dev.cantina.debugging.ExecutionPoint;
import dev.cantina.debugging.Stop;
import dev.cantina.debugging.StopListener;
import dev.cantina.project.Placement;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.Probe;
import dev.cantina.runtime.Session;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Parser;
import dev.cantina.testing.CaseResult;
import dev.cantina.testing.CaseRunner;
import dev.cantina.testing.Culprit;
import dev.cantina.testing.Difference;
import dev.cantina.testing.TestCase;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;

/**
 * One debugging: of a routine, a case or a script, on the fixture or on a server. It is made ready
 * by {@link #prepare}, when breakpoints can be set, and run by {@link #run}, as often as the person
 * goes back or takes it up again. All of that belongs to one thread; {@link #breakIn} and {@link
 * #interrupt} may be called from any.
 */
public final class DebugSession implements Debuggee, AutoCloseable {
    /** What shows a debugging, and is told how it goes on. */
    public interface Face extends StopListener {
        /** The run is over. */
        Next ended(Ending ending);
    }

    /** How it goes on after the end of a run. */
    public enum Next {
        /** Back to where the condition was raised that ended it, or to before its end. */
        BACK,
        /** Once more from the start. */
        RESTART,
        LEAVE
    }

    /**
     * What a run came to.
     *
     * @param outcome empty where a case could not be run
     * @param result of a case
     * @param isStrayed whether it has ended before the moment that it was repeated for
     * @param isTakenUp whether there is something to take up again
     */
    public record Ending(
            Optional<Outcome> outcome,
            Optional<CaseResult> result,
            boolean isStrayed,
            boolean isTakenUp) {
        /** Whether it has ended in a condition. */
        public boolean isRaised() {
            return outcome.filter(o -> o.kind() != Outcome.Kind.COMPLETED).isPresent();
        }
    }

    private final RunSettings settings;
    private final DebugTarget target;
    private final Face face;
    private final boolean stopAtStart;
    private Optional<RunPlace> place = Optional.empty();
    private volatile CaseRunner cases;
    private volatile Debugger debugger;
    private volatile boolean interrupted;
    private Optional<CaseResult> first = Optional.empty();
    private DebugRun run;
    private Work work;

    /** One run, in the workspace that it is made in. */
    private interface Work {
        Ending in(Workspace workspace, Optional<BoundRoutine> script)
                throws ProjectException, SQLException;
    }

    /** What is asked of a session. */
    private interface Asked {
        Outcome of(Session session, Workspace workspace) throws ProjectException;
    }

    /**
     * @param stopAtStart whether the first statement is a stop
     */
    public DebugSession(RunSettings settings, DebugTarget target, Face face, boolean stopAtStart) {
        this.settings = settings.withClockStopped();
        this.target = target;
        this.face = face;
        this.stopAtStart = stopAtStart;
    }

    /**
     * Makes everything ready for the run.
     *
     * @throws ProjectException where there is nothing of the kind to run, or it has errors
     */
    public void prepare() throws ProjectException, SQLException {
        if (target instanceof DebugTarget.Routine routine) {
            prepare(routine);
        } else if (target instanceof DebugTarget.Script script) {
            prepare(script);
        } else {
            prepare((DebugTarget.Case) target);
        }
    }

    private void prepare(DebugTarget.Routine routine) throws ProjectException, SQLException {
        Workspace workspace = opened(Optional.empty(), Placement::place);
        List<Optional<Object>> arguments =
                routine.given()
                        .match(workspace.routine(routine.name(), routine.names()), workspace);
        place.get().keep();
        debugger(workspace, stopAtStart, List.of(routine.name()), Optional.empty());
        run = new DebugRun(place.get()::workspace, w -> Optional.empty(), place.get()::undo);
        work =
                (w, code) ->
                        inSession(
                                w,
                                (session, in) ->
                                        session.run(
                                                in.routine(routine.name(), routine.names()),
                                                arguments));
    }

    private void prepare(DebugTarget.Script script) throws ProjectException, SQLException {
        if (settings.project().own().isPresent()) {
            // What it calls can be stopped in.
            Workspace workspace = opened(Optional.empty(), Placement::place);
            debugger(workspace, stopAtStart, List.of(), Optional.empty());
            run = new DebugRun(place.get()::workspace, w -> Optional.empty(), place.get()::undo);
            work =
                    (w, code) ->
                            inSession(w, (session, in) -> session.runServerScript(script.source()));
            return;
        }
        ParsedFile parsed = Parser.parse(script.source());
        Workspace workspace =
                opened(Optional.of(parsed), Placement.forScript(script.source().text()));
        BoundRoutine bound = workspace.script(parsed);
        place.get().keep();
        debugger(workspace, stopAtStart, List.of(), Optional.of(bound));
        run =
                new DebugRun(
                        place.get()::workspace,
                        w -> Optional.of(w.script(parsed)),
                        place.get()::undo);
        work = (w, code) -> inSession(w, (session, in) -> session.runScript(code.orElseThrow()));
    }

    private Workspace opened(Optional<ParsedFile> script, Workspace.ServerCode code)
            throws ProjectException, SQLException {
        place = Optional.of(new RunPlace(settings, script, code, Probe.Detail.HOLD));
        return place.get().workspace();
    }

    private void prepare(DebugTarget.Case wanted) throws ProjectException, SQLException {
        TestCase testCase = wanted.testCase();
        cases = settings.cases();
        if (interrupted) {
            cases.interrupt();
        }
        Optional<ExecutionPoint> moment = Optional.empty();
        if (wanted.atDifference()) {
            first = Optional.of(cases.run(testCase, settings.watched(Optional.empty())));
            if (isPointless()) {
                return;
            }
            moment =
                    Culprit.find(
                            difference(),
                            p -> cases.run(testCase, settings.watched(Optional.of(p))));
        }
        List<String> called = testCase.calls().stream().map(TestCase.Call::routine).toList();
        boolean stops = stopAtStart && !wanted.atDifference();
        debugger(cases.workspace(testCase), stops, called, Optional.empty());
        moment.ifPresent(m -> debugger.takeUp(m, Stop.Reason.ASKED));
        run = new DebugRun(() -> cases.workspace(testCase), w -> Optional.empty(), w -> {});
        work =
                (w, code) -> {
                    CaseResult result =
                            cases.run(testCase, settings.watched(Optional.of(debugger)));
                    return ending(result.outcome(), Optional.of(result));
                };
    }

    /** With a case to stop at its difference: what it came to before; otherwise empty. */
    public Optional<CaseResult> first() {
        return first;
    }

    /** Whether a case has no difference to stop at: there is nothing to run. */
    public boolean isPointless() {
        return first.isPresent() && first.get().differences().isEmpty();
    }

    /** The difference whose statement is stopped at. */
    public Difference difference() {
        return Culprit.chosen(first.orElseThrow().differences());
    }

    private void debugger(
            Workspace workspace,
            boolean stops,
            List<String> routines,
            Optional<BoundRoutine> script) {
        Debugger made = new Debugger(workspace.program(), face, stops);
        made.runs(routines, script);
        debugger = made;
    }

    /** The debugger of all runs, once they are made ready. */
    @Override
    public Debugger debugger() {
        return debugger;
    }

    private Ending inSession(Workspace workspace, Asked asked)
            throws ProjectException, SQLException {
        Session session = settings.session(workspace, Optional.of(debugger));
        try {
            if (interrupted) {
                session.interrupt();
            }
            return ending(Optional.of(asked.of(session, workspace)), Optional.empty());
        } finally {
            session.close();
        }
    }

    private Ending ending(Optional<Outcome> outcome, Optional<CaseResult> result) {
        return new Ending(outcome, result, debugger.isStrayed(), debugger.end().isPresent());
    }

    /**
     * Runs it, and again for as long as the person wants that.
     *
     * @return what the last run came to
     */
    public Ending run() throws ProjectException, SQLException {
        while (true) {
            Ending ending = run.run(debugger, work::in);
            Next next = face.ended(ending);
            if (next == Next.LEAVE || debugger.end().isEmpty()) {
                return ending;
            }
            if (next == Next.RESTART) {
                debugger.restart();
            } else {
                debugger.takeUp(
                        debugger.end().get(),
                        ending.isRaised() ? Stop.Reason.CONDITION : Stop.Reason.END);
            }
            if (place.isPresent()) {
                run.undo();
            }
        }
    }

    /** Stops the run at the next statement; asked for twice, ends it. */
    @Override
    public void breakIn() {
        Debugger running = debugger;
        if (running != null) {
            running.breakIn();
        }
    }

    /** Ends whatever runs, as soon as it can be ended. */
    @Override
    public void interrupt() {
        interrupted = true;
        CaseRunner runner = cases;
        if (runner != null) {
            runner.interrupt();
        }
        Debugger running = debugger;
        if (running != null) {
            running.stopRun();
        }
    }

    @Override
    public void close() {
        if (cases != null) {
            cases.close();
        }
        place.ifPresent(RunPlace::close);
    }
}
