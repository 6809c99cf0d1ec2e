package dev.cantina.cli;

import dev.cantina.cli.Screen.Tone;
import dev.cantina.debugging.Breakpoint;
import dev.cantina.debugging.CallTarget;
import dev.cantina.debugging.DebugException;
import dev.cantina.debugging.Debugger;
import dev.cantina.debugging.ExecutionPoint;
import dev.cantina.debugging.KeptBreakpoints;
import dev.cantina.debugging.Resume;
import dev.cantina.debugging.Stop;
import dev.cantina.runtime.Frame;
import dev.cantina.testing.CaseResult;
import dev.cantina.types.SqlType;
import dev.cantina.workbench.DebugSession;
import dev.cantina.workbench.ValueText;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/** Shows each stop, and does what is typed, until something goes on. */
final class DebugPrompt implements DebugSession.Face {
    private static final String BACK_FORMS =
            "back goes one statement back, back into, back to LINE or back to pause";

    private final Invocation call;
    private final Screen screen;
    private final Words words;
    private final KeptBreakpoints kept;
    private final FrameView view;
    private Debugger debugger;
    private DebugLook look;
    private Stop stop;
    private Frame frame;
    private String last = "over";
    private boolean quit;
    private boolean unkept;

    DebugPrompt(Invocation call, Words words, KeptBreakpoints kept) {
        this.call = call;
        this.screen = call.screen();
        this.words = words;
        this.kept = kept;
        this.view = new FrameView(screen);
    }

    /** The debugger is ready: it is given the breakpoints that are kept. */
    void attach(Debugger attached) {
        debugger = attached;
        look = new DebugLook(screen, debugger);
        if (!call.has("fresh")) {
            for (String note : kept.restore(debugger)) {
                screen.line(screen.tone(Tone.CAREFUL, note));
            }
        }
    }

    /** The breakpoints have changed. */
    private void pausesChanged() {
        if (!call.has("fresh") && !kept.keep(debugger) && !unkept) {
            unkept = true;
            screen.note("breakpoints can't be kept: .cantina can't be written to");
        }
    }

    /** Whether the person has ended the run. */
    boolean isQuit() {
        return quit;
    }

    @Override
    public DebugSession.Next ended(DebugSession.Ending ending) {
        showEnd();
        if (quit) {
            return DebugSession.Next.LEAVE;
        }
        ending.outcome().ifPresent(o -> new OutcomeView(screen).showButMessages(o, call.quiet()));
        if (ending.result().isPresent()) {
            CaseResult result = ending.result().get();
            screen.line();
            new TestView(screen).show(List.of(result), result.elapsedMillis(), false);
        }
        return ending.isTakenUp() ? next(ending.isRaised()) : DebugSession.Next.LEAVE;
    }

    private void showEnd() {
        screen.line();
        if (debugger.isStrayed()) {
            screen.line(
                    screen.tone(
                            Tone.CAREFUL,
                            "the run went another way this time, and ended before it came to where"
                                    + " you wanted to go"));
        }
        screen.line(
                screen.tone(
                        Tone.NEW, quit ? "ended by quit: everything is rolled back" : "the end"));
    }

    /**
     * Asks, after the end, whether to take the run up again.
     *
     * @param raised whether it ended in a condition
     */
    private DebugSession.Next next(boolean raised) {
        if (screen.isTerminal()) {
            screen.line();
            screen.line(
                    screen.tone(
                            Tone.FAINT,
                            (raised
                                            ? "back goes to where it was raised"
                                            : "back goes to before the end")
                                    + ", restart to the start; Enter leaves"));
        }
        while (true) {
            boolean unread = screen.out().checkError();
            Optional<String> line =
                    unread ? Optional.empty() : words.next(screen.tone(Tone.NEW, "ended> "));
            String text = line.orElse("").strip();
            if (text.startsWith("--")) {
                continue;
            }
            if (text.isEmpty()) {
                return DebugSession.Next.LEAVE;
            }
            try {
                String[] parts = text.split("\\s+", 2);
                if (parts.length > 1) {
                    throw new DebugException(
                            "the run is over; here each word stands alone: '"
                                    + parts[1]
                                    + "' is not understood");
                }
                switch (DebugWord.of(parts[0])) {
                    case BACK -> {
                        return DebugSession.Next.BACK;
                    }
                    case RESTART -> {
                        return DebugSession.Next.RESTART;
                    }
                    case QUIT -> {
                        return DebugSession.Next.LEAVE;
                    }
                    case PAUSES -> pauses();
                    default ->
                            throw new DebugException(
                                    "the run is over; back or restart takes it up again, quit"
                                            + " leaves");
                }
            } catch (DebugException e) {
                screen.line("  " + screen.tone(Tone.CAREFUL, e.getMessage()));
            }
        }
    }

