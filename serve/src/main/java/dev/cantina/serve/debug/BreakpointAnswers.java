package dev.cantina.serve.debug;

import dev.cantina.catalog.Table;
import dev.cantina.debugging.Breakpoint;
import dev.cantina.debugging.DebugException;
import dev.cantina.debugging.Debugger;
import dev.cantina.runtime.Frame;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import org.eclipse.lsp4j.debug.BreakpointLocation;
import org.eclipse.lsp4j.debug.BreakpointLocationsArguments;
import org.eclipse.lsp4j.debug.BreakpointLocationsResponse;
import org.eclipse.lsp4j.debug.BreakpointNotVerifiedReason;
import org.eclipse.lsp4j.debug.DataBreakpointAccessType;
import org.eclipse.lsp4j.debug.DataBreakpointInfoArguments;
import org.eclipse.lsp4j.debug.DataBreakpointInfoResponse;
import org.eclipse.lsp4j.debug.ExceptionFilterOptions;
import org.eclipse.lsp4j.debug.FunctionBreakpoint;
import org.eclipse.lsp4j.debug.SetBreakpointsArguments;
import org.eclipse.lsp4j.debug.SetBreakpointsResponse;
import org.eclipse.lsp4j.debug.SetDataBreakpointsArguments;
import org.eclipse.lsp4j.debug.SetDataBreakpointsResponse;
import org.eclipse.lsp4j.debug.SetExceptionBreakpointsArguments;
import org.eclipse.lsp4j.debug.SetExceptionBreakpointsResponse;
import org.eclipse.lsp4j.debug.SetFunctionBreakpointsArguments;
import org.eclipse.lsp4j.debug.SetFunctionBreakpointsResponse;
import org.eclipse.lsp4j.debug.SourceBreakpoint;

/** The breakpoints that an editor asks for, in the protocol's words; all of it on the worker. */
final class BreakpointAnswers {
    private static final String CHANGE = "change ";
    private static final String WRITE = "write ";

    private final Debugger debugger;
    private final BreakpointBook book;
    private final SourcePaths paths;
    private final StopView view;
    private final Handles handles;
    private final Supplier<Frame> stopped;
    private final boolean withoutStops;

    /**
     * @param stopped the innermost frame of a run that stands; null where it does not
     * @param withoutStops whether the run is to stop nowhere
     */
    BreakpointAnswers(
            Debugger debugger,
            SourcePaths paths,
            StopView view,
            Handles handles,
            Supplier<Frame> stopped,
            boolean withoutStops) {
        this.debugger = debugger;
        this.book = new BreakpointBook(debugger);
        this.paths = paths;
        this.view = view;
        this.handles = handles;
        this.stopped = stopped;
        this.withoutStops = withoutStops;
    }

    SetBreakpointsResponse setBreakpoints(SetBreakpointsArguments arguments) throws DebugException {
        String name = paths.name(path(arguments.getSource()));
        List<BreakpointBook.Wanted> wanted = new ArrayList<>();
        SourceBreakpoint[] asked = arguments.getBreakpoints();
        for (SourceBreakpoint one : asked == null ? new SourceBreakpoint[0] : asked) {
            wanted.add(
                    new BreakpointBook.Wanted(
                            name,
                            view.counted(one.getLine()),
                            one.getCondition(),
                            one.getHitCondition(),
                            one.getLogMessage()));
        }
        SetBreakpointsResponse response = new SetBreakpointsResponse();
        response.setBreakpoints(shown(book.replace("file " + name, wanted, this::atLine)));
        return response;
    }

    private static String path(org.eclipse.lsp4j.debug.Source source) throws DebugException {
        if (source.getPath() == null) {
            throw new DebugException("a breakpoint stands in a file, and no path is given");
        }
        return source.getPath();
    }

    private static Optional<String> given(String text) {
        return Optional.ofNullable(text).filter(t -> !t.isBlank());
    }

    private Breakpoint atLine(BreakpointBook.Wanted wanted, BreakpointBook.Hits hits)
            throws DebugException {
        return debugger.pauseAt(
                wanted.what(),
                wanted.line(),
                given(wanted.condition()),
                hits.after(),
                hits.every(),
                given(wanted.tells()));
    }

