package dev.cantina.cli;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.debugging.DebugRun;
import dev.cantina.debugging.Debugger;
import dev.cantina.debugging.ExecutionPoint;
import dev.cantina.debugging.KeptBreakpoints;
import dev.cantina.debugging.Stop;
import dev.cantina.project.Placement;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.Probe;
import dev.cantina.runtime.Session;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Source;
import dev.cantina.testing.CaseResult;
import dev.cantina.testing.CaseRunner;
import dev.cantina.testing.Culprit;
import dev.cantina.testing.Difference;
import dev.cantina.testing.TestCase;
import java.sql.SQLException;
import java.time.Clock;
import java.util.List;
import java.util.Optional;
import org.apache.commons.cli.Options;

/** {@code debug ROUTINE [NAME=VALUE…]}, {@code --case SELECTOR} and {@code --run FILE}. */
final class DebugCommand implements Command {
    @Override
    public String name() {
        return "debug";
    }

    @Override
    public String arguments() {
        return "ROUTINE [NAME=VALUE…]  or  --case SELECTOR  or  --run FILE";
    }

    @Override
    public String summary() {
        return "run a routine, a case or a script, stopping where asked";
    }

    @Override
    public String example() {
        return "cantina --project demo/winery debug topping_loss vessel=B1 months=2";
    }

    @Override
    public Options options() {
        Options options = WatchedRun.options();
        Main.option(options, "record", "FILE", "keep the words typed, for a pipe to play again");
        options.addOption(
                null,
                "at-difference",
                false,
                "with --case: stop at the statement that the case's first difference comes from");
        options.addOption(
                null, "fresh", false, "without the breakpoints that are kept, and keep none");
        return options;
    }

    /** Everything that one debugging needs. */
    private record Desk(
            Invocation call, Project project, DebugPrompt prompt, KeptBreakpoints kept) {
        /**
         * A debugger with the breakpoints that are kept.
         *
         * @param routines what will be called
         * @param script what will be run
         */
        Debugger debugger(
                Workspace workspace,
                boolean stopAtStart,
                List<String> routines,
                Optional<BoundRoutine> script) {
            Debugger debugger = new Debugger(workspace.program(), prompt, stopAtStart);
            debugger.runs(routines, script);
            prompt.attach(debugger);
            if (!call.has("fresh")) {
                for (String note : kept.restore(debugger)) {
                    call.screen().line(call.screen().tone(Screen.Tone.CAREFUL, note));
                }
            }
            return debugger;
        }
    }

    @Override
    public boolean hasJson() {
        return false;
    }

    @Override
    public int run(Invocation call) throws UsageException, ProjectException, SQLException {
        Project project = call.project();
        KeptBreakpoints kept = new KeptBreakpoints(project);
        Debugger[] current = new Debugger[1];
        boolean[] told = new boolean[1];
        try (Words words =
                Words.open(call.screen(), call.value("record").map(call.folder()::resolve))) {
            DebugPrompt prompt =
                    new DebugPrompt(
                            call.screen(),
                            words,
                            () -> {
                                if (!call.has("fresh") && !kept.keep(current[0]) && !told[0]) {
                                    told[0] = true;
                                    call.screen()
                                            .note(
                                                    "breakpoints can't be kept: .cantina can't be"
                                                            + " written to");
                                }
                            });
            words.complete(prompt::names);
            words.onInterrupt(
                    () -> {
                        if (current[0] != null) {
                            current[0].breakIn();
                        }
                    });
            Desk desk = new Desk(call, project, prompt, kept);
            if (call.has("case")) {
                return testCase(desk, current);
            }
            return call.has("run") ? script(desk, current) : routine(desk, current);
        }
    }

    /** The clock of all runs of one debugging: it stands still, so that each is as the first. */
    private static Clock clock(Invocation call) throws UsageException {
        Clock clock = call.clock();
        return Clock.fixed(clock.instant(), clock.getZone());
    }

    private static int routine(Desk desk, Debugger[] current)
            throws UsageException, ProjectException, SQLException {
        Invocation call = desk.call();
        if (call.arguments().isEmpty()) {
            throw new UsageException(
                    "debug takes a routine, --case SELECTOR or --run FILE: cantina debug ROUTINE"
                            + " [NAME=VALUE…]");
        }
        String name = call.arguments().get(0);
        List<String> names = CallCommand.names(call);
        try (RunPlace place =
                new RunPlace(
                        desk.project(),
                        call,
                        Optional.empty(),
                        Placement::place,
                        Probe.Detail.HOLD)) {
            Workspace first = place.workspace();
            RoutineSymbol symbol = first.routine(name, names);
            List<Optional<Object>> arguments = CallCommand.arguments(call, symbol, first);
            place.keep();
            DebugRun run = new DebugRun(place::workspace, w -> Optional.empty(), place::undo);
            current[0] = desk.debugger(first, true, List.of(name), Optional.empty());
            return outcome(
                    desk,
                    run,
                    current[0],
                    (session, workspace, script) ->
                            session.run(workspace.routine(name, names), arguments));
        }
    }

