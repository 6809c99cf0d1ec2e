package dev.cantina.deploy;

import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.check.BoundExpression;
import dev.cantina.check.BoundSql;
import dev.cantina.check.BoundStatement;
import dev.cantina.check.BoundStatement.Assignment;
import dev.cantina.check.BoundStatement.Target;
import dev.cantina.check.CursorSymbol;
import dev.cantina.check.MaybeManyRows;
import dev.cantina.check.MaybeNoRow;
import dev.cantina.check.Walker;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.Statement;
import dev.cantina.syntax.Statement.TransactionVerb;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** The statements that hold no others. */
final class MariaStatements {
    private static final String CLEAN =
            "SET @cantina_clean = IF(@cantina_clean IS NULL, NULL, TRUE)";
    private static final String CLOSED =
            "BEGIN DECLARE CONTINUE HANDLER FOR 1326 BEGIN END; CLOSE %s; END";
    private static final String SKIP = "DECLARE CONTINUE HANDLER FOR %s BEGIN END";
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
    private boolean fresh;
    private boolean captured;
    private boolean afterData;

    MariaStatements(MariaBody body, MariaExpressions words, Effects effects) {
        this.body = body;
        this.words = words;
        this.effects = effects;
    }

    /** What stands right before the next statement. */
    void follows(Optional<BoundStatement> before) {
        before.ifPresent(s -> fresh &= s instanceof BoundStatement.GetDiagnostics);
        afterData =
                before.filter(
                                s ->
                                        s instanceof BoundStatement.Execute
                                                || s instanceof BoundStatement.Fill
                                                || s instanceof BoundStatement.Perform
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
        if (s instanceof BoundStatement.Assign assign) {
            assign(assign, around);
        } else if (s instanceof BoundStatement.Fill fill) {
            fill(fill, around);
        } else if (s instanceof BoundStatement.Execute execute) {
            execute(execute, around, listed);
        } else if (s instanceof BoundStatement.HandOut rows) {
            body.splice().put(span, words.of(rows.sql()));
        } else if (s instanceof BoundStatement.Leave leave) {
            body.blocks().jump(leave.target(), span);
            label(((Statement.Leave) body.written(s)).label());
        } else if (s instanceof BoundStatement.Iterate iterate) {
            body.blocks().jump(iterate.target(), span);
            Optional<String> round = body.blocks().round(iterate.target());
            if (round.isPresent()) {
                body.splice().put(span, "LEAVE " + round.get());
            } else {
                label(((Statement.Iterate) body.written(s)).label());
            }
        } else if (s instanceof BoundStatement.Call call) {
            call(call, around, listed);
        } else if (s instanceof BoundStatement.Return give) {
            give(give, around, span, listed);
        } else if (s instanceof BoundStatement.Signal signal) {
            signal(signal, around, listed);
        } else if (s instanceof BoundStatement.GetDiagnostics get) {
            diagnostics(get, span);
        } else if (s instanceof BoundStatement.Transaction transaction) {
            transaction(transaction, span, listed);
        } else if (s instanceof BoundStatement.Report report) {
            report(report, span);
        } else if (s instanceof BoundStatement.Open open) {
            open(open, span);
        } else if (s instanceof BoundStatement.Fetch fetch) {
            fetch(fetch, around, span);
        } else if (s instanceof BoundStatement.Close close) {
            if (close.cursor().returned()) {
                throw new Refusal(span, "a cursor WITH RETURN hands its rows out as it is opened");
            }
        } else if (s instanceof BoundStatement.Prepare prepare) {
            prepare(prepare, span, listed);
        } else if (s instanceof BoundStatement.Perform perform) {
            perform(perform, around, span, listed);
        } else if (s instanceof BoundStatement.Deallocate) {
            return;
        } else {
            throw new Refusal(span, "this statement has no counterpart on MariaDB");
        }
    }

    /** A label by a name that the server takes. */
    void label(dev.cantina.syntax.Name label) {
        String name = words.names().of(label);
        if (!name.equals(label.written())) {
            body.splice().put(label.span(), name);
        }
    }

    // ---------------------------------------------------------------- assignment

    private String target(Target target, Span span) {
        if (target instanceof Target.OfArray) {
            throw new Refusal(span, "MariaDB has no arrays");
        }
        if (target instanceof Target.OfRow field) {
            SqlType.Row type = (SqlType.Row) field.variable().type();
            return words.row(field.variable())
                    + "."
                    + words.names().of(type.fields().get(field.field()).name());
        }
        if (target instanceof Target.OfModule shared) {
            if (words.module().filter(m -> m == shared.module()).isEmpty()) {
                throw new Refusal(
                        span, "a module's variable is set from inside its module alone there");
            }
            return words.shared(shared.module().variables().get(shared.index()));
        }
        return words.name(target.variable());
    }

    private static SqlType typeOf(Target target) {
        SqlType type = target.variable().type();
        if (target instanceof Target.OfRow field) {
            return ((SqlType.Row) type).fields().get(field.field()).type();
        }
        if (target instanceof Target.OfModule shared) {
            return shared.module().variables().get(shared.index()).type();
        }
        return type;
    }

    private boolean isCaught(BoundStatement s, Handlers around) {
        return !around.exceptions(effects.raisesItself(s)).isEmpty();
    }

    private void assign(BoundStatement.Assign assign, Handlers around) {
        Span span = body.span(assign.at());
        List<Assignment> all = assign.assignments();
        boolean safe = !isCaught(assign, around);
        Statement tree = body.written(assign);
        if (all.size() == 1 && tree instanceof Statement.Set set) {
            Assignment one = all.get(0);
            String target = target(one.target(), span);
            boolean column = target.startsWith("NEW.") || target.startsWith("OLD.");
            if (safe || column) {
                words.edit(one.value(), body.splice());
                body.splice().put(set.target().span(), target);
                return;
            }
        }
        List<String> values = new ArrayList<>();
        List<String> targets = new ArrayList<>();
        for (Assignment one : all) {
            values.add(words.of(one.value()));
            targets.add(target(one.target(), span));
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
            body.splice().put(span, "SET " + String.join(", ", sets));
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
                                        || e instanceof BoundExpression.Ask
                                        || e instanceof BoundExpression.Invoke
                                        || e instanceof BoundExpression.ReadShared);
        return found[0];
    }

    /**
     * A failed assignment leaves NULL behind there, so the values go into variables of their own
     * first; a condition then leaves this block and goes to the handler that it has.
     */
    private void guarded(Span span, List<Target> targets, List<String> statements) {
        StringBuilder text = new StringBuilder("BEGIN\n");
        for (int i = 0; i < targets.size(); i++) {
            text.append("  DECLARE cantina_")
                    .append(i + 1)
                    .append(' ')
                    .append(words.type(typeOf(targets.get(i)), span))
                    .append(";\n");
        }
        text.append("  DECLARE EXIT HANDLER FOR SQLEXCEPTION RESIGNAL;\n");
        statements.forEach(s -> text.append("  ").append(s).append(";\n"));
        for (int i = 0; i < targets.size(); i++) {
            text.append("  SET ")
                    .append(target(targets.get(i), span))
                    .append(" = cantina_")
                    .append(i + 1)
                    .append(";\n");
        }
        text.append("END");
        body.splice().put(span, Layout.shifted(text.toString(), body.indent(span)));
    }

    private void fill(BoundStatement.Fill fill, Handlers around) {
        Span span = body.span(fill.at());
        List<String> targets = new ArrayList<>();
        fill.targets().forEach(t -> targets.add(target(t, span)));
        boolean handled = around.completion("02000").isPresent();
        boolean sure = MaybeNoRow.alwaysOneRow(fill.query());
        String indent = body.indent(span);
        if (fill.targets().stream().anyMatch(t -> typeOf(t) instanceof SqlType.Row)
                && fill.targets().size() > 1) {
            throw new Refusal(span, "a row and other variables are filled by one query");
        }
        boolean converts = converts(fill) && !around.exceptions(Set.of("22")).isEmpty();
        boolean row = fill.targets().stream().anyMatch(t -> typeOf(t) instanceof SqlType.Row);
        if (converts && (row || !fill.select())) {
            throw new Refusal(
                    span,
                    "a value that may not fit its variable: MariaDB would leave NULL in it; cast it");
        }
        if (fill.select() && !row && isCaught(fill, around) && (converts || canFail(fill))) {
            fillApart(fill, targets, handled || sure, span);
            return;
        }
        String into = "INTO " + String.join(", ", targets);
        String query = words.of(fill.query(), Optional.of(into));
        if (!fill.select()) {
            if (sure) {
                body.splice().put(span, query);
                return;
            }
            String empty =
                    targets.stream()
                            .map(t -> "SET " + t + " = NULL;")
                            .collect(Collectors.joining(" "));
            body.splice()
                    .put(
                            span,
                            "BEGIN\n"
                                    + indent
                                    + "  DECLARE CONTINUE HANDLER FOR NOT FOUND BEGIN "
                                    + empty
                                    + " END;\n"
                                    + indent
                                    + "  "
                                    + query
                                    + ";\n"
                                    + indent
                                    + "END");
            return;
        }
        body.splice().put(span, handled || sure ? query : skipping("NOT FOUND", query, span));
        if (body.asksRows()) {
            counted(span);
        }
    }

    /** Whether a query can fail with some of its values in their variables already. */
    private boolean canFail(BoundStatement.Fill fill) {
        return Written.works(fill.query().source().span())
                || MaybeManyRows.mayBeSeveral(fill.query(), words.catalog());
    }

    /**
     * A query that fails would leave what it found till then in its variables, so the values go
     * into variables of their own first, which hold what the others do where there is no row.
     */
    private void fillApart(
            BoundStatement.Fill fill, List<String> targets, boolean told, Span span) {
        StringBuilder text = new StringBuilder("BEGIN\n");
        StringBuilder after = new StringBuilder();
        List<String> own = new ArrayList<>();
        for (int i = 0; i < targets.size(); i++) {
            String name = "cantina_" + (i + 1);
            own.add(name);
            text.append("  DECLARE " + name + " ");
            text.append(words.type(typeOf(fill.targets().get(i)), span));
            text.append(" DEFAULT " + targets.get(i) + ";\n");
            after.append("  SET " + targets.get(i) + " = " + name + ";\n");
        }
        text.append("  DECLARE EXIT HANDLER FOR SQLEXCEPTION RESIGNAL;\n");
        if (!told) {
            text.append("  " + SKIP.formatted("NOT FOUND") + ";\n");
        } else {
            text.append("  DECLARE EXIT HANDLER FOR NOT FOUND RESIGNAL;\n");
        }
        if (body.asksRows()) {
            text.append("  SET cantina_rows = 0;\n");
        }
        String query = words.of(fill.query(), Optional.of("INTO " + String.join(", ", own)));
        text.append("  " + MariaBody.shifted(query) + ";\n");
        if (body.asksRows()) {
            text.append("  SET cantina_rows = GREATEST(ROW_COUNT(), 0);\n");
        }
        text.append(after).append("END");
        body.splice().put(span, Layout.shifted(text.toString(), body.indent(span)));
    }

    private void counted(Span span) {
        body.splice()
                .behind(
                        span,
                        ";\n" + body.indent(span) + "SET cantina_rows = GREATEST(ROW_COUNT(), 0)");
    }

    /** Whether a column's value may not fit the variable that it goes into. */
    private static boolean converts(BoundStatement.Fill fill) {
        List<SqlType.Field> columns = fill.query().columns();
        if (columns.size() != fill.targets().size()) {
            return false;
        }
        for (int i = 0; i < columns.size(); i++) {
            SqlType from = columns.get(i).type();
            SqlType to = typeOf(fill.targets().get(i));
            boolean text = from instanceof SqlType.Text && !(to instanceof SqlType.Text);
            boolean longer =
                    from instanceof SqlType.Text a
                            && to instanceof SqlType.Text b
                            && b.length() > 0
                            && (a.length() == 0 || a.length() > b.length());
            if (text || longer) {
                return true;
            }
        }
        return false;
    }

    /** A statement whose condition nobody here handles, and which nobody outside must see. */
    private String skipping(String condition, String statement, Span span) {
        String indent = body.indent(span);
        return "BEGIN\n"
                + indent
                + "  "
                + SKIP.formatted(condition)
                + ";\n"
                + indent
                + "  "
                + MariaBody.shifted(statement)
                + ";\n"
                + indent
                + "END";
    }

    // ---------------------------------------------------------------- changes

    private void execute(BoundStatement.Execute execute, Handlers around, boolean listed) {
        BoundSql sql = execute.sql();
        Span span = body.span(execute.at());
        boolean schema = !sql.changesRows();
        if (schema) {
            throw new Refusal(span, "MariaDB ends the transaction at a schema statement");
        }
        String text = words.of(sql);
        boolean none = mayChangeNone(sql) && around.completion("02000").isPresent();
        List<String> before = new ArrayList<>();
        List<String> after = new ArrayList<>();
        boolean update = sql.verb().equals("UPDATE");
        boolean asked = body.asksRows();
        boolean goesOn =
                asked
                        && around.exceptions(effects.raisesItself(execute)).stream()
                                .anyMatch(a -> !a.isExit());
        if (goesOn) {
            before.add("SET cantina_rows = 0");
            if (none) {
                after.add("IF cantina_rows = 0 THEN SIGNAL SQLSTATE '02000'; END IF");
            }
        } else if (update && (none || asked)) {
            String rows = asked ? "cantina_rows" : "@cantina_rows";
            before.add(counting(text, rows, span));
            if (none) {
                after.add("IF " + rows + " = 0 THEN SIGNAL SQLSTATE '02000'; END IF");
            }
        } else {
            if (asked) {
                after.add("SET cantina_rows = ROW_COUNT()");
            }
            if (none) {
                after.add(
                        "IF "
                                + (asked ? "cantina_rows" : "ROW_COUNT()")
                                + " = 0 THEN SIGNAL SQLSTATE '02000'; END IF");
            }
        }
        mark(after, span, asked ? "cantina_rows = 0" : "ROW_COUNT() = 0");
        body.splice().put(span, goesOn ? countedWhole(text, update, span) : text);
        body.surround(span, before, after, listed);
        KeyUpdates.refuse(sql, words.catalog(), span, "MariaDB");
    }

    /** A change that is counted only where it does not fail, after which a handler goes on. */
    private String countedWhole(String text, boolean update, Span span) {
        String indent = body.indent(span);
        String found = update ? counting(text, "cantina_found", span) + ";\n" + indent + "  " : "";
        return "BEGIN\n"
                + indent
                + "  DECLARE cantina_found integer;\n"
                + indent
                + "  DECLARE EXIT HANDLER FOR SQLEXCEPTION RESIGNAL;\n"
                + indent
                + "  "
                + found
                + MariaBody.shifted(text)
                + ";\n"
                + indent
                + "  SET cantina_rows = "
                + (update ? "cantina_found" : "ROW_COUNT()")
                + ";\n"
                + indent
                + "END";
    }

    /**
     * After a change: START TRANSACTION is not welcome any more.
     *
     * @param unless where that has changed nothing
     */
    private void mark(List<String> after, Span span, String unless) {
        if (startsAfter(span)) {
            after.add(
                    0,
                    "SET @cantina_clean = IF(@cantina_clean IS NULL OR "
                            + unless
                            + ", @cantina_clean, FALSE)");
            if (after.size() > 1 && after.get(1).startsWith("SET cantina_rows = ROW_COUNT()")) {
                after.add(after.remove(0));
            }
        }
    }

    /** Whether a START TRANSACTION may be run after a place: it stands behind it, or goes round. */
    private boolean startsAfter(Span span) {
        if (!reachesStart()) {
            return false;
        }
        boolean[] found = {false};
        Walker.statements(
                body.routine().body(),
                s -> {
                    boolean loop =
                            s instanceof BoundStatement.While
                                    || s instanceof BoundStatement.Repeat
                                    || s instanceof BoundStatement.For;
                    boolean handlers =
                            s instanceof BoundStatement.Block block
                                    && block.handlers().stream().anyMatch(h -> begins(h.body()));
                    found[0] |=
                            (loop && begins(s))
                                    || handlers
                                    || starts(s) && body.span(s.at()).start() > span.start();
                });
        return found[0];
    }

    private boolean begins(BoundStatement s) {
        boolean[] found = {false};
        Walker.statements(s, inner -> found[0] |= starts(inner));
        return found[0];
    }

    private boolean starts(BoundStatement s) {
        return s instanceof BoundStatement.Transaction t && t.verb() == TransactionVerb.START
                || s instanceof BoundStatement.Call call
                        && effects.beginsTransactions(call.routine());
    }

    private static boolean mayChangeNone(BoundSql sql) {
        return !sql.verb().equals("INSERT")
                || sql.source().span().text().matches("(?is).*\\b(SELECT|TABLE|WITH)\\b.*");
    }

    /**
     * How many rows an UPDATE finds: what the server counts afterwards are those alone that it made
     * another.
     */
    private String counting(String update, String rows, Span span) {
        int set = keyword(update, "SET", 0);
        int where = keyword(update, "WHERE", set);
        if (set < 0 || !update.regionMatches(true, 0, "UPDATE", 0, 6)) {
            throw new Refusal(span, "what this changes can't be counted on MariaDB");
        }
        String table = update.substring(6, set).strip();
        String condition = where < 0 ? "" : " " + update.substring(where).strip();
        return "SELECT COUNT(*) INTO " + rows + " FROM " + table + condition + " FOR UPDATE";
    }

    /** Where a word stands outside brackets and quotes; -1 where it does not. */
    private static int keyword(String text, String word, int from) {
        int depth = 0;
        char quote = 0;
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            if (quote != 0) {
                quote = c == quote ? 0 : quote;
            } else if (c == '\'' || c == '"' || c == '`') {
                quote = c;
            } else if (c == '(') {
                depth++;
            } else if (c == ')') {
                depth--;
            } else if (depth == 0
                    && i >= from
                    && text.regionMatches(true, i, word, 0, word.length())
                    && (i == 0 || !Character.isJavaIdentifierPart(text.charAt(i - 1)))
                    && (i + word.length() == text.length()
                            || !Character.isJavaIdentifierPart(text.charAt(i + word.length())))) {
                return i;
            }
        }
        return -1;
    }

