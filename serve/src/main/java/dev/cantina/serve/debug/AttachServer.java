package dev.cantina.serve.debug;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.debugging.DebugException;
import dev.cantina.debugging.Debugger;
import dev.cantina.debugging.Resume;
import dev.cantina.debugging.Stop;
import dev.cantina.programs.ProgramWatcher;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Outcome;
import dev.cantina.syntax.Nearest;
import dev.cantina.types.Condition;
import dev.cantina.workbench.Debuggee;
import dev.cantina.workbench.ValueText;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import org.eclipse.lsp4j.debug.Capabilities;
import org.eclipse.lsp4j.debug.ConfigurationDoneArguments;
import org.eclipse.lsp4j.debug.DisconnectArguments;
import org.eclipse.lsp4j.debug.InitializeRequestArguments;
import org.eclipse.lsp4j.debug.OutputEventArgumentsCategory;
import org.eclipse.lsp4j.debug.TerminateArguments;
import org.eclipse.lsp4j.debug.TerminatedEventArguments;

/**
 * One editor, attached to a program: it stops in what the program's connections run, on the
 * program's own threads, one at a time. When the editor goes the program goes on.
 */
final class AttachServer extends DebugRequests {
    private static final List<String> KNOWN = List.of("port", "project", "host");

    private final ProgramDebugging program;
    private final Workspace workspace;
    private volatile ProgramWatcher.Run running;
    private volatile boolean gone;

    AttachServer(ProgramDebugging program, Workspace workspace) {
        this.program = program;
        this.workspace = workspace;
    }

    @Override
    String threadName() {
        return "the program";
    }

    // ------------------------------------------------------------------ beginning

    @Override
    public CompletableFuture<Capabilities> initialize(InitializeRequestArguments arguments) {
        return super.initialize(arguments)
                .thenApply(
                        can -> {
                            can.setSupportsTerminateRequest(false);
                            can.setSupportsRestartRequest(false);
                            can.setSupportTerminateDebuggee(false);
                            return can;
                        });
    }

    @Override
    public CompletableFuture<Void> launch(Map<String, Object> arguments) {
        return refused(
                "here is a program that runs already: attach to it, with \"request\": \"attach\"");
    }

    private static CompletableFuture<Void> refused(String why) {
        return CompletableFuture.failedFuture(Refusal.of(new DebugException(why)));
    }

    @Override
    public CompletableFuture<Void> attach(Map<String, Object> arguments) {
        Optional<String> wrong = wrong(arguments);
        if (wrong.isPresent()) {
            return refused(wrong.get());
        }
        if (!program.take(this)) {
            return refused("another debugger is attached to this program");
        }
        SourcePaths paths = new SourcePaths(workspace.project());
        shows(paths);
        Debugger debugger = new Debugger(workspace.program(), new Telling() {}, false);
        debugger.runs(
                workspace.catalog().routines().stream().map(RoutineSymbol::name).toList(),
                Optional.empty());
        breakpoints =
                new BreakpointAnswers(
                        debugger,
                        paths,
                        view,
                        handles,
                        () -> stop == null ? null : stop.frame(),
                        false);
        debuggee = new Runs(debugger);
        worker.nudges(() -> program.idle(debugger::catchUp));
        Thread asked = new Thread(() -> worker.untilBegun(debugger), "attach");
        asked.setDaemon(true);
        client.initialized();
        asked.start();
        return CompletableFuture.completedFuture(null);
    }

    /** Once this is answered, the next run of the program is shown. */
    @Override
    public CompletableFuture<Void> configurationDone(ConfigurationDoneArguments arguments) {
        return worker.ask(
                () -> {
                    worker.begin();
                    if (!gone) {
                        program.begin();
                    }
                    return null;
                });
    }

    /** What is wrong in what an editor says of the program. */
    private Optional<String> wrong(Map<String, Object> arguments) {
        for (String name : arguments.keySet()) {
            Optional<String> meant = Nearest.to(name, KNOWN);
            if (!KNOWN.contains(name) && meant.isPresent() && !name.equals("request")) {
                return Optional.of("attach has no " + name + "; did you mean " + meant.get() + "?");
            }
        }
        Object said = arguments.get("project");
        Path root = workspace.project().root().toAbsolutePath().normalize();
        try {
            if (said != null
                    && !Path.of(said.toString()).toAbsolutePath().normalize().equals(root)) {
                return Optional.of("the program runs another project: " + root);
            }
        } catch (InvalidPathException e) {
            return Optional.of("'" + said + "' is no path");
        }
        return Optional.empty();
    }

    // ------------------------------------------------------------------ the program's runs

    /** Makes a run of the program's; on its thread. */
    Outcome watch(ProgramWatcher.Run run, AttachableProbe probe) {
        running = run;
        Debugger debugger = debugger();
        probe.watch(debugger);
        try {
            while (true) {
                debugger.begin(workspace.program(), Optional.empty());
                Outcome outcome = run.once();
                boolean again = debugger.isAgain() && !gone;
                if (!again || !run.canGoBack()) {
                    tell(outcome, again);
                    return outcome;
                }
                run.undo();
            }
        } finally {
            probe.leave();
            running = null;
            debugger.catchUp();
        }
    }

    private void tell(Outcome outcome, boolean again) {
        if (gone || outcome.kind() == Outcome.Kind.COMPLETED) {
            return;
        }
        Condition condition = outcome.condition().orElseThrow();
        say(
                OutputEventArgumentsCategory.CONSOLE,
                outcome.routine()
                        + " has ended in "
                        + condition.sqlstate()
                        + ": "
                        + ValueText.printable(condition.message())
                        + (again
                                ? "; it had committed before, so that it can't be gone back to"
                                : "")
                        + "\n");
    }

    @Override
    Resume stopped(Stop now) {
        return gone ? Resume.of(Resume.Kind.CONTINUE) : super.stopped(now);
    }

    @Override
    void mayGoBack() throws DebugException {
        ProgramWatcher.Run run = running;
        if (run != null && !run.canGoBack()) {
            throw new DebugException(
                    "there is no way back: the run has committed, or has rolled back what the"
                            + " program did before it");
        }
    }

    /** What is debugged: the program's runs, one after the other. */
    private final class Runs implements Debuggee {
        private final Debugger debugger;

        Runs(Debugger debugger) {
            this.debugger = debugger;
        }

        @Override
        public Debugger debugger() {
            return debugger;
        }

        @Override
        public void breakIn() {
            if (running == null) {
                debugger.stopAtNextStart();
            } else {
                debugger.breakIn();
            }
        }

        @Override
        public void interrupt() {
            ProgramWatcher.Run run = running;
            if (run != null) {
                run.interrupt();
            }
        }
    }

    // ------------------------------------------------------------------ the end

    @Override
    public CompletableFuture<Void> terminate(TerminateArguments arguments) {
        return refused("the program ends by itself; disconnect lets go of it");
    }

    @Override
    public CompletableFuture<Void> disconnect(DisconnectArguments arguments) {
        quit();
        return CompletableFuture.completedFuture(null);
    }

    /** Lets go of the program: what stands goes on, and nothing stops any more. */
    @Override
    void quit() {
        gone = true;
        program.leave(this);
        worker.release(Resume.Kind.CONTINUE);
    }

    @Override
    void await() {}

    /** The program closes its connections. */
    void over() {
        if (!gone) {
            client.terminated(new TerminatedEventArguments());
            quit();
        }
    }
}
