package dev.cantina.check;

import dev.cantina.catalog.Catalog;
import dev.cantina.syntax.Problem;
import dev.cantina.types.SqlType;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;

/** Dynamic SQL whose text is put together from a text that somebody passed in. */
final class ConcatenatedSql implements Advice.Rule {
    @Override
    public String name() {
        return "concatenated-sql";
    }

    @Override
    public void look(BoundRoutine routine, Catalog catalog, List<Problem> advice) {
        BitSet tainted = tainted(routine);
        Walker.statements(
                routine.body(),
                s -> {
                    Optional<BoundExpression> text = Optional.empty();
                    if (s instanceof BoundStatement.Prepare prepare) {
                        text = Optional.of(prepare.text());
                    } else if (s instanceof BoundStatement.Perform perform) {
                        text = perform.text();
                    }
                    text.filter(t -> reads(t, tainted))
                            .ifPresent(
                                    t ->
                                            advice.add(
                                                    Problem.advice(
                                                            t.span(),
                                                            name(),
                                                            "a text that was passed in becomes part of a statement",
                                                            "pass values with ? and USING; check a name against a list before it goes in")));
                });
    }

    /** The text parameters, and the variables that take something of them. */
    private static BitSet tainted(BoundRoutine routine) {
        BitSet tainted = new BitSet();
        for (Variable parameter : routine.parameters()) {
            if (parameter.type() instanceof SqlType.Text && parameter.kind().isParameter()) {
                tainted.set(parameter.slot());
            }
        }
        int before = -1;
        while (before != tainted.cardinality()) {
            before = tainted.cardinality();
            Walker.statements(
                    routine.body(),
                    s -> {
                        if (s instanceof BoundStatement.Assign assign) {
                            assign.assignments().stream()
                                    .filter(a -> reads(a.value(), tainted))
                                    .forEach(a -> tainted.set(a.target().variable().slot()));
                        }
                    });
        }
        return tainted;
    }

    private static boolean reads(BoundExpression e, BitSet slots) {
        boolean[] found = {false};
        Walker.expressions(
                e,
                part ->
                        found[0] |=
                                part instanceof BoundExpression.Read read
                                        && read.type() instanceof SqlType.Text
                                        && slots.get(read.variable().slot()));
        return found[0];
    }
}
