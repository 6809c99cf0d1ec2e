package dev.cantina.binding;

import dev.cantina.binding.BoundStatement.Assignment;
import dev.cantina.binding.BoundStatement.Branch;
import dev.cantina.binding.BoundStatement.Target;
import dev.cantina.syntax.EditPlaces;
import dev.cantina.syntax.Expression;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlStatement;
import dev.cantina.syntax.SqlText;
import dev.cantina.syntax.Statement;
import dev.cantina.syntax.Unit;
import dev.cantina.syntax.Unit.SqlAccess;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/** Binds statements; one method a statement. */
final class StatementBinder {
    private final BlockBinder blocks;
    private final Binding binding;
    private final ExpressionBinder expressions;
    private final SqlBinder sql;
    private final TargetBinder targets;
    private final CallBinder calls;
    private final ConditionBinder conditions;
    private final BoundRoutine.Kind kind;
    private final Optional<SqlType> returns;

    StatementBinder(
            Binding binding,
            ExpressionBinder expressions,
            SqlBinder sql,
            BoundRoutine.Kind kind,
            Optional<SqlType> returns) {
        this.binding = binding;
        this.expressions = expressions;
        this.sql = sql;
        this.targets = new TargetBinder(binding, expressions);
        this.calls = new CallBinder(binding, expressions, targets, kind);
        this.conditions = new ConditionBinder(binding, expressions, targets);
        this.blocks = new BlockBinder(this, binding, expressions, sql, conditions);
        this.kind = kind;
        this.returns = returns;
    }

    BoundStatement bind(Statement s, Scope scope) {
        if (s instanceof Statement.Compound compound) {
            return blocks.compound(compound, scope);
        }
        if (s instanceof Statement.Set set) {
            Target target = targets.bind(set.target(), scope);
            BoundExpression value =
                    expressions.stored(
                            set.value(),
                            TargetBinder.typeOf(target),
                            scope,
                            set.target().span().text());
            return new BoundStatement.Assign(
                    place(s, scope, "SET"), List.of(new Assignment(target, value)));
        }
        if (s instanceof Statement.SetSeveral several) {
            return setSeveral(several, scope);
        }
        if (s instanceof Statement.SelectInto into) {
            return fill(s, into.targets(), sql.counting(into.query(), scope), true, scope);
        }
        if (s instanceof Statement.If choice) {
            int at = place(s, scope, "IF");
            return new BoundStatement.If(
                    at, branches(choice.branches(), scope), otherwise(choice.otherwise(), scope));
        }
        if (s instanceof Statement.Case choice) {
            return caseStatement(choice, scope);
        }
        if (s instanceof Statement.While loop) {
            int at = place(s, scope, "WHILE");
            BoundExpression condition = expressions.condition(loop.condition(), scope);
            JumpTarget target = loopTarget(loop.label(), loop.span());
            Scope inner = scope.block(loop.label(), target);
            return new BoundStatement.While(
                    at, target, Optional.of(condition), all(loop.statements(), inner));
        }
        if (s instanceof Statement.Loop loop) {
            int at = place(s, scope, "LOOP");
            JumpTarget target = loopTarget(loop.label(), loop.span());
            Scope inner = scope.block(loop.label(), target);
            return new BoundStatement.While(
                    at, target, Optional.empty(), all(loop.statements(), inner));
        }
        if (s instanceof Statement.Repeat loop) {
            int at = place(s, scope, "REPEAT");
            JumpTarget target = loopTarget(loop.label(), loop.span());
            List<BoundStatement> body = all(loop.statements(), scope.block(loop.label(), target));
            int conditionAt = binding.places.size();
            binding.place(loop.condition().span(), scope, "UNTIL");
            BoundExpression condition = expressions.condition(loop.condition(), scope);
            return new BoundStatement.Repeat(at, target, body, conditionAt, condition);
        }
        if (s instanceof Statement.For loop) {
            return forLoop(loop, scope);
        }
        if (s instanceof Statement.Leave leave) {
            return leave(leave.label(), scope, s, false);
        }
        if (s instanceof Statement.Iterate iterate) {
            return leave(iterate.label(), scope, s, true);
        }
        if (s instanceof Statement.Call call) {
            return calls.bind(call, scope);
        }
        if (s instanceof Statement.Return give) {
            return giveBack(give, scope);
        }
        if (s instanceof Statement.ReturnTable give) {
            return giveTable(give, scope);
        }
        if (s instanceof Statement.Signal signal) {
            return conditions.signal(signal, scope);
        }
        if (s instanceof Statement.GetDiagnostics diagnostics) {
            return conditions.diagnostics(diagnostics, scope);
        }
        if (s instanceof Statement.Transaction transaction) {
            return transaction(transaction, scope);
        }
        if (s instanceof Statement.Report report) {
            int at = place(s, scope, "REPORT");
            return new BoundStatement.Report(
                    at, report.items().stream().map(e -> expressions.bind(e, scope)).toList());
        }
        if (s instanceof Statement.Open open) {
            List<BoundExpression> using = values(open.using(), scope);
            return cursor(open.cursor(), scope)
                    .<BoundStatement>map(
                            c -> new BoundStatement.Open(place(s, scope, "OPEN"), c, using))
                    .orElseGet(() -> binding.nothing(s.span()));
        }
        if (s instanceof Statement.Prepare prepare) {
            BoundExpression text = text(prepare.text(), scope);
            return new BoundStatement.Prepare(
                    place(s, scope, "PREPARE"), prepare.name().key(), text);
        }
        if (s instanceof Statement.Execute execute) {
            return new BoundStatement.ExecuteDynamic(
                    place(s, scope, "EXECUTE"),
                    Optional.of(execute.name().key()),
                    Optional.empty(),
                    execute.targets().stream().map(t -> targets.bind(t, scope)).toList(),
                    values(execute.using(), scope));
        }
        if (s instanceof Statement.ExecuteImmediate immediate) {
            return new BoundStatement.ExecuteDynamic(
                    place(s, scope, "EXECUTE IMMEDIATE"),
                    Optional.empty(),
                    Optional.of(text(immediate.text(), scope)),
                    List.of(),
                    List.of());
        }
        if (s instanceof Statement.Deallocate deallocate) {
            return new BoundStatement.Deallocate(
                    place(s, scope, "DEALLOCATE"), deallocate.name().key());
        }
        if (s instanceof Statement.Close close) {
            return cursor(close.cursor(), scope)
                    .<BoundStatement>map(c -> new BoundStatement.Close(place(s, scope, "CLOSE"), c))
                    .orElseGet(() -> binding.nothing(s.span()));
        }
        if (s instanceof Statement.Fetch fetch) {
            return fetch(fetch, scope);
        }
        return data((Statement.Data) s, scope);
    }

