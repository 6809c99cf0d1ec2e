package dev.cantina.advice;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.Variable;
import dev.cantina.binding.Walker;
import dev.cantina.syntax.Declaration.HandledKind;
import dev.cantina.syntax.Declaration.HandlerAction;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Span;
import java.util.BitSet;
import java.util.List;

/**
 * Variables used after a FETCH that may have found nothing: what they hold then is the row before,
 * which is worked on twice.
 */
final class StaleFetch implements Advice.Rule {
    @Override
    public String name() {
        return "stale-fetch";
    }

    @Override
    public void look(Subject subject, List<Problem> advice) {
        BoundRoutine routine = subject.routine();
        Handling handling = new Handling(routine.body());
        if (handling.leaves) {
            return;
        }
        List<BoundRoutine.Place> places = routine.places();
        // What is said of one FETCH of a cursor need not be said of its others.
        BitSet told = new BitSet();
        subject.statements()
                .forEach(
                        s -> {
                            for (List<BoundStatement> row : s.rows()) {
                                inRow(row, handling, places, told, advice);
                            }
                        });
    }

    /** What the handlers for NOT FOUND do: the variables that they set, and whether one leaves. */
    private static final class Handling {
        final BitSet set = new BitSet();
        boolean leaves;

        Handling(BoundStatement body) {
            Walker.statements(
                    body,
                    s -> {
                        if (s instanceof BoundStatement.Block block) {
                            block.handlers().stream()
                                    .filter(Handling::takesNotFound)
                                    .forEach(this::note);
                        }
                    });
        }

        private static boolean takesNotFound(BoundStatement.Handler handler) {
            return handler.conditions().stream()
                    .anyMatch(
                            c ->
                                    c.kind() == HandledKind.NOT_FOUND
                                            || c.sqlstate().startsWith("02"));
        }

        private void note(BoundStatement.Handler handler) {
            leaves |= handler.action() != HandlerAction.CONTINUE;
            Walker.statements(
                    handler.body(),
                    s -> {
                        set.or(Walker.assigned(s));
                        leaves |=
                                s instanceof BoundStatement.Leave
                                        || s instanceof BoundStatement.Return
                                        || s instanceof BoundStatement.Signal;
                    });
        }
    }

    private void inRow(
            List<BoundStatement> row,
            Handling handling,
            List<BoundRoutine.Place> places,
            BitSet told,
            List<Problem> advice) {
        for (int i = 0; i < row.size(); i++) {
            if (row.get(i) instanceof BoundStatement.Fetch fetch
                    && !told.get(fetch.cursor().slot())) {
                int before = advice.size();
                Span place = places.get(fetch.at()).span();
                after(row.subList(i + 1, row.size()), fetch, handling, place, advice);
                told.set(fetch.cursor().slot(), advice.size() > before);
            }
        }
    }

    private void after(
            List<BoundStatement> rest,
            BoundStatement.Fetch fetch,
            Handling handling,
            Span place,
            List<Problem> advice) {
        BitSet fetched = Walker.assigned(fetch);
        for (BoundStatement s : rest) {
            boolean looks =
                    s instanceof BoundStatement.GetDiagnostics
                            || reads(s, handling.set)
                            || tests(s, fetched);
            if (looks || s instanceof BoundStatement.Fetch) {
                return;
            }
            boolean[] used = {false};
            Walker.statements(s, inner -> used[0] |= reads(inner, fetched));
            if (used[0]) {
                advice.add(
                        Problem.advice(
                                place,
                                name(),
                                "after a FETCH that finds no row, "
                                        + fetchedName(fetch).name()
                                        + " still holds the row before, and it is used without a look",
                                "ask first whether a row was found: a handler for NOT FOUND that sets"
                                        + " a variable, and IF on it"));
                return;
            }
            fetched.andNot(Walker.assigned(s));
        }
    }

    private static Variable fetchedName(BoundStatement.Fetch fetch) {
        return fetch.targets().get(0).variable();
    }

    private static boolean reads(BoundStatement s, BitSet slots) {
        boolean[] found = {false};
        Walker.expressions(
                s,
                e ->
                        found[0] |=
                                e instanceof BoundExpression.Read read
                                        && slots.get(read.variable().slot()));
        return found[0];
    }

    /**
     * A look whether a fetched variable is NULL says that no row was found, where it was before.
     */
    private static boolean tests(BoundStatement s, BitSet slots) {
        boolean[] found = {false};
        if (s instanceof BoundStatement.If) {
            Walker.expressions(
                    s,
                    e ->
                            found[0] |=
                                    e instanceof BoundExpression.IsNull test
                                            && test.operand() instanceof BoundExpression.Read read
                                            && slots.get(read.variable().slot()));
        }
        return found[0];
    }
}
