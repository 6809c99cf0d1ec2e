package dev.cantina.advice;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.Variable;
import dev.cantina.binding.Walker;
import dev.cantina.catalog.Catalog;
import dev.cantina.facts.ColumnUse;
import dev.cantina.syntax.Declaration.HandledKind;
import dev.cantina.syntax.Problem;
import java.util.BitSet;
import java.util.List;

/**
 * A parameter stored in a NOT NULL column, or used as the key of a change that nobody looks at,
 * with no test for NULL before.
 */
final class UncheckedParameter implements Advice.Rule {
    @Override
    public String name() {
        return "unchecked-parameter";
    }

    @Override
    public void look(Subject subject, List<Problem> advice) {
        BoundRoutine routine = subject.routine();
        Catalog catalog = subject.catalog();
        if (routine.parameters().stream().noneMatch(UncheckedParameter::isTaken)) {
            return;
        }
        BitSet looked = tested(subject);
        looked.or(found(subject));
        boolean counted =
                routine.asksDiagnostics() || UncheckedWrite.hasNotFoundHandler(routine.body());
        boolean handled = handlesExceptions(routine.body());
        BitSet told = new BitSet();
        subject.statements()
                .forEach(
                        s -> {
                            if (!(s instanceof BoundStatement.Execute change)) {
                                return;
                            }
                            for (ColumnUse use : subject.uses(change.sql())) {
                                Variable variable = use.variable().orElse(null);
                                if (variable == null
                                        || !isTaken(variable)
                                        || looked.get(variable.slot())
                                        || told.get(variable.slot())) {
                                    continue;
                                }
                                boolean refused = use.stored() && isRequired(use) && !handled;
                                boolean missed = !use.stored() && use.isKey() && !counted;
                                if (refused || missed) {
                                    told.set(variable.slot());
                                    advice.add(problem(use, variable, refused));
                                }
                            }
                        });
    }

    private Problem problem(ColumnUse use, Variable variable, boolean refused) {
        return Problem.advice(
                use.value().span(),
                name(),
                refused
                        ? variable.name()
                                + " may be NULL, and column "
                                + use.column().name()
                                + " takes none: that is 23502, which says little to a caller"
                        : "where "
                                + variable.name()
                                + " is NULL, this touches no row and says nothing",
                "test it first: IF " + variable.name() + " IS NULL THEN SIGNAL …");
    }

    private static boolean isTaken(Variable variable) {
        return variable.kind() == Variable.Kind.IN || variable.kind() == Variable.Kind.INOUT;
    }

    private static boolean isRequired(ColumnUse use) {
        boolean numbered = use.column().identity() || use.column().generated();
        return !use.column().nullable() && !numbered;
    }

    /** The variables that some condition looks at, or that are given another value. */
    private static BitSet tested(Subject subject) {
        BitSet slots = new BitSet();
        slots.or(subject.assigned());
        for (BoundExpression e : subject.expressions()) {
            BoundExpression operand = null;
            if (e instanceof BoundExpression.IsNull test) {
                operand = test.operand();
            } else if (e instanceof BoundExpression.Let let) {
                operand = let.value();
            }
            if (operand != null) {
                Walker.expressions(operand, part -> noteRead(part, slots));
            }
        }
        return slots;
    }

    private static void noteRead(BoundExpression e, BitSet slots) {
        if (e instanceof BoundExpression.Read read) {
            slots.set(read.variable().slot());
        }
    }

    /** The variables that a query was asked for whose answer is looked at. */
    private static BitSet found(Subject subject) {
        BoundRoutine routine = subject.routine();
        boolean counted =
                routine.asksDiagnostics() || UncheckedWrite.hasNotFoundHandler(routine.body());
        BitSet conditions = new BitSet();
        subject.statements()
                .forEach(
                        s -> {
                            if (s instanceof BoundStatement.If
                                    || s instanceof BoundStatement.Case) {
                                Walker.expressions(s, e -> noteRead(e, conditions));
                            }
                        });
        BitSet slots = new BitSet();
        subject.statements()
                .forEach(
                        s -> {
                            boolean looked = s instanceof BoundStatement.Execute && counted;
                            if (s instanceof BoundStatement.SelectInto fill) {
                                looked =
                                        counted
                                                || fill.targets().stream()
                                                        .anyMatch(
                                                                t ->
                                                                        conditions.get(
                                                                                t.variable()
                                                                                        .slot()));
                            }
                            if (looked) {
                                Walker.sql(s).map(subject::uses).orElse(List.of()).stream()
                                        .filter(use -> !use.stored())
                                        .flatMap(use -> use.variable().stream())
                                        .forEach(v -> slots.set(v.slot()));
                            }
                        });
        return slots;
    }

    private static boolean handlesExceptions(BoundStatement body) {
        return Walker.handles(
                body, c -> c.kind() == HandledKind.SQLEXCEPTION || c.sqlstate().startsWith("23"));
    }
}
