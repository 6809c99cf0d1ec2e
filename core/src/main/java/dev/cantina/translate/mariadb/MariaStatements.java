package dev.cantina.translate.mariadb;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.BoundStatement.Assignment;
import dev.cantina.binding.BoundStatement.Target;
import dev.cantina.binding.Walker;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.Statement;
import dev.cantina.translate.Effects;
import dev.cantina.translate.Handlers;
import dev.cantina.translate.SourceForm;
import dev.cantina.translate.UnsupportedConstructException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/** The statements that hold no others. */
final class MariaStatements {
    private static final Set<String> SIGNALLED =
            Set.of(
                    "MESSAGE_TEXT",
                    "CLASS_ORIGIN",
                    "SUBCLASS_ORIGIN",
                    "CONSTRAINT_NAME",
                    "CONSTRAINT_SCHEMA",
                    "CONSTRAINT_CATALOG",
                    "CATALOG_NAME",
                    "SCHEMA_NAME",
                    "TABLE_NAME",
                    "COLUMN_NAME",
                    "CURSOR_NAME");

    private final MariaBody body;
    private final MariaExpressions words;
    private final Effects effects;
    private final MariaTargets named;
    private final MariaTransactions transactions;
    private final MariaQueries queries;
    private final MariaChangeStatements changes;
    private final MariaCallStatements calls;
    private final MariaDynamic dynamic;
    private boolean fresh;
    private boolean captured;
    private boolean afterData;

    MariaStatements(MariaBody body, MariaExpressions words, Effects effects) {
        this.body = body;
        this.words = words;
        this.effects = effects;
        named = new MariaTargets(words);
        transactions = new MariaTransactions(body, words, effects);
        queries = new MariaQueries(body, words, effects, named);
        changes = new MariaChangeStatements(body, words, effects, transactions);
        calls = new MariaCallStatements(body, words, effects, named, transactions);
        dynamic = new MariaDynamic(body, words, effects, named);
    }

    /** Whether START TRANSACTION stands in the body, or in something that it calls. */
    boolean reachesStart() {
        return transactions.reachesStart();
    }

    /** What stands right before the next statement. */
    void follows(Optional<BoundStatement> before) {
        before.ifPresent(s -> fresh &= s instanceof BoundStatement.GetDiagnostics);
        afterData =
                before.filter(
                                s ->
                                        s instanceof BoundStatement.Execute
                                                || s instanceof BoundStatement.SelectInto
                                                || s instanceof BoundStatement.ExecuteDynamic
                                                || s instanceof BoundStatement.GetDiagnostics
                                                        && afterData)
                        .isPresent();
    }

    void beginHandler(boolean keepsCondition) {
        fresh = true;
        captured = keepsCondition;
    }

    void endHandler() {
        fresh = false;
        captured = false;
    }

