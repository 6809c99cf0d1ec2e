package dev.cantina.advice;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Span;
import java.util.List;

/** A function that has a RETURN, and a path past it: ending there is 2F005. */
final class MissingReturn implements Advice.Rule {
    static final String NAME = "missing-return";

    @Override
    public String name() {
        return NAME;
    }

    @Override
    public void look(Subject subject, List<Problem> advice) {
        BoundRoutine routine = subject.routine();
        if (routine.kind() == BoundRoutine.Kind.FUNCTION
                && subject.completion().canComplete(routine.body())) {
            advice.add(
                    Problem.advice(
                            name(subject),
                            NAME,
                            routine.name() + " can reach its end without a RETURN, which is 2F005",
                            "end each path with RETURN or SIGNAL"));
        }
    }

    /** The name in the head of a function. */
    private static Span name(Subject subject) {
        Span function = subject.routine().span();
        return subject.catalog().routines().stream()
                .map(RoutineSymbol::tree)
                .filter(tree -> tree.span().equals(function))
                .map(tree -> tree.name().span())
                .findFirst()
                .orElse(function);
    }
}
