package dev.cantina.advice;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundSql;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.Walker;
import dev.cantina.syntax.Declaration.HandledKind;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Statement.TransactionVerb;
import java.util.List;

/** A COMMIT after an UPDATE or DELETE whose number of rows nobody looked at. */
final class UncheckedWrite implements Advice.Rule {
    @Override
    public String name() {
        return "unchecked-write";
    }

    @Override
    public void look(Subject subject, List<Problem> advice) {
        BoundRoutine routine = subject.routine();
        boolean handled = hasNotFoundHandler(routine.body());
        subject.statements()
                .forEach(
                        s -> {
                            if (s instanceof BoundStatement.Block block && !handled) {
                                inRow(block.statements(), advice);
                            }
                        });
    }

    private void inRow(List<BoundStatement> statements, List<Problem> advice) {
        BoundSql open = null;
        for (BoundStatement s : statements) {
            if (s instanceof BoundStatement.Execute change
                    && (change.sql().verb().equals("UPDATE")
                            || change.sql().verb().equals("DELETE"))) {
                open = change.sql();
            } else if (s instanceof BoundStatement.GetDiagnostics) {
                open = null;
            } else if (open != null
                    && s instanceof BoundStatement.Transaction end
                    && end.verb() == TransactionVerb.COMMIT) {
                advice.add(
                        Problem.advice(
                                open.span(),
                                name(),
                                "this is committed whether or not it touched a row",
                                "look first: GET DIAGNOSTICS n = ROW_COUNT, or a handler for NOT FOUND"));
                open = null;
            }
        }
    }

    static boolean hasNotFoundHandler(BoundStatement body) {
        return Walker.handles(
                body, c -> c.kind() == HandledKind.NOT_FOUND || c.sqlstate().startsWith("02"));
    }
}
