package dev.cantina.advice;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.Variable;
import dev.cantina.binding.Walker;
import dev.cantina.syntax.Problem;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;

/** Dynamic SQL whose text is put together from a text that somebody passed in. */
final class ConcatenatedSql implements Advice.Rule {
    @Override
    public String name() {
        return "concatenated-sql";
    }

    @Override
    public void look(Subject subject, List<Problem> advice) {
        List<BoundExpression> texts = new ArrayList<>();
        for (BoundStatement s : subject.statements()) {
            if (s instanceof BoundStatement.Prepare prepare) {
                texts.add(prepare.text());
            } else if (s instanceof BoundStatement.ExecuteDynamic perform) {
                perform.text().ifPresent(texts::add);
            }
        }
        if (texts.isEmpty()) {
            return;
        }
        BitSet tainted = tainted(subject);
        for (BoundExpression text : texts) {
            if (reads(text, tainted)) {
                advice.add(
                        Problem.advice(
                                text.span(),
                                name(),
                                "a text that was passed in becomes part of a statement",
                                "pass values with ? and USING; check a name against a list before it goes in"));
            }
        }
    }

    /** The text parameters, and the variables that take something of them. */
    private static BitSet tainted(Subject subject) {
        BitSet tainted = new BitSet();
        for (Variable parameter : subject.routine().parameters()) {
            if (parameter.type() instanceof SqlType.Text && parameter.kind().isParameter()) {
                tainted.set(parameter.slot());
            }
        }
        int before = -1;
        while (before != tainted.cardinality()) {
            before = tainted.cardinality();
            subject.statements()
                    .forEach(
                            s -> {
                                if (s instanceof BoundStatement.Assign assign) {
                                    assign.assignments().stream()
                                            .filter(a -> reads(a.value(), tainted))
                                            .forEach(
                                                    a -> tainted.set(a.target().variable().slot()));
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
