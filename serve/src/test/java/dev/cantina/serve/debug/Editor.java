package dev.cantina.serve.debug;

import dev.cantina.serve.Wire;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import org.eclipse.lsp4j.debug.Breakpoint;
import org.eclipse.lsp4j.debug.Capabilities;
import org.eclipse.lsp4j.debug.ConfigurationDoneArguments;
import org.eclipse.lsp4j.debug.ContinueArguments;
import org.eclipse.lsp4j.debug.EvaluateArguments;
import org.eclipse.lsp4j.debug.EvaluateResponse;
import org.eclipse.lsp4j.debug.ExitedEventArguments;
import org.eclipse.lsp4j.debug.InitializeRequestArguments;
import org.eclipse.lsp4j.debug.NextArguments;
import org.eclipse.lsp4j.debug.OutputEventArguments;
import org.eclipse.lsp4j.debug.Scope;
import org.eclipse.lsp4j.debug.ScopesArguments;
import org.eclipse.lsp4j.debug.SetBreakpointsArguments;
import org.eclipse.lsp4j.debug.SetExceptionBreakpointsArguments;
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
import org.eclipse.lsp4j.jsonrpc.ResponseErrorException;

/** An editor at the other end of the wire, as the protocol's own library makes one. */
final class Editor implements IDebugProtocolClient, AutoCloseable {
    private static final int PATIENCE_SECONDS = 30;

    private final Socket socket;
    private final CompletableFuture<Void> initialized = new CompletableFuture<>();
    private final LinkedBlockingQueue<Object> events = new LinkedBlockingQueue<>();
    private final List<OutputEventArguments> outputs = new ArrayList<>();
    private final Thread service;
    final IDebugProtocolServer server;
    private CompletableFuture<Void> launched;

