package dev.cantina.cli;

import dev.cantina.catalog.Table;
import dev.cantina.cli.Screen.Tone;
import dev.cantina.observe.TraceEvent;
import dev.cantina.runtime.RowEvent;
import dev.cantina.syntax.Span;
import dev.cantina.types.Values;
import dev.cantina.workbench.ValueText;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.function.Consumer;

/** Shows a trace: a line a statement, indented by depth, and under it what it sent and changed. */
final class TraceView implements Consumer<TraceEvent> {
    private static final int TEXT = 62;

    private static final int CHECKED = 256;

    private final Screen screen;
    private long events;

    TraceView(Screen screen) {
        this.screen = screen;
    }

    @Override
    public void accept(TraceEvent event) {
        if (++events % CHECKED == 0 && screen.out().checkError()) {
            throw new UncheckedIOException(new IOException("the output was closed"));
        }
        if (event instanceof TraceEvent.Entered entered) {
            entered(entered);
        } else if (event instanceof TraceEvent.Opened opened) {
            screen.line(head(opened.depth(), opened.place()).stripTrailing());
        } else if (event instanceof TraceEvent.Statement statement) {
            statement(statement);
        } else if (event instanceof TraceEvent.Raised raised) {
            raised(raised);
        } else if (event instanceof TraceEvent.Left left) {
            left(left);
        }
    }

    private static String indent(int depth) {
        return "    ".repeat(depth - 1);
    }

    private void entered(TraceEvent.Entered entered) {
        String kind =
                entered.kind().equals("trigger") || entered.kind().equals("script")
                        ? entered.kind() + " "
                        : "";
        screen.line(
                indent(entered.depth())
                        + screen.tone(Tone.FAINT, kind)
                        + screen.tone(Tone.STRONG, entered.routine())
                        + (entered.kind().equals("script")
                                ? ""
                                : "(" + values(entered.arguments()) + ")"));
    }

    private static String values(List<TraceEvent.Value> values) {
        List<String> shown = new ArrayList<>();
        values.forEach(v -> shown.add((v.name() + " ").stripLeading() + ValueText.of(v.value())));
        return String.join(", ", shown);
    }

    private String head(int depth, Span place) {
        String line = String.format(Locale.ROOT, "%5d  ", place.line());
        int room = Math.max(20, TEXT - 4 * (depth - 1));
        String text = oneLine(place.written(), room);
        return indent(depth) + screen.tone(Tone.FAINT, line) + Screen.padded(text, room);
    }

    /** The beginning of a statement, on one line. */
    static String oneLine(String text, int room) {
        // Of a statement with statements inside its own line is enough.
        boolean compound =
                text.strip().matches("(?is)(IF|CASE|WHILE|FOR|REPEAT|LOOP|\\w+\\s*:)\\b.*");
        String own = compound ? text.strip().lines().findFirst().orElse("") : text.strip();
        String flat = ValueText.printable(own.replaceAll("\\s+", " "));
        return Screen.width(flat) > room
                ? flat.substring(0, flat.offsetByCodePoints(0, room - 1)) + "…"
                : flat;
    }

    private void statement(TraceEvent.Statement statement) {
        String time = String.format(Locale.ROOT, "%9.3f ms", statement.nanos() / 1e6);
        String rows =
                statement.rows() < 0
                        ? ""
                        : statement.rows() + (statement.rows() == 1 ? " row" : " rows");
        String head =
                statement.nested()
                        ? indent(statement.depth())
                                + screen.tone(
                                        Tone.FAINT,
                                        Screen.padded(
                                                String.format(
                                                        Locale.ROOT,
                                                        "%5d  done",
                                                        statement.place().line()),
                                                7
                                                        + Math.max(
                                                                20,
                                                                TEXT
                                                                        - 4
                                                                                * (statement.depth()
                                                                                        - 1))))
                        : head(statement.depth(), statement.place());
        screen.line(
                head
                        + "  "
                        + Screen.padded(" ".repeat(Math.max(0, 8 - rows.length())) + rows, 8)
                        + screen.tone(Tone.FAINT, time));
        String under = indent(statement.depth()) + "         ";
        if (!statement.sent().isEmpty()) {
            screen.line(under + screen.tone(Tone.FAINT, "with " + values(statement.sent())));
        }
        FrameView values = new FrameView(screen);
        for (TraceEvent.Change change : statement.variables()) {
            for (Altered part :
                    Altered.between(
                            change.name(), change.type(), change.before(), change.after())) {
                screen.line(under + part.name() + " " + values.change(part));
            }
        }
        statement.written().forEach(w -> screen.line(under + row(w)));
        long more = statement.writes() - statement.written().size();
        if (more > 0) {
            screen.line(under + "… and " + more + (more == 1 ? " row more" : " rows more"));
        }
    }

    private String row(RowEvent event) {
        Table table = event.table();
        if (event.before() == null || event.after() == null) {
            Object[] row = event.before() == null ? event.after() : event.before();
            List<String> fields = new ArrayList<>();
            for (int i = 0; i < row.length; i++) {
                if (row[i] != null) {
                    fields.add(table.columns().get(i).name() + " " + ValueText.of(row[i]));
                }
            }
            Tone tone = event.before() == null ? Tone.GOOD : Tone.BAD;
            String sign = event.before() == null ? "+ " : "- ";
            return screen.tone(tone, sign) + table.name() + "  " + String.join(", ", fields);
        }
        List<String> keys = new ArrayList<>();
        table.primaryKey().forEach(i -> keys.add(ValueText.of(event.after()[i])));
        List<String> fields = new ArrayList<>();
        for (int i = 0; i < event.after().length; i++) {
            if (!Values.same(event.before()[i], event.after()[i])) {
                fields.add(
                        table.columns().get(i).name()
                                + " "
                                + ValueText.of(event.before()[i])
                                + " → "
                                + screen.tone(Tone.STRONG, ValueText.of(event.after()[i])));
            }
        }
        return table.name()
                + " "
                + String.join(", ", keys)
                + "  "
                + (fields.isEmpty() ? "as it was" : String.join(", ", fields));
    }

    private void raised(TraceEvent.Raised raised) {
        boolean bad = raised.condition().isException();
        screen.line(
                indent(raised.depth())
                        + screen.tone(
                                bad ? Tone.BAD : Tone.CAREFUL,
                                String.format(
                                        Locale.ROOT,
                                        "%5d  raised %s",
                                        raised.place().line(),
                                        raised.condition().sqlstate()))
                        + "  "
                        + ValueText.printable(raised.condition().message()));
        for (int i = 0; bad && i < raised.stack().size(); i++) {
            screen.line(
                    indent(raised.depth())
                            + "         "
                            + screen.tone(Tone.FAINT, i == 0 ? "in   " : "from ")
                            + raised.stack().get(i).routine()
                            + "("
                            + values(raised.arguments().get(i))
                            + ")  "
                            + screen.tone(Tone.FAINT, raised.stack().get(i).place().place()));
        }
    }

    private void left(TraceEvent.Left left) {
        String end =
                left.condition().isPresent()
                        ? screen.tone(Tone.BAD, "ended by " + left.condition().get().sqlstate())
                        : left.given().isEmpty()
                                ? "ended"
                                : "gives " + screen.tone(Tone.STRONG, values(left.given()));
        screen.line(
                indent(left.depth())
                        + screen.tone(Tone.FAINT, left.routine() + " ")
                        + end
                        + screen.tone(
                                Tone.FAINT,
                                String.format(Locale.ROOT, "  %.3f ms", left.nanos() / 1e6)));
    }
}