    // ---------------------------------------------------------------- calls

    private void call(BoundStatement.Call call, Handlers around, boolean listed) {
        Span span = body.span(call.at());
        Statement.Call tree = (Statement.Call) body.written(call);
        RoutineSymbol routine = call.routine();
        List<String> given = new ArrayList<>();
        for (int i = 0; i < routine.parameters().size(); i++) {
            ParameterSymbol parameter = routine.parameters().get(i);
            BoundStatement.Argument argument = call.arguments().get(i);
            if (argument.result().isPresent()) {
                given.add(target(argument.result().get().target(), span));
            } else if (argument.value().isPresent()) {
                given.add(words.of(argument.value().get()));
            } else {
                given.add(words.initial(parameter));
            }
        }
        boolean plain =
                !returnsIntoAnother(call, around)
                        && tree.arguments().size() == given.size()
                        && tree.arguments().stream().allMatch(a -> a.name().isEmpty());
        if (plain) {
            Span first = tree.name().get(0).span();
            Span name = first.to(tree.name().get(tree.name().size() - 1).span());
            body.splice().put(name, words.callee(routine));
            for (int i = 0; i < given.size(); i++) {
                body.splice().put(tree.arguments().get(i).value().span(), given.get(i));
            }
        } else {
            boolean direct = !returnsIntoAnother(call, around);
            body.splice()
                    .put(
                            span,
                            direct
                                    ? "CALL "
                                            + words.callee(routine)
                                            + "("
                                            + String.join(", ", given)
                                            + ")"
                                    : through(call, given, span));
        }
        if (body.blocks().isAtomic() && effects.endsTransactions(routine)) {
            throw new Refusal(
                    span,
                    "this ends the transaction, which MariaDB would do in an ATOMIC block too");
        }
        if (effects.endsTransactions(routine)) {
            keptOpen(call, span);
        }
        List<String> before = new ArrayList<>();
        if (routine.tree().span().equals(body.routine().span())
                || effects.isRecursive(body.routine())) {
            before.add("SET max_sp_recursion_depth = 255");
        }
        List<String> after = new ArrayList<>();
        if (Effects.endsWithEnd(effects.body(routine)) && startsAfter(span)) {
            after.add(CLEAN);
        } else if (effects.changes(routine)) {
            mark(after, span, "FALSE");
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
                            .filter(r -> !typeOf(r.target()).equals(type))
                            .isPresent();
        }
        return another && !around.exceptions(Set.of(Effects.ANY)).isEmpty();
    }