    void write(BoundStatement s, Handlers around, boolean listed) {
        Span span = body.span(s.at());
        if (!body.isOutside()) {
            refuseHalves(s, around, span);
        }
        if (s instanceof BoundStatement.Assign assign) {
            assign(assign, around);
        } else if (s instanceof BoundStatement.SelectInto fill) {
            queries.fill(fill, around);
        } else if (s instanceof BoundStatement.Execute execute) {
            changes.execute(execute, around, listed);
        } else if (s instanceof BoundStatement.ReturnResultSet rows) {
            body.edits().put(span, words.of(rows.sql()));
        } else if (s instanceof BoundStatement.Leave leave) {
            body.blocks().jump(leave.target(), span);
            label(((Statement.Leave) body.written(s)).label());
        } else if (s instanceof BoundStatement.Iterate iterate) {
            body.blocks().jump(iterate.target(), span);
            Optional<String> round = body.blocks().round(iterate.target());
            if (round.isPresent()) {
                body.edits().put(span, "LEAVE " + round.get());
            } else {
                label(((Statement.Iterate) body.written(s)).label());
            }
        } else if (s instanceof BoundStatement.Call call) {
            calls.call(call, around, listed);
        } else if (s instanceof BoundStatement.Return give) {
            give(give, around, span, listed);
        } else if (s instanceof BoundStatement.Signal signal) {
            signal(signal, around, listed);
        } else if (s instanceof BoundStatement.GetDiagnostics get) {
            diagnostics(get, span);
        } else if (s instanceof BoundStatement.Transaction transaction) {
            transactions.transaction(transaction, span, listed);
        } else if (s instanceof BoundStatement.Report report) {
            report(report, span);
        } else if (s instanceof BoundStatement.Open open) {
            queries.open(open, span);
        } else if (s instanceof BoundStatement.Fetch fetch) {
            queries.fetch(fetch, around, span);
        } else if (s instanceof BoundStatement.Close close) {
            queries.close(close.cursor(), span);
        } else if (s instanceof BoundStatement.Prepare prepare) {
            dynamic.prepare(prepare, span, listed);
        } else if (s instanceof BoundStatement.ExecuteDynamic perform) {
            dynamic.perform(perform, around, span, listed);
        } else if (s instanceof BoundStatement.Deallocate deallocate) {
            dynamic.deallocate(deallocate, span);
        } else {
            throw new UnsupportedConstructException(
                    span, "this statement has no counterpart on MariaDB");
        }
    }

    /**
     * In a function or a trigger the server undoes no statement by itself: one of several rows that
     * fails keeps those that it had changed, for whoever handles that and goes on.
     */
    private void refuseHalves(BoundStatement s, Handlers around, Span span) {
        boolean goesOn =
                around.exceptions(effects.raisesItself(s)).stream()
                        .anyMatch(match -> !passesOn(match.handler().body()));
        if (!goesOn) {
            return;
        }
        boolean halves =
                s instanceof BoundStatement.Execute execute && !changes.isOfOneRow(execute.sql())
                        || s instanceof BoundStatement.Call call && effects.changes(call.routine());
        boolean[] found = {halves};
        Walker.expressions(
                s,
                e ->
                        found[0] |=
                                e instanceof BoundExpression.Invoke invoke
                                        && effects.changes(invoke.routine()));
        if (found[0]) {
            throw new UnsupportedConstructException(
                    span,
                    "MariaDB can't undo this by itself in a function or a trigger, and a handler goes"
                            + " on where it fails");
        }
    }

    /** Whether a handler raises its condition again, whatever it does before. */
    private static boolean passesOn(BoundStatement handler) {
        BoundStatement last = handler;
        while (last instanceof BoundStatement.Block block && !block.statements().isEmpty()) {
            last = block.statements().get(block.statements().size() - 1);
        }
        return last instanceof BoundStatement.Signal signal && signal.resignal();
    }

    /** A label by a name that the server takes. */
    void label(dev.cantina.syntax.Name label) {
        String name = words.names().beginning(label);
        if (!name.equals(label.written())) {
            body.edits().put(label.span(), name);
        }
    }

    // ---------------------------------------------------------------- assignment

    private void assign(BoundStatement.Assign assign, Handlers around) {
        Span span = body.span(assign.at());
        List<Assignment> all = assign.assignments();
        boolean safe = !effects.isCaught(assign, around);
        Statement tree = body.written(assign);
        if (all.size() == 1 && tree instanceof Statement.Set set) {
            Assignment one = all.get(0);
            String target = named.of(one.target(), span);
            if (safe) {
                words.edit(one.value(), body.edits());
                body.edits().put(set.target().span(), target);
                return;
            }
        }
        List<String> values = new ArrayList<>();
        List<String> targets = new ArrayList<>();
        for (Assignment one : all) {
            values.add(words.of(one.value()));
            targets.add(named.of(one.target(), span));
        }
        boolean apart = true;
        for (int i = 1; i < all.size(); i++) {
            for (int k = 0; k < i; k++) {
                apart &= !reads(all.get(i).value(), all.get(k).target());
            }
        }
        if (safe && apart) {
            List<String> sets = new ArrayList<>();
            for (int i = 0; i < all.size(); i++) {
                sets.add(targets.get(i) + " = " + values.get(i));
            }
            body.edits().put(span, "SET " + String.join(", ", sets));
            return;
        }
        List<String> lines = new ArrayList<>();
        for (int i = 0; i < all.size(); i++) {
            lines.add("SET cantina_" + (i + 1) + " = " + values.get(i));
        }
        guarded(span, all.stream().map(Assignment::target).toList(), lines);
    }

