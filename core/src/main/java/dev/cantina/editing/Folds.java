package dev.cantina.editing;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;

/** What can be folded in a text: routines, the statements in them, and comments. */
public final class Folds {
    private Folds() {}

    /**
     * The folds of a file.
     *
     * @return the first and the last line of each, counted from 1, and 1 for a comment
     */
    public static List<int[]> of(ProjectView view, String file, Source source) {
        List<int[]> folds = new ArrayList<>();
        Set<Integer> begun = new TreeSet<>();
        for (CheckedUnit unit : view.units().getOrDefault(file, List.of())) {
            if (unit.routine().isEmpty()) {
                continue;
            }
            add(folds, begun, unit.moved(unit.routine().get().span()));
            for (BoundRoutine.Place place : unit.routine().get().places()) {
                add(folds, begun, unit.moved(place.span()));
            }
        }
        comments(source, folds);
        return folds;
    }

    static void add(List<int[]> folds, Set<Integer> begun, Span span) {
        if (span.endLine() > span.line() && begun.add(span.line())) {
            folds.add(new int[] {span.line(), span.endLine(), 0});
        }
    }

    static void comments(Source source, List<int[]> folds) {
        int first = 0;
        for (int line = 1; line <= source.lines() + 1; line++) {
            boolean comment = line <= source.lines() && source.line(line).strip().startsWith("--");
            if (comment && first == 0) {
                first = line;
            } else if (!comment && first > 0) {
                if (line - 1 > first) {
                    folds.add(new int[] {first, line - 1, 1});
                }
                first = 0;
            }
        }
    }
}