    @Override
    public void troubled(Breakpoint breakpoint, String message) {
        screen.line(
                screen.tone(Tone.CAREFUL, "breakpoint " + breakpoint.number() + ": ")
                        + "its condition can't be evaluated: "
                        + message);
    }

    @Override
    public void told(Breakpoint breakpoint, Frame at, String text) {
        screen.line(
                "  "
                        + screen.tone(
                                Tone.FAINT, at.routine().name() + ":" + breakpoint.line() + " ")
                        + ValueText.printable(text));
    }

    @Override
    public void said(String message) {
        new OutcomeView(screen).said(message);
    }

    @Override
    public Resume stopped(Stop now) {
        stop = now;
        frame = now.frame();
        look.at(stop);
        show();
        while (true) {
            // Where nobody reads any more, nobody types either.
            boolean unread = screen.out().checkError();
            Optional<String> line = unread ? Optional.empty() : words.next(prompt());
            if (line.isEmpty()) {
                quit = true;
                return Resume.of(Resume.Kind.QUIT);
            }
            String text = line.get().strip().isEmpty() ? last : line.get().strip();
            if (text.startsWith("--")) {
                continue;
            }
            try {
                Optional<Resume> resume = perform(text);
                if (resume.isPresent()) {
                    return resume.get();
                }
            } catch (DebugException e) {
                screen.line("  " + screen.tone(Tone.CAREFUL, e.getMessage()));
            }
        }
    }

    private String prompt() {
        return screen.tone(Tone.NEW, frame.routine().name() + ":" + line() + "> ");
    }

    private int line() {
        return frame == stop.frame() ? stop.line() : frame.place().span().line();
    }

    private String why() {
        return switch (stop.reason()) {
            case START -> "the start";
            case STEP -> "a step";
            case BREAK_IN -> "you have broken in";
            case BREAKPOINT -> "breakpoint " + stop.breakpoint().get().number();
            case CONDITION ->
                    stop.condition()
                            .map(c -> "raised: " + c.sqlstate() + " " + c.message())
                            .orElse("the condition that ended it was raised");
            case CHANGE -> {
                Stop.VariableChange change = stop.changed().get(0);
                yield change.name()
                        + " has changed"
                        + (change.line() > 0 ? ", by line " + change.line() : "")
                        + " (breakpoint "
                        + stop.breakpoint().get().number()
                        + ")";
            }
            case WRITE ->
                    "it has written to "
                            + stop.breakpoint().get().on()
                            + " (breakpoint "
                            + stop.breakpoint().get().number()
                            + ")";
            case END -> "it is about to end";
            case BACK ->
                    "gone back"
                            + stop.breakpoint().map(b -> " to breakpoint " + b.number()).orElse("");
            case ASKED ->
                    stop.moment().phase() == ExecutionPoint.Phase.END
                            ? "the end; no statement wrote what is not as expected"
                            : "where the difference comes from";
        };
    }

    private void show() {
        screen.line();
        screen.line(
                screen.tone(Tone.STRONG, frame.routine().name())
                        + " stopped at line "
                        + line()
                        + " of "
                        + frame.place().span().source().name()
                        + ": "
                        + screen.tone(
                                stop.reason() == Stop.Reason.CONDITION ? Tone.BAD : Tone.NEW,
                                ValueText.printable(why())));
        stop.notes().forEach(n -> screen.line("  " + screen.tone(Tone.CAREFUL, n)));
        debugger.trigger(frame).ifPresent(t -> view.firing(frame, t));
        view.source(frame, line(), 2, 2);
        if (stop.moment().phase() == ExecutionPoint.Phase.END) {
            look.gives(frame);
        }
        changed();
        look.watches(frame);
        if (!stop.rows().isEmpty()) {
            new OutcomeView(screen).changes(stop.rows());
        }
    }

