package dev.cantina.serve.debug;

import dev.cantina.binding.Variable;
import dev.cantina.debugging.Breakpoint;
import dev.cantina.debugging.CallTarget;
import dev.cantina.debugging.DebugException;
import dev.cantina.debugging.Debugger;
import dev.cantina.debugging.Evaluated;
import dev.cantina.debugging.Resume;
import dev.cantina.debugging.Stop;
import dev.cantina.debugging.StopListener;
import dev.cantina.runtime.Frame;
import dev.cantina.runtime.ResultRows;
import dev.cantina.types.SqlType;
import dev.cantina.workbench.Debuggee;
import dev.cantina.workbench.Shown;
import dev.cantina.workbench.ValueText;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.concurrent.CompletableFuture;
import org.eclipse.lsp4j.debug.BreakpointLocationsArguments;
import org.eclipse.lsp4j.debug.BreakpointLocationsResponse;
import org.eclipse.lsp4j.debug.CancelArguments;
import org.eclipse.lsp4j.debug.Capabilities;
import org.eclipse.lsp4j.debug.CompletionItem;
import org.eclipse.lsp4j.debug.CompletionItemType;
import org.eclipse.lsp4j.debug.CompletionsArguments;
import org.eclipse.lsp4j.debug.CompletionsResponse;
import org.eclipse.lsp4j.debug.ConfigurationDoneArguments;
import org.eclipse.lsp4j.debug.ContinueArguments;
import org.eclipse.lsp4j.debug.ContinueResponse;
import org.eclipse.lsp4j.debug.DataBreakpointInfoArguments;
import org.eclipse.lsp4j.debug.DataBreakpointInfoResponse;
import org.eclipse.lsp4j.debug.EvaluateArguments;
import org.eclipse.lsp4j.debug.EvaluateResponse;
import org.eclipse.lsp4j.debug.ExceptionBreakMode;
import org.eclipse.lsp4j.debug.ExceptionBreakpointsFilter;
import org.eclipse.lsp4j.debug.ExceptionDetails;
import org.eclipse.lsp4j.debug.ExceptionInfoArguments;
import org.eclipse.lsp4j.debug.ExceptionInfoResponse;
import org.eclipse.lsp4j.debug.InitializeRequestArguments;
import org.eclipse.lsp4j.debug.NextArguments;
import org.eclipse.lsp4j.debug.OutputEventArguments;
import org.eclipse.lsp4j.debug.OutputEventArgumentsCategory;
import org.eclipse.lsp4j.debug.PauseArguments;
import org.eclipse.lsp4j.debug.RestartFrameArguments;
import org.eclipse.lsp4j.debug.ReverseContinueArguments;
import org.eclipse.lsp4j.debug.ScopesArguments;
import org.eclipse.lsp4j.debug.ScopesResponse;
import org.eclipse.lsp4j.debug.SetBreakpointsArguments;
import org.eclipse.lsp4j.debug.SetBreakpointsResponse;
import org.eclipse.lsp4j.debug.SetDataBreakpointsArguments;
import org.eclipse.lsp4j.debug.SetDataBreakpointsResponse;
import org.eclipse.lsp4j.debug.SetExceptionBreakpointsArguments;
import org.eclipse.lsp4j.debug.SetExceptionBreakpointsResponse;
import org.eclipse.lsp4j.debug.SetExpressionArguments;
import org.eclipse.lsp4j.debug.SetExpressionResponse;
import org.eclipse.lsp4j.debug.SetFunctionBreakpointsArguments;
import org.eclipse.lsp4j.debug.SetFunctionBreakpointsResponse;
import org.eclipse.lsp4j.debug.SetVariableArguments;
import org.eclipse.lsp4j.debug.SetVariableResponse;
import org.eclipse.lsp4j.debug.StackFrame;
import org.eclipse.lsp4j.debug.StackTraceArguments;
import org.eclipse.lsp4j.debug.StackTraceResponse;
import org.eclipse.lsp4j.debug.StepBackArguments;
import org.eclipse.lsp4j.debug.StepInArguments;
import org.eclipse.lsp4j.debug.StepInTarget;
import org.eclipse.lsp4j.debug.StepInTargetsArguments;
import org.eclipse.lsp4j.debug.StepInTargetsResponse;
import org.eclipse.lsp4j.debug.StepOutArguments;
import org.eclipse.lsp4j.debug.Thread;
import org.eclipse.lsp4j.debug.ThreadsResponse;
import org.eclipse.lsp4j.debug.VariablesArguments;
import org.eclipse.lsp4j.debug.VariablesResponse;
import org.eclipse.lsp4j.debug.services.IDebugProtocolClient;
import org.eclipse.lsp4j.debug.services.IDebugProtocolServer;

