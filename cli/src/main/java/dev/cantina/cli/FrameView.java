package dev.cantina.cli;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.CursorSymbol;
import dev.cantina.binding.Scope;
import dev.cantina.binding.Variable;
import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.Table;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.cli.Screen.Tone;
import dev.cantina.runtime.Cursor;
import dev.cantina.runtime.Frame;
import dev.cantina.syntax.Source;
import dev.cantina.types.SqlType;
import dev.cantina.types.Values;
import dev.cantina.workbench.FrameTree;
import dev.cantina.workbench.ValueText;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** Shows what there is to see in a frame: its lines, variables, cursors, and its callers. */
final class FrameView {
    private final Screen screen;

    FrameView(Screen screen) {
        this.screen = screen;
    }

    /** The lines around one, which is marked. */
    void source(Frame frame, int current, int before, int after) {
        Source source = frame.place().span().source();
        int first = Math.max(1, current - before);
        int lastLine = Math.min(source.lines(), current + after);
        for (int line = first; line <= lastLine; line++) {
            String text =
                    String.format(
                            Locale.ROOT,
                            "%4d  %s",
                            line,
                            ValueText.printable(source.line(line).replace('\t', ' ')));
            screen.line(
                    line == current
                            ? screen.tone(Tone.NEW, "▸") + screen.tone(Tone.STRONG, text)
                            : " " + screen.tone(Tone.FAINT, text));
        }
    }

    /** The row that a trigger works on. */
    void firing(Frame frame, TriggerSymbol trigger) {
        Object[] before = null;
        Object[] after = null;
        for (Variable variable : frame.routine().variables()) {
            if (variable.kind() == Variable.Kind.OLD_ROW) {
                before = (Object[]) frame.get(variable);
            } else if (variable.kind() == Variable.Kind.NEW_ROW) {
                after = (Object[]) frame.get(variable);
            }
        }
        String event = trigger.tree().event().name().toLowerCase(Locale.ROOT);
        String head =
                "  fires "
                        + trigger.tree().timing().name().toLowerCase(Locale.ROOT).replace('_', ' ')
                        + " "
                        + event
                        + " on "
                        + trigger.table().name();
        if (before == null && after == null) {
            screen.line(screen.tone(Tone.FAINT, head + ", once for the statement"));
            return;
        }
        screen.line(
                screen.tone(Tone.FAINT, head + ", for the row ")
                        + row(trigger.table(), before, after));
    }

    /** A row as it was and as it is to be: its key, and what differs; the whole of a new one. */
    private String row(Table table, Object[] before, Object[] after) {
        List<String> parts = new ArrayList<>();
        Object[] known = before == null ? after : before;
        for (int i = 0; i < known.length; i++) {
            boolean key = table.primaryKey().contains(i);
            boolean differs = before != null && after != null && !Values.same(before[i], after[i]);
            if (differs) {
                parts.add(
                        table.columns().get(i).name()
                                + " "
                                + ValueText.of(before[i])
                                + " → "
                                + screen.tone(Tone.STRONG, ValueText.of(after[i])));
            } else if (key || before == null && known[i] != null) {
                parts.add(table.columns().get(i).name() + " " + ValueText.of(known[i]));
            }
        }
        return String.join(", ", parts);
    }

    /** The variables, block by block. */
    void variables(Frame frame) {
        Scope scope = frame.place().scope();
        List<Variable> variables = scope.variables();
        int width = variables.stream().mapToInt(v -> Screen.width(v.name())).max().orElse(0);
        int types = variables.stream().mapToInt(v -> Screen.width(type(v))).max().orElse(0);
        int block = 0;
        for (Variable variable : variables) {
            int own = scope.blockOf(variable).orElse(0);
            if (own != block && own > 1) {
                screen.line(screen.tone(Tone.FAINT, "  in block " + own));
            }
            block = own;
            screen.line(
                    "  "
                            + Screen.padded(variable.name(), width)
                            + "  "
                            + screen.tone(Tone.FAINT, Screen.padded(type(variable), types))
                            + "  "
                            + value(variable.type(), frame.get(variable)));
        }
        Optional<ModuleSymbol> module =
                frame.session.program().catalog().moduleOf(frame.routine().span());
        module.ifPresent(m -> shared(frame, m));
        if (variables.isEmpty() && module.isEmpty()) {
            screen.line("  no variables here");
        }
    }

