package dev.cantina.advice;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.Completion;
import dev.cantina.binding.Variable;
import dev.cantina.binding.Walker;
import dev.cantina.syntax.Declaration.HandlerAction;
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
            if (new Paths(subject.completion(), parameter).leaveUnset(routine.body())) {
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

    /** The paths through a routine, as one of its OUT parameters sees them. */
    private static final class Paths {
        private final Completion completion;
        private final Variable parameter;

        /** Whether a RETURN is reached without it. */
        private boolean open;

        Paths(Completion completion, Variable parameter) {
            this.completion = completion;
            this.parameter = parameter;
        }

        boolean leaveUnset(BoundStatement body) {
            return walk(body, false) || open;
        }

        /**
         * Follows the paths through a statement.
         *
         * @param set whether the parameter is set where the statement begins
         * @return whether the end is reached with the parameter unset
         */
        private boolean walk(BoundStatement s, boolean set) {
            if (s instanceof BoundStatement.Block block) {
                boolean unset = walk(block.statements(), set);
                for (BoundStatement.Handler handler : block.handlers()) {
                    boolean exits = handler.action() != HandlerAction.CONTINUE;
                    boolean reaches = walk(handler.body(), set);
                    unset |= exits && reaches && !setsBefore(block);
                }
                return unset;
            }
            if (s instanceof BoundStatement.If choice) {
                boolean unset = choice.otherwise().map(list -> walk(list, set)).orElse(!set);
                for (BoundStatement.Branch branch : choice.branches()) {
                    unset |= walk(branch.statements(), set);
                }
                return unset;
            }
            if (s instanceof BoundStatement.Case choice) {
                boolean unset = choice.otherwise().map(list -> walk(list, set)).orElse(false);
                for (BoundStatement.Branch branch : choice.branches()) {
                    unset |= walk(branch.statements(), set);
                }
                return unset;
            }
            if (s instanceof BoundStatement.While loop) {
                boolean after = walk(loop.statements(), set);
                return loop.condition().isPresent() ? !set : after;
            }
            if (s instanceof BoundStatement.Repeat loop) {
                return walk(loop.statements(), set);
            }
            if (s instanceof BoundStatement.For loop) {
                walk(loop.statements(), set);
                return !set;
            }
            if (s instanceof BoundStatement.Return) {
                open |= !set;
                return false;
            }
            if (s instanceof BoundStatement.Signal
                    || s instanceof BoundStatement.Leave
                    || s instanceof BoundStatement.Iterate) {
                return false;
            }
            return !set && !Walker.assigned(s).get(parameter.slot());
        }

        private boolean walk(List<BoundStatement> statements, boolean set) {
            boolean unset = !set;
            for (BoundStatement s : statements) {
                if (!completion.canComplete(s)) {
                    walk(s, !unset);
                    return false;
                }
                unset = walk(s, !unset);
            }
            return unset;
        }

        /** Whether the block's first statements set it before anything can fail. */
        private boolean setsBefore(BoundStatement.Block block) {
            return !block.statements().isEmpty()
                    && Walker.assigned(block.statements().get(0)).get(parameter.slot());
        }
    }
}
