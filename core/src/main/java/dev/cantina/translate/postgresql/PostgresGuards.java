package dev.cantina.translate.postgresql;

import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.BoundStatement.Handler;
import dev.cantina.binding.Walker;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.syntax.Declaration.HandledKind;
import dev.cantina.syntax.Declaration.HandlerAction;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.Statement.TransactionVerb;
import dev.cantina.translate.Effects;
import dev.cantina.translate.Handlers;
import dev.cantina.translate.Handlers.Arm;
import dev.cantina.translate.Lines;
import dev.cantina.translate.Refusal;
import dev.cantina.translate.Told;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Statements that follow each other, and the handlers that guard them.
 *
 * <p>PL/pgSQL's error block takes back what was done in it, and a handler of SQL/PSM must not. So
 * only statements stand together in an error block of which none but the last changes data: what
 * that one did is taken back by the failure itself. Where the handler takes everything back anyway,
 * more may stand together.
 */
final class PostgresGuards {
    private final PostgresBody body;
    private final Effects effects;
    private final Lines out;

    /** Whether the diagnostics area is still what the handler found in it. */
    private boolean fresh;

    /** How many error arms the place being written stands in. */
    private int arms;

    PostgresGuards(PostgresBody body, Effects effects, Lines out) {
        this.body = body;
        this.effects = effects;
        this.out = out;
    }

    /** Whether the place being written is in the handler of an exception. */
    boolean inHandler() {
        return arms > 0;
    }

    /** Whether no statement has emptied the diagnostics area since the handler began. */
    boolean isFresh() {
        return fresh;
    }

    /**
     * Writes statements that follow each other.
     *
     * @param endOf the label of the block that ends with them; empty where more may follow
     */
    void list(List<BoundStatement> statements, Handlers around, String endOf) {
        int i = 0;
        while (i < statements.size()) {
            int end = groupEnd(statements, i, around);
            if (end > i) {
                group(statements, i, end, around, endOf);
                i = end;
            } else {
                body.data()
                        .follows(
                                i > 0 && !isDisturbed(statements.get(i - 1), around)
                                        ? Optional.of(statements.get(i - 1))
                                        : Optional.empty());
                boolean counted = isCounted(statements, i, around);
                if (counted) {
                    change(statements.get(i), statements.get(i + 1), around);
                    i += 2;
                } else {
                    single(statements.get(i), around, i == statements.size() - 1 ? endOf : "");
                    i++;
                }
            }
        }
    }

    /** A change, and the GET DIAGNOSTICS that asks how many rows it was. */
    private void change(BoundStatement change, BoundStatement asks, Handlers around) {
        Optional<String> counter = Optional.of(body.data().counter());
        body.data().count(counter);
        single(change, around, "");
        body.data().count(counter);
        single(asks, around, "");
        body.data().count(Optional.empty());
    }

    /**
     * Whether ROW_COUNT is asked for right after a change, between which and the question a handler
     * may go on: the server's own count is then another.
     */
    private boolean isCounted(List<BoundStatement> statements, int i, Handlers around) {
        boolean asked =
                i + 1 < statements.size()
                        && statements.get(i) instanceof BoundStatement.Execute
                        && statements.get(i + 1) instanceof BoundStatement.GetDiagnostics get
                        && get.condition().isEmpty()
                        && !get.stacked()
                        && get.items().stream().allMatch(x -> x.item().equals("ROW_COUNT"));
        if (!asked) {
            return false;
        }
        return isDisturbed(statements.get(i), around);
    }

    /** Whether a handler may have gone on after a statement that the server has counted. */
    private boolean isDisturbed(BoundStatement change, Handlers around) {
        Optional<Arm> completion = body.data().completion(change, around);
        return armsOf(change, around).stream().anyMatch(a -> !a.isExit())
                || completion.filter(a -> effects.changes(a.handler().body())).isPresent();
    }

    private List<Arm> armsOf(BoundStatement s, Handlers around) {
        return around.exceptions(effects.raises(s));
    }

