package dev.cantina.cli;

import dev.cantina.cli.Screen.Tone;
import dev.cantina.debugging.DebugException;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.workbench.ValueText;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.eclipse.lsp4j.debug.Breakpoint;
import org.eclipse.lsp4j.debug.ContinueArguments;
import org.eclipse.lsp4j.debug.EvaluateResponse;
import org.eclipse.lsp4j.debug.NextArguments;
import org.eclipse.lsp4j.debug.RestartFrameArguments;
import org.eclipse.lsp4j.debug.Scope;
import org.eclipse.lsp4j.debug.SourceBreakpoint;
import org.eclipse.lsp4j.debug.StackFrame;
import org.eclipse.lsp4j.debug.StepBackArguments;
import org.eclipse.lsp4j.debug.StepInArguments;
import org.eclipse.lsp4j.debug.StepOutArguments;
import org.eclipse.lsp4j.debug.StoppedEventArguments;
import org.eclipse.lsp4j.debug.Variable;

/** The debugger's words for a program that runs elsewhere, and what it shows of it. */
final class AttachPrompt {
    private static final String AT = "pause takes a line of a routine: pause at move_wine:24";

    private static final List<String> FILTERS = List.of("unhandled", "exception", "not found");

    /** The words that a run elsewhere does not know. */
    private static final Set<DebugWord> LOCAL =
            Set.of(
                    DebugWord.TO,
                    DebugWord.DISABLE,
                    DebugWord.ENABLE,
                    DebugWord.WATCH,
                    DebugWord.UNWATCH);

    private final Screen screen;
    private final Words words;
    private final AttachedProgram program;
    private final Project project;
    private final List<Pause> pauses = new ArrayList<>();
    private final List<String> filters = new ArrayList<>();
    private final Map<String, String> seen = new HashMap<>();
    private List<StackFrame> stack = List.of();
    private int frame;
    private String last = "over";

    /** A breakpoint: the file that it stands in, and what was said of it. */
    private record Pause(String path, SourceBreakpoint wanted, String place) {}

    /** How it goes on after a word. */
    private enum Next {
        ASK,
        WAIT,
        LEAVE
    }

    AttachPrompt(Screen screen, Words words, AttachedProgram program, Project project) {
        this.screen = screen;
        this.words = words;
        this.program = program;
        this.project = project;
    }

    /** Asks and shows, until the person leaves or the program ends. */
    int run() throws DebugException {
        screen.line(
                "  attached; pause at ROUTINE:LINE sets breakpoints, continue waits for the"
                        + " program to come to one");
        Next next = ask();
        program.begin();
        while (next == Next.WAIT) {
            StoppedEventArguments stop = program.stop();
            if (stop == null) {
                screen.line();
                screen.line(screen.tone(Tone.NEW, "the program has ended"));
                return ExitCode.WELL;
            }
            stack = program.stack();
            frame = 0;
            show(stop);
            next = ask();
        }
        screen.line(screen.tone(Tone.NEW, "detached: the program goes on"));
        return ExitCode.WELL;
    }

    private Next ask() {
        while (true) {
            boolean unread = screen.out().checkError();
            Optional<String> line =
                    unread ? Optional.empty() : words.next(screen.tone(Tone.NEW, prompt()));
            if (line.isEmpty()) {
                return Next.LEAVE;
            }
            String text = line.get().strip();
            if (text.startsWith("--")) {
                continue;
            }
            try {
                Next next = perform(text.isEmpty() ? stack.isEmpty() ? "help" : last : text);
                if (next != Next.ASK) {
                    return next;
                }
            } catch (DebugException e) {
                screen.line("  " + screen.tone(Tone.CAREFUL, e.getMessage()));
            }
        }
    }

    private String prompt() {
        return stack.isEmpty() ? "attached> " : here().getName() + ":" + here().getLine() + "> ";
    }

    private StackFrame here() {
        return stack.get(frame);
    }

    // ------------------------------------------------------------------ what is typed

    private Next perform(String text) throws DebugException {
        String[] parts = text.split("\\s+", 2);
        DebugWord word = DebugWord.of(parts[0]);
        String rest = parts.length > 1 ? parts[1].strip() : "";
        word.checkRest(rest);
        if (LOCAL.contains(word)) {
            throw new DebugException(
                    word.word() + " is not for a program that runs elsewhere; help shows what is");
        }
        switch (word) {
            case PAUSE -> pause(rest);
            case PAUSES -> pauses();
            case REMOVE -> remove(rest);
            case HELP -> help();
            case QUIT -> {
                return Next.LEAVE;
            }
            case CONTINUE -> {
                if (!stack.isEmpty()) {
                    last = text;
                    go(s -> s.continue_(new ContinueArguments()));
                }
                return Next.WAIT;
            }
            default -> {
                if (stack.isEmpty()) {
                    throw new DebugException(
                            "nothing stands yet; continue waits until the program comes to a"
                                    + " breakpoint");
                }
                return standing(word, rest, text);
            }
        }
        return Next.ASK;
    }

