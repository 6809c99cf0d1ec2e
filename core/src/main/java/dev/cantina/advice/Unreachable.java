package dev.cantina.advice;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundStatement;
import dev.cantina.syntax.EditPlaces;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Span;
import java.util.List;

/** Statements that no path reaches. */
final class Unreachable implements Advice.Rule {
    @Override
    public String name() {
        return "unreachable";
    }

    @Override
    public void look(Subject subject, List<Problem> advice) {
        BoundRoutine routine = subject.routine();
        subject.statements()
                .forEach(
                        s -> {
                            for (List<BoundStatement> row : s.rows()) {
                                for (int i = 0; i + 1 < row.size(); i++) {
                                    if (!subject.completion().canComplete(row.get(i))) {
                                        Span first = place(routine, row.get(i + 1));
                                        Span last = place(routine, row.get(row.size() - 1));
                                        advice.add(
                                                Problem.advice(
                                                                first,
                                                                name(),
                                                                "nothing reaches this: what stands before it never goes on",
                                                                "remove it, or let what stands before it go on")
                                                        .with(
                                                                EditPlaces.withLines(
                                                                        first.to(last)),
                                                                ""));
                                        break;
                                    }
                                }
                            }
                        });
    }

    private static Span place(BoundRoutine routine, BoundStatement statement) {
        return routine.places().get(statement.at()).span();
    }
}