    private List<BoundExpression> values(List<Expression> values, Scope scope) {
        return values.stream().map(e -> expressions.bind(e, scope)).toList();
    }

    private BoundExpression text(Expression e, Scope scope) {
        return expressions.stored(e, SqlType.VARCHAR, scope, "a statement's text");
    }

    int place(Statement s, Scope scope, String what) {
        return binding.place(s.span(), scope, what);
    }

    private JumpTarget loopTarget(Optional<Name> label, Span loop) {
        JumpTarget target = new JumpTarget(label.map(Name::text).orElse(""), true);
        binding.labels(label, loop, target);
        return target;
    }

    /** A BEFORE trigger may set the columns of its new row. */
    void allowNewRow() {
        targets.allowNewRow();
    }

    List<BoundStatement> all(List<Statement> statements, Scope scope) {
        List<BoundStatement> bound = new ArrayList<>();
        for (Statement statement : statements) {
            bound.add(bind(statement, scope));
        }
        return bound;
    }

    private Optional<List<BoundStatement>> otherwise(
            Optional<List<Statement>> statements, Scope scope) {
        return statements.map(list -> all(list, scope));
    }

    private List<Branch> branches(List<Statement.Branch> branches, Scope scope) {
        List<Branch> bound = new ArrayList<>();
        for (Statement.Branch branch : branches) {
            bound.add(
                    new Branch(
                            expressions.condition(branch.condition(), scope),
                            all(branch.statements(), scope)));
        }
        return bound;
    }

    private BoundStatement setSeveral(Statement.SetSeveral several, Scope scope) {
        if (several.query().isPresent()) {
            BoundSql query = sql.counting(several.query().get(), scope);
            return fill(several, several.targets(), query, false, scope);
        }
        int at = place(several, scope, "SET");
        if (several.targets().size() != several.values().size()) {
            binding.error(
                    several.span(),
                    "wrong-arguments",
                    several.targets().size()
                            + " variables are set from "
                            + several.values().size()
                            + " values");
            return binding.nothing(several.span());
        }
        List<Assignment> assignments = new ArrayList<>();
        for (int i = 0; i < several.values().size(); i++) {
            Statement.Target written = several.targets().get(i);
            Target target = targets.bind(written, scope);
            assignments.add(
                    new Assignment(
                            target,
                            expressions.stored(
                                    several.values().get(i),
                                    TargetBinder.typeOf(target),
                                    scope,
                                    written.span().text())));
        }
        return new BoundStatement.Assign(at, assignments);
    }