    private Next standing(DebugWord word, String rest, String text) throws DebugException {
        switch (word) {
            case INTO, OVER, OUT, BACK, RESTART -> {
                step(word, rest);
                last = word == DebugWord.RESTART ? last : text;
                return Next.WAIT;
            }
            case VARS -> variables();
            case SHOW, EVAL -> value(program.evaluate(here(), need(rest, word), "watch"));
            case SET -> set(rest);
            case STACK -> stack();
            case FRAME -> frame(rest);
            case ROWS -> rows("SELECT * FROM " + need(rest, word));
            case SQL -> rows(need(rest, word));
            case SQL_CHANGE ->
                    screen.line(
                            "  " + program.evaluate(here(), need(rest, word), "repl").getResult());
            case SOURCE -> source(8);
            case CURSORS -> scope("Cursors", "no cursors here");
            case DIAGNOSTICS -> scope("Diagnostics", "nothing is in the diagnostics area");
            case TRANSACTION -> scope("Transaction", "no transaction is open");
            case CHANGES -> scope("Rows changed so far", "no rows changed");
            default -> throw new IllegalStateException(word.word());
        }
        return Next.ASK;
    }

    private static String need(String rest, DebugWord word) throws DebugException {
        return DebugWord.need(rest, word.word() + " wants more: " + word.form());
    }

    private void step(DebugWord word, String rest) throws DebugException {
        boolean call = word == DebugWord.RESTART && DebugWord.isCalled(rest, "call");
        if (!rest.isEmpty() && !call) {
            throw new DebugException(
                    word.word() + " stands alone here; '" + rest + "' is not understood");
        }
        if (word == DebugWord.RESTART) {
            RestartFrameArguments arguments = new RestartFrameArguments();
            arguments.setFrameId(call ? here().getId() : stack.get(stack.size() - 1).getId());
            go(s -> s.restartFrame(arguments));
            return;
        }
        go(
                s ->
                        switch (word) {
                            case INTO -> s.stepIn(new StepInArguments());
                            case OUT -> s.stepOut(new StepOutArguments());
                            case BACK -> s.stepBack(new StepBackArguments());
                            default -> s.next(new NextArguments());
                        });
    }

    private void go(AttachedProgram.Going how) throws DebugException {
        program.go(how);
    }

    // ------------------------------------------------------------------ breakpoints

    private void pause(String text) throws DebugException {
        String rest = DebugWord.need(text, AT + ", or pause on unhandled");
        String lower = rest.toLowerCase(Locale.ROOT);
        if (lower.startsWith("on ")) {
            String what = lower.substring(3).strip();
            if (!FILTERS.contains(what)) {
                throw new DebugException(
                        "a program that runs elsewhere pauses on "
                                + String.join(", ", FILTERS)
                                + ", and at lines");
            }
            if (!filters.contains(what)) {
                filters.add(what);
            }
            program.conditions(filters);
            screen.line("  breakpoint on " + what);
            return;
        }
        at(lower.startsWith("at ") ? rest.substring(3).strip() : rest);
    }

    private void at(String text) throws DebugException {
        String[] parts = text.split("\\s+", 2);
        String more = parts.length > 1 ? parts[1].strip() : "";
        String lower = more.toLowerCase(Locale.ROOT);
        SourceBreakpoint wanted = new SourceBreakpoint();
        if (lower.startsWith("when ")) {
            wanted.setCondition(more.substring(5).strip());
        } else if (lower.startsWith("tell ")) {
            wanted.setLogMessage(more.substring(5).strip());
        } else if (lower.startsWith("after ")) {
            wanted.setHitCondition("> " + more.substring(6).strip());
        } else if (!more.isEmpty()) {
            throw new DebugException(
                    "'" + more + "' is not understood; write when CONDITION, after N or tell TEXT");
        }
        int colon = parts[0].lastIndexOf(':');
        if (colon < 0 && stack.isEmpty()) {
            throw new DebugException(AT);
        }
        String routine = colon < 0 ? here().getName() : parts[0].substring(0, colon);
        wanted.setLine(DebugWord.number(parts[0].substring(colon + 1), AT));
        String path = colon < 0 ? here().getSource().getPath() : path(routine);
        List<SourceBreakpoint> all = new ArrayList<>(inFile(path));
        all.add(wanted);
        List<Breakpoint> set = program.breakpoints(path, all);
        Breakpoint made = set.get(set.size() - 1);
        if (!made.isVerified()) {
            program.breakpoints(path, inFile(path));
            throw new DebugException(made.getMessage());
        }
        Pause pause = new Pause(path, wanted, routine + ":" + made.getLine());
        pauses.add(pause);
        screen.line(
                "  breakpoint "
                        + pauses.size()
                        + " at "
                        + pause.place
                        + (made.getLine().equals(wanted.getLine())
                                ? ""
                                : ", the next line with a statement"));
    }

