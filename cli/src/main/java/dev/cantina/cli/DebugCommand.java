package dev.cantina.cli;

import dev.cantina.debugging.DebugException;
import dev.cantina.debugging.KeptBreakpoints;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.testing.CaseResult;
import dev.cantina.workbench.DebugSession;
import dev.cantina.workbench.DebugTarget;
import java.sql.SQLException;
import java.util.List;
import java.util.Set;
import org.apache.commons.cli.Options;

/** {@code debug ROUTINE [NAME=VALUE…]}, {@code --case SELECTOR} and {@code --run FILE}. */
final class DebugCommand implements Command {
    @Override
    public String name() {
        return "debug";
    }

    @Override
    public String arguments() {
        return "ROUTINE [NAME=VALUE…]  or  --case SELECTOR  or  --run FILE  or  --attach PORT";
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
        Main.option(
                options,
                "attach",
                "PORT",
                "a program that calls, by its URL's debug=PORT, in place of a run of its own");
        options.addOption(
                null, "fresh", false, "without the breakpoints that are kept, and keep none");
        return options;
    }

    @Override
    public boolean hasJson() {
        return false;
    }

    @Override
    public Set<String> common() {
        return OF_RUNS;
    }

    @Override
    public int run(Invocation call) throws UsageException, ProjectException, SQLException {
        Project project = call.project();
        if (call.has("attach")) {
            return attach(call, project);
        }
        KeptBreakpoints kept = new KeptBreakpoints(project);
        DebugTarget target = target(call, project);
        try (Words words =
                Words.open(call.screen(), call.value("record").map(call.folder()::resolve))) {
            call.words(words);
            DebugPrompt prompt = new DebugPrompt(call, words, kept);
            return debug(
                    call,
                    words,
                    prompt,
                    new DebugSession(call.settings(project), target, prompt, true));
        }
    }

    private static int attach(Invocation call, Project project)
            throws UsageException, ProjectException {
        boolean more =
                !call.arguments().isEmpty()
                        || List.of("case", "run", "on", "fixture", "limit", "clock").stream()
                                .anyMatch(call::has);
        if (more) {
            throw new UsageException(
                    "--attach stands alone: what runs, and on what, the program has said");
        }
        int port = ServeCommand.port("attach", call.value("attach").orElseThrow());
        Screen screen = call.screen();
        try (Words words = Words.open(screen, call.value("record").map(call.folder()::resolve));
                AttachedProgram program =
                        new AttachedProgram(
                                port, text -> text.lines().forEach(l -> screen.line("  " + l)))) {
            call.words(words);
            words.onInterrupt(program::breakIn);
            program.attach(project.root().toAbsolutePath().normalize().toString());
            return new AttachPrompt(screen, words, program, project).run();
        } catch (DebugException e) {
            throw new ProjectException(e.getMessage());
        }
    }

    private static int debug(Invocation call, Words words, DebugPrompt prompt, DebugSession opened)
            throws ProjectException, SQLException {
        try (DebugSession session = opened) {
            words.complete(prompt::names);
            words.onInterrupt(session::breakIn);
            call.interrupts().during(session::interrupt);
            session.prepare();
            if (session.isPointless()) {
                CaseResult first = session.first().get();
                new TestView(call.screen()).show(List.of(first), first.elapsedMillis(), false);
                call.screen().line("  there is no difference to stop at");
                return exitCode(first);
            }
            if (session.first().isPresent()) {
                new DifferenceView(call.screen()).show(List.of(session.difference()), "  ");
            }
            prompt.attach(session.debugger());
            DebugSession.Ending ending = session.run();
            if (prompt.isQuit()) {
                return ExitCode.WELL;
            }
            return ending.result().isPresent()
                    ? exitCode(ending.result().get())
                    : CallCommand.exitCode(ending.outcome().orElseThrow());
        }
    }

    private static int exitCode(CaseResult result) {
        return result.verdict() == CaseResult.Verdict.PASSED ? ExitCode.WELL : ExitCode.FAILED;
    }

    private static DebugTarget target(Invocation call, Project project)
            throws UsageException, ProjectException {
        if (call.has("case")) {
            return new DebugTarget.Case(WatchedRun.found(call, project), call.has("at-difference"));
        }
        if (call.has("run")) {
            return new DebugTarget.Script(
                    RunCommand.source(call, project, call.value("run").get()));
        }
        if (call.arguments().isEmpty()) {
            throw new UsageException(
                    "debug takes a routine, --case SELECTOR or --run FILE: cantina debug ROUTINE"
                            + " [NAME=VALUE…]");
        }
        return new DebugTarget.Routine(
                call.arguments().get(0),
                CallCommand.names(call),
                (routine, workspace) -> {
                    try {
                        return CallCommand.arguments(call, routine, workspace);
                    } catch (UsageException e) {
                        throw new ProjectException(e.getMessage());
                    }
                });
    }
}