    private org.eclipse.lsp4j.debug.Breakpoint[] shown(List<BreakpointBook.Set> sets) {
        if (withoutStops) {
            switchOff();
        }
        return sets.stream().map(this::shown).toArray(org.eclipse.lsp4j.debug.Breakpoint[]::new);
    }

    /** A run that is to stop nowhere has its breakpoints, and they are off. */
    private void switchOff() {
        try {
            debugger.change(0, Debugger.Change.DISABLE);
        } catch (DebugException e) {
            // There is none.
            return;
        }
    }

    private org.eclipse.lsp4j.debug.Breakpoint shown(BreakpointBook.Set set) {
        org.eclipse.lsp4j.debug.Breakpoint shown = new org.eclipse.lsp4j.debug.Breakpoint();
        shown.setVerified(set.breakpoint().isPresent());
        if (set.breakpoint().isEmpty()) {
            shown.setMessage(set.why());
            shown.setReason(BreakpointNotVerifiedReason.FAILED);
            if (set.wanted().line() > 0) {
                shown.setLine(view.shown(set.wanted().line()));
            }
            return shown;
        }
        Breakpoint breakpoint = set.breakpoint().get();
        shown.setId(breakpoint.number());
        if (breakpoint.line() > 0) {
            shown.setLine(view.shown(breakpoint.line()));
        }
        return shown;
    }

    SetFunctionBreakpointsResponse setFunctionBreakpoints(SetFunctionBreakpointsArguments arguments)
            throws DebugException {
        List<BreakpointBook.Wanted> wanted = new ArrayList<>();
        for (FunctionBreakpoint one : arguments.getBreakpoints()) {
            wanted.add(
                    new BreakpointBook.Wanted(
                            one.getName(), 0, one.getCondition(), one.getHitCondition(), null));
        }
        SetFunctionBreakpointsResponse response = new SetFunctionBreakpointsResponse();
        response.setBreakpoints(shown(book.replace("routines", wanted, this::atStart)));
        return response;
    }

    private Breakpoint atStart(BreakpointBook.Wanted wanted, BreakpointBook.Hits hits)
            throws DebugException {
        return debugger.pauseAt(
                wanted.what(),
                debugger.firstLine(wanted.what()),
                given(wanted.condition()),
                hits.after(),
                hits.every());
    }

    SetExceptionBreakpointsResponse setExceptionBreakpoints(
            SetExceptionBreakpointsArguments arguments) throws DebugException {
        List<BreakpointBook.Wanted> wanted = new ArrayList<>();
        for (String one : arguments.getFilters()) {
            wanted.add(new BreakpointBook.Wanted(one, 0, "", "", null));
        }
        ExceptionFilterOptions[] options = arguments.getFilterOptions();
        if (options != null) {
            for (ExceptionFilterOptions one : options) {
                wanted.add(
                        new BreakpointBook.Wanted(
                                one.getFilterId(), 0, one.getCondition(), "", null));
            }
        }
        SetExceptionBreakpointsResponse response = new SetExceptionBreakpointsResponse();
        response.setBreakpoints(shown(book.replace("conditions", wanted, this::onCondition)));
        return response;
    }

    private Breakpoint onCondition(BreakpointBook.Wanted wanted, BreakpointBook.Hits hits)
            throws DebugException {
        Optional<String> state = given(wanted.condition());
        if (wanted.what().equals(DebugServer.STATE)) {
            if (state.isEmpty()) {
                throw new DebugException(
                        "say which SQLDebugServer.STATE, such as 45000, as its condition");
            }
            return debugger.pauseOn(state.get().strip(), 0, 1);
        }
        if (state.isPresent()) {
            throw new DebugException(wanted.what() + " takes no condition");
        }
        return debugger.pauseOn(wanted.what(), 0, 1);
    }

