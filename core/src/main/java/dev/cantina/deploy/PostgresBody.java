package dev.cantina.deploy;

import dev.cantina.check.BoundExpression;
import dev.cantina.check.BoundRoutine;
import dev.cantina.check.BoundSql;
import dev.cantina.check.BoundStatement;
import dev.cantina.check.BoundStatement.Branch;
import dev.cantina.check.BoundStatement.Handler;
import dev.cantina.check.BoundStatement.Target;
import dev.cantina.check.CursorSymbol;
import dev.cantina.check.DeclaredTable;
import dev.cantina.check.JumpTarget;
import dev.cantina.check.Variable;
import dev.cantina.check.Walker;
import dev.cantina.deploy.Handlers.Arm;
import dev.cantina.syntax.Declaration.HandledKind;
import dev.cantina.syntax.Declaration.HandlerAction;
import dev.cantina.syntax.Span;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * A routine's body in PL/pgSQL.
 *
 * <p>There an error block takes back what was done in it, and a handler of ours must not. So only
 * statements stand together in an error block of which none but the last changes data: what that
 * one did is taken back by the failure itself. Where the handler takes everything back anyway, more
 * may stand together.
 */
final class PostgresBody {
    private static final Set<String> OWN = Set.of("FOUND", "SQLSTATE", "SQLERRM");

    private final BoundRoutine routine;
    private final PostgresExpressions words;
    private final ServerNames names;
    private final Effects effects;
    private final Lines out;
    private final PostgresSignature signature;
    private final PostgresData data;
    private final Map<JumpTarget, String> leave = new HashMap<>();
    private final Map<JumpTarget, String> iterate = new HashMap<>();
    private final Set<String> taken = new HashSet<>();
    private final List<String> locals = new ArrayList<>();

    /** Whether the diagnostics area is still what the handler found in it. */
    private boolean fresh;

    /** How many error arms the place being written stands in. */
    private int arms;

    PostgresBody(
            BoundRoutine routine,
            PostgresSignature signature,
            PostgresExpressions words,
            Effects effects,
            Lines out) {
        this.routine = routine;
        this.signature = signature;
        this.words = words;
        this.names = words.names();
        this.effects = effects;
        this.out = out;
        this.data = new PostgresData(this, words, out);
        for (Variable variable : routine.variables()) {
            if (OWN.contains(variable.name().toUpperCase(Locale.ROOT))) {
                throw new Refusal(
                        variable.span(),
                        "PL/pgSQL has a variable "
                                + variable.name()
                                + " of its own; choose another name");
            }
            taken.add(variable.name().toLowerCase(Locale.ROOT));
        }
        taken.addAll(signature.taken());
        heldTo();
    }

    /** What a routine says of its access to data is held to by check, and by nobody there. */
    private void heldTo() {
        if (routine.access() == dev.cantina.syntax.Unit.SqlAccess.MODIFIES_SQL_DATA) {
            return;
        }
        Walker.statements(
                routine.body(),
                s -> {
                    if (s instanceof BoundStatement.Perform perform && perform.targets().isEmpty()
                            || s instanceof BoundStatement.Call call
                                    && effects.changes(call.routine())) {
                        throw new Refusal(
                                span(s.at()),
                                "the routine says "
                                        + routine.access().name().replace('_', ' ')
                                        + ", which PostgreSQL would not hold this to");
                    }
                });
    }

    Span span(int at) {
        return routine.places().get(at).span();
    }

    BoundRoutine routine() {
        return routine;
    }

    /** A name that nothing else has, declared at the head of the routine. */
    String local(String wish, String type) {
        String name = free(wish);
        locals.add(name + " " + type + ";");
        return name;
    }

    /** The name of a local that several places share. */
    String shared(String name, String type) {
        String declaration = names.of(name) + " " + type + ";";
        if (!locals.contains(declaration)) {
            locals.add(declaration);
        }
        return names.of(name);
    }

    private String free(String wish) {
        String name = wish.toLowerCase(Locale.ROOT);
        for (int i = 2; !taken.add(name) || names.isReserved(name); i++) {
            name = wish.toLowerCase(Locale.ROOT) + "_" + i;
        }
        return name;
    }

    /** Writes the whole body, from the first label to the last END. */
    void write() {
        BoundStatement body = routine.body();
        boolean merged =
                body instanceof BoundStatement.Block block
                        && block.target().label().isEmpty()
                        && !clashes(block);
        String label = merged ? blockLabel((BoundStatement.Block) body) : "";
        boolean nested =
                !label.isEmpty() && (signature.hasCopies() || !signature.finish().isEmpty());
        boolean named = signature.hasCopies() || merged && likeTables();
        words.qualifiedBy(
                v ->
                        v.kind().isParameter() || named && merged && isOuter(v)
                                ? Optional.of(signature.label())
                                : Optional.empty());
        nested |= named && !label.isEmpty();
        if (named) {
            out.add("<<" + signature.label() + ">>");
        } else if (!label.isEmpty() && !nested) {
            out.add("<<" + label + ">>");
        }
        int head = out.mark();
        out.in();
        if (merged) {
            declare((BoundStatement.Block) body, Handlers.NONE);
        }
        out.out();
        int declared = out.mark();
        out.add("BEGIN").in();
        if (merged) {
            BoundStatement.Block block = (BoundStatement.Block) body;
            opening(block, Handlers.NONE);
            if (nested) {
                out.add("<<" + label + ">>").add("BEGIN").in();
            }
            contents(block, label, Handlers.NONE);
            out.comments(routine.span().end());
            closing(block);
            if (nested) {
                out.out().add("END " + label + ";");
            }
        } else {
            list(List.of(body), Handlers.NONE, "");
            out.comments(routine.span().end());
        }
        finish();
        out.out();
        out.add("END");
        out.in();
        out.insert(declared, locals);
        out.insert(head, signature.copies());
        out.out();
        if (declared > head || !locals.isEmpty() || !signature.copies().isEmpty()) {
            out.insert(head, List.of("DECLARE"));
        }
    }