    private BoundStatement fill(
            Statement s,
            List<Statement.Target> written,
            BoundSql query,
            boolean select,
            Scope scope) {
        int at = place(s, scope, select ? "SELECT INTO" : "SET");
        List<Target> targets = written.stream().map(t -> this.targets.bind(t, scope)).toList();
        int columns = query.columns().size();
        boolean oneRow =
                targets.size() == 1 && TargetBinder.typeOf(targets.get(0)) instanceof SqlType.Row;
        if (columns > 0 && columns != targets.size() && !oneRow) {
            binding.error(
                    s.span(),
                    "wrong-arguments",
                    "the query gives " + columns + " values for " + targets.size() + " variables");
        }
        return new BoundStatement.SelectInto(at, targets, query, select);
    }

    private BoundStatement caseStatement(Statement.Case choice, Scope scope) {
        int at = place(choice, scope, "CASE");
        if (choice.operand().isEmpty()) {
            return new BoundStatement.Case(
                    at,
                    Optional.empty(),
                    branches(choice.branches(), scope),
                    otherwise(choice.otherwise(), scope));
        }
        BoundExpression operand = expressions.bind(choice.operand().get(), scope);
        Variable held = binding.hidden(operand.type(), operand.span());
        BoundExpression read = new BoundExpression.Read(operand.span(), held);
        List<Branch> branches = new ArrayList<>();
        for (Statement.Branch branch : choice.branches()) {
            branches.add(
                    new Branch(
                            expressions.choices().anyOf(branch.condition(), read, scope),
                            all(branch.statements(), scope)));
        }
        Assignment assignment = new Assignment(new Target.Whole(held), operand);
        return new BoundStatement.Case(
                at, Optional.of(assignment), branches, otherwise(choice.otherwise(), scope));
    }

    private BoundStatement forLoop(Statement.For loop, Scope scope) {
        int at = place(loop, scope, "FOR");
        BoundSql query = sql.bind(loop.query(), scope);
        Variable row =
                binding.variable(
                        loop.row().text(),
                        new SqlType.Row(query.columns()),
                        Variable.Kind.LOOP_ROW,
                        loop.row().span());
        CursorSymbol cursor =
                new CursorSymbol(
                        binding.cursors++,
                        loop.cursor().map(Name::text).orElse(loop.row().text()),
                        false,
                        CursorSymbol.Lifetime.LOOP,
                        false,
                        Optional.of(query),
                        Optional.empty(),
                        query.columns(),
                        new CursorSymbol.Positioning(),
                        loop.span());
        cursorQueries.put(cursor, new Queried(loop.query(), scope));
        JumpTarget target = loopTarget(loop.label(), loop.span());
        Scope inner = scope.block(loop.label(), target).withLoopRow(loop.row(), row);
        if (loop.cursor().isPresent()) {
            inner = inner.withCursor(loop.cursor().get(), cursor);
            binding.declares(loop.cursor().get().span(), new NamedUse.Meaning.OfCursor(cursor));
        }
        return new BoundStatement.For(at, target, row, cursor, all(loop.statements(), inner));
    }

    private BoundStatement leave(Name label, Scope scope, Statement s, boolean iterate) {
        Optional<JumpTarget> target = scope.target(label.key());
        if (target.isEmpty()) {
            binding.unknown(label.span(), "label", label.text(), scope.labels());
            return binding.nothing(s.span());
        }
        binding.means(label.span(), new NamedUse.Meaning.OfLabel(target.get()));
        if (iterate && !target.get().isLoop()) {
            binding.error(
                    Problem.error(
                                    label.span(),
                                    "misplaced-statement",
                                    "ITERATE goes on with a loop, and " + label + " is a block",
                                    "write LEAVE " + label + ", or label the loop")
                            .with(EditPlaces.words(s.span(), "ITERATE"), "LEAVE"));
            return binding.nothing(s.span());
        }
        int at = place(s, scope, iterate ? "ITERATE" : "LEAVE");
        return iterate
                ? new BoundStatement.Iterate(at, target.get())
                : new BoundStatement.Leave(at, target.get());
    }

