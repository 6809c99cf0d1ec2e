package dev.cantina.serve.debug;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.debugging.DebugException;
import dev.cantina.debugging.ExecutionPoint;
import dev.cantina.debugging.Stop;
import dev.cantina.runtime.Frame;
import dev.cantina.syntax.Span;
import dev.cantina.workbench.FrameTree;
import dev.cantina.workbench.Shown;
import dev.cantina.workbench.ValueText;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import org.eclipse.lsp4j.debug.Scope;
import org.eclipse.lsp4j.debug.Source;
import org.eclipse.lsp4j.debug.StackFrame;
import org.eclipse.lsp4j.debug.StoppedEventArguments;
import org.eclipse.lsp4j.debug.Variable;

/** A stop in the protocol's words. */
final class StopView {
    private final SourcePaths paths;
    private final Handles handles;
    private final int firstLine;
    private final int firstColumn;

    /**
     * @param firstLine the number that the editor gives the first line of a file
     * @param firstColumn the same of columns
     */
    StopView(SourcePaths paths, Handles handles, int firstLine, int firstColumn) {
        this.paths = paths;
        this.handles = handles;
        this.firstLine = firstLine;
        this.firstColumn = firstColumn;
    }

    /** A line as the editor counts. */
    int shown(int line) {
        return line - 1 + firstLine;
    }

    /** A line of the editor's as it is counted here. */
    int counted(int line) {
        return line + 1 - firstLine;
    }

    Source source(String name) {
        Source source = new Source();
        Path path = paths.path(name);
        source.setName(path.getFileName().toString());
        if (Files.exists(path)) {
            source.setPath(path.toString());
        } else {
            source.setOrigin("not in a file");
        }
        return source;
    }

    static StoppedEventArguments event(Stop stop) {
        StoppedEventArguments event = new StoppedEventArguments();
        event.setThreadId(DebugServer.THREAD);
        event.setAllThreadsStopped(true);
        event.setReason(
                switch (stop.reason()) {
                    case START -> "entry";
                    case STEP, END, BACK, ASKED -> "step";
                    case BREAK_IN -> "pause";
                    case BREAKPOINT -> "breakpoint";
                    case CONDITION -> "exception";
                    case CHANGE, WRITE -> "data breakpoint";
                });
        event.setDescription(description(stop));
        stop.condition()
                .ifPresent(
                        c -> event.setText(c.sqlstate() + " " + ValueText.printable(c.message())));
        stop.breakpoint().ifPresent(b -> event.setHitBreakpointIds(new Integer[] {b.number()}));
        return event;
    }

    private static String description(Stop stop) {
        return switch (stop.reason()) {
            case START -> "Stopped at the start";
            case STEP -> "Stopped after a step";
            case END -> "About to end";
            case BREAK_IN -> "Paused";
            case BREAKPOINT -> "Stopped at a breakpoint";
            case CONDITION ->
                    stop.condition()
                            .map(c -> "Raised " + c.sqlstate())
                            .orElse("Raised a condition");
            case CHANGE -> stop.changed().get(0).name() + " has changed";
            case WRITE -> "Has written to " + stop.breakpoint().map(b -> b.on()).orElse("");
            case BACK -> "Gone back";
            case ASKED ->
                    stop.moment().phase() == ExecutionPoint.Phase.END
                            ? "At the end: no statement wrote what is not as expected"
                            : "Where the difference comes from";
        };
    }

    /** Some of the frames, innermost first. */
    List<StackFrame> stack(Stop stop, int from, int count) {
        List<StackFrame> frames = new ArrayList<>();
        int number = 0;
        for (Frame f = stop.frame(); f != null; f = f.caller(), number++) {
            if (number >= from && frames.size() < count) {
                frames.add(frame(stop, f));
            }
        }
        return frames;
    }

    private StackFrame frame(Stop stop, Frame frame) {
        StackFrame shown = new StackFrame();
        shown.setId(handles.add(frame));
        shown.setName(frame.routine().name());
        shown.setSource(source(frame.place().span().source().name()));
        boolean ends = frame == stop.frame() && stop.moment().phase() == ExecutionPoint.Phase.END;
        if (ends) {
            shown.setLine(shown(stop.line()));
            shown.setColumn(firstColumn);
        } else {
            Span span = frame.routine().head(frame.at);
            shown.setLine(shown(span.line()));
            shown.setColumn(span.column() - 1 + firstColumn);
            shown.setEndLine(shown(span.endLine()));
            shown.setEndColumn(span.source().columnOf(span.end()) - 1 + firstColumn);
        }
        shown.setCanRestart(frame.routine().kind() != BoundRoutine.Kind.SCRIPT);
        return shown;
    }

    List<Scope> scopes(Stop stop, Frame frame) {
        List<Scope> scopes = new ArrayList<>();
        for (FrameTree.Branch branch : new FrameTree(stop, frame).branches()) {
            Scope scope = new Scope();
            scope.setName(branch.name());
            scope.setExpensive(branch.isCostly());
            if (branch.kind() == FrameTree.Kind.PARAMETERS) {
                scope.setPresentationHint("arguments");
            } else if (branch.kind() == FrameTree.Kind.VARIABLES) {
                scope.setPresentationHint("locals");
            }
            boolean variables = branch.kind() != FrameTree.Kind.OTHER;
            scope.setVariablesReference(
                    handles.add(
                            new Handles.Held(
                                    frame,
                                    variables,
                                    (from, count) -> some(content(branch), from, count),
                                    0)));
            scopes.add(scope);
        }
        return scopes;
    }

    private static List<Shown> content(FrameTree.Branch branch) {
        try {
            return branch.content().all();
        } catch (SQLException e) {
            return List.of(
                    Shown.value(
                            "the database can't tell",
                            dev.cantina.types.SqlType.NULL,
                            e.getMessage(),
                            java.util.Optional.empty()));
        }
    }

    private static List<Shown> some(List<Shown> all, int from, int count) {
        long end = Math.min(all.size(), (long) from + count);
        return from >= all.size() ? List.of() : all.subList(from, (int) end);
    }

    /** What is in something that was shown, or a part of it. */
    List<Variable> variables(int reference, Integer start, Integer count) throws DebugException {
        Handles.Held held = handles.held(reference);
        int from = start == null ? 0 : start;
        int most = count == null || count == 0 ? Integer.MAX_VALUE - from : count;
        List<Variable> variables = new ArrayList<>();
        for (Shown shown : held.parts().some(from, most)) {
            variables.add(variable(held, shown));
        }
        return variables;
    }

    private Variable variable(Handles.Held in, Shown shown) {
        Variable variable = new Variable();
        variable.setName(shown.name());
        variable.setValue(shown.text());
        if (!shown.type().isEmpty()) {
            variable.setType(shown.type());
        }
        shown.path().ifPresent(variable::setEvaluateName);
        variable.setVariablesReference(inside(in.frame(), in.isOfVariables(), shown));
        if (shown.parts() > 0 && shown.isNumbered()) {
            variable.setIndexedVariables(shown.parts());
        } else if (shown.parts() > 0) {
            variable.setNamedVariables(shown.parts());
        }
        return variable;
    }

    /** The number by which what is in something is asked for; 0 where there is nothing in it. */
    int inside(Frame frame, boolean ofVariables, Shown shown) {
        return shown.parts() == 0
                ? 0
                : handles.add(new Handles.Held(frame, ofVariables, shown.inside(), shown.parts()));
    }
}