/**
 * What an editor asks of a run, by the Debug Adapter Protocol: breakpoints, steps, and what is
 * there where it stands. Requests come on the wire's thread and are done on the worker's; events go
 * out from there.
 */
abstract class DebugRequests implements IDebugProtocolServer {
    /** There is one thread: the run. */
    static final int THREAD = 1;

    private static final int MOST_ROWS = 200;

    /** The filter of one SQLSTATE, which its condition says. */
    static final String STATE = "state";

    final DebugWorker worker = new DebugWorker();
    final Handles handles = new Handles();
    IDebugProtocolClient client;
    int firstLine = 1;
    private int firstColumn = 1;
    volatile Debuggee debuggee;
    StopView view;
    BreakpointAnswers breakpoints;
    Stop stop;

    void connect(IDebugProtocolClient editor) {
        client = editor;
    }

    /** The editor is gone, or wants no more. */
    abstract void quit();

    /** Waits a while for the end of what is ended. */
    abstract void await();

    /** What the run is called in the editor's list of threads. */
    abstract String threadName();

    /** The project's files have become known. */
    void shows(SourcePaths paths) {
        view = new StopView(paths, handles, firstLine, firstColumn);
    }

    // ------------------------------------------------------------------ beginning

    @Override
    public CompletableFuture<Capabilities> initialize(InitializeRequestArguments arguments) {
        firstLine = Boolean.FALSE.equals(arguments.getLinesStartAt1()) ? 0 : 1;
        firstColumn = Boolean.FALSE.equals(arguments.getColumnsStartAt1()) ? 0 : 1;
        Capabilities can = new Capabilities();
        can.setSupportsConfigurationDoneRequest(true);
        can.setSupportsFunctionBreakpoints(true);
        can.setSupportsConditionalBreakpoints(true);
        can.setSupportsHitConditionalBreakpoints(true);
        can.setSupportsLogPoints(true);
        can.setSupportsDataBreakpoints(true);
        can.setSupportsBreakpointLocationsRequest(true);
        can.setSupportsEvaluateForHovers(true);
        can.setSupportsSetVariable(true);
        can.setSupportsSetExpression(true);
        can.setSupportsStepBack(true);
        can.setSupportsRestartFrame(true);
        can.setSupportsRestartRequest(true);
        can.setSupportsStepInTargetsRequest(true);
        can.setSupportsCompletionsRequest(true);
        can.setSupportsExceptionInfoRequest(true);
        can.setSupportsExceptionFilterOptions(true);
        can.setSupportsDelayedStackTraceLoading(true);
        can.setSupportsTerminateRequest(true);
        can.setSupportsCancelRequest(true);
        can.setSupportsClipboardContext(true);
        can.setExceptionBreakpointFilters(
                new ExceptionBreakpointsFilter[] {
                    filter("unhandled", "Conditions that nothing handles", true),
                    filter("exception", "Every exception, handled or not", false),
                    filter("not found", "NOT FOUND", false),
                    state()
                });
        return CompletableFuture.completedFuture(can);
    }

    private static ExceptionBreakpointsFilter filter(String id, String label, boolean set) {
        ExceptionBreakpointsFilter filter = new ExceptionBreakpointsFilter();
        filter.setFilter(id);
        filter.setLabel(label);
        filter.setDefault_(set);
        return filter;
    }

    private static ExceptionBreakpointsFilter state() {
        ExceptionBreakpointsFilter filter = filter(STATE, "One SQLSTATE", false);
        filter.setSupportsCondition(true);
        filter.setConditionDescription("an SQLSTATE, such as 45000");
        return filter;
    }

    @Override
    public CompletableFuture<Void> configurationDone(ConfigurationDoneArguments arguments) {
        return worker.ask(
                () -> {
                    worker.begin();
                    return null;
                });
    }

    // ------------------------------------------------------------------ what is told