    /** Whether a variable has the name of a table that some statement uses. */
    private boolean likeTables() {
        Set<String> tables = new HashSet<>();
        Walker.statements(
                routine.body(),
                s -> {
                    Walker.sql(s).ifPresent(sql -> tables.addAll(words.rowNames(sql)));
                    Walker.expressions(
                            s,
                            e -> {
                                if (e instanceof BoundExpression.Ask ask) {
                                    tables.addAll(words.rowNames(ask.sql()));
                                }
                            });
                });
        return routine.variables().stream()
                .anyMatch(v -> tables.contains(v.name().toUpperCase(Locale.ROOT)));
    }

    private boolean isOuter(Variable variable) {
        return routine.body() instanceof BoundStatement.Block block
                && block.initial().stream()
                        .anyMatch(
                                i ->
                                        ((BoundStatement.Assign) i)
                                                        .assignments()
                                                        .get(0)
                                                        .target()
                                                        .variable()
                                                == variable);
    }

    /** Whether a block declares what a parameter is called, so that it must stand on its own. */
    private boolean clashes(BoundStatement.Block block) {
        Set<String> parameters = new HashSet<>();
        routine.parameters().forEach(p -> parameters.add(p.name().toUpperCase(Locale.ROOT)));
        return block.initial().stream()
                        .map(i -> ((BoundStatement.Assign) i).assignments().get(0).target())
                        .anyMatch(
                                t ->
                                        parameters.contains(
                                                t.variable().name().toUpperCase(Locale.ROOT)))
                || block.atomic() && !block.handlers().isEmpty();
    }

    /** What is said before the end, and before each RETURN. */
    private void finish() {
        signature.finish().forEach(out::add);
    }

    // ---------------------------------------------------------------- blocks

    private String blockLabel(BoundStatement.Block block) {
        String own = block.target().label();
        boolean exits =
                block.handlers().stream()
                        .anyMatch(
                                h ->
                                        h.action() != HandlerAction.CONTINUE
                                                && !raisesAlways(h.body()));
        String label = !own.isEmpty() ? names.of(own) : exits ? free("guarded") : "";
        leave.put(block.target(), label);
        return label;
    }

    private void declare(BoundStatement.Block block, Handlers around) {
        for (BoundStatement initial : block.initial()) {
            BoundStatement.Assignment assignment =
                    ((BoundStatement.Assign) initial).assignments().get(0);
            Variable variable = assignment.target().variable();
            out.comments(variable.span().start());
            String type = declaredType(variable, span(initial.at()));
            boolean constant = variable.kind() == Variable.Kind.CONSTANT;
            boolean none =
                    PostgresExpressions.bare(assignment.value())
                                    instanceof BoundExpression.Constant value
                            && value.value() == null;
            boolean later = none || startsLater(assignment, around) || type.equals("record");
            out.add(
                    names.of(variable.name())
                            + (constant && !later ? " CONSTANT " : " ")
                            + type
                            + (later ? "" : " := " + words.of(assignment.value()))
                            + ";");
            out.pass(span(initial.at()).start(), span(initial.at()).end());
        }
        for (CursorSymbol cursor : block.cursors()) {
            if (cursor.returned()) {
                continue;
            }
            out.comments(cursor.span().start());
            if (cursor.query().isEmpty() || !data.isClosed(cursor, block)) {
                data.watch(cursor);
                out.add(names.of(cursor.name()) + " refcursor;");
            } else {
                BoundSql query = cursor.query().get();
                out.add(
                        names.of(cursor.name())
                                + (cursor.scroll() ? " SCROLL" : "")
                                + " CURSOR FOR ",
                        query.span().start(),
                        words.of(query),
                        ";");
            }
            out.pass(cursor.span().start(), cursor.span().end());
        }
    }

    /**
     * Whether a first value can fail where somebody handles that, so that it is set in the body.
     */
    private boolean startsLater(BoundStatement.Assignment assignment, Handlers around) {
        return !around.exceptions(effects.raises(assignment.value())).isEmpty();
    }

    private String declaredType(Variable variable, Span declaration) {
        String text = declaration.text();
        var like =
                java.util.regex.Pattern.compile(
                                "(?is).*?\\bLIKE\\s+(\\w+)(?:\\.(\\w+))?(\\s+DEFAULT\\b.*)?")
                        .matcher(text);
        if (like.matches()) {
            return like.group(2) == null
                    ? names.of(like.group(1)) + "%ROWTYPE"
                    : names.of(like.group(1)) + "." + names.of(like.group(2)) + "%TYPE";
        }
        if (variable.type() instanceof SqlType.Row) {
            return "record";
        }
        return PostgresTypes.of(variable.type(), variable.span());
    }

