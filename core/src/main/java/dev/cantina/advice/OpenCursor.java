package dev.cantina.advice;

import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.CursorSymbol;
import dev.cantina.binding.Walker;
import dev.cantina.syntax.Problem;
import java.util.List;

/** A cursor that is opened, and on no path closed. */
final class OpenCursor implements Advice.Rule {
    @Override
    public String name() {
        return "open-cursor";
    }

    @Override
    public void look(Subject subject, List<Problem> advice) {
        subject.statements()
                .forEach(
                        s -> {
                            if (s instanceof BoundStatement.Block block) {
                                block.cursors().stream()
                                        .filter(c -> !c.returned())
                                        .filter(c -> opens(block, c) && !closes(block, c))
                                        .forEach(
                                                c ->
                                                        advice.add(
                                                                Problem.advice(
                                                                        c.span(),
                                                                        name(),
                                                                        "cursor "
                                                                                + c.name()
                                                                                + " is opened and never closed",
                                                                        "CLOSE "
                                                                                + c.name()
                                                                                + " when its rows are read")));
                            }
                        });
    }

    private static boolean opens(BoundStatement block, CursorSymbol cursor) {
        boolean[] found = {false};
        Walker.statements(
                block, s -> found[0] |= s instanceof BoundStatement.Open o && o.cursor() == cursor);
        return found[0];
    }

    private static boolean closes(BoundStatement block, CursorSymbol cursor) {
        boolean[] found = {false};
        Walker.statements(
                block,
                s -> found[0] |= s instanceof BoundStatement.Close c && c.cursor() == cursor);
        return found[0];
    }
}