    /** What a run tells: see {@link dev.cantina.debugging.StopListener}. */
    abstract class Telling implements StopListener {
        @Override
        public Resume stopped(Stop now) {
            return DebugRequests.this.stopped(now);
        }

        @Override
        public void troubled(Breakpoint breakpoint, String message) {
            say(
                    OutputEventArgumentsCategory.IMPORTANT,
                    "breakpoint at line "
                            + breakpoint.line()
                            + " of "
                            + breakpoint.routine()
                            + ": its condition can't be evaluated: "
                            + message
                            + "\n");
        }

        @Override
        public void told(Breakpoint breakpoint, Frame frame, String text) {
            OutputEventArguments output = output(OutputEventArgumentsCategory.CONSOLE, text + "\n");
            output.setSource(view.source(frame.place().span().source().name()));
            output.setLine(view.shown(breakpoint.line()));
            client.output(output);
        }

        @Override
        public void said(String message) {
            say(OutputEventArgumentsCategory.STDOUT, message + "\n");
        }
    }

    private static OutputEventArguments output(String category, String text) {
        OutputEventArguments output = new OutputEventArguments();
        output.setCategory(category);
        output.setOutput(text);
        return output;
    }

    final void say(String category, String text) {
        client.output(output(category, text));
    }

    Resume stopped(Stop now) {
        stop = now;
        for (String note : now.notes()) {
            say(OutputEventArgumentsCategory.CONSOLE, note + "\n");
        }
        Resume resume = worker.stand(() -> client.stopped(StopView.event(now)));
        handles.clear();
        stop = null;
        return resume;
    }

    // ------------------------------------------------------------------ breakpoints

    /** Something that is asked of the breakpoints. */
    private interface OfBreakpoints<T> {
        T of(BreakpointAnswers answers) throws DebugException;
    }

    private <T> CompletableFuture<T> breakpoints(OfBreakpoints<T> work) {
        return worker.soon(
                () -> {
                    if (breakpoints == null) {
                        throw new DebugException("launch comes first: there is no run to stop");
                    }
                    return work.of(breakpoints);
                });
    }

    final Debugger debugger() {
        return debuggee.debugger();
    }

    @Override
    public CompletableFuture<SetBreakpointsResponse> setBreakpoints(
            SetBreakpointsArguments arguments) {
        return breakpoints(b -> b.setBreakpoints(arguments));
    }

    @Override
    public CompletableFuture<SetFunctionBreakpointsResponse> setFunctionBreakpoints(
            SetFunctionBreakpointsArguments arguments) {
        return breakpoints(b -> b.setFunctionBreakpoints(arguments));
    }

    @Override
    public CompletableFuture<SetExceptionBreakpointsResponse> setExceptionBreakpoints(
            SetExceptionBreakpointsArguments arguments) {
        return breakpoints(b -> b.setExceptionBreakpoints(arguments));
    }

    @Override
    public CompletableFuture<DataBreakpointInfoResponse> dataBreakpointInfo(
            DataBreakpointInfoArguments arguments) {
        return breakpoints(b -> b.dataBreakpointInfo(arguments));
    }

    @Override
    public CompletableFuture<SetDataBreakpointsResponse> setDataBreakpoints(
            SetDataBreakpointsArguments arguments) {
        return breakpoints(b -> b.setDataBreakpoints(arguments));
    }

    @Override
    public CompletableFuture<BreakpointLocationsResponse> breakpointLocations(
            BreakpointLocationsArguments arguments) {
        return breakpoints(b -> b.breakpointLocations(arguments));
    }

    // ------------------------------------------------------------------ going on

    final CompletableFuture<Void> goOn(Resume resume) {
        return standing(
                () -> {
                    if (resume.kind().isBack()) {
                        mayGoBack();
                    }
                    if (resume.kind().isBack() && isAtStart(resume)) {
                        throw new DebugException("this is the start; there is nothing before it");
                    }
                    worker.goOn(resume);
                    return null;
                });
    }

    /**
     * Looks whether the run can be made once more, up to an earlier moment.
     *
     * @throws DebugException where it can't
     */
    void mayGoBack() throws DebugException {}

    private boolean isAtStart(Resume resume) {
        boolean step = resume.kind() == Resume.Kind.BACK;
        return (step || resume.kind() == Resume.Kind.BACK_CONTINUE) && stop.moment().begun() <= 1;
    }

