package dev.cantina.translate.mariadb;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.BoundStatement.Handler;
import dev.cantina.binding.JumpTarget;
import dev.cantina.binding.Walker;
import dev.cantina.syntax.Declaration.HandledKind;
import dev.cantina.syntax.Declaration.HandlerAction;
import dev.cantina.translate.Effects;
import java.util.ArrayList;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.UnaryOperator;

/**
 * The ATOMIC blocks in the reach of a CONTINUE handler. Nothing may stand between such a block and
 * that handler which would take its exceptions, so no handler of the block itself goes back to its
 * savepoint: a variable says that the block is open, and whatever leaves it looks at that.
 */
final class MariaAtomics {
    /** The savepoint of each, which is also what its variable is called. */
    private final Map<BoundStatement.Block, String> marks = new IdentityHashMap<>();

    private final List<BoundStatement.Block> order = new ArrayList<>();

    /**
     * @param own makes a name of the routine's own
     */
    MariaAtomics(BoundRoutine routine, Effects effects, UnaryOperator<String> own) {
        Walker.statements(
                routine.body(),
                s -> {
                    if (s instanceof BoundStatement.Block block
                            && block.handlers().stream().anyMatch(MariaAtomics::goesOn)) {
                        find(block, effects, own);
                    }
                });
    }

    private void find(BoundStatement.Block around, Effects effects, UnaryOperator<String> own) {
        Walker.statements(
                around,
                s -> {
                    if (s != around
                            && s instanceof BoundStatement.Block block
                            && block.atomic()
                            && effects.changes(block)
                            && !marks.containsKey(block)) {
                        marks.put(block, own.apply("open_" + (marks.size() + 1)));
                        order.add(block);
                    }
                });
    }

    private static boolean goesOn(Handler handler) {
        return handler.action() == HandlerAction.CONTINUE
                && handler.conditions().stream()
                        .anyMatch(
                                c ->
                                        c.kind() != HandledKind.NOT_FOUND
                                                && c.kind() != HandledKind.SQLWARNING);
    }

    /** The savepoint of a block in the reach of a CONTINUE handler; empty of any other. */
    Optional<String> mark(BoundStatement.Block block) {
        return Optional.ofNullable(marks.get(block));
    }

    /** The declarations of the variables. */
    List<String> declarations() {
        return order.stream()
                .map(block -> "DECLARE " + marks.get(block) + " boolean DEFAULT FALSE")
                .toList();
    }

    /** What a handler does that leaves a block of statements: goes back to what is open in it. */
    List<String> leaving(BoundStatement within) {
        List<String> all = new ArrayList<>();
        List<String> closed = new ArrayList<>();
        StringBuilder back = new StringBuilder();
        for (BoundStatement.Block block : order) {
            if (block != within && MariaBlocks.holds(within, block)) {
                String mark = marks.get(block);
                back.append(back.length() == 0 ? "IF " : " ELSEIF ")
                        .append(mark)
                        .append(" THEN ROLLBACK TO SAVEPOINT ")
                        .append(mark)
                        .append(';');
                closed.add(mark + " = FALSE");
            }
        }
        if (back.length() > 0) {
            all.add(back + " END IF");
            all.add("SET " + String.join(", ", closed));
        }
        return all;
    }

    /** What is to be said before a jump out of blocks that are open. */
    List<String> jumping(List<BoundStatement.Block> open, JumpTarget target) {
        List<String> closed = new ArrayList<>();
        for (BoundStatement.Block block : open) {
            if (marks.containsKey(block) && !holds(block, target)) {
                closed.add(marks.get(block) + " = FALSE");
            }
        }
        return closed.isEmpty() ? List.of() : List.of("SET " + String.join(", ", closed));
    }

    /** Whether the target of a jump is inside a block. */
    private static boolean holds(BoundStatement.Block block, JumpTarget target) {
        boolean[] found = {false};
        Walker.statements(
                block,
                s ->
                        found[0] |=
                                s != block
                                        && (s instanceof BoundStatement.Block x
                                                        && x.target() == target
                                                || s instanceof BoundStatement.While w
                                                        && w.target() == target
                                                || s instanceof BoundStatement.Repeat r
                                                        && r.target() == target
                                                || s instanceof BoundStatement.For f
                                                        && f.target() == target));
        return found[0];
    }
}
