package dev.cantina.translate;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.BoundStatement.Target;
import dev.cantina.binding.Walker;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.facts.RaiseFacts;
import dev.cantina.syntax.Declaration.HandledKind;
import dev.cantina.syntax.Statement.TransactionVerb;
import dev.cantina.types.ConditionException;
import dev.cantina.types.Conversion;
import dev.cantina.types.SqlType;
import dev.cantina.types.SqlType.Shape;
import java.util.HashMap;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * What a statement can do beside what it says: change data, and raise an exception. Where that
 * can't be told, it can.
 */
public final class Effects {
    /** Stands for the exceptions of every class. */
    public static final String ANY = "*";

    private final BoundRoutines routines;
    private final Map<RoutineSymbol, Boolean> changing = new HashMap<>();
    private final Map<RoutineSymbol, Boolean> partial = new HashMap<>();
    private final Set<RoutineSymbol> asked = new HashSet<>();

    /** What was found of each statement; many look at the same one. */
    private final Map<BoundStatement, Boolean> changed = new IdentityHashMap<>();

    private final Map<BoundStatement, Set<String>> raised = new IdentityHashMap<>();

    public Effects(BoundRoutines routines) {
        this.routines = routines;
    }

    /** Whether a transaction statement does more than look whether one may begin. */
    public static boolean ends(BoundStatement.Transaction t) {
        return t.verb() != TransactionVerb.START;
    }

    /** Whether it changes data anywhere in it, or what a transaction takes back. */
    public boolean changes(BoundStatement statement) {
        Boolean known = changed.get(statement);
        if (known == null) {
            known = findsChanges(statement);
            changed.put(statement, known);
        }
        return known;
    }

    private boolean findsChanges(BoundStatement statement) {
        boolean[] found = {false};
        Walker.statements(
                statement,
                s -> {
                    found[0] |= changesItself(s);
                    Walker.expressions(s, e -> found[0] |= changesItself(e));
                });
        return found[0];
    }

    private boolean changesItself(BoundStatement s) {
        return s instanceof BoundStatement.Execute
                || s instanceof BoundStatement.ExecuteDynamic
                || Walker.sql(s).filter(sql -> sql.changes()).isPresent()
                || s instanceof BoundStatement.Transaction t && ends(t)
                || s instanceof BoundStatement.Call call && changes(call.routine())
                || s instanceof BoundStatement.Assign assign
                        && assign.assignments().stream()
                                .anyMatch(a -> a.target() instanceof Target.OfModule);
    }

    private boolean changesItself(BoundExpression e) {
        return e instanceof BoundExpression.Invoke invoke && changes(invoke.routine());
    }

    /** Whether a routine changes data, itself or by what it calls. */
    public boolean changes(RoutineSymbol routine) {
        Boolean known = changing.get(routine);
        if (known != null) {
            return known;
        }
        if (routine.isOnServer()) {
            return true;
        }
        if (routine.tree().body().isEmpty() || !asked.add(routine)) {
            return false;
        }
        boolean found = changes(routines.of(routine).body());
        changing.put(routine, found);
        return found;
    }

    /**
     * Whether a routine that fails can leave behind a part of what it changed. What one in the
     * server's own language leaves is the server's business, here as there.
     */
    public boolean leavesParts(RoutineSymbol routine) {
        if (routine.isOnServer()) {
            return false;
        }
        Boolean known = partial.get(routine);
        if (known == null) {
            boolean atomic =
                    routine.tree().body().isPresent()
                            && routines.of(routine).body() instanceof BoundStatement.Block block
                            && block.atomic();
            boolean single =
                    routine.tree().body().isPresent()
                            && routines.of(routine).body() instanceof BoundStatement.Execute;
            known = !atomic && !single && changes(routine);
            partial.put(routine, known);
        }
        return known;
    }

    /** Whether a routine commits or rolls back, itself or by what it calls. */
    public boolean endsTransactions(RoutineSymbol routine) {
        return endsTransactions(routine, new HashSet<>());
    }

    /** The same of a body. */
    public boolean endsTransactions(BoundRoutine routine) {
        return endsTransactions(routine.body(), new HashSet<>());
    }

    private boolean endsTransactions(RoutineSymbol routine, Set<RoutineSymbol> seen) {
        return routine.tree().body().isPresent()
                && seen.add(routine)
                && endsTransactions(routines.of(routine).body(), seen);
    }

    private boolean endsTransactions(BoundStatement body, Set<RoutineSymbol> seen) {
        boolean[] found = {false};
        Walker.statements(
                body,
                s ->
                        found[0] |=
                                s instanceof BoundStatement.Transaction t && ends(t)
                                        || s instanceof BoundStatement.Call call
                                                && endsTransactions(call.routine(), seen));
        return found[0];
    }

    /** A routine's body; empty where it is not written in SQL. */
    public Optional<BoundStatement> body(RoutineSymbol routine) {
        return routine.tree().body().isPresent()
                ? Optional.of(routines.of(routine).body())
                : Optional.empty();
    }

