package dev.cantina.cli;

import dev.cantina.debugging.DebugException;
import dev.cantina.project.ProjectException;
import java.io.IOException;
import java.net.InetAddress;
import java.net.Socket;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.Future;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.function.Consumer;
import org.eclipse.lsp4j.debug.Breakpoint;
import org.eclipse.lsp4j.debug.ConfigurationDoneArguments;
import org.eclipse.lsp4j.debug.DisconnectArguments;
import org.eclipse.lsp4j.debug.EvaluateArguments;
import org.eclipse.lsp4j.debug.EvaluateResponse;
import org.eclipse.lsp4j.debug.ExceptionInfoArguments;
import org.eclipse.lsp4j.debug.ExceptionInfoResponse;
import org.eclipse.lsp4j.debug.InitializeRequestArguments;
import org.eclipse.lsp4j.debug.OutputEventArguments;
import org.eclipse.lsp4j.debug.PauseArguments;
import org.eclipse.lsp4j.debug.Scope;
import org.eclipse.lsp4j.debug.ScopesArguments;
import org.eclipse.lsp4j.debug.SetBreakpointsArguments;
import org.eclipse.lsp4j.debug.SetExceptionBreakpointsArguments;
import org.eclipse.lsp4j.debug.SetExpressionArguments;
import org.eclipse.lsp4j.debug.Source;
import org.eclipse.lsp4j.debug.SourceBreakpoint;
import org.eclipse.lsp4j.debug.StackFrame;
import org.eclipse.lsp4j.debug.StackTraceArguments;
import org.eclipse.lsp4j.debug.StoppedEventArguments;
import org.eclipse.lsp4j.debug.TerminatedEventArguments;
import org.eclipse.lsp4j.debug.Variable;
import org.eclipse.lsp4j.debug.VariablesArguments;
import org.eclipse.lsp4j.debug.launch.DSPLauncher;
import org.eclipse.lsp4j.debug.services.IDebugProtocolClient;
import org.eclipse.lsp4j.debug.services.IDebugProtocolServer;
import org.eclipse.lsp4j.jsonrpc.Launcher;
import org.eclipse.lsp4j.jsonrpc.ResponseErrorException;

/**
 * A program that runs elsewhere and can be debugged, by the Debug Adapter Protocol: each request
 * waits for its answer.
 */
final class AttachedProgram implements IDebugProtocolClient, AutoCloseable {
    private static final int PATIENCE_SECONDS = 60;

    /** What tells that nothing more comes. */
    private static final Object OVER = new Object();

    private final Socket socket;
    private final IDebugProtocolServer server;
    private final LinkedBlockingQueue<Object> events = new LinkedBlockingQueue<>();
    private final CompletableFuture<Void> initialized = new CompletableFuture<>();
    private final Consumer<String> told;

    /** Completed when nothing more can come. */
    private final CompletableFuture<Void> gone = new CompletableFuture<>();

    /**
     * Connects to a program.
     *
     * @param told takes what it says
     * @throws ProjectException where none waits at that port
     */
    AttachedProgram(int port, Consumer<String> told) throws ProjectException {
        this.told = told;
        try {
            socket = new Socket(InetAddress.getLoopbackAddress(), port);
            Launcher<IDebugProtocolServer> launcher =
                    DSPLauncher.createClientLauncher(
                            this, socket.getInputStream(), socket.getOutputStream());
            Future<Void> listening = launcher.startListening();
            server = launcher.getRemoteProxy();
            Thread ending = new Thread(() -> over(listening), "attached");
            ending.setDaemon(true);
            ending.start();
        } catch (IOException e) {
            throw new ProjectException(
                    "no program waits for a debugger at port "
                            + port
                            + " ("
                            + e.getMessage()
                            + "); it says debug=PORT in its URL: jdbc:cantina:FOLDER?debug="
                            + port);
        }
    }

    private void over(Future<Void> listening) {
        try {
            listening.get();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } catch (ExecutionException e) {
            // The wire is cut, which is the end as well.
            return;
        } finally {
            events.add(OVER);
            gone.complete(null);
        }
    }

    // ------------------------------------------------------------------ what comes

    @Override
    public void initialized() {
        initialized.complete(null);
    }

    @Override
    public void stopped(StoppedEventArguments event) {
        events.add(event);
    }

    @Override
    public void terminated(TerminatedEventArguments event) {
        events.add(OVER);
    }

    @Override
    public void output(OutputEventArguments output) {
        told.accept(output.getOutput());
    }