    /** Has something done that needs a stop. */
    private <T> CompletableFuture<T> standing(Callable<T> work) {
        return worker.ask(
                () -> {
                    if (stop == null) {
                        throw new DebugException("the run has not begun");
                    }
                    return work.call();
                });
    }

    @Override
    public CompletableFuture<ContinueResponse> continue_(ContinueArguments arguments) {
        return goOn(Resume.of(Resume.Kind.CONTINUE))
                .thenApply(
                        v -> {
                            ContinueResponse response = new ContinueResponse();
                            response.setAllThreadsContinued(true);
                            return response;
                        });
    }

    @Override
    public CompletableFuture<Void> next(NextArguments arguments) {
        return goOn(Resume.of(Resume.Kind.OVER));
    }

    @Override
    public CompletableFuture<Void> stepIn(StepInArguments arguments) {
        if (arguments.getTargetId() == null) {
            return goOn(Resume.of(Resume.Kind.INTO));
        }
        return standing(
                () -> {
                    List<CallTarget> calls = debugger().calls(stop.frame());
                    int target = arguments.getTargetId() - 1;
                    if (target < 0 || target >= calls.size()) {
                        throw new DebugException("this statement has no such call");
                    }
                    CallTarget call = calls.get(target);
                    worker.goOn(new Resume(Resume.Kind.INTO_CALL, call.time(), call.routine()));
                    return null;
                });
    }

    @Override
    public CompletableFuture<StepInTargetsResponse> stepInTargets(
            StepInTargetsArguments arguments) {
        return standing(
                () -> {
                    List<StepInTarget> targets = new ArrayList<>();
                    Frame frame = handles.frame(arguments.getFrameId());
                    List<CallTarget> calls =
                            frame == stop.frame() ? debugger().calls(frame) : List.of();
                    for (CallTarget call : calls) {
                        StepInTarget target = new StepInTarget();
                        target.setId(targets.size() + 1);
                        target.setLabel(
                                call.routine() + (call.time() > 1 ? " (" + call.time() + ")" : ""));
                        targets.add(target);
                    }
                    StepInTargetsResponse response = new StepInTargetsResponse();
                    response.setTargets(targets.toArray(StepInTarget[]::new));
                    return response;
                });
    }

    @Override
    public CompletableFuture<Void> stepOut(StepOutArguments arguments) {
        return goOn(Resume.of(Resume.Kind.OUT));
    }

    @Override
    public CompletableFuture<Void> stepBack(StepBackArguments arguments) {
        return goOn(Resume.of(Resume.Kind.BACK));
    }

    @Override
    public CompletableFuture<Void> reverseContinue(ReverseContinueArguments arguments) {
        return goOn(Resume.of(Resume.Kind.BACK_CONTINUE));
    }

    @Override
    public CompletableFuture<Void> restartFrame(RestartFrameArguments arguments) {
        return standing(
                () -> {
                    Frame wanted = handles.frame(arguments.getFrameId());
                    int number = 0;
                    for (Frame f = stop.frame(); f != wanted; f = f.caller()) {
                        number++;
                    }
                    worker.goOn(new Resume(Resume.Kind.RESTART_FRAME, number));
                    return null;
                });
    }

    @Override
    public CompletableFuture<Void> pause(PauseArguments arguments) {
        if (debuggee != null) {
            debuggee.breakIn();
        }
        return CompletableFuture.completedFuture(null);
    }

    @Override
    public CompletableFuture<Void> cancel(CancelArguments arguments) {
        if (debuggee != null && debuggee.debugger() != null) {
            debuggee.debugger().callOff();
        }
        return CompletableFuture.completedFuture(null);
    }

    // ------------------------------------------------------------------ looking

    @Override
    public CompletableFuture<ThreadsResponse> threads() {
        Thread one = new Thread();
        one.setId(THREAD);
        one.setName(threadName());
        ThreadsResponse response = new ThreadsResponse();
        response.setThreads(new Thread[] {one});
        return CompletableFuture.completedFuture(response);
    }

    @Override
    public CompletableFuture<StackTraceResponse> stackTrace(StackTraceArguments arguments) {
        return standing(
                () -> {
                    int from = arguments.getStartFrame() == null ? 0 : arguments.getStartFrame();
                    Integer levels = arguments.getLevels();
                    int count = levels == null || levels == 0 ? Integer.MAX_VALUE : levels;
                    StackTraceResponse response = new StackTraceResponse();
                    response.setStackFrames(
                            view.stack(stop, from, count).toArray(StackFrame[]::new));
                    response.setTotalFrames(stop.frame().depth());
                    return response;
                });
    }

