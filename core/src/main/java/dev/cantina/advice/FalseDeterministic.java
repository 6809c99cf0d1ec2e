package dev.cantina.advice;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.catalog.Catalog;
import dev.cantina.syntax.EditPlaces;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Span;
import java.util.List;

/** DETERMINISTIC that reads the clock or data: the same arguments may give another result. */
final class FalseDeterministic implements Advice.Rule {
    @Override
    public String name() {
        return "false-deterministic";
    }

    @Override
    public void look(Subject subject, List<Problem> advice) {
        BoundRoutine routine = subject.routine();
        Catalog catalog = subject.catalog();
        boolean said =
                catalog.routines(routine.key()).stream()
                        .anyMatch(
                                r ->
                                        r.span().equals(routine.span())
                                                && r.tree()
                                                        .characteristics()
                                                        .deterministic()
                                                        .orElse(false));
        if (!said) {
            return;
        }
        String why = why(subject);
        if (!why.isEmpty()) {
            advice.add(
                    Problem.advice(
                                    headOf(routine),
                                    name(),
                                    routine.name() + " says DETERMINISTIC and " + why,
                                    "say NOT DETERMINISTIC, or pass in what it reads")
                            .with(
                                    EditPlaces.words(routine.span(), "DETERMINISTIC"),
                                    "NOT DETERMINISTIC"));
        }
    }

    private static String why(Subject subject) {
        boolean reads = subject.sent().stream().anyMatch(s -> !s.sql().tables().isEmpty());
        for (BoundExpression e : subject.expressions()) {
            if (e instanceof BoundExpression.CurrentDatetime) {
                return "reads the clock";
            }
            reads |=
                    e instanceof BoundExpression.DatabaseExpression ask
                            && !ask.sql().tables().isEmpty();
        }
        return reads ? "reads data" : "";
    }

    private static Span headOf(BoundRoutine routine) {
        Span span = routine.span();
        int line = span.source().text().indexOf('\n', span.start());
        int end = line < 0 ? span.end() : Math.min(line, span.end());
        return span.source().span(span.start(), end);
    }
}