    /** A call whose values come back into variables of the parameters' types first. */
    private String through(BoundStatement.Call call, List<String> given, Span span) {
        StringBuilder declared = new StringBuilder("BEGIN\n");
        StringBuilder before = new StringBuilder();
        StringBuilder after = new StringBuilder();
        StringBuilder last = new StringBuilder();
        List<String> passed = new ArrayList<>(given);
        for (int i = 0; i < given.size(); i++) {
            Optional<Assignment> result = call.arguments().get(i).result();
            if (result.isEmpty()) {
                continue;
            }
            String own = "cantina_" + (i + 1);
            SqlType type = call.routine().parameters().get(i).type();
            declared.append("  DECLARE " + own + " " + words.type(type, span) + ";\n");
            declared.append("  DECLARE " + own + "_back ");
            declared.append(words.type(typeOf(result.get().target()), span) + ";\n");
            if (call.arguments().get(i).value().isPresent()) {
                before.append("  SET " + own + " = " + given.get(i) + ";\n");
            }
            after.append("  SET " + own + "_back = " + own + ";\n");
            last.append("  SET " + given.get(i) + " = " + own + "_back;\n");
            passed.set(i, own);
        }
        return declared
                + "  DECLARE EXIT HANDLER FOR SQLEXCEPTION RESIGNAL;\n"
                + before
                + "  CALL "
                + words.callee(call.routine())
                + "("
                + String.join(", ", passed)
                + ");\n"
                + after
                + last
                + "END";
    }

