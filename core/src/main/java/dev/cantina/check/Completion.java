package dev.cantina.check;

import dev.cantina.syntax.Declaration.HandlerAction;
import java.util.List;
import java.util.Optional;

/** Whether control can reach the end of a statement. */
final class Completion {
    private Completion() {}

    static boolean canComplete(BoundStatement s) {
        if (s instanceof BoundStatement.Return
                || s instanceof BoundStatement.ReturnTable
                || s instanceof BoundStatement.Signal
                || s instanceof BoundStatement.Leave
                || s instanceof BoundStatement.Iterate) {
            return false;
        }
        if (s instanceof BoundStatement.Block block) {
            // After a CONTINUE handler it goes on inside; after the others the block is at its end.
            boolean handlers =
                    block.handlers().stream()
                            .anyMatch(
                                    h ->
                                            h.action() != HandlerAction.CONTINUE
                                                    && canComplete(h.body()));
            return canComplete(block.statements())
                    || handlers
                    || leaves(block.statements(), block.target());
        }
        if (s instanceof BoundStatement.If choice) {
            return branches(choice.branches(), choice.otherwise(), true);
        }
        if (s instanceof BoundStatement.Case choice) {
            return branches(choice.branches(), choice.otherwise(), false);
        }
        if (s instanceof BoundStatement.While loop) {
            return loop.condition().isPresent() || leaves(loop.statements(), loop.target());
        }
        if (s instanceof BoundStatement.Repeat loop) {
            return canComplete(loop.statements()) || leaves(loop.statements(), loop.target());
        }
        return true;
    }

    static boolean canComplete(List<BoundStatement> statements) {
        for (BoundStatement statement : statements) {
            if (!canComplete(statement)) {
                return false;
            }
        }
        return true;
    }

    private static boolean branches(
            List<BoundStatement.Branch> branches,
            Optional<List<BoundStatement>> otherwise,
            boolean withoutElse) {
        boolean any = otherwise.map(Completion::canComplete).orElse(withoutElse);
        for (BoundStatement.Branch branch : branches) {
            any |= canComplete(branch.statements());
        }
        return any;
    }

    private static boolean leaves(List<BoundStatement> statements, JumpTarget target) {
        boolean[] found = {false};
        statements.forEach(
                s ->
                        Walker.statements(
                                s,
                                inner ->
                                        found[0] |=
                                                inner instanceof BoundStatement.Leave leave
                                                        && leave.target() == target));
        return found[0];
    }
}