    /**
     * Waits until it stands.
     *
     * @return why; null where the program has ended
     */
    StoppedEventArguments stop() {
        try {
            Object event = events.take();
            if (event == OVER) {
                events.add(OVER);
                return null;
            }
            return (StoppedEventArguments) event;
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            return null;
        }
    }

    // ------------------------------------------------------------------ what is asked

    private <T> T get(CompletableFuture<T> answer) throws DebugException {
        try {
            CompletableFuture.anyOf(answer, gone).get(PATIENCE_SECONDS, TimeUnit.SECONDS);
            if (!answer.isDone()) {
                throw new DebugException("the program is gone");
            }
            return answer.get();
        } catch (ExecutionException e) {
            throw new DebugException(
                    e.getCause() instanceof ResponseErrorException refused
                            ? refused.getResponseError().getMessage()
                            : "the program is gone");
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new DebugException("interrupted");
        } catch (TimeoutException e) {
            throw new DebugException("the program does not answer");
        }
    }

    /** Attaches to it; it goes on meanwhile. */
    void attach(String project) throws DebugException {
        InitializeRequestArguments arguments = new InitializeRequestArguments();
        arguments.setClientName("cantina debug");
        get(server.initialize(arguments));
        get(server.attach(Map.of("project", project)));
        get(initialized);
    }

    /** From now on it may stop. */
    void begin() throws DebugException {
        get(server.configurationDone(new ConfigurationDoneArguments()));
    }

    /** What a word has it do: {@code next}, {@code stepIn} and so on. */
    interface Going {
        CompletableFuture<?> with(IDebugProtocolServer server);
    }

    void go(Going how) throws DebugException {
        get(how.with(server));
    }

    /** Stops what runs, or the next that does. */
    void breakIn() {
        server.pause(new PauseArguments());
    }

    List<StackFrame> stack() throws DebugException {
        return List.of(get(server.stackTrace(new StackTraceArguments())).getStackFrames());
    }

    List<Scope> scopes(StackFrame frame) throws DebugException {
        ScopesArguments arguments = new ScopesArguments();
        arguments.setFrameId(frame.getId());
        return List.of(get(server.scopes(arguments)).getScopes());
    }

    List<Variable> variables(int reference) throws DebugException {
        VariablesArguments arguments = new VariablesArguments();
        arguments.setVariablesReference(reference);
        return List.of(get(server.variables(arguments)).getVariables());
    }

    /**
     * @param context {@code watch} for an expression, {@code repl} for a statement too
     */
    EvaluateResponse evaluate(StackFrame frame, String text, String context) throws DebugException {
        EvaluateArguments arguments = new EvaluateArguments();
        arguments.setFrameId(frame.getId());
        arguments.setExpression(text);
        arguments.setContext(context);
        return get(server.evaluate(arguments));
    }

    String set(StackFrame frame, String name, String value) throws DebugException {
        SetExpressionArguments arguments = new SetExpressionArguments();
        arguments.setFrameId(frame.getId());
        arguments.setExpression(name);
        arguments.setValue(value);
        return get(server.setExpression(arguments)).getValue();
    }

    /** The condition at which it stands: its SQLSTATE, and what it says. */
    String raised() throws DebugException {
        ExceptionInfoResponse about = get(server.exceptionInfo(new ExceptionInfoArguments()));
        return about.getExceptionId() + " " + about.getDescription();
    }

    List<Breakpoint> breakpoints(String path, List<SourceBreakpoint> wanted) throws DebugException {
        SetBreakpointsArguments arguments = new SetBreakpointsArguments();
        Source source = new Source();
        source.setPath(path);
        arguments.setSource(source);
        arguments.setBreakpoints(wanted.toArray(SourceBreakpoint[]::new));
        return List.of(get(server.setBreakpoints(arguments)).getBreakpoints());
    }

    void conditions(List<String> filters) throws DebugException {
        SetExceptionBreakpointsArguments arguments = new SetExceptionBreakpointsArguments();
        arguments.setFilters(filters.toArray(String[]::new));
        get(server.setExceptionBreakpoints(arguments));
    }

    /** Lets go of the program, which goes on. */
    @Override
    public void close() {
        try {
            get(server.disconnect(new DisconnectArguments()));
        } catch (DebugException e) {
            // It is gone already.
            events.add(OVER);
        }
        try {
            socket.close();
        } catch (IOException e) {
            // The other side has closed it.
            return;
        }
    }
}