    private List<SourceBreakpoint> inFile(String path) {
        return pauses.stream().filter(p -> p.path.equals(path)).map(Pause::wanted).toList();
    }

    private Map<String, String> files = Map.of();

    /** The file that a routine or a trigger stands in. */
    private String path(String routine) throws DebugException {
        if (files.isEmpty()) {
            try (Workspace workspace = Workspace.open(project, Optional.empty())) {
                Map<String, String> found = new HashMap<>();
                workspace
                        .catalog()
                        .routines()
                        .forEach(r -> found.put(key(r.name()), r.span().source().name()));
                workspace
                        .catalog()
                        .triggers()
                        .forEach(t -> found.put(key(t.name()), t.tree().span().source().name()));
                files = found;
            } catch (ProjectException e) {
                throw new DebugException("the project can't be read: " + e.getMessage());
            }
        }
        String file = files.get(key(routine));
        if (file == null) {
            throw new DebugException("there is no routine or trigger " + routine);
        }
        return project.root().resolve(file).toAbsolutePath().normalize().toString();
    }

    private static String key(String name) {
        return name.toUpperCase(Locale.ROOT);
    }

    private void pauses() {
        if (pauses.isEmpty() && filters.isEmpty()) {
            screen.line("  no breakpoints; pause at ROUTINE:LINE sets one");
        }
        for (int i = 0; i < pauses.size(); i++) {
            screen.line("  breakpoint " + (i + 1) + " at " + pauses.get(i).place);
        }
        filters.forEach(f -> screen.line("  breakpoint on " + f));
    }

    private void remove(String which) throws DebugException {
        if (which.equals("all")) {
            Set<String> paths = pauses.stream().map(Pause::path).collect(Collectors.toSet());
            pauses.clear();
            filters.clear();
            for (String path : paths) {
                program.breakpoints(path, List.of());
            }
            program.conditions(filters);
        } else {
            int number = DebugWord.number(which, "a breakpoint's number is wanted, or all");
            if (number < 1 || number > pauses.size()) {
                throw new DebugException(
                        "there is no breakpoint " + number + "; pauses lists them");
            }
            String path = pauses.remove(number - 1).path;
            program.breakpoints(path, inFile(path));
        }
        pauses();
    }

    // ------------------------------------------------------------------ what is shown

    private void show(StoppedEventArguments stop) throws DebugException {
        screen.line();
        Path file = Path.of(here().getSource().getPath());
        boolean raised = stop.getReason().equals("exception");
        String why = raised ? "raised: " + program.raised() : why(stop);
        screen.line(
                screen.tone(Tone.STRONG, here().getName())
                        + " stopped at line "
                        + here().getLine()
                        + " of "
                        + shortened(file)
                        + ": "
                        + screen.tone(raised ? Tone.BAD : Tone.NEW, ValueText.printable(why)));
        source(2);
        changed();
    }

    private static String why(StoppedEventArguments stop) {
        return switch (stop.getReason()) {
            case "entry" -> "the start";
            case "breakpoint" -> "a breakpoint";
            case "pause" -> "you have broken in";
            default -> {
                String said = String.valueOf(stop.getDescription());
                yield said.startsWith("Stopped after ")
                        ? said.substring("Stopped after ".length())
                        : said.substring(0, 1).toLowerCase(Locale.ROOT) + said.substring(1);
            }
        };
    }

    private String shortened(Path file) {
        Path root = project.root().toAbsolutePath().normalize();
        return file.startsWith(root) ? root.relativize(file).toString() : file.toString();
    }

    private void source(int around) {
        List<String> lines;
        try {
            lines = Files.readAllLines(Path.of(here().getSource().getPath()));
        } catch (IOException e) {
            screen.line("  the file can't be read: " + e.getMessage());
            return;
        }
        int current = here().getLine();
        for (int line = Math.max(1, current - around);
                line <= Math.min(lines.size(), current + around);
                line++) {
            String text =
                    String.format(
                            Locale.ROOT,
                            "%4d  %s",
                            line,
                            ValueText.printable(lines.get(line - 1).replace('\t', ' ')));
            screen.line(
                    line == current
                            ? screen.tone(Tone.NEW, "▸") + screen.tone(Tone.STRONG, text)
                            : " " + screen.tone(Tone.FAINT, text));
        }
    }