    private void keptOpen(BoundStatement.Call call, Span span) {
        Walker.statements(
                body.routine().body(),
                s -> {
                    if (s instanceof BoundStatement.Block block
                            && MariaBlocks.holds(block, call)
                            && block.cursors().stream()
                                    .filter(c -> c.lifetime() == CursorSymbol.Lifetime.TRANSACTION)
                                    .anyMatch(c -> canBeOpen(c, block, span.start()))) {
                        throw new Refusal(
                                span,
                                "this ends the transaction, and MariaDB would leave a cursor open;"
                                        + " declare it WITH HOLD");
                    }
                });
    }

    private void give(BoundStatement.Return give, Handlers around, Span span, boolean listed) {
        if (give.value().isPresent()) {
            words.edit(give.value().get(), body.splice());
            boolean goesOn =
                    around.exceptions(effects.raisesItself(give)).stream()
                            .anyMatch(a -> !a.isExit());
            if (goesOn) {
                // Where it fails and a handler goes on, there is no value.
                String none =
                        "SIGNAL SQLSTATE '2F005' SET MESSAGE_TEXT = 'the function ended without RETURN'";
                body.surround(span, List.of(), List.of(none), listed);
            }
        } else if (body.isProcedure()) {
            body.splice().put(span, body.leave(body.blocks().inHandler()));
        } else {
            throw new Refusal(span, "RETURN without a value here");
        }
    }