    /**
     * The end of the statements from a place that can stand in one error block; the place if none.
     */
    private int groupEnd(List<BoundStatement> statements, int from, Handlers around) {
        boolean changed = false;
        int end = from;
        List<Arm> all = new ArrayList<>();
        for (int i = from; i < statements.size(); i++) {
            BoundStatement s = statements.get(i);
            List<Arm> arms = armsOf(s, around);
            List<Arm> together = new ArrayList<>(all);
            together.addAll(arms);
            boolean exits = arms.stream().allMatch(Arm::isExit);
            boolean undone = !together.isEmpty() && together.stream().allMatch(this::undoes);
            boolean changes = effects.changes(s);
            boolean leaf = Walker.children(s).isEmpty();
            boolean apart =
                    hasTransaction(s)
                            || !undone
                                    && !arms.isEmpty()
                                    && s instanceof BoundStatement.Call call
                                    && callsApart(call)
                            || changes && !leaf && !undone
                            || changed && !arms.isEmpty() && !undone
                            || completes(s, around, together);
            if (!exits || apart || from == i && arms.isEmpty()) {
                break;
            }
            if (!arms.isEmpty()) {
                callable(s, undone);
            }
            all = together;
            if (!arms.isEmpty()) {
                end = i + 1;
            }
            changed |= changes;
        }
        return end;
    }

    private static boolean hasTransaction(BoundStatement s) {
        boolean[] found = {false};
        Walker.statements(
                s, x -> found[0] |= x instanceof BoundStatement.Transaction t && Effects.ends(t));
        return found[0];
    }

    /**
     * Whether a handler of a completion condition is run for the statement that can fail itself,
     * which an error block around it would catch wrongly.
     */
    private boolean completes(BoundStatement s, Handlers around, List<Arm> arms) {
        boolean[] found = {false};
        Walker.statements(
                s,
                x -> {
                    Optional<Arm> arm = body.data().completion(x, around);
                    found[0] |= arm.isPresent() && standsApart(arm.get());
                });
        return found[0] && !arms.isEmpty();
    }

    /**
     * Whether a handler of a completion condition must not run in an error block: what it raises
     * would be caught there, and no transaction can end there.
     */
    private boolean standsApart(Arm arm) {
        BoundStatement handler = arm.handler().body();
        boolean[] ends = {hasTransaction(handler)};
        Walker.statements(
                handler,
                s ->
                        ends[0] |=
                                s instanceof BoundStatement.Call call
                                        && effects.endsTransactions(call.routine()));
        return ends[0] || !effects.raises(handler).isEmpty();
    }

    /** Whether a handler takes back everything, so that it does not matter what fell with it. */
    private boolean undoes(Arm arm) {
        Handler handler = arm.handler();
        if (handler.action() == HandlerAction.UNDO) {
            return true;
        }
        BoundStatement first = handler.body();
        while (first instanceof BoundStatement.Block block && !block.statements().isEmpty()) {
            first = block.statements().get(0);
        }
        boolean back =
                first instanceof BoundStatement.Transaction t
                        && t.verb() == TransactionVerb.ROLLBACK;
        boolean leaves =
                raisesAlways(handler.body())
                        && !effects.changes(handler.body())
                        && arm.level().isOutermost();
        return back || leaves;
    }

    /**
     * Whether a handler never comes to its end: it raises there, and no CONTINUE handler outside
     * goes on behind what it raises.
     */
    boolean passesOn(Handler handler, Handlers beyond) {
        return raisesAlways(handler.body())
                && beyond.exceptions(effects.raises(handler.body())).stream().allMatch(Arm::isExit);
    }

    static boolean raisesAlways(BoundStatement s) {
        if (s instanceof BoundStatement.Block block) {
            return block.handlers().isEmpty()
                    && !block.statements().isEmpty()
                    && raisesAlways(block.statements().get(block.statements().size() - 1));
        }
        return s instanceof BoundStatement.Signal signal
                && !signal.sqlstate().orElse("45000").startsWith("0");
    }

    private void group(
            List<BoundStatement> statements, int from, int to, Handlers around, String endOf) {
        List<Arm> all = new ArrayList<>();
        Set<String> classes = new HashSet<>();
        for (BoundStatement s : statements.subList(from, to)) {
            classes.addAll(effects.raises(s));
        }
        all.addAll(around.exceptions(classes));
        out.comments(body.span(statements.get(from).at()).start());
        out.add("BEGIN").in();
        for (int i = from; i < to; i++) {
            body.data().follows(i > 0 ? Optional.of(statements.get(i - 1)) : Optional.empty());
            single(statements.get(i), around.caughtAround(), "");
        }
        out.out();
        arms(all, to == statements.size() ? endOf : "", Optional.empty());
        out.add("END;");
    }