    @Override
    public CompletableFuture<ScopesResponse> scopes(ScopesArguments arguments) {
        return standing(
                () -> {
                    ScopesResponse response = new ScopesResponse();
                    response.setScopes(
                            view.scopes(stop, handles.frame(arguments.getFrameId()))
                                    .toArray(org.eclipse.lsp4j.debug.Scope[]::new));
                    return response;
                });
    }

    @Override
    public CompletableFuture<VariablesResponse> variables(VariablesArguments arguments) {
        return standing(
                () -> {
                    VariablesResponse response = new VariablesResponse();
                    response.setVariables(
                            view.variables(
                                            arguments.getVariablesReference(),
                                            arguments.getStart(),
                                            arguments.getCount())
                                    .toArray(org.eclipse.lsp4j.debug.Variable[]::new));
                    return response;
                });
    }

    @Override
    public CompletableFuture<SetVariableResponse> setVariable(SetVariableArguments arguments) {
        return standing(
                () -> {
                    Handles.Held held = handles.held(arguments.getVariablesReference());
                    String path =
                            held.parts().some(0, Integer.MAX_VALUE).stream()
                                    .filter(s -> s.name().equals(arguments.getName()))
                                    .flatMap(s -> s.path().stream())
                                    .findFirst()
                                    .orElseThrow(
                                            () ->
                                                    new DebugException(
                                                            arguments.getName()
                                                                    + " can't be changed here; a"
                                                                    + " statement in the console"
                                                                    + " changes rows"));
                    Shown now = set(held.frame(), path, arguments.getValue());
                    SetVariableResponse response = new SetVariableResponse();
                    response.setValue(now.text());
                    response.setType(now.type());
                    response.setVariablesReference(view.inside(held.frame(), true, now));
                    return response;
                });
    }

    private Shown set(Frame frame, String path, String value) throws DebugException {
        Object held = debugger().set(frame, path, value);
        SqlType type = debugger().glance(frame, path).map(Evaluated::type).orElse(SqlType.NULL);
        return Shown.value(path, type, held, Optional.of(path));
    }

    @Override
    public CompletableFuture<SetExpressionResponse> setExpression(
            SetExpressionArguments arguments) {
        return standing(
                () -> {
                    Frame frame = frame(arguments.getFrameId());
                    Shown now = set(frame, arguments.getExpression(), arguments.getValue());
                    SetExpressionResponse response = new SetExpressionResponse();
                    response.setValue(now.text());
                    response.setType(now.type());
                    response.setVariablesReference(view.inside(frame, true, now));
                    return response;
                });
    }

    private Frame frame(Integer id) throws DebugException {
        return id == null || id == 0 ? stop.frame() : handles.frame(id);
    }

    @Override
    public CompletableFuture<EvaluateResponse> evaluate(EvaluateArguments arguments) {
        return standing(
                () -> {
                    Frame frame = frame(arguments.getFrameId());
                    String text = arguments.getExpression().strip();
                    Shown shown = shown(frame, text, String.valueOf(arguments.getContext()));
                    EvaluateResponse response = new EvaluateResponse();
                    response.setResult(shown.text());
                    if (!shown.type().isEmpty()) {
                        response.setType(shown.type());
                    }
                    response.setVariablesReference(view.inside(frame, true, shown));
                    if (shown.isNumbered() && shown.parts() > 0) {
                        response.setIndexedVariables(shown.parts());
                    } else if (shown.parts() > 0) {
                        response.setNamedVariables(shown.parts());
                    }
                    return response;
                });
    }