    // ---------------------------------------------------------------- conditions

    private void signal(BoundStatement.Signal signal, Handlers around, boolean listed) {
        Span span = body.span(signal.at());
        boolean stateless = !signal.resignal() && signal.sqlstate().isEmpty();
        if (signal.resignal() && !body.blocks().inHandler()) {
            throw new Refusal(span, "MariaDB passes a condition on in its handler alone");
        }
        if (stateless
                || signal.conditionName().isPresent()
                        && PostgresConditions.isStateless(signal, body.routine())) {
            throw new Refusal(
                    span, "a condition with no SQLSTATE is unknown there; declare it FOR SQLSTATE");
        }
        List<String> before = new ArrayList<>();
        StringBuilder text = new StringBuilder(signal.resignal() ? "RESIGNAL" : "SIGNAL");
        signal.sqlstate().ifPresent(state -> text.append(" SQLSTATE '").append(state).append('\''));
        int number = 0;
        for (BoundStatement.SignalItem item : signal.items()) {
            if (!SIGNALLED.contains(item.item())) {
                throw new Refusal(span, "SIGNAL has no " + item.item() + " on MariaDB");
            }
            BoundExpression value = Written.bare(item.value());
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
                                                Written.bare(i.value())
                                                        instanceof BoundExpression.Constant);
        String category = signal.sqlstate().map(s -> s.substring(0, 2)).orElse("");
        boolean completion = category.equals("01") || category.equals("02");
        boolean unheard = completion && around.completion(signal.sqlstate().orElse("")).isEmpty();
        if (unheard) {
            body.splice()
                    .put(
                            span,
                            skipping(
                                    category.equals("01") ? "SQLWARNING" : "NOT FOUND",
                                    text.toString(),
                                    span));
        } else if (!asWritten) {
            body.splice().put(span, text.toString());
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
                        .map(Written::bare)
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
                throw new Refusal(
                        span,
                        item.item().equals("ROW_COUNT")
                                ? "ROW_COUNT is kept there only right after the statement that it counts"
                                : item.item() + " is not kept there");
            }
            sets.add(target(item.assignment().target(), span) + " = " + value);
        }
        body.splice().put(span, "SET " + String.join(", ", sets));
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

