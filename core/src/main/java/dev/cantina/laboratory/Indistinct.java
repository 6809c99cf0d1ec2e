package dev.cantina.laboratory;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.Completion;
import dev.cantina.binding.Variable;
import dev.cantina.binding.Walker;
import dev.cantina.syntax.Span;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * Shows of some mistakes that no run can tell them from what is right: what stands behind a
 * statement that never goes on, what is given to a variable that nothing reads, and first values
 * that are replaced before anything reads them. Of all others nothing is said.
 */
final class Indistinct {
    private final BoundRoutine routine;
    private final List<Span> unreachable = new ArrayList<>();
    private final List<BoundStatement> statements = new ArrayList<>();

    Indistinct(BoundRoutine routine) {
        this.routine = routine;
        Walker.statements(routine.body(), statements::add);
        Completion completion = new Completion(routine.body());
        for (BoundStatement s : statements) {
            for (List<BoundStatement> row : s.rows()) {
                boolean reached = true;
                for (BoundStatement one : row) {
                    if (!reached) {
                        unreachable.add(span(one));
                    }
                    reached &= completion.canComplete(one);
                }
            }
        }
    }

    private Span span(BoundStatement s) {
        return routine.places().get(s.at()).span();
    }

    private static boolean holds(Span outer, Span inner) {
        return outer.start() <= inner.start() && inner.end() <= outer.end();
    }

    /** Why a mistake can't be told from what is right; empty where nothing can be said. */
    Optional<String> why(Mutation mutation) {
        if (unreachable.stream().anyMatch(s -> holds(s, mutation.span()))) {
            return Optional.of("nothing reaches it");
        }
        boolean hasCursors =
                statements.stream()
                        .anyMatch(
                                s -> s instanceof BoundStatement.Block b && !b.cursors().isEmpty());
        boolean changesLength =
                mutation.kind() == Mutation.Kind.CONSTANT
                        && mutation.text().length() != mutation.span().text().length();
        if (hasCursors || changesLength) {
            // The query of a cursor reads variables too; and what is longer may not fit.
            return Optional.empty();
        }
        for (BoundStatement s : statements) {
            if (s instanceof BoundStatement.Assign assign
                    && assign.assignments().size() == 1
                    && holds(span(s), mutation.span())
                    && isPlain(assign.assignments().get(0).value())) {
                return assigned(assign.assignments().get(0).target())
                        .filter(v -> !isRead(v, statements))
                        .map(v -> "nothing reads " + v.name());
            }
            if (s instanceof BoundStatement.Block block) {
                Optional<String> first = replaced(block, mutation);
                if (first.isPresent()) {
                    return first;
                }
            }
        }
        return Optional.empty();
    }

    private static Optional<Variable> assigned(BoundStatement.Target target) {
        return target instanceof BoundStatement.Target.Whole whole
                        && whole.variable().kind() == Variable.Kind.LOCAL
                ? Optional.of(whole.variable())
                : Optional.empty();
    }

    /** Whether a value can't fail. */
    private static boolean isPlain(BoundExpression value) {
        return value instanceof BoundExpression.Constant || value instanceof BoundExpression.Read;
    }

    private static boolean isRead(Variable variable, List<BoundStatement> in) {
        boolean[] read = {false};
        for (BoundStatement s : in) {
            Walker.expressions(
                    s,
                    e ->
                            read[0] |=
                                    e instanceof BoundExpression.Read r
                                            && r.variable().slot() == variable.slot());
        }
        return read[0];
    }

    private static List<BoundStatement> all(BoundStatement statement) {
        List<BoundStatement> all = new ArrayList<>();
        Walker.statements(statement, all::add);
        return all;
    }

    /** A first value that a statement of the same block replaces before anything reads it. */
    private Optional<String> replaced(BoundStatement.Block block, Mutation mutation) {
        if (mutation.kind() != Mutation.Kind.CONSTANT || !block.handlers().isEmpty()) {
            return Optional.empty();
        }
        for (BoundStatement initial : block.initial()) {
            boolean isIt =
                    initial instanceof BoundStatement.Assign a
                            && a.assignments().size() == 1
                            && a.assignments().get(0).value() instanceof BoundExpression.Constant c
                            && holds(c.span(), mutation.span());
            if (!isIt) {
                continue;
            }
            Optional<Variable> variable =
                    assigned(((BoundStatement.Assign) initial).assignments().get(0).target());
            boolean early =
                    variable.isEmpty()
                            || block.initial().stream()
                                    .anyMatch(i -> isRead(variable.get(), all(i)))
                            || handlersOutside(block);
            if (early) {
                return Optional.empty();
            }
            for (BoundStatement s : block.statements()) {
                if (isRead(variable.get(), all(s))) {
                    return Optional.empty();
                }
                if (s instanceof BoundStatement.Assign a
                        && a.assignments().stream()
                                .anyMatch(
                                        one ->
                                                assigned(one.target())
                                                        .filter(v -> v == variable.get())
                                                        .isPresent())) {
                    return Optional.of(
                            variable.get().name() + " gets another value before it is read");
                }
            }
        }
        return Optional.empty();
    }

    /** Whether a handler around it may read what its variables hold. */
    private boolean handlersOutside(BoundStatement.Block block) {
        return statements.stream()
                .anyMatch(
                        s ->
                                s instanceof BoundStatement.Block outer
                                        && outer != block
                                        && !outer.handlers().isEmpty());
    }
}
