package dev.cantina.advice;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.Variable;
import dev.cantina.binding.Walker;
import dev.cantina.syntax.EditPlaces;
import dev.cantina.syntax.Problem;
import java.util.BitSet;
import java.util.List;

/** A variable or parameter that nothing reads or sets. */
final class UnusedName implements Advice.Rule {
    @Override
    public String name() {
        return "unused-name";
    }

    @Override
    public void look(Subject subject, List<Problem> advice) {
        BoundRoutine routine = subject.routine();
        BitSet used = used(subject);
        for (Variable variable : routine.variables()) {
            boolean owned =
                    variable.kind() == Variable.Kind.LOCAL
                            || variable.kind() == Variable.Kind.CONSTANT
                            || variable.kind() == Variable.Kind.IN
                            || variable.kind() == Variable.Kind.INOUT;
            if (owned && !used.get(variable.slot())) {
                Problem problem =
                        Problem.advice(
                                variable.span(),
                                name(),
                                variable.name() + " is never used",
                                "remove it");
                advice.add(
                        variable.kind().isParameter()
                                ? problem
                                : problem.with(
                                        EditPlaces.declaration(variable.span(), routine.span()),
                                        ""));
            }
        }
    }

    /** The slots that something reads, or sets beside their declaration. */
    private static BitSet used(Subject subject) {
        BoundRoutine routine = subject.routine();
        BitSet used = new BitSet();
        routine.condition().ifPresent(c -> Walker.expressions(c, e -> read(e, used)));
        subject.expressions().forEach(e -> read(e, used));
        used.or(subject.assigned());
        return used;
    }

    private static void read(BoundExpression e, BitSet used) {
        if (e instanceof BoundExpression.Read read) {
            used.set(read.variable().slot());
        }
    }
}