    /** The variables that the routines of a module share. */
    private void shared(Frame frame, ModuleSymbol module) {
        List<ModuleSymbol.Shared> variables = module.variables();
        if (variables.isEmpty()) {
            return;
        }
        if (frame.isElsewhere()) {
            screen.line(
                    screen.tone(
                            Tone.FAINT,
                            "  of module " + module.name() + ": held by the server, and not seen"));
            return;
        }
        screen.line(screen.tone(Tone.FAINT, "  of module " + module.name()));
        Object[] values = frame.session.questions().aside(() -> frame.session.module(module));
        int width = variables.stream().mapToInt(v -> Screen.width(v.name().text())).max().orElse(0);
        for (int i = 0; i < values.length; i++) {
            ModuleSymbol.Shared variable = variables.get(i);
            screen.line(
                    "  "
                            + Screen.padded(variable.name().text(), width)
                            + "  "
                            + screen.tone(Tone.FAINT, variable.type().sql())
                            + "  "
                            + value(variable.type(), values[i]));
        }
    }

    private static String type(Variable variable) {
        String kind = variable.kind().isParameter() ? variable.kind().name() + " " : "";
        return kind + variable.typeInWords();
    }

    /** A value as it was and as it is. */
    String change(Altered altered) {
        Altered cut = altered.cut();
        return ValueText.brief(cut.type(), cut.before())
                + " → "
                + strong(cut.type(), cut.after())
                + size(cut.type(), altered.after());
    }

    /** A value on one line: the first parts of an array or a row, a long text cut short. */
    String value(SqlType type, Object value) {
        return strong(type, value) + size(type, value);
    }

    private String strong(SqlType type, Object value) {
        boolean composite = value instanceof Object[];
        Tone tone = value == null ? Tone.FAINT : Tone.STRONG;
        return composite
                ? ValueText.brief(type, value)
                : screen.tone(tone, ValueText.brief(type, value));
    }

    /** How much there is of an array, or of a text that is too long to be shown. */
    private String size(SqlType type, Object value) {
        if (value instanceof Object[] parts && !(type instanceof SqlType.Row)) {
            String elements = parts.length == 1 ? "1 element" : parts.length + " elements";
            return screen.tone(Tone.FAINT, "  " + elements);
        }
        if (value instanceof String whole && whole.length() > 60) {
            int length = whole.codePointCount(0, whole.length());
            return screen.tone(Tone.FAINT, "  " + length + " characters; show has all");
        }
        return "";
    }

    /** A value whole: an element or a field a line, a text with its line ends. */
    void whole(String indent, SqlType type, Object value) {
        if (value instanceof Object[] parts) {
            for (ValueText.Part part : ValueText.parts(type, value, 0, parts.length)) {
                if (part.value() instanceof Object[]) {
                    screen.line(indent + part.name());
                    whole(indent + "  ", part.type(), part.value());
                } else {
                    screen.line(indent + part.name() + "  " + text(part.value()));
                }
            }
            if (parts.length == 0) {
                screen.line(indent + "an array without elements");
            }
            return;
        }
        if (value instanceof String text && text.contains("\n")) {
            text.lines().forEach(l -> screen.line(indent + "│ " + ValueText.printable(l)));
            return;
        }
        screen.line(indent + text(value));
    }

    private static String text(Object value) {
        return value instanceof String text
                ? "'" + ValueText.printable(text) + "'"
                : Values.text(value);
    }

    /** The frames, innermost first, with the arguments of each. */
    void stack(Frame top, Frame chosen) {
        int number = 0;
        for (Frame f = top; f != null; f = f.caller()) {
            String mark = f == chosen ? screen.tone(Tone.NEW, "▸ ") : "  ";
            screen.line(
                    "  "
                            + mark
                            + number++
                            + "  "
                            + f.routine().name()
                            + arguments(f)
                            + screen.tone(Tone.FAINT, "  " + f.place().span().place()));
        }
    }

    private static String arguments(Frame frame) {
        List<String> shown = new ArrayList<>();
        for (Variable variable : frame.routine().variables()) {
            if (variable.kind().isParameter() && variable.kind() != Variable.Kind.OUT) {
                shown.add(variable.name() + " " + ValueText.of(frame.get(variable)));
            }
        }
        return frame.routine().kind() == BoundRoutine.Kind.TRIGGER
                        || frame.routine().kind() == BoundRoutine.Kind.SCRIPT
                ? ""
                : "(" + String.join(", ", shown) + ")";
    }

    /** The cursors that can be named, and where each stands. */
    void cursors(Frame frame) {
        List<CursorSymbol> cursors = frame.place().scope().cursors();
        for (CursorSymbol symbol : cursors) {
            Optional<Cursor> cursor = frame.cursor(symbol.slot());
            screen.line(
                    "  "
                            + screen.tone(Tone.STRONG, symbol.name())
                            + "  "
                            + (frame.isElsewhere()
                                    ? "not known: the server has it"
                                    : cursor.map(FrameTree::state).orElse("closed")));
            cursor.filter(c -> c.row() != null)
                    .ifPresent(
                            c ->
                                    new TableView(screen)
                                            .show("    ", c.columns(), List.<Object[]>of(c.row())));
        }
        if (cursors.isEmpty()) {
            screen.line("  no cursor is declared here");
        }
    }
}