    private Optional<Boolean> reaches = Optional.empty();

    /** Whether START TRANSACTION stands in it, or in something that it calls. */
    boolean reachesStart() {
        if (reaches.isEmpty()) {
            reaches = Optional.of(body.isOutside() && effects.beginsTransactions(body.routine()));
        }
        return reaches.get();
    }

    private void transaction(BoundStatement.Transaction transaction, Span span, boolean listed) {
        boolean barred = !body.isOutside() || body.blocks().isAtomic();
        if (barred) {
            body.splice()
                    .put(
                            span,
                            "SIGNAL SQLSTATE '2D000' SET MESSAGE_TEXT ="
                                    + " 'a transaction statement is not allowed here'");
            return;
        }
        if (!transaction.modes().isBlank()
                && !transaction.modes().strip().equalsIgnoreCase("READ WRITE")) {
            throw new Refusal(span, "the modes of a transaction that runs already");
        }
        List<String> after = new ArrayList<>();
        String savepoint = transaction.savepoint().map(words.names()::of).orElse("");
        String text =
                switch (transaction.verb()) {
                    case START -> "CALL cantina_may_begin()";
                    case SET ->
                            throw new Refusal(span, "the modes of a transaction that runs already");
                    case COMMIT -> "COMMIT AND CHAIN";
                    case ROLLBACK -> "ROLLBACK AND CHAIN";
                    case SAVEPOINT -> "SAVEPOINT " + savepoint;
                    case ROLLBACK_TO -> "ROLLBACK TO SAVEPOINT " + savepoint;
                    case RELEASE -> "RELEASE SAVEPOINT " + savepoint;
                };
        body.splice().put(span, text);
        boolean ends =
                transaction.verb() == TransactionVerb.COMMIT
                        || transaction.verb() == TransactionVerb.ROLLBACK;
        if (transaction.verb() == TransactionVerb.COMMIT) {
            emptied(after);
        }
        if (ends) {
            closed(transaction, after);
        }
        if (ends && startsAfter(span)) {
            after.add(CLEAN);
        }
        body.surround(span, List.of(), after, listed);
    }

