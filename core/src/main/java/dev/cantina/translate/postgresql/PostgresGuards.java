package dev.cantina.translate.postgresql;

import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.BoundStatement.Handler;
import dev.cantina.binding.Walker;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.nativecode.Mark;
import dev.cantina.syntax.Declaration.HandledKind;
import dev.cantina.syntax.Declaration.HandlerAction;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.Statement.TransactionVerb;
import dev.cantina.translate.Effects;
import dev.cantina.translate.Handlers;
import dev.cantina.translate.Handlers.HandlerMatch;
import dev.cantina.translate.Lines;
import dev.cantina.translate.Told;
import dev.cantina.translate.UnsupportedConstructException;
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
    private int matches;

    PostgresGuards(PostgresBody body, Effects effects, Lines out) {
        this.body = body;
        this.effects = effects;
        this.out = out;
    }

    /** Whether the place being written is in the handler of an exception. */
    boolean inHandler() {
        return matches > 0;
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
        Optional<HandlerMatch> completion = body.data().completion(change, around);
        return armsOf(change, around).stream().anyMatch(a -> !a.isExit())
                || completion.filter(a -> effects.changes(a.handler().body())).isPresent();
    }

    private List<HandlerMatch> armsOf(BoundStatement s, Handlers around) {
        return around.exceptions(effects.raises(s));
    }

    /**
     * The end of the statements from a place that can stand in one error block; the place if none.
     */
    private int groupEnd(List<BoundStatement> statements, int from, Handlers around) {
        boolean changed = false;
        int end = from;
        List<HandlerMatch> all = new ArrayList<>();
        for (int i = from; i < statements.size(); i++) {
            BoundStatement s = statements.get(i);
            List<HandlerMatch> matches = armsOf(s, around);
            List<HandlerMatch> together = new ArrayList<>(all);
            together.addAll(matches);
            boolean exits = matches.stream().allMatch(HandlerMatch::isExit);
            boolean undone = !together.isEmpty() && together.stream().allMatch(this::undoes);
            boolean changes = effects.changes(s);
            boolean leaf = Walker.children(s).isEmpty();
            boolean apart =
                    hasTransaction(s)
                            || !undone
                                    && !matches.isEmpty()
                                    && s instanceof BoundStatement.Call call
                                    && callsApart(call)
                            || changes && !leaf && !undone
                            || changed && !matches.isEmpty() && !undone
                            || completes(s, around, together);
            if (!exits || apart || from == i && matches.isEmpty()) {
                break;
            }
            if (!matches.isEmpty()) {
                callable(s, undone);
            }
            all = together;
            if (!matches.isEmpty()) {
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
    private boolean completes(BoundStatement s, Handlers around, List<HandlerMatch> matches) {
        boolean[] found = {false};
        Walker.statements(
                s,
                x -> {
                    Optional<HandlerMatch> match = body.data().completion(x, around);
                    found[0] |= match.isPresent() && standsApart(match.get());
                });
        return found[0] && !matches.isEmpty();
    }

    /**
     * Whether a handler of a completion condition must not run in an error block: what it raises
     * would be caught there, and no transaction can end there.
     */
    private boolean standsApart(HandlerMatch match) {
        BoundStatement handler = match.handler().body();
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
    private boolean undoes(HandlerMatch match) {
        Handler handler = match.handler();
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
                        && match.level().isOutermost();
        return back || leaves;
    }

    /**
     * Whether a handler never comes to its end: it raises there, and no CONTINUE handler outside
     * goes on behind what it raises.
     */
    boolean passesOn(Handler handler, Handlers beyond) {
        return raisesAlways(handler.body())
                && beyond.exceptions(effects.raises(handler.body())).stream()
                        .allMatch(HandlerMatch::isExit);
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
        List<HandlerMatch> all = new ArrayList<>();
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
        matches(all, to == statements.size() ? endOf : "", Optional.empty());
        out.add("END;");
    }

    /**
     * The arms of an error block that takes an ATOMIC block back: those that leave it.
     *
     * @param around what guards the block
     * @throws UnsupportedConstructException where what another handler raises would be taken by one
     *     of them
     */
    List<HandlerMatch> leaving(Handlers around, Set<String> classes) {
        List<HandlerMatch> all = around.exceptions(classes);
        List<HandlerMatch> leaving = all.stream().filter(HandlerMatch::isExit).toList();
        for (HandlerMatch match : all) {
            boolean runsInside = !match.isExit() && !leaving.isEmpty();
            if (runsInside) {
                apart(match, leaving);
            }
        }
        return leaving;
    }

    /**
     * The arms of the UNDO handlers of a block.
     *
     * @param inside what guards its statements
     */
    List<HandlerMatch> undoing(Handlers inside) {
        List<HandlerMatch> undoing = new ArrayList<>();
        List<HandlerMatch> all = inside.exceptions(Set.of(Effects.ANY));
        for (HandlerMatch match : all) {
            if (match.level() == inside && match.handler().action() == HandlerAction.UNDO) {
                undoing.add(match);
            }
        }
        for (HandlerMatch match : all) {
            if (!undoing.contains(match)) {
                apart(match, undoing);
            }
        }
        return undoing;
    }

    /** Refuses a handler whose own exceptions another would take that stands beside it. */
    void apart(HandlerMatch inside, List<HandlerMatch> leaving) {
        Set<String> raised = effects.raises(inside.handler().body());
        Set<Handler> beyond =
                java.util.Collections.newSetFromMap(new java.util.IdentityHashMap<>());
        inside.level().beyond().exceptions(raised).forEach(a -> beyond.add(a.handler()));
        for (HandlerMatch taken : leaving) {
            if (!beyond.contains(taken.handler()) && taken.canBe(raised)) {
                throw new UnsupportedConstructException(
                        inside.handler().span(),
                        "what this handler raises in an ATOMIC block would go to the handler beside it"
                                + " on PostgreSQL");
            }
        }
    }

    /** Writes the handlers that an error block leads to. */
    void matches(List<HandlerMatch> all, String endOf, Optional<String> afterwards) {
        out.add("EXCEPTION").in();
        Map<Handler, List<HandlerMatch>> byHandler = new java.util.LinkedHashMap<>();
        List<Handler> order = new ArrayList<>();
        for (HandlerMatch match : all) {
            if (!order.isEmpty() && order.get(order.size() - 1) == match.handler()) {
                byHandler.get(match.handler()).add(match);
            } else if (byHandler.containsKey(match.handler())) {
                byHandler.get(match.handler()).add(match);
            } else {
                order.add(match.handler());
                byHandler.put(match.handler(), new ArrayList<>(List.of(match)));
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
                matches++;
                handlerBody(byHandler.get(handler).get(0), endOf, afterwards);
                matches--;
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
        body.marks().of(Mark.Kind.FAILED).ifPresent(out::add);
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
    private static Set<String> statesOf(List<HandlerMatch> matches) {
        Set<String> states = new java.util.LinkedHashSet<>();
        for (HandlerMatch match : matches) {
            if (match.condition().kind() == HandledKind.SQLEXCEPTION) {
                return Set.of(Effects.ANY);
            }
            states.addAll(PostgresConditions.raisedFor(match.condition().sqlstate()));
        }
        return states;
    }

    private void handlerBody(HandlerMatch match, String endOf, Optional<String> afterwards) {
        Handlers beyond = match.level().beyond();
        BoundStatement handled = match.handler().body();
        fresh = true;
        int before = out.mark();
        if (inHandler()) {
            body.marks().caught(match.handler().body()).ifPresent(out::add);
        }
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
        String label = match.level().label();
        boolean leaves =
                match.isExit() && !label.equals(endOf) && !passesOn(match.handler(), beyond);
        if (leaves) {
            out.add("EXIT " + label + ";");
        } else if (!match.isExit() && afterwards.isPresent()) {
            out.add(afterwards.get());
        } else if (out.mark() == before || body.marks().isOn()) {
            out.add("NULL;");
        }
    }

    /** Writes one statement, in an error block of its own where a handler wants that. */
    private void single(BoundStatement s, Handlers around, String endOf) {
        out.comments(body.span(s.at()).start());
        body.marks().before(s).ifPresent(out::add);
        if (!s.rows().isEmpty()) {
            body.control().write(s, around);
        } else {
            guarded(s, around, endOf);
        }
    }

    void guarded(BoundStatement s, Handlers around, String endOf) {
        List<HandlerMatch> matches = around.exceptions(effects.raises(s));
        if (s instanceof BoundStatement.Signal signal
                && signal.sqlstate().orElse("45000").matches("0[12].*")) {
            signalled(signal, around);
            return;
        }
        if (matches.isEmpty()) {
            leaf(s, around, endOf);
            return;
        }
        boolean undone = matches.stream().allMatch(this::undoes);
        callable(s, undone);
        if (s instanceof BoundStatement.Call call && !undone && callsApart(call)) {
            call(call, matches);
            return;
        }
        Optional<HandlerMatch> completion = body.data().completion(s, around);
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
        matches(matches, missing.isEmpty() ? endOf : "", Optional.empty());
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
                        : s instanceof BoundStatement.ExecuteDynamic perform
                                ? body.data().callable(perform)
                                : List.of();
        for (RoutineSymbol routine : called) {
            if (effects.endsTransactions(routine)) {
                throw new UnsupportedConstructException(
                        body.span(s.at()),
                        routine.name()
                                + " ends transactions, which PostgreSQL refuses where a handler"
                                + " stands around the call");
            }
            if (!undone
                    && s instanceof BoundStatement.ExecuteDynamic
                    && effects.leavesParts(routine)) {
                throw new UnsupportedConstructException(
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
    private void call(BoundStatement.Call call, List<HandlerMatch> matches) {
        Span span = body.span(call.at());
        out.comments(span.start());
        boolean tells = effects.leavesParts(call.routine());
        String raised = tells ? body.local("raised", "text[]") : "";
        String copy = "";
        if (tells) {
            try {
                copy = body.told().copy(call.routine());
            } catch (UnsupportedConstructException e) {
                throw new UnsupportedConstructException(
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
        matches(matches, "", Optional.empty());
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
        matches(matches, "", Optional.empty());
        out.add("END;");
        out.out().add("END IF;");
    }

    /** Runs what a completion condition leads to. */
    void completed(Optional<HandlerMatch> match) {
        if (match.isPresent()) {
            if (match.get().leavesAtomic()) {
                throw new UnsupportedConstructException(
                        match.get().handler().span(),
                        "this handler can leave an ATOMIC block inside, which is then taken back;"
                                + " declare it in that block");
            }
            int before = matches;
            matches = 0;
            handlerBody(match.get(), "", Optional.empty());
            matches = before;
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
        Optional<HandlerMatch> match = around.completion(signal.sqlstate().orElseThrow());
        if (match.isEmpty()) {
            out.add("NULL; -- no handler for SQLSTATE '" + signal.sqlstate().get() + "'");
        } else {
            completed(match);
        }
        out.pass(body.span(signal.at()).start(), body.span(signal.at()).end());
    }
}
