package dev.cantina.advice;

import dev.cantina.binding.BoundExpression;
import dev.cantina.syntax.Problem;
import java.util.List;

/** {@code = NULL}: unknown, whatever stands on the other side. */
final class NullComparison implements Advice.Rule {
    @Override
    public String name() {
        return "null-comparison";
    }

    @Override
    public void look(Subject subject, List<Problem> advice) {
        for (BoundExpression e : subject.expressions()) {
            if (e instanceof BoundExpression.Compare compare
                    && (isNull(compare.left()) || isNull(compare.right()))) {
                advice.add(
                        Problem.advice(
                                e.span(),
                                name(),
                                "a comparison with NULL is never true",
                                "write IS NULL or IS NOT NULL"));
            }
        }
    }

    private static boolean isNull(BoundExpression e) {
        return e instanceof BoundExpression.Constant constant
                && constant.value() == null
                && e.span().text().equalsIgnoreCase("NULL");
    }
}