    /** The end of a transaction closes cursors, which the server leaves open. */
    private void closed(BoundStatement.Transaction transaction, List<String> after) {
        int end = body.span(transaction.at()).start();
        Walker.statements(
                body.routine().body(),
                s -> {
                    if (s instanceof BoundStatement.Block block
                            && MariaBlocks.holds(block, transaction)) {
                        block.cursors().stream()
                                .filter(c -> c.lifetime() == CursorSymbol.Lifetime.TRANSACTION)
                                .filter(c -> !c.returned() && canBeOpen(c, block, end))
                                .map(c -> words.names().of(c.name()))
                                .forEach(c -> after.add(CLOSED.formatted(c)));
                    }
                });
    }

    /** Whether a cursor can be open where a statement begins. */
    private boolean canBeOpen(CursorSymbol cursor, BoundStatement.Block block, int at) {
        boolean[] open = {false};
        Walker.statements(
                block,
                s -> {
                    boolean before = s.at() >= 0 && body.span(s.at()).start() < at;
                    boolean loop =
                            s instanceof BoundStatement.While
                                    || s instanceof BoundStatement.Repeat
                                    || s instanceof BoundStatement.For;
                    if (loop && before && body.span(s.at()).end() > at) {
                        Walker.statements(
                                s,
                                inner ->
                                        open[0] |=
                                                inner instanceof BoundStatement.Open o
                                                        && o.cursor() == cursor);
                    } else if (before && s instanceof BoundStatement.Open o) {
                        open[0] |= o.cursor() == cursor;
                    } else if (before && s instanceof BoundStatement.Close c) {
                        open[0] &= c.cursor() != cursor;
                    }
                });
        return open[0];
    }

    /** The tables of blocks whose rows a COMMIT takes away. */
    private void emptied(List<String> after) {
        Walker.statements(
                body.routine().body(),
                s -> {
                    if (s instanceof BoundStatement.Block block) {
                        block.tables().stream()
                                .filter(t -> !t.preserve())
                                .forEach(
                                        t ->
                                                after.add(
                                                        "DELETE FROM "
                                                                + words.names()
                                                                        .of(
                                                                                t.table()
                                                                                        .name()
                                                                                        .toLowerCase(
                                                                                                Locale
                                                                                                        .ROOT))));
                    }
                });
    }

    private void report(BoundStatement.Report report, Span span) {
        List<String> items = new ArrayList<>();
        for (BoundExpression item : report.items()) {
            boolean text =
                    Written.bare(item) instanceof BoundExpression.Constant constant
                            && constant.value() instanceof String;
            items.add(text ? words.of(item) : "COALESCE(" + words.text(item) + ", 'NULL')");
        }
        body.splice()
                .put(
                        span,
                        "SET @cantina_says = CONCAT_WS(CHAR(10 USING utf8mb4), @cantina_says, CONCAT("
                                + String.join(", ", items)
                                + "))");
    }

    // ---------------------------------------------------------------- cursors

    private void open(BoundStatement.Open open, Span span) {
        CursorSymbol cursor = open.cursor();
        if (cursor.returned()) {
            body.splice().put(span, words.of(cursor.query().orElseThrow()));
        }
    }

