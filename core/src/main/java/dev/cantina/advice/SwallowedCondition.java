package dev.cantina.advice;

import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.Walker;
import dev.cantina.syntax.Declaration.HandledKind;
import dev.cantina.syntax.EditPlaces;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Span;
import java.util.List;
import java.util.Optional;

/** A handler for SQLEXCEPTION that neither signals on, records nor sets anything. */
final class SwallowedCondition implements Advice.Rule {
    @Override
    public String name() {
        return "swallowed-condition";
    }

    @Override
    public void look(Subject subject, List<Problem> advice) {
        subject.statements()
                .forEach(
                        s -> {
                            if (s instanceof BoundStatement.Block block) {
                                block.handlers().stream()
                                        .filter(SwallowedCondition::isGeneral)
                                        .filter(h -> !doesSomething(h.body()))
                                        .forEach(h -> advice.add(problem(h)));
                            }
                        });
    }

    private Problem problem(BoundStatement.Handler handler) {
        Problem problem =
                Problem.advice(
                        handler.span(),
                        name(),
                        "every exception ends here, and leaves no trace",
                        "RESIGNAL, record it in a table, or set something that tells the caller");
        Optional<Span> end = EditPlaces.last(handler.span(), "END");
        if (end.isEmpty() || !(handler.body() instanceof BoundStatement.Block)) {
            return problem;
        }
        String line = end.get().source().line(end.get().line());
        String indent = line.substring(0, end.get().column() - 1);
        return indent.isBlank()
                ? problem.with(EditPlaces.before(end.get()), "  RESIGNAL;\n" + indent)
                : problem.with(EditPlaces.before(end.get()), "RESIGNAL; ");
    }

    private static boolean isGeneral(BoundStatement.Handler handler) {
        return handler.conditions().stream().anyMatch(c -> c.kind() == HandledKind.SQLEXCEPTION);
    }

    private static boolean doesSomething(BoundStatement body) {
        boolean[] found = {false};
        Walker.statements(
                body,
                s ->
                        found[0] |=
                                s instanceof BoundStatement.Signal
                                        || s instanceof BoundStatement.Execute
                                        || s instanceof BoundStatement.ExecuteDynamic
                                        || s instanceof BoundStatement.Call
                                        || s instanceof BoundStatement.Report
                                        || s instanceof BoundStatement.Return
                                        || s instanceof BoundStatement.ReturnTable
                                        || !Walker.assigned(s).isEmpty());
        return found[0];
    }
}
