package dev.cantina.cli;

import dev.cantina.catalog.Table;
import dev.cantina.cli.Screen.Tone;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.ResultRows;
import dev.cantina.runtime.StackEntry;
import dev.cantina.runtime.TableChanges;
import dev.cantina.types.Condition;
import dev.cantina.types.Values;
import dev.cantina.workbench.ValueText;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;

/** Shows what a run came to: what it gave, what it reported, and every row that it changed. */
final class OutcomeView {
    private static final int MOST_ROWS = 20;

    private final Screen screen;

    OutcomeView(Screen screen) {
        this.screen = screen;
    }

    void show(Outcome outcome, boolean quiet) {
        if (!quiet) {
            outcome.messages().forEach(this::said);
        }
        showButMessages(outcome, quiet);
    }

    /** A message of the run. */
    void said(String message) {
        screen.line("  " + screen.tone(Tone.NEW, "says  ") + ValueText.printable(message));
    }

    /** What one statement of an open session came to, in as few lines as it takes. */
    void step(Outcome outcome) {
        outcome.messages().forEach(this::said);
        outcome.warnings()
                .forEach(
                        m ->
                                screen.line(
                                        "  "
                                                + screen.tone(Tone.CAREFUL, "warns ")
                                                + ValueText.printable(m)));
        outcome.results().forEach(this::rows);
        changes(TableChanges.of(outcome.events()));
        outcome.condition()
                .ifPresent(
                        c ->
                                condition(
                                        c,
                                        outcome.stack().stream()
                                                .filter(
                                                        s ->
                                                                !s.place()
                                                                        .source()
                                                                        .name()
                                                                        .equals("input"))
                                                .toList()));
        boolean shown =
                !outcome.messages().isEmpty()
                        || !outcome.results().isEmpty()
                        || !outcome.events().isEmpty();
        if (outcome.condition().isPresent()) {
            screen.line(screen.tone(Tone.FAINT, "  what it did itself is taken back"));
        } else if (!shown) {
            screen.line(screen.tone(Tone.FAINT, "  done"));
        }
    }

    /** The same where the messages were shown as they came. */
    void showButMessages(Outcome outcome, boolean quiet) {
        if (!quiet) {
            outcome.warnings()
                    .forEach(
                            m ->
                                    screen.line(
                                            "  "
                                                    + screen.tone(Tone.CAREFUL, "warns ")
                                                    + ValueText.printable(m)));
            for (Map.Entry<String, Object> entry : outcome.out().entrySet()) {
                screen.line("  gives " + entry.getKey() + " = " + whole(entry.getValue()));
            }
            if (outcome.returned() != null || isFunction(outcome)) {
                screen.line("  gives " + whole(outcome.returned()));
            }
            for (ResultRows result : outcome.results()) {
                screen.line();
                rows(result);
            }
            changes(TableChanges.of(outcome.events()));
        }
        outcome.condition().ifPresent(c -> condition(c, outcome.stack()));
        if (!quiet) {
            screen.line();
            screen.line(ending(outcome));
        }
    }

    private static boolean isFunction(Outcome outcome) {
        return outcome.kind() == Outcome.Kind.COMPLETED && outcome.isFunction();
    }

    /** A result is shown whole, however long it is. */
    private String whole(Object value) {
        String text =
                value instanceof String string
                        ? "'" + ValueText.printable(string) + "'"
                        : Values.text(value);
        return screen.tone(Tone.STRONG, text);
    }

    private String strong(Object value) {
        return screen.tone(Tone.STRONG, ValueText.of(value));
    }

    private void rows(ResultRows result) {
        List<Object[]> shown = result.rows().subList(0, Math.min(MOST_ROWS, result.rows().size()));
        new TableView(screen).show("  ", result.columns(), shown);
        int more = result.rows().size() - shown.size();
        if (more > 0) {
            screen.line("  … and " + more + " rows more (--json gives all)");
        }
    }