    Editor(Path folder) {
        try (ServerSocket waiting = Wire.listening(0)) {
            socket = new Socket(waiting.getInetAddress(), waiting.getLocalPort());
            Wire wire = Wire.accepted(waiting);
            service =
                    new Thread(
                            () -> {
                                try (wire) {
                                    DebugService.serve(wire, folder, e -> "the end\n");
                                }
                            });
            service.start();
            var launcher =
                    DSPLauncher.createClientLauncher(
                            this, socket.getInputStream(), socket.getOutputStream());
            launcher.startListening();
            server = launcher.getRemoteProxy();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** An editor that connects to a port at which a program waits. */
    Editor(int port) {
        try {
            socket = new Socket(java.net.InetAddress.getLoopbackAddress(), port);
            service = new Thread(() -> {});
            var launcher =
                    DSPLauncher.createClientLauncher(
                            this, socket.getInputStream(), socket.getOutputStream());
            launcher.startListening();
            server = launcher.getRemoteProxy();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** Attaches to the program, and waits until breakpoints can be set. */
    Editor attach(Map<String, Object> arguments) {
        initialize();
        launched = server.attach(arguments);
        get(launched);
        initialized.join();
        return this;
    }

    @Override
    public void initialized() {
        initialized.complete(null);
    }

    @Override
    public void stopped(StoppedEventArguments event) {
        events.add(event);
    }

    @Override
    public void exited(ExitedEventArguments event) {
        events.add(event);
    }

    @Override
    public void terminated(TerminatedEventArguments event) {
        events.add(event);
    }

    @Override
    public void output(OutputEventArguments output) {
        synchronized (outputs) {
            outputs.add(output);
        }
    }

    /** What was said so far, line by line. */
    String said() {
        synchronized (outputs) {
            StringBuilder all = new StringBuilder();
            outputs.forEach(o -> all.append(o.getOutput()));
            return all.toString();
        }
    }

    List<OutputEventArguments> outputs() {
        synchronized (outputs) {
            return List.copyOf(outputs);
        }
    }

    static <T> T get(CompletableFuture<T> answer) {
        try {
            return answer.get(PATIENCE_SECONDS, TimeUnit.SECONDS);
        } catch (ExecutionException e) {
            if (e.getCause() instanceof ResponseErrorException refused) {
                throw refused;
            }
            throw new IllegalStateException(e);
        } catch (InterruptedException | TimeoutException e) {
            throw new IllegalStateException(e);
        }
    }

    Capabilities initialize() {
        return get(server.initialize(new InitializeRequestArguments()));
    }

    /** Says what to run, and waits until it is ready. */
    Editor launch(Map<String, Object> arguments) {
        initialize();
        launched = server.launch(arguments);
        CompletableFuture.anyOf(initialized, launched).join();
        return this;
    }

    /** Lets the run begin. */
    Editor begin(String... filters) {
        SetExceptionBreakpointsArguments conditions = new SetExceptionBreakpointsArguments();
        conditions.setFilters(filters);
        get(server.setExceptionBreakpoints(conditions));
        get(server.configurationDone(new ConfigurationDoneArguments()));
        get(launched);
        return this;
    }

    static SourceBreakpoint at(int line) {
        SourceBreakpoint breakpoint = new SourceBreakpoint();
        breakpoint.setLine(line);
        return breakpoint;
    }

    Breakpoint[] set(Path file, SourceBreakpoint... wanted) {
        SetBreakpointsArguments arguments = new SetBreakpointsArguments();
        Source source = new Source();
        source.setPath(file.toString());
        arguments.setSource(source);
        arguments.setBreakpoints(wanted);
        return get(server.setBreakpoints(arguments)).getBreakpoints();
    }

    Breakpoint[] breakpoints(Path file, int... lines) {
        return set(
                file, Arrays.stream(lines).mapToObj(Editor::at).toArray(SourceBreakpoint[]::new));
    }

    private Object event() {
        try {
            Object event = events.poll(PATIENCE_SECONDS, TimeUnit.SECONDS);
            if (event == null) {
                throw new IllegalStateException("nothing comes; said so far: " + said());
            }
            return event;
        } catch (InterruptedException e) {
            throw new IllegalStateException(e);
        }
    }

    StoppedEventArguments stop() {
        Object event = event();
        if (event instanceof StoppedEventArguments stop) {
            return stop;
        }
        throw new IllegalStateException("no stop but " + event + "; said so far: " + said());
    }

    /** Waits for the next stop, and says where it is: {@code work:7 step}. */
    String place() {
        StoppedEventArguments stop = stop();
        StackFrame top = stack().get(0);
        return top.getName() + ":" + top.getLine() + " " + stop.getReason();
    }

    /** Waits for the end; gives the exit code. */
    int end() {
        Object event = event();
        if (!(event instanceof ExitedEventArguments exited)) {
            throw new IllegalStateException("no end but " + event);
        }
        if (!(event() instanceof TerminatedEventArguments)) {
            throw new IllegalStateException("no end behind " + exited);
        }
        return exited.getExitCode();
    }

    void next() {
        get(server.next(new NextArguments()));
    }

    void goOn() {
        get(server.continue_(new ContinueArguments()));
    }

    List<StackFrame> stack() {
        return List.of(get(server.stackTrace(new StackTraceArguments())).getStackFrames());
    }

    /** The scopes of a frame by their names. */
    Map<String, Integer> scopes(int frame) {
        ScopesArguments arguments = new ScopesArguments();
        arguments.setFrameId(frame);
        Map<String, Integer> scopes = new HashMap<>();
        for (Scope scope : get(server.scopes(arguments)).getScopes()) {
            scopes.put(scope.getName(), scope.getVariablesReference());
        }
        return scopes;
    }

    List<Variable> variables(int reference) {
        VariablesArguments arguments = new VariablesArguments();
        arguments.setVariablesReference(reference);
        return List.of(get(server.variables(arguments)).getVariables());
    }

    /** What is in a scope of the innermost frame: {@code i 3, total 6}. */
    String shown(String scope) {
        return text(variables(scopes(stack().get(0).getId()).get(scope)));
    }

    static String text(List<Variable> variables) {
        return String.join(
                ", ", variables.stream().map(v -> v.getName() + " " + v.getValue()).toList());
    }

    EvaluateResponse evaluate(String expression, String context) {
        EvaluateArguments arguments = new EvaluateArguments();
        arguments.setExpression(expression);
        arguments.setContext(context);
        arguments.setFrameId(stack().get(0).getId());
        return get(server.evaluate(arguments));
    }

    boolean isServing() {
        return service.isAlive();
    }

    /** Cuts the wire, as an editor does that dies. */
    @Override
    public void close() {
        try {
            socket.close();
            service.join(TimeUnit.SECONDS.toMillis(PATIENCE_SECONDS));
        } catch (IOException | InterruptedException e) {
            throw new IllegalStateException(e);
        }
    }
}