    /**
     * The variables that are not as they were: at the first stop in a frame those that have one.
     */
    private void changed() {
        List<Map.Entry<String, String>> lines = new ArrayList<>();
        for (Stop.VariableChange change : stop.changed()) {
            SqlType type = DebugLook.type(frame, change.name());
            if (change.isFirst()) {
                lines.add(Map.entry(change.name(), view.value(type, change.after())));
            } else {
                Altered.between(change.name(), type, change.before(), change.after())
                        .forEach(part -> lines.add(Map.entry(part.name(), view.change(part))));
            }
        }
        int width = lines.stream().mapToInt(l -> Screen.width(l.getKey())).max().orElse(0);
        lines.forEach(
                l -> screen.line("  " + Screen.padded(l.getKey(), width) + "  " + l.getValue()));
    }

    private Optional<Resume> perform(String text) throws DebugException {
        String[] parts = text.split("\\s+", 2);
        DebugWord word = DebugWord.of(parts[0]);
        String rest = parts.length > 1 ? parts[1].strip() : "";
        word.checkRest(rest);
        switch (word) {
            case INTO -> {
                last = text;
                return Optional.of(rest.isEmpty() ? Resume.of(Resume.Kind.INTO) : into(rest));
            }
            case OVER, OUT, CONTINUE -> {
                last = text;
                return Optional.of(Resume.of(Resume.Kind.valueOf(word.name())));
            }
            case TO -> {
                last = text;
                int line = line(DebugWord.number(rest, "to takes a line: to 24"));
                return Optional.of(new Resume(Resume.Kind.TO, line));
            }
            case BACK -> {
                last = text;
                return Optional.of(back(rest));
            }
            case RESTART -> {
                return Optional.of(restart(rest));
            }
            case QUIT -> {
                quit = true;
                return Optional.of(Resume.of(Resume.Kind.QUIT));
            }
            case PAUSE -> pause(rest);
            case PAUSES -> pauses();
            case DISABLE -> change(rest, Debugger.Change.DISABLE);
            case ENABLE -> change(rest, Debugger.Change.ENABLE);
            case REMOVE -> change(rest, Debugger.Change.REMOVE);
            case FRAME -> frame(rest);
            case STACK -> view.stack(stop.frame(), frame);
            case SOURCE -> view.source(frame, line(), 8, 8);
            case HELP -> help();
            default -> look.perform(word, rest, frame);
        }
        return Optional.empty();
    }

    /** The line of this routine at which the run can stop. */
    private int line(int wanted) throws DebugException {
        int found = debugger.lineAt(frame, wanted);
        if (found != wanted) {
            screen.line("  line " + found + ", the next line with a statement");
        }
        return found;
    }

    /** Into one of the calls of this statement. */
    private Resume into(String routine) throws DebugException {
        String[] parts = routine.split("\\s+", 2);
        int time =
                parts.length < 2
                        ? 1
                        : DebugWord.number(
                                parts[1], "into takes a routine, and which call of it: into f 2");
        List<CallTarget> calls = debugger.calls(stop.frame());
        for (CallTarget call : calls) {
            if (call.routine().equalsIgnoreCase(parts[0]) && call.time() == time) {
                return new Resume(Resume.Kind.INTO_CALL, time, call.routine());
            }
        }
        throw new DebugException(
                calls.isEmpty()
                        ? "this statement names no routine; into alone goes where it leads"
                        : "this statement has no such call; it names "
                                + String.join(
                                        ", ", calls.stream().map(DebugPrompt::named).toList()));
    }

    private static String named(CallTarget call) {
        return call.routine() + (call.time() > 1 ? " " + call.time() : "");
    }