    void changes(List<TableChanges> tables) {
        for (TableChanges changes : tables) {
            screen.line();
            screen.line(
                    "  "
                            + screen.tone(Tone.STRONG, changes.table().name())
                            + "  "
                            + counts(changes));
            List<String> lines = new ArrayList<>();
            for (TableChanges.Changed change : changes.changed()) {
                changed(changes.table(), change, lines);
            }
            changes.added()
                    .forEach(r -> lines.add(whole(Tone.GOOD, "+ ", changes.table(), r.row())));
            changes.removed()
                    .forEach(r -> lines.add(whole(Tone.BAD, "- ", changes.table(), r.row())));
            lines.stream().limit(MOST_ROWS).forEach(screen::line);
            if (lines.size() > MOST_ROWS) {
                screen.line("    … and " + (lines.size() - MOST_ROWS) + " more (--json gives all)");
            }
        }
    }

    private String counts(TableChanges changes) {
        List<String> counts = new ArrayList<>();
        if (!changes.changed().isEmpty()) {
            counts.add(changes.changed().size() + " changed");
        }
        if (!changes.added().isEmpty()) {
            counts.add(changes.added().size() + " added");
        }
        if (!changes.removed().isEmpty()) {
            counts.add(changes.removed().size() + " removed");
        }
        return screen.tone(Tone.FAINT, String.join(", ", counts));
    }

    private void changed(Table table, TableChanges.Changed change, List<String> lines) {
        String key =
                table.primaryKey().stream()
                        .map(i -> ValueText.of(change.after()[i]))
                        .collect(Collectors.joining(", "));
        String what =
                change.columns().stream()
                        .map(
                                i ->
                                        table.columns().get(i).name()
                                                + " "
                                                + ValueText.of(change.before()[i])
                                                + " → "
                                                + strong(change.after()[i]))
                        .collect(Collectors.joining(", "));
        lines.add("    " + Screen.padded(key, 8) + " " + what);
    }

    private String whole(Tone tone, String sign, Table table, Object[] row) {
        List<String> fields = new ArrayList<>();
        for (int i = 0; i < row.length; i++) {
            if (row[i] != null) {
                fields.add(table.columns().get(i).name() + " " + ValueText.of(row[i]));
            }
        }
        return "    " + screen.tone(tone, sign) + String.join(", ", fields);
    }

    void condition(Condition condition, List<StackEntry> stack) {
        screen.line();
        screen.line(
                "  "
                        + screen.tone(Tone.BAD, condition.sqlstate())
                        + "  "
                        + screen.tone(Tone.STRONG, ValueText.printable(condition.message())));
        stack(stack, "  ");
    }

    /** A call stack, innermost first. */
    void stack(List<StackEntry> stack, String indent) {
        int width = stack.stream().mapToInt(e -> Screen.width(e.routine())).max().orElse(0);
        int i = 0;
        while (i < stack.size()) {
            StackEntry entry = stack.get(i);
            int same = 1;
            while (i + same < stack.size() && stack.get(i + same).equals(entry)) {
                same++;
            }
            String word = i == 0 ? "in   " : "from ";
            String times = same > 1 ? screen.tone(Tone.FAINT, "  " + same + " times") : "";
            screen.line(
                    indent
                            + screen.tone(Tone.FAINT, word)
                            + Screen.padded(entry.routine(), width)
                            + "  "
                            + entry.place().place()
                            + times);
            i += same;
        }
    }

    /** How a run ended, in a line. */
    String ending(Outcome outcome) {
        String word =
                switch (outcome.kind()) {
                    case COMPLETED -> screen.tone(Tone.GOOD, "completed");
                    case RAISED -> screen.tone(Tone.BAD, "ended in a condition");
                    case LIMITED ->
                            screen.tone(
                                    Tone.BAD,
                                    outcome.condition().get().sqlstate().equals("UL000")
                                            ? "was interrupted"
                                            : "stopped at a limit");
                };
        String figures =
                // A server that runs a routine by itself counts nothing.
                (outcome.statements() == 0
                                ? ""
                                : outcome.statements()
                                        + (outcome.statements() == 1
                                                ? " statement, "
                                                : " statements, "))
                        + String.format(Locale.ROOT, "%.1f ms", outcome.elapsedMillis());
        String undone =
                outcome.kind() == Outcome.Kind.COMPLETED
                        ? ""
                        : outcome.events().isEmpty()
                                ? "; nothing was changed"
                                : "; what it committed before stands";
        return screen.tone(Tone.STRONG, outcome.routine())
                + " "
                + word
                + undone
                + screen.tone(Tone.FAINT, "  (" + figures + ")");
    }
}
