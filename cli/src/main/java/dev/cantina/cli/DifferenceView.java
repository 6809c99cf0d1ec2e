package dev.cantina.cli;

import dev.cantina.cli.Screen.Tone;
import dev.cantina.testing.Difference;
import dev.cantina.types.Words;
import dev.cantina.workbench.ValueText;
import java.util.List;

/**
 * Shows what was expected and what was, side by side, with only what differs marked; one under the
 * other where they are too long for that.
 */
final class DifferenceView {
    private static final int WIDEST = 34;

    private final Screen screen;

    DifferenceView(Screen screen) {
        this.screen = screen;
    }

    void show(List<Difference> differences, String indent) {
        if (differences.isEmpty()) {
            return;
        }
        boolean wide =
                differences.stream()
                        .anyMatch(
                                d ->
                                        Screen.width(shown(d.expected())) > WIDEST
                                                || Screen.width(shown(d.actual())) > WIDEST);
        if (wide) {
            differences.forEach(d -> stacked(d, indent));
            return;
        }
        int at = 5;
        int expected = 8;
        int actual = 6;
        for (Difference d : differences) {
            at = Math.max(at, Screen.width(d.at()));
            expected = Math.max(expected, Screen.width(shown(d.expected())));
            actual = Math.max(actual, Screen.width(shown(d.actual())));
        }
        screen.line(
                indent
                        + screen.tone(
                                Tone.FAINT,
                                Screen.padded("", at)
                                        + "  "
                                        + Screen.padded("expected", expected)
                                        + "  actual"));
        for (Difference d : differences) {
            String[] pair = marked(shown(d.expected()), shown(d.actual()));
            int gap = expected - Screen.width(shown(d.expected()));
            String by =
                    d.writer()
                            .map(w -> "  by " + w.routine() + ", " + w.place().place())
                            .orElse("");
            int tail = by.isEmpty() ? 0 : actual - Screen.width(shown(d.actual()));
            screen.line(
                    indent
                            + screen.tone(Tone.CAREFUL, Screen.padded(d.at(), at))
                            + "  "
                            + pair[0]
                            + " ".repeat(gap + 2)
                            + pair[1]
                            + " ".repeat(tail)
                            + screen.tone(Tone.FAINT, by));
        }
    }

    private void stacked(Difference d, String indent) {
        String[] pair = marked(shown(d.expected()), shown(d.actual()));
        screen.line(indent + screen.tone(Tone.CAREFUL, d.at()));
        screen.line(indent + "  expected  " + pair[0]);
        screen.line(indent + "  actual    " + pair[1]);
        d.writer()
                .ifPresent(
                        w ->
                                screen.line(
                                        indent
                                                + screen.tone(
                                                        Tone.FAINT,
                                                        "  by        "
                                                                + w.routine()
                                                                + ", "
                                                                + w.place().place())));
    }

    /** Both texts, with what they share at the beginning and the end left plain. */
    private String[] marked(String expected, String actual) {
        int most = Math.min(expected.length(), actual.length());
        int from = 0;
        while (from < most && expected.charAt(from) == actual.charAt(from)) {
            from++;
        }
        int to = 0;
        while (to < most - from
                && expected.charAt(expected.length() - 1 - to)
                        == actual.charAt(actual.length() - 1 - to)) {
            to++;
        }
        // A number that shares a digit is still another number.
        boolean text = expected.startsWith("'") && actual.startsWith("'") || most > 24;
        if (!text) {
            from = 0;
            to = 0;
        }
        return new String[] {
            toned(expected, from, to, Tone.GOOD), toned(actual, from, to, Tone.BAD)
        };
    }

    private String toned(String text, int from, int to, Tone tone) {
        return text.substring(0, from)
                + screen.tone(tone, text.substring(from, text.length() - to))
                + text.substring(text.length() - to);
    }

    private static String shown(Object value) {
        return value instanceof Words words
                ? ValueText.printable(words.text())
                : ValueText.of(value);
    }
}
