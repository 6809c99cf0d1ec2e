package dev.cantina.advice;

import dev.cantina.binding.BoundSql;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.Walker;
import dev.cantina.catalog.Catalog;
import dev.cantina.facts.RowFacts;
import dev.cantina.syntax.Declaration.HandledKind;
import dev.cantina.syntax.Declaration.HandlerAction;
import dev.cantina.syntax.Problem;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Consumer;

/** A NOT FOUND handler for a cursor that a change or a SELECT INTO in its reach sets off too. */
final class WideNotFound implements Advice.Rule {
    @Override
    public String name() {
        return "wide-not-found";
    }

    @Override
    public void look(Subject subject, List<Problem> advice) {
        subject.statements()
                .forEach(
                        s -> {
                            if (s instanceof BoundStatement.Block block) {
                                look(block, subject.catalog(), advice);
                            }
                        });
    }

    private void look(BoundStatement.Block block, Catalog catalog, List<Problem> advice) {
        boolean handles =
                block.handlers().stream()
                        .filter(h -> h.action() == HandlerAction.CONTINUE)
                        .flatMap(h -> h.conditions().stream())
                        .anyMatch(c -> c.kind() == HandledKind.NOT_FOUND);
        boolean[] fetches = {false};
        List<BoundStatement> others = new ArrayList<>();
        for (BoundStatement inner : block.statements()) {
            reach(
                    inner,
                    s -> {
                        fetches[0] |= s instanceof BoundStatement.Fetch;
                        if (s instanceof BoundStatement.SelectInto fill && fill.select()
                                || s instanceof BoundStatement.Execute execute
                                        && execute.sql().changesRows()
                                        && !execute.sql().verb().equals("INSERT")) {
                            others.add(s);
                        }
                    });
        }
        if (!handles || !fetches[0]) {
            return;
        }
        for (BoundStatement other : others) {
            BoundSql sql = Walker.sql(other).orElseThrow();
            if (other instanceof BoundStatement.SelectInto
                    && !RowFacts.exactlyOne(sql, catalog).isNo()) {
                continue;
            }
            advice.add(
                    Problem.advice(
                            sql.span(),
                            name(),
                            "where this finds no row, the handler for the cursor's end runs",
                            "put it into a block of its own with a handler for NOT FOUND"));
        }
    }

    /** The statements that the handlers of a block guard: not those of a block with its own. */
    private static void reach(BoundStatement s, Consumer<BoundStatement> visitor) {
        boolean own =
                s instanceof BoundStatement.Block block
                        && block.handlers().stream()
                                .flatMap(h -> h.conditions().stream())
                                .anyMatch(c -> c.kind() == HandledKind.NOT_FOUND);
        if (own) {
            return;
        }
        visitor.accept(s);
        Walker.children(s).forEach(child -> reach(child, visitor));
    }
}
