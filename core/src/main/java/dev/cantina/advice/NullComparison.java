package dev.cantina.advice;

import dev.cantina.binding.BoundExpression;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Span;
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
                Problem problem =
                        Problem.advice(
                                e.span(),
                                name(),
                                "a comparison with NULL is never true",
                                "write IS NULL or IS NOT NULL");
                advice.add(edited(problem, compare));
            }
        }
    }

    private static Problem edited(Problem problem, BoundExpression.Compare compare) {
        Span other = isNull(compare.left()) ? compare.right().span() : compare.left().span();
        return switch (compare.operator()) {
            case EQUAL -> problem.with(compare.span(), other.text() + " IS NULL");
            case NOT_EQUAL -> problem.with(compare.span(), other.text() + " IS NOT NULL");
            default -> problem;
        };
    }

    private static boolean isNull(BoundExpression e) {
        return e instanceof BoundExpression.Constant constant
                && constant.value() == null
                && e.span().text().equalsIgnoreCase("NULL");
    }
}