    private void fetch(BoundStatement.Fetch fetch, Handlers around, Span span) {
        if (fetch.cursor().scroll() && !fetch.orientation().equals("NEXT")
                || !fetch.orientation().equals("NEXT")) {
            throw new Refusal(span, "MariaDB's cursors go forwards alone");
        }
        if (fetch.cursor().returned()) {
            throw new Refusal(span, "a cursor WITH RETURN hands its rows out as it is opened");
        }
        if (fetch.cursor().positioning().query().isPresent()) {
            throw new Refusal(span, "MariaDB has no changes WHERE CURRENT OF a cursor");
        }
        List<String> targets = new ArrayList<>();
        fetch.targets().forEach(t -> targets.add(target(t, span)));
        String text =
                "FETCH "
                        + words.names().of(fetch.cursor().name())
                        + " INTO "
                        + String.join(", ", targets);
        boolean handled = around.completion("02000").isPresent();
        body.splice().put(span, handled ? text : skipping("NOT FOUND", text, span));
    }

    // ---------------------------------------------------------------- dynamic SQL

    private static String statement(String name) {
        return name.toLowerCase(Locale.ROOT);
    }

    private void dynamic(Span span) {
        if (!body.isOutside()) {
            throw new Refusal(span, "MariaDB runs no dynamic SQL in functions and triggers");
        }
    }

    private void prepare(BoundStatement.Prepare prepare, Span span, boolean listed) {
        dynamic(span);
        String name = statement(prepare.name());
        body.splice().put(span, "PREPARE " + words.names().of(name) + " FROM @cantina_" + name);
        body.surround(
                span,
                List.of(
                        "SET @cantina_" + name + " = " + words.of(prepare.text()),
                        notNull("@cantina_" + name)),
                List.of(),
                listed);
    }

    private static String notNull(String text) {
        return "IF "
                + text
                + " IS NULL THEN SIGNAL SQLSTATE '22004' SET MESSAGE_TEXT = 'the statement is NULL'; END IF";
    }

    private void perform(
            BoundStatement.Perform perform, Handlers around, Span span, boolean listed) {
        dynamic(span);
        List<String> using = new ArrayList<>();
        List<String> before = new ArrayList<>();
        for (BoundExpression value : perform.using()) {
            boolean plain = Written.bare(value) instanceof BoundExpression.Constant;
            String text = words.of(value);
            boolean called = text.contains("(");
            if (plain || !called) {
                using.add(text);
            } else {
                String held = "@cantina_value_" + (using.size() + 1);
                before.add("SET " + held + " = " + text);
                using.add(held);
            }
        }
        String marks = using.isEmpty() ? "" : " USING " + String.join(", ", using);
        List<String> after = new ArrayList<>();
        String source = "@cantina_" + perform.name().map(MariaStatements::statement).orElse("text");
        perform.text()
                .ifPresent(
                        t -> {
                            before.add("SET " + source + " = " + words.of(t));
                            before.add(notNull(source));
                        });
        String text;
        if (perform.targets().isEmpty()) {
            text =
                    perform.name()
                            .map(n -> "EXECUTE " + words.names().of(statement(n)) + marks)
                            .orElse("EXECUTE IMMEDIATE " + source + marks);
            if (body.asksRows()) {
                after.add("SET cantina_rows = ROW_COUNT()");
            }
            if (around.completion("02000").isPresent()) {
                after.add("IF ROW_COUNT() = 0 THEN SIGNAL SQLSTATE '02000'; END IF");
            }
        } else {
            List<String> held = new ArrayList<>();
            List<String> sets = new ArrayList<>();
            for (int i = 0; i < perform.targets().size(); i++) {
                held.add("@cantina_got_" + (i + 1));
                String target = target(perform.targets().get(i), span);
                sets.add(target + " = @cantina_got_" + (i + 1));
                // Where no row is found, the variable keeps what it has.
                before.add("SET @cantina_got_" + (i + 1) + " = " + target);
            }
            text =
                    "EXECUTE IMMEDIATE 'SELECT got.* INTO "
                            + String.join(", ", held)
                            + " FROM (' || "
                            + source
                            + " || ') AS got'"
                            + marks;
            boolean handled = around.completion("02000").isPresent();
            String indent = body.indent(span);
            text =
                    "BEGIN\n"
                            + indent
                            + "  DECLARE EXIT HANDLER FOR NOT FOUND "
                            + (handled ? "RESIGNAL" : "BEGIN END")
                            + ";\n"
                            + indent
                            + "  "
                            + text
                            + ";\n"
                            + indent
                            + "  SET "
                            + String.join(", ", sets)
                            + ";\n"
                            + indent
                            + "END";
        }
        body.splice().put(span, text);
        body.surround(span, before, after, listed);
    }
}
