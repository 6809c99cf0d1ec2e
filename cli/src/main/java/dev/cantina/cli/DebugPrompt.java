package dev.cantina.cli;

import dev.cantina.check.BoundRoutine;
import dev.cantina.check.Variable;
import dev.cantina.cli.Screen.Tone;
import dev.cantina.debugging.Breakpoint;
import dev.cantina.debugging.DebugException;
import dev.cantina.debugging.Debugger;
import dev.cantina.debugging.Resume;
import dev.cantina.debugging.Stop;
import dev.cantina.debugging.StopListener;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Frame;
import dev.cantina.runtime.ResultRows;
import dev.cantina.runtime.Session;
import dev.cantina.runtime.TableChanges;
import dev.cantina.syntax.Nearest;
import dev.cantina.syntax.Source;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** Shows each stop, and does what is typed, until something goes on. */
final class DebugPrompt implements StopListener {
    static final List<String> WORDS =
            List.of(
                    ("into over out continue to pause pauses ease arm remove vars set eval "
                                    + "stack frame rows sql sql! changes source help quit")
                            .split(" "));
    private static final int MOST_ROWS = 50;

    private final Screen screen;
    private final Words words;
    private final Workspace workspace;
    private Debugger debugger;
    private Stop stop;
    private Frame frame;
    private String last = "over";
    private boolean quit;

    DebugPrompt(Screen screen, Words words, Workspace workspace) {
        this.screen = screen;
        this.words = words;
        this.workspace = workspace;
    }

    void attach(Debugger attached) {
        debugger = attached;
    }

    /** Whether the person has ended the run. */
    boolean isQuit() {
        return quit;
    }

    /** The run is over. */
    void ended() {
        screen.line();
        screen.line(
                screen.tone(
                        Tone.NEW, quit ? "ended by quit: everything is rolled back" : "the end"));
    }

    @Override
    public void troubled(Breakpoint breakpoint, String message) {
        screen.line(
                screen.tone(Tone.CAREFUL, "breakpoint " + breakpoint.number() + ": ")
                        + "its condition can't be worked out: "
                        + message);
    }