    private Resume restart(String what) throws DebugException {
        if (what.isEmpty()) {
            return Resume.of(Resume.Kind.RESTART);
        }
        if (!DebugWord.isCalled(what, "call")) {
            throw new DebugException(
                    "restart begins the run again, restart call the call that is looked at");
        }
        int number = 0;
        for (Frame f = stop.frame(); f != frame; f = f.caller()) {
            number++;
        }
        return new Resume(Resume.Kind.RESTART_FRAME, number);
    }

    private Resume back(String where) throws DebugException {
        String[] parts = where.toLowerCase(Locale.ROOT).split("\\s+");
        if (parts.length > (parts[0].equals("to") ? 2 : 1)) {
            throw new DebugException(BACK_FORMS);
        }
        if (parts[0].equals("to") && parts.length > 1 && parts[1].equals("pause")) {
            return Resume.of(Resume.Kind.BACK_CONTINUE);
        }
        if (parts[0].equals("to")) {
            int line =
                    DebugWord.number(
                            parts.length > 1 ? parts[1] : "",
                            "back to takes a line of this routine, or pause: back to 24");
            return new Resume(Resume.Kind.BACK_TO, line(line));
        }
        if (!where.isEmpty() && !parts[0].equals("into")) {
            throw new DebugException(BACK_FORMS);
        }
        boolean start = stop.moment().begun() <= 1 || where.isEmpty() && !debugger.hasBefore(stop);
        if (stop.moment().phase() == ExecutionPoint.Phase.BEFORE && start) {
            throw new DebugException("this is the start; there is nothing before it");
        }
        return Resume.of(where.isEmpty() ? Resume.Kind.BACK : Resume.Kind.BACK_INTO);
    }

    private void pause(String text) throws DebugException {
        Breakpoint added = new PauseWords(debugger).read(text, frame.routine().name());
        screen.line(
                "  "
                        + PauseWords.describe(added)
                        + (!added.isMoved() || added.kind() == Breakpoint.Kind.END
                                ? ""
                                : added.line() < added.asked()
                                        ? ", whose statement goes on in line " + added.asked()
                                        : ", the next line with a statement"));
        pausesChanged();
    }

    private void pauses() {
        if (debugger.breakpoints().isEmpty()) {
            screen.line("  no breakpoints; pause at LINE sets one");
        }
        debugger.breakpoints().forEach(b -> screen.line("  " + PauseWords.describe(b)));
    }

    private void change(String which, Debugger.Change change) throws DebugException {
        boolean all = which.equals("all");
        int number = all ? 0 : DebugWord.number(which, "a breakpoint's number is wanted, or all");
        if (!all && number == 0) {
            throw new DebugException("there is no breakpoint 0; pauses lists them");
        }
        int touched = debugger.change(number, change);
        String word =
                switch (change) {
                    case DISABLE -> " disabled";
                    case ENABLE -> " enabled";
                    case REMOVE -> " removed";
                };
        screen.line("  " + (all ? counted(touched) : "breakpoint " + which) + word);
        pausesChanged();
    }

    private static String counted(int breakpoints) {
        return breakpoints == 1 ? "1 breakpoint" : breakpoints + " breakpoints";
    }

    private void frame(String text) throws DebugException {
        int wanted = DebugWord.number(text, "frame takes a number, as stack shows them: frame 1");
        Frame found = stop.frame();
        for (int i = 0; i < wanted && found != null; i++) {
            found = found.caller();
        }
        if (found == null || wanted < 0) {
            throw new DebugException("there is no frame " + wanted + "; stack shows them");
        }
        frame = found;
        screen.line("  " + frame.routine().name() + ", line " + line());
        view.variables(frame);
    }

    private void help() {
        for (DebugWord word : DebugWord.values()) {
            screen.line(
                    "  "
                            + Screen.padded(word.form(), 30)
                            + screen.tone(Tone.FAINT, word.meaning()));
        }
    }

    /** What a person may mean to type next: words, and the names that are known here. */
    List<String> names() {
        return frame == null ? List.of() : look.names(frame);
    }
}
