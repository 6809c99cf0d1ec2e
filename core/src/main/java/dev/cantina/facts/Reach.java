package dev.cantina.facts;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundSql;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.Walker;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.Table;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.SqlText;
import dev.cantina.syntax.Unit.Timing;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * What a piece of code can set off itself, by what stands in it: routines that it calls, in SQL
 * too, and tables that it changes. What can't be told from its text is everything.
 */
public final class Reach {
    /** Schema statements, and others that run no routine and fire no trigger. */
    private static final Set<String> QUIET =
            Set.of(
                    "ALTER",
                    "ANALYZE",
                    "COMMENT",
                    "CREATE",
                    "DROP",
                    "GRANT",
                    "LOCK",
                    "REVOKE",
                    "SET",
                    "TRUNCATE");

    private static final Set<String> CHANGES =
            Set.of("DELETE", "INSERT", "MERGE", "REPLACE", "UPDATE");

    private final Catalog catalog;
    private final Optional<ModuleSymbol> module;
    private final Set<RoutineSymbol> routines = Collections.newSetFromMap(new IdentityHashMap<>());
    private final Set<String> names = new HashSet<>();
    private final Set<String> tables = new HashSet<>();
    private boolean changing;
    private boolean unbounded;

    private Reach(Catalog catalog, Optional<ModuleSymbol> module) {
        this.catalog = catalog;
        this.module = module;
    }

    /**
     * @param module the module that the code belongs to
     */
    public static Reach of(BoundRoutine code, Catalog catalog, Optional<ModuleSymbol> module) {
        Reach reach = new Reach(catalog, module);
        code.condition().ifPresent(c -> Walker.expressions(c, reach::expression));
        Walker.statements(code.body(), reach::statement);
        return reach;
    }

    /** The same of an expression that stands by itself, such as a default. */
    public static Reach of(
            BoundExpression expression, Catalog catalog, Optional<ModuleSymbol> module) {
        Reach reach = new Reach(catalog, module);
        Walker.expressions(expression, reach::expression);
        return reach;
    }

    /** What changing some tables sets off, however it is done. */
    public static Reach ofChanging(Set<String> tables, Catalog catalog) {
        Reach reach = new Reach(catalog, Optional.empty());
        tables.forEach(reach::changed);
        return reach;
    }

    /** What code sets off of which nothing is known. */
    public static Reach ofAnything(Catalog catalog) {
        Reach reach = new Reach(catalog, Optional.empty());
        reach.unbounded = true;
        return reach;
    }

    /** Whether it may do anything at all: it runs SQL that is put together as it runs. */
    public boolean isUnbounded() {
        return unbounded;
    }

    /** Whether it changes rows of some table. */
    public boolean changesRows() {
        return changing || unbounded;
    }

    /** The keys of the tables whose rows it changes itself; foreign keys may change others. */
    public Set<String> tables() {
        return tables;
    }

    /** The routines that it calls; every one where that can't be told. */
    public Set<RoutineSymbol> routines() {
        if (unbounded) {
            Set<RoutineSymbol> all = Collections.newSetFromMap(new IdentityHashMap<>());
            all.addAll(catalog.routines());
            return all;
        }
        return routines;
    }

    /** The keys by which it calls routines of the project, or what might be some. */
    public Set<String> names() {
        return names;
    }

    /**
     * The triggers that it fires.
     *
     * @param cascaded the keys of the tables whose rows foreign keys change; empty where that is
     *     not known
     */
    public List<TriggerSymbol> triggers(Optional<Set<String>> cascaded) {
        List<TriggerSymbol> fired = new ArrayList<>();
        for (TriggerSymbol trigger : catalog.triggers()) {
            if (fires(trigger.table().key(), cascaded)) {
                fired.add(trigger);
            }
        }
        return fired;
    }

    /** Whether rows of a table may change; the parameter is as for {@link #triggers}. */
    public boolean fires(String table, Optional<Set<String>> cascaded) {
        return unbounded
                || tables.contains(table)
                || changing && cascaded.map(c -> c.contains(table)).orElse(true);
    }

    private void changed(String table) {
        changing = true;
        tables.add(table);
        // Whose rows a view's are is the database's affair; an INSTEAD OF trigger says so itself.
        boolean view = catalog.table(table).map(Table::view).orElse(false);
        boolean done =
                catalog.triggers().stream()
                        .anyMatch(
                                t ->
                                        t.table().key().equals(table)
                                                && t.tree().timing() == Timing.INSTEAD_OF);
        unbounded |= view && !done;
    }

    private void statement(BoundStatement s) {
        if (s instanceof BoundStatement.Call call) {
            called(call.routine());
        } else if (s instanceof BoundStatement.ExecuteDynamic
                || s instanceof BoundStatement.Prepare) {
            unbounded = true;
        } else if (s instanceof BoundStatement.Block block) {
            block.cursors().forEach(c -> c.query().ifPresent(this::sql));
        } else if (s instanceof BoundStatement.Assign assign) {
            assign.assignments().stream()
                    .map(BoundStatement.Assignment::target)
                    .filter(BoundStatement.Target.OfModule.class::isInstance)
                    .forEach(t -> module(((BoundStatement.Target.OfModule) t).module()));
        }
        Walker.sql(s).ifPresent(this::sql);
        Walker.expressions(s, this::expression);
    }

    private void expression(BoundExpression e) {
        if (e instanceof BoundExpression.Invoke invoke) {
            called(invoke.routine());
        } else if (e instanceof BoundExpression.DatabaseExpression ask) {
            sql(ask.sql());
        } else if (e instanceof BoundExpression.ReadShared shared) {
            module(shared.module());
        }
    }

    private void called(RoutineSymbol routine) {
        routines.add(routine);
        names.add(routine.key());
    }

    private final Set<ModuleSymbol> modules = Collections.newSetFromMap(new IdentityHashMap<>());

    private void module(ModuleSymbol used) {
        modules.add(used);
    }

    /** The modules whose variables it uses, beside those of the routines that it calls. */
    public Set<ModuleSymbol> modules() {
        return modules;
    }

    private void sql(BoundSql sql) {
        boolean known = sql.query() || CHANGES.contains(sql.verb()) || QUIET.contains(sql.verb());
        unbounded |= !known;
        scope(sql.scope());
        changing |= CHANGES.contains(sql.verb());
    }

    private void scope(SqlText.Scope scope) {
        for (SqlText.NameUse use : scope.names()) {
            if (use.use() == SqlText.Use.CALL) {
                called(use.names());
            }
        }
        for (SqlText.TableUse use : scope.tables()) {
            if (!use.function().isEmpty()) {
                called(use.function());
            }
            if (use.role() != SqlText.Role.READ && !use.names().isEmpty()) {
                changed(use.names().get(use.names().size() - 1).key());
            }
        }
        scope.children().forEach(this::scope);
    }

    private void called(List<Name> function) {
        String key = catalog.keyOf(function, module);
        names.add(key);
        routines.addAll(catalog.functions(key));
    }
}