    /**
     * The arms of an error block that takes an ATOMIC block back: those that leave it.
     *
     * @param around what guards the block
     * @throws Refusal where what another handler raises would be taken by one of them
     */
    List<Arm> leaving(Handlers around, Set<String> classes) {
        List<Arm> all = around.exceptions(classes);
        List<Arm> leaving = all.stream().filter(Arm::isExit).toList();
        for (Arm arm : all) {
            boolean runsInside = !arm.isExit() && !leaving.isEmpty();
            if (runsInside) {
                apart(arm, leaving);
            }
        }
        return leaving;
    }

    /**
     * The arms of the UNDO handlers of a block.
     *
     * @param inside what guards its statements
     */
    List<Arm> undoing(Handlers inside) {
        List<Arm> undoing = new ArrayList<>();
        List<Arm> all = inside.exceptions(Set.of(Effects.ANY));
        for (Arm arm : all) {
            if (arm.level() == inside && arm.handler().action() == HandlerAction.UNDO) {
                undoing.add(arm);
            }
        }
        for (Arm arm : all) {
            if (!undoing.contains(arm)) {
                apart(arm, undoing);
            }
        }
        return undoing;
    }

    /** Refuses a handler whose own exceptions another would take that stands beside it. */
    void apart(Arm inside, List<Arm> leaving) {
        Set<String> raised = effects.raises(inside.handler().body());
        Set<Handler> beyond =
                java.util.Collections.newSetFromMap(new java.util.IdentityHashMap<>());
        inside.level().beyond().exceptions(raised).forEach(a -> beyond.add(a.handler()));
        for (Arm taken : leaving) {
            if (!beyond.contains(taken.handler()) && taken.canBe(raised)) {
                throw new Refusal(
                        inside.handler().span(),
                        "what this handler raises in an ATOMIC block would go to the handler beside it"
                                + " on PostgreSQL");
            }
        }
    }

    /** Writes the handlers that an error block leads to. */
    void arms(List<Arm> all, String endOf, Optional<String> afterwards) {
        out.add("EXCEPTION").in();
        Map<Handler, List<Arm>> byHandler = new java.util.LinkedHashMap<>();
        List<Handler> order = new ArrayList<>();
        for (Arm arm : all) {
            if (!order.isEmpty() && order.get(order.size() - 1) == arm.handler()) {
                byHandler.get(arm.handler()).add(arm);
            } else if (byHandler.containsKey(arm.handler())) {
                byHandler.get(arm.handler()).add(arm);
            } else {
                order.add(arm.handler());
                byHandler.put(arm.handler(), new ArrayList<>(List.of(arm)));
            }
        }
        Map<Handler, Set<String>> states = new java.util.LinkedHashMap<>();
        order.forEach(handler -> states.put(handler, statesOf(byHandler.get(handler))));
        // The server takes the first state of a class for all of the class.
        boolean exact =
                states.values().stream().flatMap(Set::stream).anyMatch(s -> s.endsWith("000"));
        if (exact) {
            out.add("WHEN OTHERS THEN").in();
        }
        String word = "IF ";
        boolean every = false;
        for (Handler handler : order) {
            Set<String> own = states.get(handler);
            if (exact && own.contains(Effects.ANY)) {
                every = true;
                out.add(word.equals("IF ") ? "IF TRUE THEN" : "ELSE").in();
            } else if (exact) {
                String test = own.size() == 1 ? " = '%s'" : " IN ('%s')";
                out.add(word + "SQLSTATE" + test.formatted(String.join("', '", own)) + " THEN")
                        .in();
            } else if (own.contains(Effects.ANY)) {
                out.add("WHEN OTHERS THEN").in();
            } else {
                out.add("WHEN SQLSTATE '" + String.join("' OR SQLSTATE '", own) + "' THEN").in();
            }
            word = "ELSIF ";
            if (handler.number() == Told.TELLS && !byHandler.get(handler).get(0).leavesAtomic()) {
                tell();
            } else if (byHandler.get(handler).get(0).leavesAtomic()) {
                // On to the error block that takes the ATOMIC block back.
                out.add("RAISE;");
            } else {
                arms++;
                handlerBody(byHandler.get(handler).get(0), endOf, afterwards);
                arms--;
            }
            out.out();
        }
        if (exact && !every) {
            out.add("ELSE").in().add("RAISE;").out();
        }
        if (exact) {
            out.add("END IF;").out();
        }
        out.out();
    }

