package dev.cantina.advice;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundStatement;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Statement.TransactionVerb;
import java.util.List;

/** A started transaction that some path leaves neither committed nor rolled back. */
final class OpenTransaction implements Advice.Rule {
    @Override
    public String name() {
        return "open-transaction";
    }

    @Override
    public void look(Subject subject, List<Problem> advice) {
        BoundRoutine routine = subject.routine();
        BoundStatement[] started = {null};
        boolean[] ended = {false};
        subject.statements()
                .forEach(
                        s -> {
                            if (s instanceof BoundStatement.Transaction t) {
                                if (t.verb() == TransactionVerb.START) {
                                    started[0] = s;
                                }
                                ended[0] |=
                                        t.verb() == TransactionVerb.COMMIT
                                                || t.verb() == TransactionVerb.ROLLBACK;
                            }
                        });
        if (started[0] != null && !ended[0]) {
            advice.add(
                    Problem.advice(
                            routine.places().get(started[0].at()).span(),
                            name(),
                            "the transaction that is started here is never ended here",
                            "COMMIT where all went well, ROLLBACK in a handler"));
        }
    }
}
