package dev.cantina.runtime;

import dev.cantina.binding.BoundStatement;
import dev.cantina.syntax.Declaration.HandledKind;
import dev.cantina.syntax.Declaration.HandlerAction;
import dev.cantina.types.Condition;
import java.util.ArrayList;
import java.util.List;

/**
 * The handlers that guard a stretch of code: a list for each block that has some, the innermost
 * block first.
 */
public record HandlerTable(List<List<Entry>> blocks) {
    /**
     * A handler.
     *
     * @param left the ATOMIC blocks between the place and the block that declares it
     */
    record Entry(
            int number, HandlerAction action, List<BoundStatement.Handled> conditions, Left left) {}

    /**
     * The ATOMIC blocks that are left on a way out. A handler's body stands outside of some that
     * are open still where it runs: which ones, only the run can tell.
     *
     * @param mark of the outermost of them in the text, or -1
     * @param handlers whose bodies are left after that, the outermost last
     */
    record Left(int mark, List<Integer> handlers) {
        static final Left NOTHING = atomic(-1);

        static Left atomic(int mark) {
            return new Left(mark, List.of());
        }

        Left byHandler(int handler) {
            List<Integer> all = new ArrayList<>(handlers);
            all.add(handler);
            return new Left(mark, List.copyOf(all));
        }

        /** The mark of the outermost that is open in a frame, or -1. */
        int outermost(Frame frame) {
            for (int i = handlers.size() - 1; i >= 0; i--) {
                int open = frame.open(handlers.get(i));
                if (open >= 0) {
                    return open;
                }
            }
            return mark;
        }
    }

    /** The innermost block that has a fitting handler wins; within it the most specific one. */
    Entry choose(Condition condition) {
        for (List<Entry> block : blocks) {
            Entry best = null;
            int bestFit = 0;
            for (Entry entry : block) {
                for (BoundStatement.Handled handled : entry.conditions()) {
                    int fit = fit(handled, condition);
                    if (fit > bestFit) {
                        best = entry;
                        bestFit = fit;
                    }
                }
            }
            if (best != null) {
                return best;
            }
        }
        return null;
    }

    private static int fit(BoundStatement.Handled handled, Condition condition) {
        return switch (handled.kind()) {
            case SQLSTATE -> handled.sqlstate().equals(condition.sqlstate()) ? 2 : 0;
            case NAMED ->
                    handled.sqlstate().isEmpty()
                            ? condition
                                            .item("CONDITION_IDENTIFIER")
                                            .filter(handled.name()::equals)
                                            .isPresent()
                                    ? 3
                                    : 0
                            : handled.sqlstate().equals(condition.sqlstate()) ? 2 : 0;
            case SQLEXCEPTION -> condition.isException() ? 1 : 0;
            case SQLWARNING -> condition.isWarning() ? 1 : 0;
            case NOT_FOUND -> condition.isNotFound() ? 1 : 0;
        };
    }

    /** Whether a condition of class 01 or 02 can find a handler here. */
    boolean takesCompletions() {
        return blocks.stream()
                .flatMap(List::stream)
                .flatMap(entry -> entry.conditions().stream())
                .anyMatch(
                        handled ->
                                handled.kind() == HandledKind.NOT_FOUND
                                        || handled.kind() == HandledKind.SQLWARNING
                                        || handled.sqlstate().startsWith("01")
                                        || handled.sqlstate().startsWith("02"));
    }
}