    /** What a block does before its first statement. */
    private void opening(BoundStatement.Block block, Handlers around) {
        for (BoundStatement initial : block.initial()) {
            BoundStatement.Assign assign = (BoundStatement.Assign) initial;
            BoundStatement.Assignment assignment = assign.assignments().get(0);
            Variable variable = assignment.target().variable();
            if (variable.type() instanceof SqlType.Row row
                    && declaredType(variable, span(initial.at())).equals("record")) {
                List<String> fields = new ArrayList<>();
                row.fields()
                        .forEach(
                                f ->
                                        fields.add(
                                                "CAST(NULL AS "
                                                        + PostgresTypes.of(
                                                                f.type(), variable.span())
                                                        + ") AS "
                                                        + names.of(f.name())));
                out.add(
                        "SELECT "
                                + String.join(", ", fields)
                                + " INTO "
                                + names.of(variable.name())
                                + ";");
                if (!(PostgresExpressions.bare(assignment.value())
                        instanceof BoundExpression.Constant)) {
                    throw new Refusal(variable.span(), "a row variable with a first value");
                }
            } else if (startsLater(assignment, around)) {
                guarded(assign, around, "");
            }
        }
        for (DeclaredTable table : block.tables()) {
            out.comments(span(block.at()).end() > 0 ? 0 : 0);
            data.declaredTable(table);
        }
        if (block.cursors().stream().anyMatch(c -> c.query().isPresent() && !c.returned())) {
            out.comments(block.cursors().get(0).span().end());
        }
    }

    private void contents(BoundStatement.Block block, String label, Handlers around) {
        List<Handler> undo =
                block.handlers().stream().filter(h -> h.action() == HandlerAction.UNDO).toList();
        Handlers inside = around.inside(label, block.handlers(), block.atomic());
        if (block.atomic() && !undo.isEmpty()) {
            boolean completions =
                    undo.stream()
                            .flatMap(h -> h.conditions().stream())
                            .anyMatch(
                                    c ->
                                            c.kind() == HandledKind.NOT_FOUND
                                                    || c.kind() == HandledKind.SQLWARNING);
            if (completions || undo.size() < block.handlers().size()) {
                throw new Refusal(
                        undo.get(0).span(),
                        "an UNDO handler beside others, or for a completion condition");
            }
            List<Arm> all = inside.exceptions(Set.of(Effects.ANY));
            out.add("BEGIN").in();
            list(block.statements(), inside.caughtAround(), label);
            out.out();
            arms(all, label, Optional.empty());
            out.add("END;");
            return;
        }
        boolean ends = block.atomic() && undo.isEmpty() && callsEnding(block);
        if (ends) {
            // COMMIT and ROLLBACK are refused in an error block, as in an ATOMIC one.
            out.add("BEGIN").in();
        }
        list(block.statements(), inside, ends ? "" : label);
        if (ends) {
            out.out().add("EXCEPTION").in().add("WHEN OTHERS THEN RAISE;").out().add("END;");
        }
    }

    /** A declared table is known to the whole session there: no two of a name can be in use. */
    void alone(DeclaredTable table) {
        boolean twice =
                effects.isRecursive(routine)
                        || effects.calledDeclares(routine, table.table().key());
        if (twice) {
            throw new Refusal(
                    routine.span(),
                    "the table "
                            + table.table().name()
                            + " would be in use twice at a time, and PostgreSQL knows one in a session");
        }
    }

    private boolean callsEnding(BoundStatement block) {
        boolean[] found = {false};
        Walker.statements(
                block,
                s ->
                        found[0] |=
                                s instanceof BoundStatement.Call call
                                        && effects.endsTransactions(call.routine()));
        return found[0];
    }

    private void block(BoundStatement.Block block, Handlers around) {
        Handlers outside = around;
        List<Arm> passing = List.of();
        if (block.atomic()) {
            // What leaves an ATOMIC block takes all of it back: the block stands in an error block.
            passing = around.exceptions(effects.raises(block));
            if (!passing.isEmpty()) {
                out.add("BEGIN").in();
                outside = around.caughtAround();
            }
        }
        String label = blockLabel(block);
        boolean declares =
                !block.initial().isEmpty() || block.cursors().stream().anyMatch(c -> !c.returned());
        if (!label.isEmpty()) {
            out.add("<<" + label + ">>");
        }
        if (declares) {
            out.add("DECLARE").in();
            declare(block, outside);
            out.out();
        }
        out.add("BEGIN").in();
        opening(block, outside);
        contents(block, label, outside);
        out.comments(span(block.at()).end());
        closing(block);
        out.out();
        out.add("END" + (label.isEmpty() ? ";" : " " + label + ";"));
        if (!passing.isEmpty()) {
            out.out();
            arms(passing, "", Optional.empty());
            out.add("END;");
        }
    }

    /** A cursor that its block leaves open is closed with it. */
    private void closing(BoundStatement.Block block) {
        for (CursorSymbol cursor : block.cursors()) {
            if (!cursor.returned() && data.isWatched(cursor)) {
                String name = names.of(cursor.name());
                out.add("IF " + name + " IS NOT NULL THEN");
                out.in().add("CLOSE " + name + ";").out().add("END IF;");
            }
        }
    }

    // ---------------------------------------------------------------- lists and groups