    /** What a telling procedure does with an error. */
    private void tell() {
        List<String> sources = new ArrayList<>();
        List<String> held = new ArrayList<>(List.of("SQLSTATE", "SQLERRM"));
        for (String item : TOLD) {
            String name = body.shared("told_" + item.toLowerCase(Locale.ROOT), "text");
            sources.add(name + " = " + item);
            held.add(name);
        }
        out.add("GET STACKED DIAGNOSTICS " + String.join(", ", sources) + ";");
        out.add(Told.PARAMETER + " := ARRAY[" + String.join(", ", held) + "];");
        out.add("EXIT " + Told.LABEL + ";");
    }

    /** What is told beside the state and the message, in the order that raise_again takes. */
    private static final List<String> TOLD =
            List.of(
                    "PG_EXCEPTION_DETAIL",
                    "PG_EXCEPTION_HINT",
                    "CONSTRAINT_NAME",
                    "TABLE_NAME",
                    "COLUMN_NAME",
                    "SCHEMA_NAME",
                    "PG_DATATYPE_NAME");

    /** The states of a handler's arms; that of every exception alone where it is among them. */
    private static Set<String> statesOf(List<Arm> arms) {
        Set<String> states = new java.util.LinkedHashSet<>();
        for (Arm arm : arms) {
            if (arm.condition().kind() == HandledKind.SQLEXCEPTION) {
                return Set.of(Effects.ANY);
            }
            states.addAll(PostgresConditions.raisedFor(arm.condition().sqlstate()));
        }
        return states;
    }

    private void handlerBody(Arm arm, String endOf, Optional<String> afterwards) {
        Handlers beyond = arm.level().beyond();
        BoundStatement handled = arm.handler().body();
        fresh = true;
        int before = out.mark();
        // What a handler changes is not what is counted.
        Optional<String> counter = body.data().counted();
        body.data().count(Optional.empty());
        if (handled instanceof BoundStatement.Block block
                && block.initial().isEmpty()
                && block.handlers().isEmpty()
                && block.cursors().isEmpty()
                && block.tables().isEmpty()
                && block.target().label().isEmpty()) {
            list(block.statements(), beyond, "");
        } else {
            list(List.of(handled), beyond, "");
        }
        body.data().count(counter);
        String label = arm.level().label();
        boolean leaves = arm.isExit() && !label.equals(endOf) && !passesOn(arm.handler(), beyond);
        if (leaves) {
            out.add("EXIT " + label + ";");
        } else if (!arm.isExit() && afterwards.isPresent()) {
            out.add(afterwards.get());
        } else if (out.mark() == before) {
            out.add("NULL;");
        }
    }

    /** Writes one statement, in an error block of its own where a handler wants that. */
    private void single(BoundStatement s, Handlers around, String endOf) {
        out.comments(body.span(s.at()).start());
        if (!s.rows().isEmpty()) {
            body.control().write(s, around);
        } else {
            guarded(s, around, endOf);
        }
    }

    void guarded(BoundStatement s, Handlers around, String endOf) {
        List<Arm> arms = around.exceptions(effects.raises(s));
        if (s instanceof BoundStatement.Signal signal
                && signal.sqlstate().orElse("45000").matches("0[12].*")) {
            signalled(signal, around);
            return;
        }
        if (arms.isEmpty()) {
            leaf(s, around, endOf);
            return;
        }
        boolean undone = arms.stream().allMatch(this::undoes);
        callable(s, undone);
        if (s instanceof BoundStatement.Call call && !undone && callsApart(call)) {
            call(call, arms);
            return;
        }
        Optional<Arm> completion = body.data().completion(s, around);
        boolean apart = completion.isPresent() && standsApart(completion.get());
        Optional<String> missing = Optional.empty();
        if (apart && completion.get().leavesAtomic()) {
            completed(completion);
        }
        if (apart) {
            missing = Optional.of(body.local("missing", "boolean"));
            out.add(missing.get() + " := FALSE;");
        }
        out.add("BEGIN").in();
        body.data().remember(missing);
        leaf(s, around.caughtAround(), "");
        body.data().remember(Optional.empty());
        out.out();
        arms(arms, missing.isEmpty() ? endOf : "", Optional.empty());
        out.add("END;");
        if (apart) {
            out.add("IF " + missing.get() + " THEN").in();
            handlerBody(completion.get(), endOf, Optional.empty());
            out.out();
            out.add("END IF;");
        }
    }

