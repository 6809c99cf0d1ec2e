package dev.cantina.cli;

import dev.cantina.cli.Screen.Tone;
import dev.cantina.types.SqlType;
import dev.cantina.types.Values;
import dev.cantina.workbench.ValueText;
import java.util.ArrayList;
import java.util.List;

/** Shows rows in columns: numbers to the right, NULL unmistakable, long values shortened. */
final class TableView {
    private static final int WIDEST = 40;

    private final Screen screen;

    TableView(Screen screen) {
        this.screen = screen;
    }

    void show(String indent, List<SqlType.Field> columns, List<Object[]> rows) {
        int[] widths = new int[columns.size()];
        boolean[] right = new boolean[columns.size()];
        for (int i = 0; i < widths.length; i++) {
            widths[i] = Screen.width(columns.get(i).name());
            right[i] = columns.get(i).type().isNumeric();
            for (Object[] row : rows) {
                widths[i] = Math.max(widths[i], Screen.width(cell(row[i])));
            }
        }
        List<String> head = new ArrayList<>();
        for (int i = 0; i < widths.length; i++) {
            String name = columns.get(i).name();
            head.add(
                    right[i]
                            ? " ".repeat(widths[i] - Screen.width(name)) + name
                            : Screen.padded(name, widths[i]));
        }
        screen.line(indent + screen.tone(Tone.FAINT, String.join("   ", head).stripTrailing()));
        for (Object[] row : rows) {
            StringBuilder line = new StringBuilder();
            for (int i = 0; i < widths.length; i++) {
                String cell = cell(row[i]);
                String space = " ".repeat(widths[i] - Screen.width(cell));
                String shown = row[i] == null ? screen.tone(Tone.FAINT, cell) : cell;
                line.append(i == 0 ? "" : "   ").append(right[i] ? space + shown : shown + space);
            }
            screen.line(indent + line.toString().stripTrailing());
        }
        if (rows.isEmpty()) {
            screen.line(indent + screen.tone(Tone.FAINT, "no rows"));
        }
    }

    private static String cell(Object value) {
        String text =
                value instanceof String string ? ValueText.printable(string) : Values.text(value);
        return Screen.width(text) > WIDEST ? text.substring(0, WIDEST - 1) + "…" : text;
    }
}