    /** The variables whose values are not those that were shown last. */
    private void changed() throws DebugException {
        List<Variable> fresh = new ArrayList<>();
        for (Variable variable : own()) {
            String key = here().getName() + " " + stack.size() + " " + variable.getName();
            if (!variable.getValue().equals(seen.put(key, variable.getValue()))
                    && !variable.getValue().equals("NULL")) {
                fresh.add(variable);
            }
        }
        lines(fresh);
    }

    private List<Variable> own() throws DebugException {
        List<Variable> all = new ArrayList<>();
        for (Scope scope : program.scopes(here())) {
            if (scope.getPresentationHint() != null) {
                all.addAll(program.variables(scope.getVariablesReference()));
            }
        }
        return all;
    }

    private void lines(List<Variable> variables) {
        int width = variables.stream().mapToInt(v -> Screen.width(v.getName())).max().orElse(0);
        for (Variable variable : variables) {
            screen.line(
                    "  " + Screen.padded(variable.getName(), width) + "  " + variable.getValue());
        }
    }

    private void variables() throws DebugException {
        List<Variable> all = own();
        lines(all);
        if (all.isEmpty()) {
            screen.line("  no variables here");
        }
    }

    /** What is in one of the other scopes, as the program's debugger names them. */
    private void scope(String name, String otherwise) throws DebugException {
        for (Scope scope : program.scopes(here())) {
            List<Variable> content =
                    scope.getName().equals(name)
                            ? program.variables(scope.getVariablesReference())
                            : List.of();
            if (!content.isEmpty()) {
                nested(content, "  ");
                return;
            }
        }
        screen.line("  " + otherwise);
    }

    /** Things with what is in them, but for the parts of a row, which stand in its line. */
    private void nested(List<Variable> things, String indent) throws DebugException {
        for (Variable thing : things) {
            screen.line(
                    indent
                            + Screen.padded(thing.getName(), 14)
                            + "  "
                            + ValueText.printable(thing.getValue()));
            if (thing.getVariablesReference() > 0 && indent.length() < 4) {
                nested(program.variables(thing.getVariablesReference()), indent + "  ");
            }
        }
    }

    private void value(EvaluateResponse value) {
        screen.line(
                "  "
                        + value.getResult()
                        + (value.getType() == null
                                ? ""
                                : screen.tone(Tone.FAINT, "  " + value.getType())));
    }

    private void set(String rest) throws DebugException {
        int sign = rest.indexOf('=');
        if (sign < 1) {
            throw new DebugException("set takes a variable and a value: set litres = 80");
        }
        String name = rest.substring(0, sign).strip();
        screen.line(
                "  " + name + "  " + program.set(here(), name, rest.substring(sign + 1).strip()));
    }

    private void rows(String query) throws DebugException {
        EvaluateResponse found = program.evaluate(here(), query, "repl");
        List<Variable> rows =
                found.getVariablesReference() == 0
                        ? List.of()
                        : program.variables(found.getVariablesReference());
        for (Variable row : rows) {
            screen.line("  " + row.getValue());
        }
        screen.line("  " + found.getResult());
    }

    private void stack() {
        for (int i = 0; i < stack.size(); i++) {
            StackFrame one = stack.get(i);
            screen.line(
                    (i == frame ? screen.tone(Tone.NEW, "▸ ") : "  ")
                            + i
                            + "  "
                            + one.getName()
                            + "  "
                            + shortened(Path.of(one.getSource().getPath()))
                            + ":"
                            + one.getLine());
        }
    }

    private void frame(String text) throws DebugException {
        int wanted = DebugWord.number(text, "frame takes a number, as stack shows them: frame 1");
        if (wanted < 0 || wanted >= stack.size()) {
            throw new DebugException("there is no frame " + wanted + "; stack shows them");
        }
        frame = wanted;
        screen.line("  " + here().getName() + ", line " + here().getLine());
        variables();
    }

    private void help() {
        for (DebugWord word : DebugWord.values()) {
            if (!LOCAL.contains(word)) {
                screen.line(
                        "  "
                                + Screen.padded(word.form(), 30)
                                + screen.tone(
                                        Tone.FAINT,
                                        word == DebugWord.QUIT
                                                ? "let go of the program, which goes on"
                                                : word.meaning()));
            }
        }
    }
}
