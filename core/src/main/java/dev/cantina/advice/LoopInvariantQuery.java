package dev.cantina.advice;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundSql;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.Walker;
import dev.cantina.syntax.Problem;
import java.util.BitSet;
import java.util.HashSet;
import java.util.List;
import java.util.Set;

/** A query inside a loop that depends on nothing the loop changes. */
final class LoopInvariantQuery implements Advice.Rule {
    @Override
    public String name() {
        return "loop-invariant-query";
    }

    @Override
    public void look(Subject subject, List<Problem> advice) {
        subject.statements()
                .forEach(
                        s -> {
                            boolean loop =
                                    s instanceof BoundStatement.While
                                            || s instanceof BoundStatement.Repeat
                                            || s instanceof BoundStatement.For;
                            if (loop) {
                                look(s, advice);
                            }
                        });
    }

    private void look(BoundStatement loop, List<Problem> advice) {
        BitSet changed = new BitSet();
        Set<String> written = new HashSet<>();
        boolean[] opaque = {false};
        if (loop instanceof BoundStatement.For row) {
            changed.set(row.row().slot());
        }
        Walker.statements(
                loop,
                s -> {
                    changed.or(Walker.assigned(s));
                    Walker.sql(s)
                            .filter(BoundSql::changes)
                            .ifPresent(q -> written.addAll(q.tables()));
                    opaque[0] |=
                            s instanceof BoundStatement.Call
                                    || s instanceof BoundStatement.ExecuteDynamic;
                });
        if (opaque[0]) {
            return;
        }
        Walker.children(loop)
                .forEach(
                        child ->
                                Walker.statements(
                                        child,
                                        s -> {
                                            if (s instanceof BoundStatement.SelectInto fill) {
                                                judge(fill.query(), changed, written, advice);
                                            }
                                        }));
    }

    private void judge(BoundSql query, BitSet changed, Set<String> written, List<Problem> advice) {
        boolean[] depends = {
            query.tables().isEmpty() || query.tables().stream().anyMatch(written::contains)
        };
        for (BoundExpression parameter : query.parameters()) {
            Walker.expressions(
                    parameter,
                    e ->
                            depends[0] |=
                                    e instanceof BoundExpression.Read read
                                                    && changed.get(read.variable().slot())
                                            || e instanceof BoundExpression.Invoke
                                            || e instanceof BoundExpression.CurrentDatetime);
        }
        boolean known =
                advice.stream()
                        .anyMatch(p -> p.span().equals(query.span()) && p.rule().equals(name()));
        if (!depends[0] && !known) {
            advice.add(
                    Problem.advice(
                            query.span(),
                            name(),
                            "this query gives the same in every turn of the loop",
                            "ask once, before the loop"));
        }
    }
}