    private BoundStatement giveBack(Statement.Return give, Scope scope) {
        int at = place(give, scope, "RETURN");
        if (kind == BoundRoutine.Kind.FUNCTION) {
            if (give.value().isEmpty()) {
                binding.error(
                        give.span(),
                        "wrong-return",
                        "a function returns a value",
                        "write RETURN and the value");
                return lostReturn(give.span());
            }
            SqlType type = returns.orElse(SqlType.NULL);
            if (type instanceof SqlType.Table) {
                binding.error(
                        give.span(),
                        "wrong-return",
                        "a function that RETURNS TABLE gives rows",
                        "write RETURN TABLE (SELECT …)");
                return lostReturn(give.span());
            }
            return new BoundStatement.Return(
                    at,
                    Optional.of(expressions.stored(give.value().get(), type, scope, "the result")));
        }
        if (give.value().isPresent()) {
            binding.error(
                    give.span(),
                    "wrong-return",
                    "a " + kind.word() + " returns no value",
                    "set an OUT parameter, and write RETURN alone");
        }
        return new BoundStatement.Return(at, Optional.empty());
    }

    private BoundStatement giveTable(Statement.ReturnTable give, Scope scope) {
        if (!(returns.orElse(SqlType.NULL) instanceof SqlType.Table type)) {
            binding.error(
                    give.span(),
                    "wrong-return",
                    "RETURN TABLE stands only in a function that RETURNS TABLE (…)",
                    kind == BoundRoutine.Kind.PROCEDURE
                            ? "hand rows out with a SELECT of its own"
                            : "write RETURN and the value");
            return lostReturn(give.span());
        }
        BoundSql query = sql.bind(give.query(), scope);
        int at = place(give, scope, "RETURN");
        if (!query.columns().isEmpty() && query.columns().size() != type.columns().size()) {
            binding.error(
                    give.query().span(),
                    "wrong-return",
                    "the query gives "
                            + query.columns().size()
                            + " columns, and the function returns "
                            + type.columns().size());
        }
        return new BoundStatement.ReturnTable(at, query, type);
    }

    /** A RETURN that could not be bound, which ends its path all the same. */
    private BoundStatement lostReturn(Span span) {
        return new BoundStatement.Return(
                binding.place(span, Scope.EMPTY, "RETURN"), Optional.empty());
    }

    private BoundStatement transaction(Statement.Transaction transaction, Scope scope) {
        String words =
                switch (transaction.verb()) {
                    case START -> "START TRANSACTION";
                    case SET -> "SET TRANSACTION";
                    case ROLLBACK_TO -> "ROLLBACK TO SAVEPOINT";
                    case RELEASE -> "RELEASE SAVEPOINT";
                    default -> transaction.verb().name();
                };
        if (kind == BoundRoutine.Kind.FUNCTION || kind == BoundRoutine.Kind.TRIGGER) {
            binding.error(
                    transaction.span(),
                    "misplaced-statement",
                    words + " can't stand in a " + kind.word(),
                    "leave the transaction to the procedure that runs it");
            return binding.nothing(transaction.span());
        }
        if (binding.atomicBlocks > 0) {
            binding.error(
                    transaction.span(),
                    "misplaced-statement",
                    words + " can't stand in an ATOMIC block, which is done whole or not at all",
                    "put it after the block, or make the block NOT ATOMIC");
            return binding.nothing(transaction.span());
        }
        int at = place(transaction, scope, words);
        return new BoundStatement.Transaction(
                at,
                transaction.verb(),
                transaction.savepoint().map(Name::key),
                transaction.modes(),
                transaction.chain());
    }

    /** A cursor's query as it was written, with the names that it sees. */
    record Queried(SqlText query, Scope scope) {}

    final Map<CursorSymbol, Queried> cursorQueries = new IdentityHashMap<>();

