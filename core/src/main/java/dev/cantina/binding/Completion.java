package dev.cantina.binding;

import dev.cantina.syntax.Declaration.HandlerAction;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;

/** Whether control can reach the end of a statement, in the body that it stands in. */
public final class Completion {
    /** The numbers of SIGNAL and RESIGNAL statements after which control goes on. */
    private final BitSet resumed = new BitSet();

    public Completion(BoundStatement body) {
        Walker.statements(
                body,
                s -> {
                    if (s instanceof BoundStatement.Signal signal && isCompletion(signal)) {
                        resumed.set(signal.at());
                    }
                    if (s instanceof BoundStatement.Block block) {
                        block.handlers().stream()
                                .filter(h -> h.action() == HandlerAction.CONTINUE)
                                .forEach(h -> goesOn(block, h));
                    }
                });
    }

    /** A warning, or not found: with no handler the statement behind it is next. */
    private static boolean isCompletion(BoundStatement.Signal signal) {
        return signal.sqlstate()
                .filter(state -> state.startsWith("01") || state.startsWith("02"))
                .isPresent();
    }

    /** After what a CONTINUE handler may take control goes on. */
    private void goesOn(BoundStatement.Block block, BoundStatement.Handler handler) {
        for (BoundStatement s : block.statements()) {
            Walker.statements(
                    s,
                    inner -> {
                        if (inner instanceof BoundStatement.Signal signal
                                && handler.conditions().stream().anyMatch(c -> takes(c, signal))) {
                            resumed.set(signal.at());
                        }
                    });
        }
    }

    private static boolean takes(BoundStatement.Handled handled, BoundStatement.Signal signal) {
        Optional<String> state = signal.sqlstate();
        if (state.isEmpty()) {
            // RESIGNAL passes on what only the run knows.
            return true;
        }
        return switch (handled.kind()) {
            case SQLEXCEPTION -> !isCompletion(signal);
            case SQLSTATE -> handled.sqlstate().equals(state.get());
            case NAMED ->
                    handled.sqlstate().equals(state.get())
                            || signal.conditionName().filter(handled.name()::equals).isPresent();
            default -> false;
        };
    }

    public boolean canComplete(BoundStatement s) {
        if (s instanceof BoundStatement.Signal signal) {
            return resumed.get(signal.at());
        }
        if (s instanceof BoundStatement.Return
                || s instanceof BoundStatement.ReturnTable
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

    boolean canComplete(List<BoundStatement> statements) {
        for (BoundStatement statement : statements) {
            if (!canComplete(statement)) {
                return false;
            }
        }
        return true;
    }

    private boolean branches(
            List<BoundStatement.Branch> branches,
            Optional<List<BoundStatement>> otherwise,
            boolean withoutElse) {
        boolean any = otherwise.map(this::canComplete).orElse(withoutElse);
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

    /** Whether a body has a RETURN at all, as each function must (ISO 9075-4, 15.1). */
    static boolean returns(BoundStatement body) {
        boolean[] found = {false};
        Walker.statements(
                body,
                s ->
                        found[0] |=
                                s instanceof BoundStatement.Return
                                        || s instanceof BoundStatement.ReturnTable);
        return found[0];
    }
}