    private Shown shown(Frame frame, String text, String context) throws DebugException {
        if (context.equals("hover")) {
            Evaluated value =
                    debugger()
                            .glance(frame, text)
                            .orElseThrow(
                                    () ->
                                            new DebugException(
                                                    text + " is no variable that is known here"));
            return Shown.value(text, value.type(), value.value(), Optional.of(text));
        }
        if (Debugger.isQuery(text)) {
            ResultRows rows = debugger().query(frame, text, MOST_ROWS);
            return Shown.rows(text, rows.columns(), rows.rows());
        }
        if (context.equals("repl") && Debugger.isChange(text)) {
            int rows = debugger().change(frame, text);
            String told =
                    rows
                            + (rows == 1 ? " row" : " rows")
                            + " changed, inside the running transaction";
            return new Shown(
                    text, "", told, Optional.empty(), 0, false, (from, count) -> List.of());
        }
        Evaluated value = debugger().evaluate(frame, text);
        if (context.equals("clipboard") && !(value.value() instanceof Object[])) {
            String whole = dev.cantina.types.Values.text(value.value());
            return new Shown(
                    text, "", whole, Optional.empty(), 0, false, (from, count) -> List.of());
        }
        return Shown.value(text, value.type(), value.value(), Optional.of(text));
    }

    @Override
    public CompletableFuture<CompletionsResponse> completions(CompletionsArguments arguments) {
        return standing(
                () -> {
                    Frame frame = frame(arguments.getFrameId());
                    String before = before(arguments);
                    int from = before.length();
                    while (from > 0 && isWord(before.charAt(from - 1))) {
                        from--;
                    }
                    String begun = before.substring(from).toLowerCase(Locale.ROOT);
                    List<CompletionItem> items = new ArrayList<>();
                    for (Variable variable : frame.place().scope().variables()) {
                        offer(items, begun, variable.name(), CompletionItemType.VARIABLE);
                    }
                    var catalog = frame.session.program().catalog();
                    catalog.tables()
                            .forEach(t -> offer(items, begun, t.name(), CompletionItemType.CLASS));
                    catalog.routines()
                            .forEach(
                                    r ->
                                            offer(
                                                    items,
                                                    begun,
                                                    r.name(),
                                                    CompletionItemType.FUNCTION));
                    CompletionsResponse response = new CompletionsResponse();
                    response.setTargets(items.toArray(CompletionItem[]::new));
                    return response;
                });
    }

    /** What stands before the place at which something is completed. */
    private String before(CompletionsArguments arguments) {
        List<String> lines = arguments.getText().lines().toList();
        int line = arguments.getLine() == null ? 0 : view.counted(arguments.getLine()) - 1;
        String text = line >= 0 && line < lines.size() ? lines.get(line) : "";
        int column = arguments.getColumn() - firstColumn;
        return text.substring(0, Math.max(0, Math.min(column, text.length())));
    }

    private static boolean isWord(char c) {
        return Character.isLetterOrDigit(c) || c == '_';
    }

    private static void offer(
            List<CompletionItem> items, String begun, String name, CompletionItemType type) {
        if (name.toLowerCase(Locale.ROOT).startsWith(begun)) {
            CompletionItem item = new CompletionItem();
            item.setLabel(name);
            item.setType(type);
            items.add(item);
        }
    }

    @Override
    public CompletableFuture<ExceptionInfoResponse> exceptionInfo(
            ExceptionInfoArguments arguments) {
        return standing(
                () -> {
                    var condition =
                            stop.condition()
                                    .or(
                                            () ->
                                                    stop.reason() == Stop.Reason.CONDITION
                                                            ? Optional.of(
                                                                    stop.frame()
                                                                            .session
                                                                            .questions()
                                                                            .diagnoses()
                                                                            .get(0)
                                                                            .condition())
                                                            : Optional.empty())
                                    .orElseThrow(
                                            () -> new DebugException("no condition is raised"));
                    ExceptionInfoResponse response = new ExceptionInfoResponse();
                    response.setExceptionId(condition.sqlstate());
                    response.setDescription(ValueText.printable(condition.message()));
                    boolean unhandled =
                            stop.breakpoint().filter(b -> !b.on().equals("unhandled")).isEmpty();
                    response.setBreakMode(
                            unhandled ? ExceptionBreakMode.UNHANDLED : ExceptionBreakMode.ALWAYS);
                    ExceptionDetails details = new ExceptionDetails();
                    details.setMessage(condition.message());
                    details.setTypeName(condition.sqlstate());
                    List<String> lines = new ArrayList<>();
                    condition.items().forEach((name, value) -> lines.add(name + " " + value));
                    stop.frame()
                            .session
                            .stack(stop.frame())
                            .forEach(
                                    e -> lines.add("in " + e.routine() + "  " + e.place().place()));
                    details.setStackTrace(String.join("\n", lines));
                    response.setDetails(details);
                    return response;
                });
    }
}