    /** Whether the last statement of a body commits or rolls back. */
    public static boolean endsWithEnd(Optional<BoundStatement> body) {
        if (body.isPresent()
                && body.get() instanceof BoundStatement.Block block
                && !block.statements().isEmpty()) {
            List<BoundStatement> all = block.statements();
            return endsWithEnd(Optional.of(all.get(all.size() - 1)));
        }
        return body.isPresent()
                && body.get() instanceof BoundStatement.Transaction t
                && (t.verb() == TransactionVerb.COMMIT || t.verb() == TransactionVerb.ROLLBACK);
    }

    /** Whether START TRANSACTION stands in a routine, or in what it calls. */
    public boolean beginsTransactions(BoundRoutine routine) {
        boolean[] found = {begins(routine.body())};
        calls(
                routine.body(),
                c -> found[0] |= c.tree().body().isPresent() && begins(routines.of(c).body()),
                new HashSet<>());
        return found[0];
    }

    /** The same of what is called. */
    public boolean beginsTransactions(RoutineSymbol routine) {
        return routine.tree().body().isPresent() && beginsTransactions(routines.of(routine));
    }

    private static boolean begins(BoundStatement body) {
        boolean[] found = {false};
        Walker.statements(
                body,
                s ->
                        found[0] |=
                                s instanceof BoundStatement.Transaction t
                                        && t.verb() == TransactionVerb.START);
        return found[0];
    }

    /** Whether a routine can call itself, by way of others too. */
    public boolean isRecursive(BoundRoutine routine) {
        boolean[] found = {false};
        Set<RoutineSymbol> seen = new HashSet<>();
        calls(
                routine.body(),
                called -> found[0] |= called.tree().span().equals(routine.span()),
                seen);
        return found[0];
    }

    /** Whether something that a routine calls declares a table of a name. */
    public boolean calledDeclares(BoundRoutine routine, String table) {
        Set<RoutineSymbol> called = new HashSet<>();
        calls(routine.body(), c -> {}, called);
        boolean[] found = {false};
        for (RoutineSymbol one : called) {
            if (one.tree().body().isPresent()) {
                Walker.statements(
                        routines.of(one).body(),
                        s ->
                                found[0] |=
                                        s instanceof BoundStatement.Block block
                                                && block.tables().stream()
                                                        .anyMatch(
                                                                t ->
                                                                        t.table()
                                                                                .key()
                                                                                .equals(table)));
            }
        }
        return found[0];
    }

    private void calls(
            BoundStatement body,
            java.util.function.Consumer<RoutineSymbol> visitor,
            Set<RoutineSymbol> seen) {
        Walker.statements(
                body,
                s -> {
                    if (s instanceof BoundStatement.Call call) {
                        visitor.accept(call.routine());
                        if (seen.add(call.routine()) && call.routine().tree().body().isPresent()) {
                            calls(routines.of(call.routine()).body(), visitor, seen);
                        }
                    }
                });
    }

    /**
     * What a routine says of its access to data is held to by check where it can be seen.
     *
     * @throws UnsupportedConstructException where only running it would show that it writes
     */
    public void requireDeclaredAccess(BoundRoutine routine, String server) {
        if (routine.access() == dev.cantina.syntax.Unit.SqlAccess.MODIFIES_SQL_DATA) {
            return;
        }
        Walker.statements(
                routine.body(),
                s -> {
                    if (s instanceof BoundStatement.ExecuteDynamic perform
                                    && perform.targets().isEmpty()
                            || s instanceof BoundStatement.Call call && changes(call.routine())) {
                        throw new UnsupportedConstructException(
                                routine.places().get(s.at()).span(),
                                "the routine says "
                                        + routine.access().name().replace('_', ' ')
                                        + ", which "
                                        + server
                                        + " would not hold this to");
                    }
                });
    }

    /**
     * The classes of the exceptions that a statement can raise, those in it included; a whole
     * SQLSTATE where there is but one.
     */
    public Set<String> raises(BoundStatement statement) {
        Set<String> known = raised.get(statement);
        if (known == null) {
            Set<String> classes = new HashSet<>();
            Walker.statements(statement, s -> raisesItself(s, classes));
            known = Set.copyOf(classes);
            raised.put(statement, known);
        }
        return known;
    }

    /**
     * The classes of the exceptions that can leave a block: where a handler of its takes every one,
     * only what its handlers and its defaults raise.
     */
    public Set<String> leaves(BoundStatement.Block block) {
        boolean all =
                block.handlers().stream()
                        .flatMap(h -> h.conditions().stream())
                        .anyMatch(c -> c.kind() == HandledKind.SQLEXCEPTION);
        if (!all) {
            return raises(block);
        }
        Set<String> classes = new HashSet<>();
        block.handlers().forEach(h -> classes.addAll(raises(h.body())));
        block.initial().forEach(i -> classes.addAll(raises(i)));
        return classes;
    }

    /** Whether a handler around a statement takes something that it can raise itself. */
    public boolean isCaught(BoundStatement s, Handlers around) {
        return !around.exceptions(raisesItself(s)).isEmpty();
    }