    private static int script(Desk desk, Debugger[] current)
            throws UsageException, ProjectException, SQLException {
        Invocation call = desk.call();
        if (desk.project().own().isPresent()) {
            return serverScript(desk, current);
        }
        ParsedFile script =
                Parser.parse(RunCommand.source(call, desk.project(), call.value("run").get()));
        try (RunPlace place =
                new RunPlace(
                        desk.project(),
                        call,
                        Optional.of(script),
                        Placement.forScript(script.source().text()),
                        Probe.Detail.HOLD)) {
            Workspace first = place.workspace();
            BoundRoutine bound;
            try {
                bound = first.script(script);
            } catch (ProjectException e) {
                e.problems().forEach(new ProblemView(call.screen())::toError);
                return ExitCode.FAILED;
            }
            place.keep();
            DebugRun run =
                    new DebugRun(place::workspace, w -> Optional.of(w.script(script)), place::undo);
            current[0] = desk.debugger(first, true, List.of(), Optional.of(bound));
            return outcome(
                    desk,
                    run,
                    current[0],
                    (session, workspace, code) -> session.runScript(code.orElseThrow()));
        }
    }

    /** A script in a server's own words: what it calls can be stopped in. */
    private static int serverScript(Desk desk, Debugger[] current)
            throws UsageException, ProjectException, SQLException {
        Invocation call = desk.call();
        Source text = RunCommand.source(call, desk.project(), call.value("run").get());
        try (RunPlace place =
                new RunPlace(
                        desk.project(),
                        call,
                        Optional.empty(),
                        Placement::place,
                        Probe.Detail.HOLD)) {
            Workspace first = place.workspace();
            DebugRun run = new DebugRun(place::workspace, w -> Optional.empty(), place::undo);
            current[0] = desk.debugger(first, true, List.of(), Optional.empty());
            return outcome(
                    desk,
                    run,
                    current[0],
                    (session, workspace, script) -> session.runServerScript(text));
        }
    }

    /** One run in a session that a debugger watches. */
    private interface InSession {
        Outcome run(Session session, Workspace workspace, Optional<BoundRoutine> script)
                throws ProjectException;
    }

    private static Session session(
            Invocation call, Workspace workspace, Clock clock, Debugger debugger)
            throws ProjectException, SQLException {
        try {
            return call.session(workspace, clock, Optional.of(debugger));
        } catch (UsageException e) {
            throw new ProjectException(e.getMessage());
        }
    }

    /** Runs, shows what the run came to, and runs again where it is taken up. */
    private static int outcome(Desk desk, DebugRun run, Debugger debugger, InSession work)
            throws UsageException, ProjectException, SQLException {
        DebugPrompt prompt = desk.prompt();
        Clock clock = clock(desk.call());
        while (true) {
            Outcome outcome =
                    run.run(
                            debugger,
                            (workspace, script) -> {
                                Session session = session(desk.call(), workspace, clock, debugger);
                                try {
                                    return work.run(session, workspace, script);
                                } finally {
                                    session.close();
                                }
                            });
            prompt.ended();
            if (prompt.isQuit()) {
                return ExitCode.WELL;
            }
            new OutcomeView(desk.call().screen()).show(outcome, desk.call().quiet());
            if (!prompt.isTakenUp(outcome.kind() != Outcome.Kind.COMPLETED)) {
                return CallCommand.exitCode(outcome);
            }
            run.undo();
        }
    }

    private static int testCase(Desk desk, Debugger[] current)
            throws UsageException, ProjectException, SQLException {
        Invocation call = desk.call();
        TestCase testCase = WatchedRun.found(call, desk.project());
        try (CaseRunner runner =
                new CaseRunner(
                        desk.project(),
                        call.value("fixture"),
                        call.limits(desk.project()),
                        clock(call),
                        call.opener(desk.project()))) {
            boolean atDifference = call.has("at-difference");
            Optional<ExecutionPoint> moment = Optional.empty();
            call.interrupts().during(runner::interrupt);
            if (atDifference) {
                CaseResult first = runner.run(testCase);
                if (first.differences().isEmpty()) {
                    new TestView(call.screen()).show(List.of(first), first.elapsedMillis(), false);
                    call.screen().line("  there is no difference to stop at");
                    return first.verdict() == CaseResult.Verdict.PASSED
                            ? ExitCode.WELL
                            : ExitCode.FAILED;
                }
                Difference difference = Culprit.chosen(first.differences());
                new DifferenceView(call.screen()).show(List.of(difference), "  ");
                moment = Culprit.find(difference, p -> runner.run(testCase, Optional.of(p)));
            }
            DebugRun run =
                    new DebugRun(() -> runner.workspace(testCase), w -> Optional.empty(), w -> {});
            List<String> called = testCase.calls().stream().map(TestCase.Call::routine).toList();
            current[0] =
                    desk.debugger(
                            runner.workspace(testCase), !atDifference, called, Optional.empty());
            moment.ifPresent(m -> current[0].takeUp(m, Stop.Reason.ASKED));
            while (true) {
                CaseResult result =
                        run.run(
                                current[0],
                                (w, script) -> runner.run(testCase, Optional.of(current[0])));
                desk.prompt().ended();
                if (desk.prompt().isQuit()) {
                    return ExitCode.WELL;
                }
                result.outcome()
                        .ifPresent(o -> new OutcomeView(call.screen()).show(o, call.quiet()));
                call.screen().line();
                new TestView(call.screen()).show(List.of(result), result.elapsedMillis(), false);
                boolean raised =
                        result.outcome()
                                .filter(o -> o.kind() != Outcome.Kind.COMPLETED)
                                .isPresent();
                if (!desk.prompt().isTakenUp(raised)) {
                    return result.verdict() == CaseResult.Verdict.PASSED
                            ? ExitCode.WELL
                            : ExitCode.FAILED;
                }
            }
        }
    }
}