    DataBreakpointInfoResponse dataBreakpointInfo(DataBreakpointInfoArguments arguments)
            throws DebugException {
        DataBreakpointInfoResponse response = new DataBreakpointInfoResponse();
        response.setAccessTypes(new DataBreakpointAccessType[] {DataBreakpointAccessType.WRITE});
        Optional<String> id = dataId(arguments);
        response.setDataId(id.orElse(null));
        response.setDescription(
                id.map(BreakpointAnswers::described)
                        .orElse(arguments.getName() + " can't be watched"));
        response.setCanPersist(true);
        return response;
    }

    private static String described(String id) {
        if (id.startsWith(WRITE)) {
            return "when " + id.substring(WRITE.length()) + " is written to";
        }
        String[] parts = id.substring(CHANGE.length()).split(" ", 2);
        return "when " + parts[1] + " of " + parts[0] + " changes";
    }

    /** What a name stands for: a variable of the frame that it is shown in, or a table. */
    private Optional<String> dataId(DataBreakpointInfoArguments arguments) throws DebugException {
        Integer reference = arguments.getVariablesReference();
        String name = arguments.getName();
        Frame frame = null;
        if (reference != null && reference > 0) {
            Handles.Held held = handles.held(reference);
            frame = held.frame();
            if (held.isOfVariables()) {
                Optional<String> path =
                        held.parts().some(0, Integer.MAX_VALUE).stream()
                                .filter(s -> s.name().equals(name))
                                .flatMap(s -> s.path().stream())
                                .findFirst();
                if (path.isPresent()) {
                    return Optional.of(CHANGE + frame.routine().name() + " " + path.get());
                }
            }
        } else if (arguments.getFrameId() != null) {
            frame = handles.frame(arguments.getFrameId());
            if (debugger.glance(frame, name).isPresent()) {
                return Optional.of(CHANGE + frame.routine().name() + " " + name);
            }
        }
        Frame any = frame != null ? frame : stopped.get();
        if (any == null) {
            return Optional.empty();
        }
        return any.session.program().catalog().tables().stream()
                .map(Table::name)
                .filter(name::equalsIgnoreCase)
                .findFirst()
                .map(t -> WRITE + t);
    }

    SetDataBreakpointsResponse setDataBreakpoints(SetDataBreakpointsArguments arguments)
            throws DebugException {
        List<BreakpointBook.Wanted> wanted = new ArrayList<>();
        for (var one : arguments.getBreakpoints()) {
            wanted.add(
                    new BreakpointBook.Wanted(
                            one.getDataId(), 0, one.getCondition(), one.getHitCondition(), null));
        }
        SetDataBreakpointsResponse response = new SetDataBreakpointsResponse();
        response.setBreakpoints(shown(book.replace("data", wanted, this::onData)));
        return response;
    }

    private Breakpoint onData(BreakpointBook.Wanted wanted, BreakpointBook.Hits hits)
            throws DebugException {
        if (given(wanted.condition()).isPresent()) {
            throw new DebugException("one on data takes no condition");
        }
        if (wanted.what().startsWith(WRITE)) {
            return debugger.pauseOnWrite(
                    "", wanted.what().substring(WRITE.length()), hits.after(), hits.every());
        }
        String[] parts = wanted.what().split(" ", 3);
        if (!wanted.what().startsWith(CHANGE) || parts.length < 3) {
            throw new DebugException("'" + wanted.what() + "' is no data that can be watched");
        }
        return debugger.pauseOnChange(parts[1], parts[2], hits.after(), hits.every());
    }

    BreakpointLocationsResponse breakpointLocations(BreakpointLocationsArguments arguments)
            throws DebugException {
        int first = view.counted(arguments.getLine());
        Integer end = arguments.getEndLine();
        List<BreakpointLocation> locations = new ArrayList<>();
        for (int line :
                debugger.stopLines(
                        paths.name(path(arguments.getSource())),
                        first,
                        end == null ? first : view.counted(end))) {
            BreakpointLocation location = new BreakpointLocation();
            location.setLine(view.shown(line));
            locations.add(location);
        }
        BreakpointLocationsResponse response = new BreakpointLocationsResponse();
        response.setBreakpoints(locations.toArray(BreakpointLocation[]::new));
        return response;
    }
}