    private static boolean reads(BoundExpression value, Target target) {
        boolean[] found = {false};
        Walker.expressions(
                value,
                e ->
                        found[0] |=
                                e instanceof BoundExpression.Read read
                                                && read.variable() == target.variable()
                                        || e instanceof BoundExpression.DatabaseExpression
                                        || e instanceof BoundExpression.Invoke
                                        || e instanceof BoundExpression.ReadShared);
        return found[0];
    }

    /**
     * A failed assignment leaves NULL behind there, so the values go into variables of their own
     * first; a condition then leaves this block and goes to the handler that it has.
     */
    private void guarded(Span span, List<Target> targets, List<String> statements) {
        List<String> all = new ArrayList<>();
        for (int i = 0; i < targets.size(); i++) {
            String type = words.type(MariaTargets.typeOf(targets.get(i)), span);
            all.add("DECLARE cantina_" + (i + 1) + " " + type);
        }
        all.add(MariaBody.PASS_ON.formatted("SQLEXCEPTION"));
        all.addAll(statements);
        for (int i = 0; i < targets.size(); i++) {
            all.add("SET " + named.of(targets.get(i), span) + " = cantina_" + (i + 1));
        }
        body.edits().put(span, MariaBody.block(all, body.indent(span)));
    }

    // ---------------------------------------------------------------- calls

    private void give(BoundStatement.Return give, Handlers around, Span span, boolean listed) {
        if (give.value().isPresent()) {
            boolean goesOn =
                    around.exceptions(effects.raisesItself(give)).stream()
                            .anyMatch(a -> !a.isExit());
            if (!goesOn) {
                words.edit(give.value().get(), body.edits());
                return;
            }
            // Where RETURN itself fails the server takes NULL for the value, and a handler goes on.
            String type = words.type(body.routine().returns().orElseThrow(), span);
            List<String> all = new ArrayList<>();
            all.add("DECLARE cantina_1 " + type);
            all.add(MariaBody.PASS_ON.formatted("SQLEXCEPTION"));
            all.add("SET cantina_1 = " + words.of(give.value().get()));
            all.add("RETURN cantina_1");
            body.edits().put(span, MariaBody.block(all, body.indent(span)));
        } else if (body.isProcedure()) {
            body.edits().put(span, body.leave(body.blocks().inHandler()));
        } else {
            throw new UnsupportedConstructException(span, "RETURN without a value here");
        }
    }

    // ---------------------------------------------------------------- conditions

