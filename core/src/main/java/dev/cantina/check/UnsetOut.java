package dev.cantina.check;

import dev.cantina.syntax.Problem;
import java.util.List;

/** An OUT parameter that some path to the end leaves unset. */
final class UnsetOut implements Advice.Rule {
    @Override
    public String name() {
        return "unset-out";
    }

    @Override
    public void look(Subject subject, List<Problem> advice) {
        BoundRoutine routine = subject.routine();
        for (Variable parameter : routine.parameters()) {
            if (parameter.kind() != Variable.Kind.OUT) {
                continue;
            }
            boolean[] open = {false};
            boolean falls = walk(routine.body(), parameter, false, open);
            if (falls || open[0]) {
                advice.add(
                        Problem.advice(
                                parameter.span(),
                                name(),
                                "some path leaves OUT parameter "
                                        + parameter.name()
                                        + " unset, so NULL",
                                "set it first: SET " + parameter.name() + " = …"));
            }
        }
    }

    /**
     * Follows the paths through a statement.
     *
     * @param set whether the parameter is set where the statement begins
     * @param open gets true where a RETURN is reached without it
     * @return whether the end is reached with the parameter unset
     */
    private static boolean walk(BoundStatement s, Variable parameter, boolean set, boolean[] open) {
        if (s instanceof BoundStatement.Block block) {
            boolean unset = walk(block.statements(), parameter, set, open);
            for (BoundStatement.Handler handler : block.handlers()) {
                boolean exits =
                        handler.action() != dev.cantina.syntax.Declaration.HandlerAction.CONTINUE;
                boolean reaches = walk(handler.body(), parameter, set, open);
                unset |= exits && reaches && !setsBefore(block, parameter);
            }
            return unset;
        }
        if (s instanceof BoundStatement.If choice) {
            boolean unset =
                    choice.otherwise().map(list -> walk(list, parameter, set, open)).orElse(!set);
            for (BoundStatement.Branch branch : choice.branches()) {
                unset |= walk(branch.statements(), parameter, set, open);
            }
            return unset;
        }
        if (s instanceof BoundStatement.Case choice) {
            boolean unset =
                    choice.otherwise().map(list -> walk(list, parameter, set, open)).orElse(false);
            for (BoundStatement.Branch branch : choice.branches()) {
                unset |= walk(branch.statements(), parameter, set, open);
            }
            return unset;
        }
        if (s instanceof BoundStatement.While loop) {
            boolean after = walk(loop.statements(), parameter, set, open);
            return loop.condition().isPresent() ? !set : after;
        }
        if (s instanceof BoundStatement.Repeat loop) {
            return walk(loop.statements(), parameter, set, open);
        }
        if (s instanceof BoundStatement.For loop) {
            walk(loop.statements(), parameter, set, open);
            return !set;
        }
        if (s instanceof BoundStatement.Return) {
            open[0] |= !set;
            return false;
        }
        if (s instanceof BoundStatement.Signal
                || s instanceof BoundStatement.Leave
                || s instanceof BoundStatement.Iterate) {
            return false;
        }
        return !set && !Walker.assigned(s).get(parameter.slot());
    }

    private static boolean walk(
            List<BoundStatement> statements, Variable parameter, boolean set, boolean[] open) {
        boolean unset = !set;
        for (BoundStatement s : statements) {
            if (!Completion.canComplete(s)) {
                walk(s, parameter, !unset, open);
                return false;
            }
            unset = walk(s, parameter, !unset, open);
        }
        return unset;
    }

    /** Whether the block's first statements set it before anything can fail. */
    private static boolean setsBefore(BoundStatement.Block block, Variable parameter) {
        return !block.statements().isEmpty()
                && Walker.assigned(block.statements().get(0)).get(parameter.slot());
    }
}
