package dev.cantina.translate.mariadb;

import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.BoundStatement.Assignment;
import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.Statement;
import dev.cantina.translate.Effects;
import dev.cantina.translate.Handlers;
import dev.cantina.translate.UnsupportedConstructException;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** CALL, and how its values come back. */
final class MariaCallStatements {
    private final MariaBody body;
    private final MariaExpressions words;
    private final Effects effects;
    private final MariaTargets named;
    private final MariaTransactions transactions;

    MariaCallStatements(
            MariaBody body,
            MariaExpressions words,
            Effects effects,
            MariaTargets named,
            MariaTransactions transactions) {
        this.body = body;
        this.words = words;
        this.effects = effects;
        this.named = named;
        this.transactions = transactions;
    }

    void call(BoundStatement.Call call, Handlers around, boolean listed) {
        Span span = body.span(call.at());
        Statement.Call tree = (Statement.Call) body.written(call);
        RoutineSymbol routine = call.routine();
        List<String> given = new ArrayList<>();
        for (int i = 0; i < routine.parameters().size(); i++) {
            ParameterSymbol parameter = routine.parameters().get(i);
            BoundStatement.Argument argument = call.arguments().get(i);
            if (argument.result().isPresent()) {
                given.add(named.of(argument.result().get().target(), span));
            } else if (argument.value().isPresent()) {
                given.add(words.of(argument.value().get()));
            } else {
                given.add(words.initial(parameter));
            }
        }
        boolean direct = !returnsIntoAnother(call, around);
        boolean plain =
                direct
                        && tree.arguments().size() == given.size()
                        && tree.arguments().stream().allMatch(a -> a.name().isEmpty());
        if (plain) {
            Span first = tree.name().get(0).span();
            Span name = first.to(tree.name().get(tree.name().size() - 1).span());
            body.edits().put(name, words.callee(routine));
            for (int i = 0; i < given.size(); i++) {
                body.edits().put(tree.arguments().get(i).value().span(), given.get(i));
            }
        } else {
            body.edits().put(span, direct ? direct(call, given) : through(call, given, span));
        }
        if (body.blocks().isAtomic() && effects.endsTransactions(routine)) {
            throw new UnsupportedConstructException(
                    span,
                    "this ends the transaction, which MariaDB would do in an ATOMIC block too");
        }
        if (effects.endsTransactions(routine)) {
            transactions.keptOpen(call, span);
        }
        List<String> before = new ArrayList<>();
        if (routine.tree().span().equals(body.routine().span())
                || effects.isRecursive(body.routine())) {
            before.add("SET max_sp_recursion_depth = 255");
        }
        List<String> after = new ArrayList<>();
        if (Effects.endsWithEnd(effects.body(routine)) && transactions.startsAfter(span)) {
            after.add(MariaTransactions.CLEAN);
        } else if (effects.changes(routine)) {
            transactions.mark(after, span, "FALSE");
        }
        body.surround(span, before, after, listed);
    }

    /**
     * Whether a value comes back into a variable of another type, under a handler: where it does
     * not fit, the server would leave NULL in the variable.
     */
    private boolean returnsIntoAnother(BoundStatement.Call call, Handlers around) {
        boolean another = false;
        for (int i = 0; i < call.arguments().size(); i++) {
            SqlType type = call.routine().parameters().get(i).type();
            another |=
                    call.arguments()
                            .get(i)
                            .result()
                            .filter(r -> !MariaTargets.typeOf(r.target()).equals(type))
                            .isPresent();
        }
        return another && !around.exceptions(Set.of(Effects.ANY)).isEmpty();
    }

    private String direct(BoundStatement.Call call, List<String> given) {
        return "CALL " + words.callee(call.routine()) + "(" + String.join(", ", given) + ")";
    }

    /** A call whose values come back into variables of the parameters' types first. */
    private String through(BoundStatement.Call call, List<String> given, Span span) {
        List<String> declared = new ArrayList<>();
        List<String> before = new ArrayList<>();
        List<String> after = new ArrayList<>();
        List<String> last = new ArrayList<>();
        List<String> passed = new ArrayList<>(given);
        for (int i = 0; i < given.size(); i++) {
            Optional<Assignment> result = call.arguments().get(i).result();
            if (result.isEmpty()) {
                continue;
            }
            String own = "cantina_" + (i + 1);
            SqlType type = call.routine().parameters().get(i).type();
            SqlType back = MariaTargets.typeOf(result.get().target());
            declared.add("DECLARE " + own + " " + words.type(type, span));
            declared.add("DECLARE " + own + "_back " + words.type(back, span));
            if (call.arguments().get(i).value().isPresent()) {
                before.add("SET " + own + " = " + given.get(i));
            }
            after.add("SET " + own + "_back = " + own);
            last.add("SET " + given.get(i) + " = " + own + "_back");
            passed.set(i, own);
        }
        List<String> all = new ArrayList<>(declared);
        all.add(MariaBody.PASS_ON.formatted("SQLEXCEPTION"));
        all.addAll(before);
        all.add(direct(call, passed));
        all.addAll(after);
        all.addAll(last);
        return MariaBody.block(all, body.indent(span));
    }
}