    /** A call in an error block: what the callee did is taken back there when it fails. */
    private void callable(BoundStatement s, boolean undone) {
        List<RoutineSymbol> called =
                s instanceof BoundStatement.Call call
                        ? List.of(call.routine())
                        : s instanceof BoundStatement.Perform perform
                                ? body.data().callable(perform)
                                : List.of();
        for (RoutineSymbol routine : called) {
            if (effects.endsTransactions(routine)) {
                throw new Refusal(
                        body.span(s.at()),
                        routine.name()
                                + " ends transactions, which PostgreSQL refuses where a handler"
                                + " stands around the call");
            }
            if (!undone && s instanceof BoundStatement.Perform && effects.leavesParts(routine)) {
                throw new Refusal(
                        body.span(s.at()),
                        "a handler stands around this call, and "
                                + routine.name()
                                + " can fail with a part of its changes done, which PostgreSQL would"
                                + " take back; make its body BEGIN ATOMIC");
            }
        }
    }

    /** Whether what a callee has done must not stand in the error block of its caller's handler. */
    private boolean callsApart(BoundStatement.Call call) {
        return effects.leavesParts(call.routine())
                || effects.changes(call.routine()) && body.statements().stores(call);
    }

    /** A call whose changes stay, whatever it raises, and whatever its caller does with that. */
    private void call(BoundStatement.Call call, List<Arm> arms) {
        Span span = body.span(call.at());
        out.comments(span.start());
        boolean tells = effects.leavesParts(call.routine());
        String raised = tells ? body.local("raised", "text[]") : "";
        String copy = "";
        if (tells) {
            try {
                copy = body.told().copy(call.routine());
            } catch (Refusal e) {
                throw new Refusal(
                        span,
                        "a handler stands around this call, and "
                                + call.routine().name()
                                + " can fail with a part of its changes done, which PostgreSQL would"
                                + " take back ("
                                + e.getMessage()
                                + "); make its body BEGIN ATOMIC");
            }
        }
        String ran = body.local("ran", "boolean");
        out.add(ran + " := FALSE;");
        out.add("BEGIN").in();
        PostgresStatements.Given given = body.statements().begin(call, copy, raised);
        out.add(ran + " := TRUE;");
        out.out();
        arms(arms, "", Optional.empty());
        out.add("END;");
        out.pass(span.start(), span.end());
        if (!tells && given.isEmpty()) {
            return;
        }
        out.add("IF " + ran + " THEN").in();
        out.add("BEGIN").in();
        if (tells) {
            out.add("PERFORM cantina.raise_again(" + raised + ");");
        }
        body.statements().store(given, call.at());
        out.out();
        arms(arms, "", Optional.empty());
        out.add("END;");
        out.out().add("END IF;");
    }

    /** Runs what a completion condition leads to. */
    void completed(Optional<Arm> arm) {
        if (arm.isPresent()) {
            if (arm.get().leavesAtomic()) {
                throw new Refusal(
                        arm.get().handler().span(),
                        "this handler can leave an ATOMIC block inside, which is then taken back;"
                                + " declare it in that block");
            }
            int before = arms;
            arms = 0;
            handlerBody(arm.get(), "", Optional.empty());
            arms = before;
        }
    }

    private void leaf(BoundStatement s, Handlers around, String endOf) {
        Span span = body.span(s.at());
        out.comments(span.start());
        if (s instanceof BoundStatement.Leave jump) {
            out.add("EXIT " + body.leave().get(jump.target()) + ";");
        } else if (s instanceof BoundStatement.Iterate jump) {
            out.add(body.iterate().get(jump.target()));
        } else if (!body.statements().write(s)) {
            body.data().write(s, around);
        }
        fresh &= s instanceof BoundStatement.GetDiagnostics;
        out.pass(span.start(), span.end());
    }

    private void signalled(BoundStatement.Signal signal, Handlers around) {
        Optional<Arm> arm = around.completion(signal.sqlstate().orElseThrow());
        if (arm.isEmpty()) {
            out.add("NULL; -- nobody handles SQLSTATE '" + signal.sqlstate().get() + "'");
        } else {
            completed(arm);
        }
        out.pass(body.span(signal.at()).start(), body.span(signal.at()).end());
    }
}