    /** Those that a statement can raise by itself: the tests of an IF, not the statements in it. */
    public Set<String> raisesItself(BoundStatement s) {
        Set<String> classes = new HashSet<>();
        raisesItself(s, classes);
        return classes;
    }

    private void raisesItself(BoundStatement s, Set<String> classes) {
        if (s instanceof BoundStatement.Execute
                || s instanceof BoundStatement.ReturnResultSet
                || s instanceof BoundStatement.SelectInto
                || s instanceof BoundStatement.Open
                || s instanceof BoundStatement.Fetch
                || s instanceof BoundStatement.Close
                || s instanceof BoundStatement.ExecuteDynamic
                || s instanceof BoundStatement.Prepare
                || s instanceof BoundStatement.ReturnTable
                || s instanceof BoundStatement.Call) {
            classes.add(ANY);
        } else if (s instanceof BoundStatement.For loop) {
            boolean plain =
                    loop.cursor()
                            .query()
                            .filter(q -> RaiseFacts.canRaise(q, routines.catalog()).isNo())
                            .isPresent();
            if (!plain) {
                classes.add(ANY);
            }
        } else if (s instanceof BoundStatement.Signal signal) {
            classes.add(signal.sqlstate().map(state -> state.substring(0, 2)).orElse(ANY));
            if (!signal.items().isEmpty()) {
                classes.add("22");
            }
        } else if (s instanceof BoundStatement.Case choice && choice.otherwise().isEmpty()) {
            classes.add("20");
        } else if (s instanceof BoundStatement.Assign assign) {
            assign.assignments().stream()
                    .filter(
                            a ->
                                    a.target() instanceof Target.OfArray
                                            || a.target() instanceof Target.OfElement)
                    .forEach(a -> classes.add("22"));
        } else if (s instanceof BoundStatement.Transaction t && !ends(t)) {
            classes.add("25");
        } else if (s instanceof BoundStatement.GetDiagnostics) {
            classes.add("22");
        }
        Walker.expressions(s, e -> raisesItself(e, classes));
    }

    /** The classes of the exceptions that working an expression out can raise. */
    public Set<String> raises(BoundExpression expression) {
        Set<String> classes = new HashSet<>();
        Walker.expressions(expression, e -> raisesItself(e, classes));
        return classes;
    }

    private void raisesItself(BoundExpression e, Set<String> classes) {
        if (e instanceof BoundExpression.Invoke
                || e instanceof BoundExpression.DatabaseExpression) {
            classes.add(ANY);
        } else if (e instanceof BoundExpression.Arithmetic
                || e instanceof BoundExpression.Element
                || e instanceof BoundExpression.Negate
                || e instanceof BoundExpression.Like like && like.escape().isPresent()
                || e instanceof BoundExpression.Apply apply && canFail(apply)) {
            classes.add("22");
        } else if (e instanceof BoundExpression.Convert convert
                && canFail(convert.operand(), convert.type())) {
            boolean texts =
                    convert.operand().type() instanceof SqlType.Text
                            && convert.type() instanceof SqlType.Text;
            classes.add(texts ? "22001" : "22");
        }
    }

    private static boolean canFail(BoundExpression.Apply apply) {
        String function = apply.function().name();
        boolean trimsGiven =
                function.startsWith("TRIM ")
                        && apply.arguments().size() > 1
                        && !(SourceForm.bare(apply.arguments().get(1))
                                instanceof BoundExpression.Constant);
        return trimsGiven || apply.function().canRaise();
    }

    private static boolean fits(BoundExpression.Constant constant, SqlType to) {
        try {
            Conversion.store(constant.value(), to);
            return constant.type() instanceof SqlType.Integral
                    && (to instanceof SqlType.Integral || to instanceof SqlType.Exact);
        } catch (ConditionException e) {
            return false;
        }
    }

    private static boolean canFail(BoundExpression operand, SqlType to) {
        SqlType from = operand.type();
        if (operand instanceof BoundExpression.Constant constant) {
            return constant.value() != null
                    && !(to instanceof SqlType.Text text
                            && constant.value() instanceof String value
                            && (text.length() == 0 || value.length() <= text.length()))
                    && !fits(constant, to);
        }
        if (from.equals(to) || to instanceof SqlType.Bool) {
            return false;
        }
        if (to instanceof SqlType.Text text && text.shape() != Shape.FIXED) {
            return text.length() > 0
                    && !(from instanceof SqlType.Text given
                            && given.length() > 0
                            && given.length() <= text.length());
        }
        if (from instanceof SqlType.Integral a && to instanceof SqlType.Integral b) {
            return a.size().compareTo(b.size()) > 0;
        }
        if (from instanceof SqlType.Exact a && to instanceof SqlType.Exact b) {
            return b.precision() > 0
                    && (a.precision() == 0
                            || a.precision() - a.scale() > b.precision() - b.scale());
        }
        return !(to instanceof SqlType.Exact exact && exact.precision() == 0 && from.isNumeric());
    }
}