    /**
     * Writes statements that follow each other.
     *
     * @param endOf the label of the block that ends with them; empty where more may follow
     */
    private void list(List<BoundStatement> statements, Handlers around, String endOf) {
        int i = 0;
        while (i < statements.size()) {
            int end = groupEnd(statements, i, around);
            if (end > i) {
                group(statements, i, end, around, endOf);
                i = end;
            } else {
                data.follows(i > 0 ? Optional.of(statements.get(i - 1)) : Optional.empty());
                single(statements.get(i), around, i == statements.size() - 1 ? endOf : "");
                i++;
            }
        }
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
                            || changes && !leaf && !undone
                            || changed && !arms.isEmpty() && !undone
                            || completes(s, around, together);
            if (!exits || apart || from == i && arms.isEmpty()) {
                break;
            }
            if (s instanceof BoundStatement.Call call && !arms.isEmpty()) {
                callable(call, undone);
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
                    Optional<Arm> arm = data.completion(x, around);
                    found[0] |=
                            arm.isPresent()
                                    && !effects.raises(arm.get().handler().body()).isEmpty();
                });
        return found[0] && !arms.isEmpty();
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
                        && t.verb() == dev.cantina.syntax.Statement.TransactionVerb.ROLLBACK;
        boolean leaves =
                raisesAlways(handler.body())
                        && !effects.changes(handler.body())
                        && arm.level().isOutermost();
        return back || leaves;
    }

    private static boolean raisesAlways(BoundStatement s) {
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
        out.comments(span(statements.get(from).at()).start());
        out.add("BEGIN").in();
        for (int i = from; i < to; i++) {
            data.follows(i > 0 ? Optional.of(statements.get(i - 1)) : Optional.empty());
            single(statements.get(i), around.caughtAround(), "");
        }
        out.out();
        arms(all, to == statements.size() ? endOf : "", Optional.empty());
        out.add("END;");
    }

    /** Writes the handlers that an error block leads to. */
    private void arms(List<Arm> all, String endOf, Optional<String> afterwards) {
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
        for (Handler handler : order) {
            List<Arm> own = byHandler.get(handler);
            Set<String> tests = new java.util.LinkedHashSet<>();
            for (Arm arm : own) {
                if (arm.condition().kind() == HandledKind.SQLEXCEPTION) {
                    tests.add("OTHERS");
                } else {
                    PostgresConditions.raisedFor(arm.condition().sqlstate())
                            .forEach(state -> tests.add("SQLSTATE '" + state + "'"));
                }
            }
            if (tests.contains("OTHERS")) {
                tests.retainAll(Set.of("OTHERS"));
            }
            out.add("WHEN " + String.join(" OR ", tests) + " THEN").in();
            arms++;
            handlerBody(own.get(0), endOf, afterwards);
            arms--;
            out.out();
        }
        out.out();
    }

    private void handlerBody(Arm arm, String endOf, Optional<String> afterwards) {
        Handlers beyond = arm.level().beyond();
        BoundStatement body = arm.handler().body();
        fresh = true;
        int before = out.mark();
        if (body instanceof BoundStatement.Block block
                && block.initial().isEmpty()
                && block.handlers().isEmpty()
                && block.cursors().isEmpty()
                && block.tables().isEmpty()
                && block.target().label().isEmpty()) {
            list(block.statements(), beyond, "");
        } else {
            list(List.of(body), beyond, "");
        }
        String label = arm.level().label();
        boolean leaves = arm.isExit() && !label.equals(endOf) && !raisesAlways(body);
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
        out.comments(span(s.at()).start());
        if (!Walker.rows(s).isEmpty()) {
            composite(s, around);
        } else {
            guarded(s, around, endOf);
        }
    }

    private void guarded(BoundStatement s, Handlers around, String endOf) {
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
        if (s instanceof BoundStatement.Call call) {
            callable(call, arms.stream().allMatch(this::undoes));
        }
        Optional<Arm> completion = data.completion(s, around);
        boolean apart =
                completion.isPresent()
                        && !effects.raises(completion.get().handler().body()).isEmpty();
        Optional<String> missing = Optional.empty();
        if (apart && completion.get().leavesAtomic()) {
            completed(completion);
        }
        if (apart) {
            missing = Optional.of(local("missing", "boolean"));
            out.add(missing.get() + " := FALSE;");
        }
        out.add("BEGIN").in();
        data.remember(missing);
        leaf(s, around.caughtAround(), "");
        data.remember(Optional.empty());
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
    private void callable(BoundStatement.Call call, boolean undone) {
        if (hasTransactionIn(call)) {
            throw new Refusal(
                    span(call.at()),
                    call.routine().name()
                            + " ends transactions, which PostgreSQL refuses where a handler stands"
                            + " around the call");
        }
        if (!undone && effects.leavesParts(call.routine())) {
            throw new Refusal(
                    span(call.at()),
                    "a handler stands around this call, and "
                            + call.routine().name()
                            + " can fail with a part of its changes done, which PostgreSQL would"
                            + " take back; make its body BEGIN ATOMIC");
        }
    }

    private boolean hasTransactionIn(BoundStatement.Call call) {
        return effects.endsTransactions(call.routine());
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

    // ---------------------------------------------------------------- statements in statements

    private void composite(BoundStatement s, Handlers around) {
        if (s instanceof BoundStatement.Block block) {
            block(block, around);
        } else if (s instanceof BoundStatement.If choice) {
            choice(choice.branches(), choice.otherwise(), Optional.empty(), s, around);
        } else if (s instanceof BoundStatement.Case choice) {
            caseStatement(choice, around);
        } else if (s instanceof BoundStatement.While loop) {
            whileLoop(loop, around);
        } else if (s instanceof BoundStatement.Repeat loop) {
            repeat(loop, around);
        } else {
            forLoop((BoundStatement.For) s, around);
        }
    }

    private boolean testsFail(List<Branch> branches, Handlers around) {
        return branches.stream()
                .anyMatch(b -> !around.exceptions(effects.raises(b.condition())).isEmpty());
    }

    private void choice(
            List<Branch> branches,
            Optional<List<BoundStatement>> otherwise,
            Optional<String> operand,
            BoundStatement s,
            Handlers around) {
        if (testsFail(branches, around)) {
            String label = free("choice");
            out.add("<<" + label + ">>");
            out.add("BEGIN").in();
            tested(branches, 0, otherwise, operand, label, s, around);
            out.out();
            out.add("END " + label + ";");
            return;
        }
        String word = "IF ";
        for (Branch branch : branches) {
            BoundExpression test = branch.condition();
            out.comments(test.span().start());
            out.pass(test.span().start(), test.span().end());
            String said =
                    operand.map(o -> o + " = " + words.of(test)).orElseGet(() -> words.of(test));
            // Outside brackets the first THEN would end the condition.
            String text = said.matches("(?is).*\\bTHEN\\b.*") ? "(" + said + ")" : said;
            out.add(word, test.span().start(), text, " THEN");
            inner(branch.statements(), around);
            word = "ELSIF ";
        }
        otherwise(otherwise, s, around);
        out.add("END IF;");
    }

    private void otherwise(
            Optional<List<BoundStatement>> otherwise, BoundStatement s, Handlers around) {
        if (otherwise.isPresent()) {
            out.add("ELSE");
            inner(otherwise.get(), around);
        } else if (s instanceof BoundStatement.Case) {
            out.add("ELSE").in();
            List<Arm> arms = around.exceptions(Set.of("20"));
            String raise =
                    "RAISE EXCEPTION USING ERRCODE = '20000', MESSAGE = 'no branch of the CASE fits';";
            if (arms.isEmpty()) {
                out.add(raise);
            } else {
                out.add("BEGIN").in().add(raise).out();
                arms(arms, "", Optional.empty());
                out.add("END;");
            }
            out.out();
        }
    }

    private void tested(
            List<Branch> branches,
            int at,
            Optional<List<BoundStatement>> otherwise,
            Optional<String> operand,
            String label,
            BoundStatement s,
            Handlers around) {
        Branch branch = branches.get(at);
        String test = local("test", "boolean");
        test(test, branch.condition(), operand, around, "EXIT " + label + ";");
        out.add("IF " + test + " THEN");
        inner(branch.statements(), around);
        if (at + 1 < branches.size()) {
            out.add("ELSE").in();
            tested(branches, at + 1, otherwise, operand, label, s, around);
            out.out();
        } else {
            otherwise(otherwise, s, around);
        }
        out.add("END IF;");
    }

    /** Works a test out where its failure is handled; a CONTINUE handler goes on afterwards. */
    private void test(
            String into,
            BoundExpression condition,
            Optional<String> operand,
            Handlers around,
            String afterwards) {
        String text = words.of(condition);
        String value = operand.map(o -> o + " = " + text).orElse(text);
        List<Arm> arms = around.exceptions(effects.raises(condition));
        if (arms.isEmpty()) {
            out.add(into + " := " + value + ";");
            return;
        }
        out.add("BEGIN").in();
        out.add(into + " := " + value + ";");
        out.out();
        arms(arms, "", Optional.of(afterwards));
        out.add("END;");
    }

    private void inner(List<BoundStatement> statements, Handlers around) {
        out.in();
        int before = out.mark();
        list(statements, around, "");
        if (out.mark() == before) {
            out.add("NULL;");
        }
        out.out();
    }

    private void caseStatement(BoundStatement.Case choice, Handlers around) {
        if (choice.operand().isEmpty()) {
            choice(choice.branches(), choice.otherwise(), Optional.empty(), choice, around);
            return;
        }
        BoundExpression operand = choice.operand().get().value();
        List<Arm> arms = around.exceptions(effects.raises(operand));
        String held = local("chosen", PostgresTypes.of(operand.type(), operand.span()));
        String label = free("choice");
        if (!arms.isEmpty()) {
            out.add("<<" + label + ">>").add("BEGIN").in();
            out.add("BEGIN").in();
        }
        out.add(held + " := " + words.of(operand) + ";");
        if (!arms.isEmpty()) {
            out.out();
            arms(arms, "", Optional.of("EXIT " + label + ";"));
            out.add("END;");
        }
        choice(choice.branches(), choice.otherwise(), Optional.of(held), choice, around);
        if (!arms.isEmpty()) {
            out.out().add("END " + label + ";");
        }
    }

    private String loopLabel(JumpTarget target, boolean needed) {
        String label =
                target.label().isEmpty() ? needed ? free("turns") : "" : names.of(target.label());
        leave.put(target, label);
        iterate.put(target, "CONTINUE " + label + ";");
        if (!label.isEmpty()) {
            out.add("<<" + label + ">>");
        }
        return label;
    }

    private void whileLoop(BoundStatement.While loop, Handlers around) {
        List<Arm> arms =
                loop.condition().map(c -> around.exceptions(effects.raises(c))).orElse(List.of());
        String label = loopLabel(loop.target(), !arms.isEmpty());
        if (loop.condition().isEmpty()) {
            out.add("LOOP");
        } else if (arms.isEmpty()) {
            BoundExpression test = loop.condition().get();
            out.pass(test.span().start(), test.span().end());
            out.add("WHILE ", test.span().start(), words.of(test), " LOOP");
        } else {
            String test = local("test", "boolean");
            out.add("LOOP").in();
            test(test, loop.condition().get(), Optional.empty(), around, "EXIT " + label + ";");
            out.add("EXIT WHEN " + test + " IS NOT TRUE;").out();
        }
        inner(loop.statements(), around);
        out.comments(span(loop.at()).end());
        out.add("END LOOP" + (label.isEmpty() ? ";" : " " + label + ";"));
    }

    private void repeat(BoundStatement.Repeat loop, Handlers around) {
        boolean[] iterates = {false};
        Walker.statements(
                loop,
                s ->
                        iterates[0] |=
                                s instanceof BoundStatement.Iterate i
                                        && i.target() == loop.target());
        List<Arm> arms = around.exceptions(effects.raises(loop.condition()));
        String label = loopLabel(loop.target(), !arms.isEmpty());
        out.add("LOOP").in();
        if (iterates[0]) {
            String turn = free("turn");
            iterate.put(loop.target(), "EXIT " + turn + ";");
            out.add("<<" + turn + ">>").add("BEGIN");
            inner(loop.statements(), around);
            out.add("END " + turn + ";");
        } else {
            list(loop.statements(), around, "");
        }
        out.comments(loop.condition().span().start());
        if (arms.isEmpty()) {
            out.add("EXIT WHEN ", loop.condition().span().start(), words.of(loop.condition()), ";");
        } else {
            String test = local("test", "boolean");
            test(test, loop.condition(), Optional.empty(), around, "EXIT " + label + ";");
            out.add("EXIT WHEN " + test + ";");
        }
        out.out();
        out.add("END LOOP" + (label.isEmpty() ? ";" : " " + label + ";"));
    }

    private void forLoop(BoundStatement.For loop, Handlers around) {
        BoundSql query = loop.cursor().query().orElseThrow();
        boolean named = !loop.cursor().name().equals(loop.row().name());
        boolean positioned = loop.cursor().positioning().query().isPresent();
        List<Arm> arms = around.exceptions(effects.raisesItself(loop));
        String row = shared(loop.row().name(), "record");
        out.pass(query.span().start(), query.span().end());
        if (arms.isEmpty() && !positioned) {
            String label = loopLabel(loop.target(), false);
            out.add("FOR " + row + " IN");
            out.in().in().add("", query.span().start(), words.of(query), "").out().out();
            out.add("LOOP");
            inner(loop.statements(), around);
            out.comments(span(loop.at()).end());
            out.add("END LOOP" + (label.isEmpty() ? ";" : " " + label + ";"));
            return;
        }
        if (named && !positioned && usesCursor(loop)) {
            throw new Refusal(span(loop.at()), "a loop's cursor used by name");
        }
        String cursor = local(named ? loop.cursor().name() : row + "s", "refcursor");
        data.renamed(loop.cursor(), cursor);
        String after = free("after");
        leave.put(loop.target(), after);
        String turns =
                loop.target().label().isEmpty() ? free("turns") : names.of(loop.target().label());
        iterate.put(loop.target(), "CONTINUE " + turns + ";");
        out.add("<<" + after + ">>").add("BEGIN").in();
        attempt("OPEN " + cursor + " FOR " + words.of(query) + ";", arms, "EXIT " + after + ";");
        out.add("<<" + turns + ">>").add("LOOP").in();
        attempt("FETCH " + cursor + " INTO " + row + ";", arms, "EXIT " + after + ";");
        out.add("EXIT WHEN NOT FOUND;");
        out.out();
        inner(loop.statements(), around);
        out.add("END LOOP " + turns + ";");
        out.out();
        out.add("END " + after + ";");
        out.add(
                "IF EXISTS (SELECT FROM pg_cursors WHERE name = CAST("
                        + cursor
                        + " AS text)) THEN");
        out.in().add("CLOSE " + cursor + ";").out().add("END IF;");
        out.add(cursor + " := NULL;");
    }

    private static boolean usesCursor(BoundStatement.For loop) {
        boolean[] found = {false};
        Walker.statements(
                loop,
                s ->
                        Walker.expressions(
                                s, e -> found[0] |= e instanceof BoundExpression.CursorRow));
        return found[0];
    }

    private void attempt(String statement, List<Arm> arms, String afterwards) {
        if (arms.isEmpty()) {
            out.add(statement);
            return;
        }
        out.add("BEGIN").in().add(statement).out();
        arms(arms, "", Optional.of(afterwards));
        out.add("END;");
    }

    // ---------------------------------------------------------------- single statements

    private void leaf(BoundStatement s, Handlers around, String endOf) {
        Span span = span(s.at());
        out.comments(span.start());
        if (s instanceof BoundStatement.Assign assign) {
            assign(assign);
        } else if (s instanceof BoundStatement.Leave jump) {
            out.add("EXIT " + leave.get(jump.target()) + ";");
        } else if (s instanceof BoundStatement.Iterate jump) {
            out.add(iterate.get(jump.target()));
        } else if (s instanceof BoundStatement.Return give) {
            giveBack(give);
        } else if (s instanceof BoundStatement.ReturnTable give) {
            giveTable(give);
        } else if (s instanceof BoundStatement.Signal signal) {
            signal(signal);
        } else if (s instanceof BoundStatement.Report report) {
            report(report);
        } else if (s instanceof BoundStatement.Transaction transaction) {
            transaction(transaction);
        } else if (s instanceof BoundStatement.GetDiagnostics get) {
            diagnostics(get);
        } else if (s instanceof BoundStatement.Call call) {
            call(call);
        } else {
            data.write(s, around);
        }
        fresh &= s instanceof BoundStatement.GetDiagnostics;
        out.pass(span.start(), span.end());
    }

    /** A variable as it is named at a place, with the label of its block where another hides it. */
    String target(Target target, int at) {
        Variable variable = target.variable();
        if (target instanceof Target.OfModule) {
            return variable.name();
        }
        String name =
                switch (variable.kind()) {
                    case OLD_ROW -> "OLD";
                    case NEW_ROW -> "NEW";
                    default -> names.of(variable.name());
                };
        boolean seen =
                variable.isHidden()
                        || routine.places()
                                .get(at)
                                .scope()
                                .find(variable.name().toUpperCase(Locale.ROOT))
                                .filter(f -> f.variable() == variable)
                                .isPresent()
                        || !name.equals(variable.name());
        if (!seen) {
            throw new Refusal(
                    span(at), "a variable that is hidden by another of its name is set here");
        }
        if (target instanceof Target.OfRow field) {
            SqlType.Row row = (SqlType.Row) variable.type();
            return name + "." + names.of(row.fields().get(field.field()).name());
        }
        return name;
    }

    private void assign(BoundStatement.Assign assign) {
        if (assign.assignments().size() > 1) {
            List<String> held = new ArrayList<>();
            for (BoundStatement.Assignment a : assign.assignments()) {
                String type = PostgresTypes.of(a.value().type(), span(assign.at()));
                String name = local(a.target().variable().name() + "_new", type);
                out.add(name + " := " + words.of(a.value()) + ";");
                held.add(name);
            }
            for (int i = 0; i < held.size(); i++) {
                store(assign.assignments().get(i).target(), held.get(i), assign.at());
            }
            return;
        }
        BoundStatement.Assignment a = assign.assignments().get(0);
        if (a.value() instanceof BoundExpression.Several several
                && several.type() instanceof SqlType.Row) {
            throw new Refusal(span(assign.at()), "a whole row is set from values");
        }
        Span value = a.value().span();
        String text = words.of(a.value());
        if (a.target() instanceof Target.Whole || a.target() instanceof Target.OfRow) {
            out.pass(value.start(), value.end());
            out.add(target(a.target(), assign.at()) + " := ", value.start(), stored(a, text), ";");
        } else {
            store(a.target(), text, assign.at());
        }
    }

    /** A value on its way into a variable, where the server's own conversion is another. */
    private String stored(BoundStatement.Assignment a, String text) {
        SqlType to = a.value().type();
        SqlType from = PostgresExpressions.bare(a.value()).type();
        if (to instanceof SqlType.Integral && from instanceof SqlType.Approximate) {
            return "CAST(" + text + " AS numeric)";
        }
        if (to instanceof SqlType.Text && from instanceof SqlType.Bool) {
            return "upper(CAST(" + text + " AS text))";
        }
        if (to instanceof SqlType.Array array) {
            String type = PostgresTypes.of(to, a.value().span());
            boolean written = text.matches("(?is)ARRAY\\s*\\[.*");
            String list = written ? "CAST(" + text + " AS " + type + ")" : text;
            return array.maximum() > 0 && !from.equals(to)
                    ? "cantina.bounded(" + list + ", " + array.maximum() + ")"
                    : list;
        }
        return text;
    }

    /** Puts a value, given as text, into a target. */
    void store(Target target, String value, int at) {
        if (target instanceof Target.OfArray element) {
            SqlType.Array type = (SqlType.Array) element.variable().type();
            String name = target(target, at);
            out.add(
                    name
                            + " := cantina.placed("
                            + name
                            + ", "
                            + words.of(element.index())
                            + ", CAST("
                            + value
                            + " AS "
                            + PostgresTypes.bare(type.element(), span(at))
                            + "), "
                            + type.maximum()
                            + ");");
        } else if (target instanceof Target.OfModule shared) {
            String type =
                    PostgresTypes.of(
                            shared.module().variables().get(shared.index()).type(), span(at));
            out.add(
                    "PERFORM set_config('"
                            + PostgresExpressions.setting(shared.module(), shared.index())
                            + "', COALESCE('=' || CAST(CAST("
                            + value
                            + " AS "
                            + type
                            + ") AS text), '-'), FALSE);");
        } else {
            out.add(target(target, at) + " := " + value + ";");
        }
    }

    private void giveBack(BoundStatement.Return give) {
        if (give.value().isEmpty()) {
            finish();
            if (routine.kind() != BoundRoutine.Kind.TRIGGER) {
                out.add("RETURN;");
            }
            return;
        }
        BoundExpression value = give.value().get();
        Span span = value.span();
        SqlType wanted = routine.returns().orElseThrow();
        SqlType given = PostgresExpressions.bare(value).type();
        out.pass(span.start(), span.end());
        if (PostgresTypes.isBounded(wanted) && !given.equals(wanted)) {
            String held = shared("result", PostgresTypes.of(wanted, span));
            out.add(held + " := ", span.start(), words.of(value), ";");
            out.add("RETURN " + held + ";");
            return;
        }
        String text = words.of(value);
        if (wanted instanceof SqlType.Integral && given instanceof SqlType.Approximate) {
            text = "CAST(" + text + " AS numeric)";
        }
        out.add("RETURN ", span.start(), text, ";");
    }

    /** Each column must be of just the type that was declared. */
    private void giveTable(BoundStatement.ReturnTable give) {
        List<String> columns = new ArrayList<>();
        List<String> values = new ArrayList<>();
        for (SqlType.Field column : give.type().columns()) {
            String name = "c" + (columns.size() + 1);
            columns.add(name);
            values.add(
                    "CAST(r."
                            + name
                            + " AS "
                            + PostgresTypes.of(column.type(), span(give.at()))
                            + ")");
        }
        out.add("RETURN QUERY SELECT " + String.join(", ", values));
        out.in();
        out.add("FROM (", give.query().source().span().start(), words.of(give.query()), ")");
        out.add("AS r (" + String.join(", ", columns) + ");");
        out.out();
        out.add("RETURN;");
    }

    private void signalled(BoundStatement.Signal signal, Handlers around) {
        Optional<Arm> arm = around.completion(signal.sqlstate().orElseThrow());
        if (arm.isEmpty()) {
            out.add("NULL; -- nobody handles SQLSTATE '" + signal.sqlstate().get() + "'");
        } else {
            completed(arm);
        }
        out.pass(span(signal.at()).start(), span(signal.at()).end());
    }

    private void signal(BoundStatement.Signal signal) {
        if (signal.conditionName().isPresent()
                && signal.sqlstate().equals(Optional.of("45000"))
                && PostgresConditions.isStateless(signal, routine)) {
            throw new Refusal(
                    span(signal.at()),
                    "a condition with no SQLSTATE can't be told from others there; declare it FOR"
                            + " SQLSTATE");
        }
        if (signal.resignal() && arms == 0) {
            throw new Refusal(span(signal.at()), "RESIGNAL of a completion condition");
        }
        if (signal.resignal() && signal.sqlstate().isEmpty() && signal.items().isEmpty()) {
            out.add("RAISE;");
            return;
        }
        List<String> options = new ArrayList<>();
        options.add(
                "ERRCODE = "
                        + signal.sqlstate().map(state -> "'" + state + "'").orElse("SQLSTATE"));
        boolean said = false;
        for (BoundStatement.SignalItem item : signal.items()) {
            Optional<String> option = PostgresConditions.option(item.item());
            if (option.isPresent()) {
                said |= item.item().equals("MESSAGE_TEXT");
                options.add(option.get() + " = " + words.text(item.value()));
            } else {
                throw new Refusal(span(signal.at()), item.item() + " can't be given there");
            }
        }
        if (!said && signal.resignal()) {
            options.add("MESSAGE = SQLERRM");
        }
        if (!said && !signal.resignal()) {
            options.add("MESSAGE = 'condition " + signal.sqlstate().get() + "'");
        }
        String all = String.join(", ", options);
        if (all.length() < 70) {
            out.add("RAISE EXCEPTION USING " + all + ";");
        } else {
            out.add("RAISE EXCEPTION USING");
            out.in().in();
            for (int i = 0; i < options.size(); i++) {
                out.add(options.get(i) + (i == options.size() - 1 ? ";" : ","));
            }
            out.out().out();
        }
    }

    private void report(BoundStatement.Report report) {
        List<String> items = new ArrayList<>();
        for (BoundExpression item : report.items()) {
            String text = words.text(item);
            boolean sure =
                    PostgresExpressions.bare(item) instanceof BoundExpression.Constant c
                            && c.value() != null;
            items.add(sure ? text : "COALESCE(" + text + ", 'NULL')");
        }
        out.add("RAISE NOTICE '%', " + String.join(" || ", items) + ";");
    }

    private void transaction(BoundStatement.Transaction t) {
        switch (t.verb()) {
            case COMMIT -> out.add(t.chain() ? "COMMIT AND CHAIN;" : "COMMIT;");
            case ROLLBACK -> out.add(t.chain() ? "ROLLBACK AND CHAIN;" : "ROLLBACK;");
            case START -> {
                if (!t.modes().isBlank()) {
                    throw new Refusal(
                            span(t.at()),
                            "a procedure there can't choose the modes of its transaction");
                }
                out.add("PERFORM cantina.start_transaction();");
            }
            default ->
                    throw new Refusal(
                            span(t.at()),
                            t.verb() == dev.cantina.syntax.Statement.TransactionVerb.SET
                                    ? "a procedure there can't choose the modes of its transaction"
                                    : "PL/pgSQL has no savepoints");
        }
    }

    private void diagnostics(BoundStatement.GetDiagnostics get) {
        for (BoundStatement.DiagnosticsItem item : get.items()) {
            Target target = item.assignment().target();
            String source =
                    PostgresConditions.item(item.item(), get, arms > 0, fresh, data.afterData());
            if (source.isEmpty()) {
                throw new Refusal(
                        span(get.at()),
                        item.item()
                                + (item.item().equals("ROW_COUNT")
                                        ? " is kept there only right after the statement that it counts"
                                        : " is not kept there"));
            }
            if (source.startsWith("GET ")) {
                boolean plain = target instanceof Target.Whole;
                String into =
                        plain
                                ? target(target, get.at())
                                : local("got", source.contains("ROW_COUNT") ? "bigint" : "text");
                out.add(source.replace("$", into) + ";");
                if (!plain) {
                    store(target, into, get.at());
                }
            } else {
                store(target, source, get.at());
            }
        }
    }

    private void call(BoundStatement.Call call) {
        if (!PostgresSignature.resultSets(call.routine()).isEmpty()) {
            throw new Refusal(
                    span(call.at()), call.routine().name() + " hands out rows, and is called here");
        }
        List<String> arguments = new ArrayList<>();
        List<String> after = new ArrayList<>();
        for (int i = 0; i < call.arguments().size(); i++) {
            BoundStatement.Argument argument = call.arguments().get(i);
            var parameter = call.routine().parameters().get(i);
            if (!parameter.mode().gives()) {
                arguments.add(words.typed(argument.value().orElseThrow(), parameter.type()));
                continue;
            }
            String bare = PostgresTypes.bare(parameter.type(), span(call.at()));
            boolean same =
                    argument.result().isPresent()
                            && argument.result().get().target() instanceof Target.Whole whole
                            && PostgresTypes.bare(whole.variable().type(), span(call.at()))
                                    .equals(bare)
                            && !PostgresTypes.isBounded(whole.variable().type())
                            && !parameter.mode().takes();
            if (same) {
                arguments.add(target(argument.result().get().target(), call.at()));
                continue;
            }
            String held = local(parameter.name().text() + "_given", bare);
            if (argument.value().isPresent()) {
                out.add(held + " := " + words.of(argument.value().get()) + ";");
            }
            arguments.add(held);
            argument.result()
                    .ifPresent(
                            r -> {
                                after.add(held);
                                results.add(r);
                            });
        }
        out.add("CALL " + words.callee(call.routine()) + "(" + String.join(", ", arguments) + ");");
        List<BoundStatement.Assignment> stored = new ArrayList<>(results);
        results.clear();
        for (int i = 0; i < after.size(); i++) {
            store(stored.get(i).target(), after.get(i), call.at());
        }
    }

    private final List<BoundStatement.Assignment> results = new ArrayList<>();
}
