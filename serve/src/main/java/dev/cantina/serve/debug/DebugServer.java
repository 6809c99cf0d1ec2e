package dev.cantina.serve.debug;

import dev.cantina.debugging.DebugException;
import dev.cantina.debugging.Resume;
import dev.cantina.debugging.Stop;
import dev.cantina.project.Project;
import dev.cantina.workbench.DebugSession;
import dev.cantina.workbench.DebugTarget;
import dev.cantina.workbench.Debuggee;
import java.nio.file.Path;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import org.eclipse.lsp4j.debug.DisconnectArguments;
import org.eclipse.lsp4j.debug.ExitedEventArguments;
import org.eclipse.lsp4j.debug.OutputEventArgumentsCategory;
import org.eclipse.lsp4j.debug.RestartArguments;
import org.eclipse.lsp4j.debug.TerminateArguments;
import org.eclipse.lsp4j.debug.TerminatedEventArguments;

/** One debugging for an editor, of a run that it launches. */
final class DebugServer extends DebugRequests {
    /** How long a run that is ended is waited for. */
    private static final int PATIENCE_SECONDS = 10;

    private final Path folder;
    private final EndingText endings;
    private final CompletableFuture<Void> over = new CompletableFuture<>();
    private java.lang.Thread thread;
    private volatile boolean quit;
    private volatile boolean restarts;

    /**
     * @param folder in which paths begin that are not absolute
     * @param endings says what a run came to
     */
    DebugServer(Path folder, EndingText endings) {
        this.folder = folder;
        this.endings = endings;
    }

    @Override
    String threadName() {
        return "the run";
    }

    @Override
    public CompletableFuture<Void> attach(Map<String, Object> arguments) {
        return CompletableFuture.failedFuture(
                Refusal.of(
                        new DebugException(
                                "there is nothing to attach to: a run is launched, on a server with"
                                        + " \"on\"")));
    }

    @Override
    public CompletableFuture<Void> launch(Map<String, Object> arguments) {
        CompletableFuture<Void> answer = new CompletableFuture<>();
        if (thread != null) {
            answer.completeExceptionally(
                    Refusal.of(new DebugException("a run is launched already")));
            return answer;
        }
        thread = new java.lang.Thread(null, () -> work(arguments, answer), "run", STACK);
        thread.setDaemon(true);
        thread.start();
        return answer;
    }

    /** Routines may call each other 200 deep, and more where the limit says so. */
    private static final long STACK = 64L << 20;

    private void work(Map<String, Object> arguments, CompletableFuture<Void> answer) {
        int code = 1;
        try (DebugSession made = prepared(arguments)) {
            if (made.isPointless()) {
                answer.complete(null);
                say(
                        OutputEventArgumentsCategory.CONSOLE,
                        "the case has no difference to stop at\n");
            } else {
                client.initialized();
                answer.complete(null);
                worker.untilBegun(made.debugger());
                DebugSession.Ending ending = quit ? null : made.run();
                code = ending == null || ending.isRaised() ? 1 : 0;
            }
        } catch (Exception e) {
            tell(answer, Refusal.text(e));
            answer.completeExceptionally(Refusal.of(e));
        } finally {
            worker.ended();
            end(code);
            over.complete(null);
        }
    }

    /** Why a run could not be made, or not to its end. */
    private void tell(CompletableFuture<Void> answer, String text) {
        if (answer.isDone()) {
            say(OutputEventArgumentsCategory.STDERR, text + "\n");
        }
    }

    private DebugSession prepared(Map<String, Object> arguments) throws Exception {
        LaunchArguments launch = new LaunchArguments(arguments, folder);
        Project project = launch.project();
        DebugTarget target = launch.target(project);
        SourcePaths paths = new SourcePaths(project);
        shows(paths);
        boolean stops = launch.stopsAtStart() && !launch.isWithoutStops();
        DebugSession made = new DebugSession(launch.settings(project), target, face(), stops);
        debuggee = made;
        if (quit) {
            made.interrupt();
        }
        try {
            made.prepare();
        } catch (Exception | Error e) {
            made.close();
            throw e;
        }
        if (!made.isPointless()) {
            breakpoints =
                    new BreakpointAnswers(
                            made.debugger(),
                            paths,
                            view,
                            handles,
                            () -> stop == null ? null : stop.frame(),
                            launch.isWithoutStops());
        }
        return made;
    }

    // ------------------------------------------------------------------ what is told

    private DebugSession.Face face() {
        return new Face();
    }

    /** The face of the session, with how its runs end. */
    private final class Face extends Telling implements DebugSession.Face {
        @Override
        public DebugSession.Next ended(DebugSession.Ending ending) {
            return DebugServer.this.ended(ending);
        }
    }

    @Override
    Resume stopped(Stop now) {
        if (quit) {
            return Resume.of(Resume.Kind.QUIT);
        }
        if (restarts) {
            restarts = false;
            return Resume.of(Resume.Kind.RESTART);
        }
        return super.stopped(now);
    }

    private DebugSession.Next ended(DebugSession.Ending ending) {
        if (restarts && !quit) {
            restarts = false;
            return DebugSession.Next.RESTART;
        }
        if (ending.isStrayed()) {
            say(
                    OutputEventArgumentsCategory.CONSOLE,
                    "the run went another way this time, and ended before it came to where you"
                            + " wanted to go\n");
        }
        if (!quit) {
            say(OutputEventArgumentsCategory.CONSOLE, endings.of(ending));
        }
        return DebugSession.Next.LEAVE;
    }

    private void end(int code) {
        ExitedEventArguments exited = new ExitedEventArguments();
        exited.setExitCode(code);
        client.exited(exited);
        client.terminated(new TerminatedEventArguments());
    }

    // ------------------------------------------------------------------ going on

    @Override
    public CompletableFuture<Void> restart(RestartArguments arguments) {
        restarts = true;
        return goOn(Resume.of(Resume.Kind.RESTART))
                .handle(
                        (done, refused) -> {
                            if (refused == null) {
                                restarts = false;
                            } else if (debuggee != null) {
                                // It goes on: at its next statement it begins again.
                                debuggee.breakIn();
                            }
                            return null;
                        });
    }

    @Override
    public CompletableFuture<Void> terminate(TerminateArguments arguments) {
        quit();
        return CompletableFuture.completedFuture(null);
    }

    @Override
    public CompletableFuture<Void> disconnect(DisconnectArguments arguments) {
        quit();
        CompletableFuture<Void> gone =
                thread == null ? CompletableFuture.completedFuture(null) : over.copy();
        return gone.completeOnTimeout(null, PATIENCE_SECONDS, TimeUnit.SECONDS);
    }

    /** Ends the run, whatever it does just now. */
    @Override
    void quit() {
        quit = true;
        Debuggee running = debuggee;
        if (running != null) {
            running.interrupt();
        }
        worker.quit();
    }

    @Override
    void await() {
        if (thread != null) {
            try {
                over.get(PATIENCE_SECONDS, TimeUnit.SECONDS);
            } catch (InterruptedException e) {
                java.lang.Thread.currentThread().interrupt();
            } catch (java.util.concurrent.ExecutionException
                    | java.util.concurrent.TimeoutException e) {
                return;
            }
        }
    }
}