    /** Makes the cursor of WHERE CURRENT OF know its row (ISO 9075-2, 14.8 and 14.13). */
    private boolean position(Statement.Data data, SqlText.Positioned positioned, Scope scope) {
        if (data.sql().isQuery() || data.sql().scope().tables().isEmpty()) {
            binding.error(
                    positioned.span(),
                    "misplaced-statement",
                    "WHERE CURRENT OF is for UPDATE and DELETE of one table",
                    "name the row by its key");
            return false;
        }
        Optional<CursorSymbol> cursor = cursor(positioned.cursor(), scope);
        if (cursor.isEmpty()) {
            return false;
        }
        Name target = data.sql().scope().tables().get(0).names().get(0);
        Queried queried = cursorQueries.get(cursor.get());
        boolean changeable =
                queried != null
                        && queried.query().from().isPresent()
                        && !queried.query()
                                .span()
                                .text()
                                .toUpperCase(java.util.Locale.ROOT)
                                .matches("(?s).*\\bFOR\\s+READ\\s+ONLY\\s*");
        if (!changeable) {
            binding.error(
                    positioned.span(),
                    "wrong-cursor",
                    "the rows of cursor " + positioned.cursor() + " can't be changed through it",
                    "its query must read one table, without DISTINCT, GROUP BY or FOR READ ONLY");
            return false;
        }
        SqlText.TableUse read = queried.query().scope().tables().get(0);
        if (!read.names().get(0).is(target)) {
            binding.error(
                    target.span(),
                    "wrong-cursor",
                    "cursor "
                            + positioned.cursor()
                            + " stands on a row of "
                            + read.names().get(0)
                            + ", not of "
                            + target);
            return false;
        }
        if (cursor.get().positioning().query().isEmpty()) {
            sql.identifying(queried.query(), queried.scope())
                    .ifPresent(cursor.get().positioning()::use);
        }
        return true;
    }

    private Optional<CursorSymbol> cursor(Name name, Scope scope) {
        Optional<CursorSymbol> cursor = scope.cursor(name.key());
        if (cursor.isEmpty()) {
            binding.unknown(name.span(), "cursor", name.text(), List.of());
        }
        cursor.ifPresent(c -> binding.means(name.span(), new NamedUse.Meaning.OfCursor(c)));
        return cursor;
    }

    private BoundStatement fetch(Statement.Fetch fetch, Scope scope) {
        Optional<CursorSymbol> cursor = cursor(fetch.cursor(), scope);
        if (cursor.isEmpty()) {
            return binding.nothing(fetch.span());
        }
        int at = place(fetch, scope, "FETCH");
        int columns = cursor.get().columns().size();
        List<Target> targets =
                fetch.targets().stream().map(t -> this.targets.bind(t, scope)).toList();
        boolean oneRow =
                targets.size() == 1 && TargetBinder.typeOf(targets.get(0)) instanceof SqlType.Row;
        if (columns > 0 && columns != targets.size() && !oneRow) {
            binding.error(
                    fetch.span(),
                    "wrong-arguments",
                    "the cursor gives " + columns + " values for " + targets.size() + " variables");
        }
        if (!fetch.orientation().equals("NEXT") && !cursor.get().scroll()) {
            binding.error(
                    Problem.error(
                                    fetch.span(),
                                    "wrong-cursor",
                                    cursor.get().name() + " goes forwards alone",
                                    "declare it SCROLL CURSOR")
                            .with(
                                    EditPlaces.words(cursor.get().span(), "CURSOR"),
                                    "SCROLL CURSOR"));
        }
        Optional<BoundExpression> offset =
                fetch.offset()
                        .map(e -> expressions.stored(e, SqlType.BIGINT, scope, "a row number"));
        return new BoundStatement.Fetch(at, fetch.orientation(), offset, cursor.get(), targets);
    }

    private BoundStatement data(Statement.Data data, Scope scope) {
        Optional<SqlText.Positioned> positioned = data.sql().positioned();
        if (positioned.isPresent() && !position(data, positioned.get(), scope)) {
            return binding.nothing(data.span());
        }
        List<String> around =
                positioned
                        .filter(p -> data.sql().verb().equals("UPDATE"))
                        .flatMap(p -> binding.identityAfter(data.sql().scope().tables().get(0)))
                        .orElse(List.of("", ""));
        BoundSql text = sql.bind(data.sql(), scope, around.get(0), around.get(1));
        if (data.sql().tree() instanceof SqlStatement.Schema schema) {
            schema.made()
                    .ifPresent(
                            name ->
                                    binding.made.put(
                                            name.text().toUpperCase(Locale.ROOT), name.text()));
        }
        int at = place(data, scope, data.sql().verb());
        if (!text.query()) {
            if (binding.access != SqlAccess.MODIFIES_SQL_DATA) {
                binding.wrongAccess(data.span(), Unit.SqlAccess.MODIFIES_SQL_DATA);
            }
            return new BoundStatement.Execute(at, text);
        }
        if (kind == BoundRoutine.Kind.FUNCTION || kind == BoundRoutine.Kind.TRIGGER) {
            binding.error(
                    data.span(),
                    "misplaced-statement",
                    "a " + kind.word() + " can't hand out rows",
                    "take the values with SELECT … INTO, or write a procedure");
            return binding.nothing(data.span());
        }
        return new BoundStatement.ReturnResultSet(at, text);
    }
}
