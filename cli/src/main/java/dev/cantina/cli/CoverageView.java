package dev.cantina.cli;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.cli.Screen.Tone;
import dev.cantina.observe.Coverage;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/** Shows what of each routine was reached, and the lines that were not. */
final class CoverageView {
    private final Screen screen;

    CoverageView(Screen screen) {
        this.screen = screen;
    }

    void show(Coverage coverage) {
        int width = 12;
        for (Coverage.OfFile file : coverage.files()) {
            for (Coverage.OfRoutine routine : file.routines()) {
                width = Math.max(width, Screen.width(routine.name()));
            }
        }
        screen.line(
                screen.tone(
                        Tone.FAINT,
                        "  "
                                + Screen.padded("reached", width)
                                + "  statements   branches   handlers  not reached"));
        for (Coverage.OfFile file : coverage.files()) {
            for (Coverage.OfRoutine routine : file.routines()) {
                routine(file, routine, width);
            }
        }
        screen.line(
                screen.tone(
                        Tone.STRONG,
                        String.format(
                                Locale.ROOT,
                                "  %.1f %% of the statements were reached",
                                coverage.percent())));
        screen.line();
    }

    private void routine(Coverage.OfFile file, Coverage.OfRoutine routine, int width) {
        Tone tone =
                routine.reached() == routine.statements()
                        ? Tone.GOOD
                        : routine.reached() == 0 ? Tone.BAD : Tone.CAREFUL;
        String missed = missed(file, routine);
        boolean silent = routine.kind() == BoundRoutine.Kind.TRIGGER && routine.entered() == 0;
        screen.line(
                "  "
                        + screen.tone(tone, Screen.padded(routine.name(), width))
                        + "  "
                        + part(routine.reached(), routine.statements(), 10)
                        + " "
                        + part(routine.taken(), routine.branches(), 10)
                        + " "
                        + part(routine.handled(), routine.handlers(), 10)
                        + "  "
                        + screen.tone(
                                Tone.BAD,
                                silent
                                        ? "never fired"
                                        : routine.entered() == 0 ? "never called" : missed));
    }

    private static String part(int part, int whole, int width) {
        String text = whole == 0 ? "-" : part + " of " + whole;
        return " ".repeat(Math.max(0, width - text.length())) + text;
    }

    /** The lines of a routine that were not reached, those that follow each other as one. */
    private static String missed(Coverage.OfFile file, Coverage.OfRoutine routine) {
        List<String> parts = new ArrayList<>();
        int from = -1;
        int to = -1;
        for (Map.Entry<Integer, Long> line :
                file.lines()
                        .subMap(routine.span().line(), true, routine.span().endLine(), true)
                        .entrySet()) {
            if (line.getValue() > 0) {
                if (from > 0) {
                    parts.add(from == to ? "" + from : from + "-" + to);
                }
                from = -1;
            } else {
                from = from < 0 ? line.getKey() : from;
                to = line.getKey();
            }
        }
        if (from > 0) {
            parts.add(from == to ? "" + from : from + "-" + to);
        }
        return parts.isEmpty() ? "" : "line " + String.join(", ", parts);
    }
}