    private void signal(BoundStatement.Signal signal, Handlers around, boolean listed) {
        Span span = body.span(signal.at());
        if (signal.resignal() && !body.blocks().inHandler()) {
            throw new UnsupportedConstructException(
                    span, "MariaDB passes a condition on in its handler alone");
        }
        if (signal.stateless()) {
            throw new UnsupportedConstructException(
                    span, "a condition with no SQLSTATE is unknown there; declare it FOR SQLSTATE");
        }
        List<String> before = new ArrayList<>();
        StringBuilder text = new StringBuilder(signal.resignal() ? "RESIGNAL" : "SIGNAL");
        signal.sqlstate().ifPresent(state -> text.append(" SQLSTATE '").append(state).append('\''));
        int number = 0;
        for (BoundStatement.SignalItem item : signal.items()) {
            if (!SIGNALLED.contains(item.item())) {
                throw new UnsupportedConstructException(
                        span, "SIGNAL has no " + item.item() + " on MariaDB");
            }
            BoundExpression value = SourceForm.bare(item.value());
            String given = words.of(item.value());
            boolean simple =
                    value instanceof BoundExpression.Constant constant && constant.value() != null
                            || value instanceof BoundExpression.Read read
                                    && !read.variable().isHidden();
            if (!simple) {
                number++;
                String held = "@cantina_" + item.item().toLowerCase(Locale.ROOT);
                before.add("SET " + held + " = " + words.text(item.value()));
                given = held;
            }
            text.append(text.indexOf(" SET ") < 0 ? " SET " : ", ")
                    .append(item.item())
                    .append(" = ")
                    .append(given);
        }
        boolean asWritten =
                number == 0
                        && signal.conditionName().isEmpty()
                        && signal.items().stream()
                                .allMatch(
                                        i ->
                                                SourceForm.bare(i.value())
                                                        instanceof BoundExpression.Constant);
        String category = signal.sqlstate().map(s -> s.substring(0, 2)).orElse("");
        boolean completion = category.equals("01") || category.equals("02");
        boolean unheard = completion && around.completion(signal.sqlstate().orElse("")).isEmpty();
        if (unheard) {
            body.edits()
                    .put(
                            span,
                            body.skipping(
                                    category.equals("01") ? "SQLWARNING" : "NOT FOUND",
                                    text.toString(),
                                    span));
        } else if (!asWritten) {
            body.edits().put(span, text.toString());
        }
        body.surround(span, before, List.of(), listed);
    }

    /** Whether a handler's body asks for the condition that it handles. */
    boolean asksCondition(BoundStatement handler) {
        boolean[] found = {false};
        Walker.statements(
                handler,
                s ->
                        found[0] |=
                                s instanceof BoundStatement.GetDiagnostics get
                                        && get.condition().isPresent());
        return found[0];
    }

    private void diagnostics(BoundStatement.GetDiagnostics get, Span span) {
        List<String> sets = new ArrayList<>();
        boolean first =
                get.condition()
                        .map(SourceForm::bare)
                        .filter(
                                c ->
                                        c instanceof BoundExpression.Constant constant
                                                && Long.valueOf(1).equals(constant.value()))
                        .isPresent();
        for (BoundStatement.DiagnosticsItem item : get.items()) {
            String value = "";
            if (get.condition().isPresent()) {
                boolean known = captured && first && (get.stacked() || fresh);
                value = known ? conditionItem(item.item()) : "";
            } else if (item.item().equals("ROW_COUNT") && afterData) {
                value = "cantina_rows";
            }
            if (value.isEmpty()) {
                throw new UnsupportedConstructException(
                        span,
                        item.item().equals("ROW_COUNT")
                                ? "ROW_COUNT is kept there only right after the statement that it counts"
                                : item.item() + " is not kept there");
            }
            sets.add(named.of(item.assignment().target(), span) + " = " + value);
        }
        body.edits().put(span, "SET " + String.join(", ", sets));
    }

    private static String conditionItem(String item) {
        return switch (item) {
            case "RETURNED_SQLSTATE" ->
                    "cantina_state(cantina_error, cantina_number, cantina_message)";
            case "MESSAGE_TEXT" -> "cantina_message";
            case "MESSAGE_LENGTH" -> "CHAR_LENGTH(cantina_message)";
            case "CONDITION_NUMBER" -> "1";
            default -> "";
        };
    }

    // ---------------------------------------------------------------- transactions, messages

    private void report(BoundStatement.Report report, Span span) {
        List<String> items = new ArrayList<>();
        for (BoundExpression item : report.items()) {
            boolean text =
                    SourceForm.bare(item) instanceof BoundExpression.Constant constant
                            && constant.value() instanceof String;
            items.add(text ? words.of(item) : "COALESCE(" + words.text(item) + ", 'NULL')");
        }
        body.edits()
                .put(
                        span,
                        "SET @cantina_says = CONCAT_WS(CHAR(10 USING utf8mb4), @cantina_says, CONCAT("
                                + String.join(", ", items)
                                + "))");
    }
}
