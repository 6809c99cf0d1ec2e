package dev.cantina.advice;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundStatement;
import dev.cantina.facts.RowFacts;
import dev.cantina.syntax.Problem;
import java.util.BitSet;
import java.util.List;

/** SELECT INTO that may find no row, with no handler for that and no look at what came of it. */
public final class MaybeNoRow implements Advice.Rule {
    @Override
    public String name() {
        return "maybe-no-row";
    }

    @Override
    public void look(Subject subject, List<Problem> advice) {
        BoundRoutine routine = subject.routine();
        boolean handled =
                routine.asksDiagnostics() || UncheckedWrite.hasNotFoundHandler(routine.body());
        if (handled) {
            return;
        }
        BitSet tested = new BitSet();
        for (BoundExpression e : subject.expressions()) {
            if (e instanceof BoundExpression.IsNull test
                    && test.operand() instanceof BoundExpression.Read read) {
                tested.set(read.variable().slot());
            }
        }
        subject.statements()
                .forEach(
                        s -> {
                            if (s instanceof BoundStatement.SelectInto fill
                                    && fill.select()
                                    && RowFacts.exactlyOne(fill.query(), subject.catalog()).isNo()
                                    && !Inserted.givesRows(fill.query())
                                    && fill.targets().stream()
                                            .noneMatch(t -> tested.get(t.variable().slot()))) {
                                advice.add(
                                        Problem.advice(
                                                fill.query().span(),
                                                name(),
                                                "where no row is found, "
                                                        + fill.targets().get(0).variable().name()
                                                        + " keeps what it held before",
                                                "declare a handler for NOT FOUND, or test it with IS NULL"));
                            }
                        });
    }
}