    @Override
    public Resume stopped(Stop now) {
        stop = now;
        frame = now.frame();
        show();
        while (true) {
            screen.out().flush();
            Optional<String> line = words.next(prompt());
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
        return screen.tone(
                Tone.NEW, frame.routine().name() + ":" + frame.place().span().line() + "> ");
    }

    private void show() {
        BoundRoutine.Place place = frame.place();
        String why =
                switch (stop.reason()) {
                    case START -> "the start";
                    case STEP -> "a step";
                    case BREAKPOINT -> "breakpoint " + stop.breakpoint().get().number();
                    case CONDITION ->
                            "raised: "
                                    + stop.condition().get().sqlstate()
                                    + " "
                                    + stop.condition().get().message();
                };
        screen.line();
        screen.line(
                screen.tone(Tone.STRONG, frame.routine().name())
                        + " stands at line "
                        + place.span().line()
                        + " of "
                        + place.span().source().name()
                        + ": "
                        + screen.tone(
                                stop.reason() == Stop.Reason.CONDITION ? Tone.BAD : Tone.NEW, why));
        source(2, 2);
        int width = stop.changed().stream().mapToInt(c -> Screen.width(c.name())).max().orElse(0);
        for (Stop.VariableChange change : stop.changed()) {
            String before = change.isFirst() ? "" : TableView.value(change.before()) + " → ";
            screen.line(
                    "  "
                            + Screen.padded(change.name(), width)
                            + "  "
                            + before
                            + screen.tone(Tone.STRONG, TableView.value(change.after())));
        }
        if (!stop.rows().isEmpty()) {
            new OutcomeView(screen).changes(stop.rows());
        }
    }

    private void source(int before, int after) {
        Source source = frame.place().span().source();
        int current = frame.place().span().line();
        int first = Math.max(1, current - before);
        int lastLine = Math.min(source.lines(), current + after);
        for (int line = first; line <= lastLine; line++) {
            String text =
                    String.format(
                            Locale.ROOT, "%4d  %s", line, source.line(line).replace('\t', ' '));
            screen.line(
                    line == current
                            ? screen.tone(Tone.NEW, "▸") + screen.tone(Tone.STRONG, text)
                            : " " + screen.tone(Tone.FAINT, text));
        }
    }

    private Optional<Resume> perform(String text) throws DebugException {
        String[] parts = text.split("\\s+", 2);
        String word = full(parts[0]);
        String rest = parts.length > 1 ? parts[1].strip() : "";
        switch (word) {
            case "into", "over", "out", "continue" -> {
                last = word;
                return Optional.of(Resume.of(Resume.Kind.valueOf(word.toUpperCase(Locale.ROOT))));
            }
            case "to" -> {
                last = text;
                return Optional.of(
                        new Resume(Resume.Kind.TO, number(rest, "to takes a line: to 24")));
            }
            case "quit" -> {
                quit = true;
                return Optional.of(Resume.of(Resume.Kind.QUIT));
            }
            case "pause" -> pause(rest);
            case "pauses" -> pauses();
            case "ease" -> change(rest, Debugger.Change.EASE);
            case "arm" -> change(rest, Debugger.Change.ARM);
            case "remove" -> change(rest, Debugger.Change.REMOVE);
            case "vars" -> vars();
            case "set" -> set(rest);
            case "eval" ->
                    screen.line(
                            "  "
                                    + screen.tone(
                                            Tone.STRONG,
                                            TableView.value(
                                                    debugger.eval(
                                                            frame,
                                                            need(
                                                                    rest,
                                                                    "eval takes an expression: eval litres * 2")))));
            case "stack" -> stack();
            case "frame" -> frame(rest);
            case "rows" ->
                    rows(
                            "SELECT * FROM "
                                    + need(
                                            rest,
                                            "rows takes a table: rows vessel WHERE level_l > 0"));
            case "sql" -> sql(rest);
            case "sql!" -> change(rest);
            case "changes" -> changes();
            case "source" -> source(8, 8);
            default -> help();
        }
        return Optional.empty();
    }

    /** The word that a person means: in full, or by its first letters where they leave no doubt. */
    private static String full(String typed) throws DebugException {
        String lower = typed.toLowerCase(Locale.ROOT);
        if (WORDS.contains(lower)) {
            return lower;
        }
        List<String> meant = WORDS.stream().filter(w -> w.startsWith(lower)).toList();
        if (meant.size() == 1) {
            return meant.get(0);
        }
        throw new DebugException(
                meant.isEmpty()
                        ? "there is no word "
                                + typed
                                + Nearest.to(lower, WORDS)
                                        .map(n -> "; did you mean " + n + "?")
                                        .orElse("; help shows them")
                        : typed + " may be " + String.join(", ", meant));
    }

    private static String need(String text, String otherwise) throws DebugException {
        if (text.isEmpty()) {
            throw new DebugException(otherwise);
        }
        return text;
    }

    private static int number(String text, String otherwise) throws DebugException {
        try {
            return Integer.parseInt(text.strip());
        } catch (NumberFormatException e) {
            throw new DebugException(otherwise);
        }
    }

    /** {@code at [ROUTINE:]LINE [when CONDITION] [after N] [every N]}, or {@code on WHAT}. */
    private void pause(String text) throws DebugException {
        if (text.startsWith("on ")) {
            Breakpoint added = debugger.pauseOn(text.substring(3).strip());
            screen.line("  breakpoint " + added.number() + " on " + added.on().get());
            return;
        }
        String rest = text.startsWith("at ") ? text.substring(3).strip() : text;
        String[] place =
                need(rest, "pause at takes a line: pause at move_wine:24").split("\\s+", 2);
        String more = place.length > 1 ? " " + place[1] : "";
        int after = 0;
        int every = 1;
        int at = more.lastIndexOf(" every ");
        if (at >= 0) {
            every = number(more.substring(at + 7), "every takes a number: every 10");
            more = more.substring(0, at);
        }
        at = more.lastIndexOf(" after ");
        if (at >= 0) {
            after = number(more.substring(at + 7), "after takes a number: after 3");
            more = more.substring(0, at);
        }
        Optional<String> condition = Optional.empty();
        if (more.strip().startsWith("when ")) {
            condition = Optional.of(more.strip().substring(5));
        } else if (!more.isBlank()) {
            throw new DebugException(
                    "'"
                            + more.strip()
                            + "' is not understood; write when CONDITION, after N or every N");
        }
        int colon = place[0].lastIndexOf(':');
        String routine = colon < 0 ? frame.routine().name() : place[0].substring(0, colon);
        int line =
                number(
                        place[0].substring(colon + 1),
                        "pause at takes a line: pause at move_wine:24");
        Breakpoint added = debugger.pauseAt(routine, line, condition, after, every);
        screen.line(
                "  "
                        + describe(added)
                        + (added.isMoved() ? ", the next line with a statement" : ""));
    }

    private static String describe(Breakpoint breakpoint) {
        String where =
                breakpoint
                        .on()
                        .map(on -> " on " + on)
                        .orElse(" at " + breakpoint.routine() + ":" + breakpoint.line());
        return "breakpoint "
                + breakpoint.number()
                + where
                + breakpoint.condition().map(c -> " when " + c).orElse("")
                + (breakpoint.after() > 0 ? " after " + breakpoint.after() : "")
                + (breakpoint.every() > 1 ? " every " + breakpoint.every() : "")
                + (breakpoint.enabled() ? "" : " (eased)");
    }

    private void pauses() {
        if (debugger.breakpoints().isEmpty()) {
            screen.line("  no breakpoints; pause at LINE sets one");
        }
        debugger.breakpoints().forEach(b -> screen.line("  " + describe(b)));
    }

    private void change(String which, Debugger.Change change) throws DebugException {
        boolean all = which.equals("all");
        int number = all ? 0 : number(which, "a breakpoint's number is wanted, or all");
        int touched = debugger.change(number, change);
        String word =
                switch (change) {
                    case EASE -> " eased";
                    case ARM -> " armed";
                    case REMOVE -> " removed";
                };
        screen.line("  " + (all ? touched + " breakpoints" : "breakpoint " + which) + word);
    }

    private void vars() {
        List<Variable> variables = frame.place().scope().variables();
        int width = variables.stream().mapToInt(v -> Screen.width(v.name())).max().orElse(0);
        int types = variables.stream().mapToInt(v -> Screen.width(type(v))).max().orElse(0);
        for (Variable variable : variables) {
            screen.line(
                    "  "
                            + Screen.padded(variable.name(), width)
                            + "  "
                            + screen.tone(Tone.FAINT, Screen.padded(type(variable), types))
                            + "  "
                            + value(variable));
        }
        if (variables.isEmpty()) {
            screen.line("  no variables here");
        }
    }

    private static String type(Variable variable) {
        String kind = variable.kind().isParameter() ? variable.kind().name() + " " : "";
        String type =
                variable.type() instanceof dev.cantina.types.SqlType.Row
                        ? "ROW"
                        : variable.type().sql();
        return kind + type;
    }

    private String value(Variable variable) {
        Object value = frame.get(variable);
        if (value instanceof Object[] fields
                && variable.type() instanceof dev.cantina.types.SqlType.Row row) {
            List<String> parts = new ArrayList<>();
            for (int i = 0; i < fields.length; i++) {
                parts.add(row.fields().get(i).name() + " " + TableView.value(fields[i]));
            }
            return String.join(", ", parts);
        }
        return screen.tone(value == null ? Tone.FAINT : Tone.STRONG, TableView.value(value));
    }

    private void set(String text) throws DebugException {
        int sign = text.indexOf('=');
        if (sign < 1) {
            throw new DebugException("set takes a variable and a value: set litres = 10");
        }
        String name = text.substring(0, sign).strip();
        Object value = debugger.set(frame, name, text.substring(sign + 1).strip());
        screen.line("  " + name + " is now " + screen.tone(Tone.STRONG, TableView.value(value)));
    }

    private void stack() {
        int number = 0;
        for (Frame f = stop.frame(); f != null; f = f.caller()) {
            String mark = f == frame ? screen.tone(Tone.NEW, "▸ ") : "  ";
            screen.line(
                    "  "
                            + mark
                            + number++
                            + "  "
                            + f.routine().name()
                            + screen.tone(Tone.FAINT, "  " + f.place().span().place()));
        }
    }

    private void frame(String text) throws DebugException {
        int wanted = number(text, "frame takes a number, as stack shows them: frame 1");
        Frame found = stop.frame();
        for (int i = 0; i < wanted && found != null; i++) {
            found = found.caller();
        }
        if (found == null || wanted < 0) {
            throw new DebugException("there is no frame " + wanted + "; stack shows them");
        }
        frame = found;
        screen.line("  " + frame.routine().name() + ", line " + frame.place().span().line());
        vars();
    }

    private void sql(String text) throws DebugException {
        String first =
                need(text, "sql takes a query: sql SELECT * FROM vessel")
                        .split("\\s+")[0]
                        .toUpperCase(Locale.ROOT);
        if (!List.of("SELECT", "WITH", "VALUES", "TABLE").contains(first)) {
            throw new DebugException("sql only looks; to change data, say sql! " + text);
        }
        rows(text);
    }

    private void rows(String query) throws DebugException {
        try {
            Session session = frame.session;
            ResultRows result = session.inspect(query, MOST_ROWS);
            new TableView(screen).show("  ", result.columns(), result.rows());
            if (result.rows().size() == MOST_ROWS) {
                screen.line("  … the first " + MOST_ROWS + " rows");
            }
        } catch (SQLException e) {
            throw refused(e);
        }
    }

    private void change(String statement) throws DebugException {
        try {
            int rows = frame.session.change(need(statement, "sql! takes a statement"));
            screen.line(
                    "  "
                            + rows
                            + (rows == 1 ? " row" : " rows")
                            + " changed, inside the running transaction");
        } catch (SQLException e) {
            throw refused(e);
        }
    }

    private DebugException refused(SQLException e) {
        var condition = workspace.database().condition(e);
        return new DebugException(condition.sqlstate() + " " + condition.message());
    }

    private void changes() throws DebugException {
        List<TableChanges> changes;
        try {
            changes = TableChanges.of(frame.session.events());
        } catch (SQLException e) {
            throw refused(e);
        }
        if (changes.isEmpty()) {
            screen.line("  no row has changed so far");
        }
        new OutcomeView(screen).changes(changes);
    }

    private void help() {
        String[][] lines = {
            {"into, over, out, continue", "go on; Enter repeats the last"},
            {"to LINE", "run to a line of this routine"},
            {"pause at [ROUTINE:]LINE", "a breakpoint; with when CONDITION, after N, every N"},
            {"pause on WHAT", "stop when exception, not found or an SQLSTATE is raised"},
            {"pauses", "list them; ease N, arm N, remove N (or all)"},
            {"vars", "the variables; set NAME = EXPRESSION changes one"},
            {"eval EXPRESSION", "work something out here"},
            {"stack, frame N", "where we came from, and the variables there"},
            {"rows TABLE [WHERE …]", "look into a table; sql QUERY asks anything"},
            {"sql! STATEMENT", "change data, inside the running transaction"},
            {"changes", "every row changed so far"},
            {"source", "more lines around"},
            {"quit", "end here: everything is rolled back"},
        };
        for (String[] line : lines) {
            screen.line("  " + Screen.padded(line[0], 28) + screen.tone(Tone.FAINT, line[1]));
        }
    }
}
