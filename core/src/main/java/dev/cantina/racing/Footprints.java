package dev.cantina.racing;

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
import dev.cantina.facts.Reach;
import dev.cantina.project.ProjectException;
import dev.cantina.runtime.DataSite;
import dev.cantina.runtime.Performed;
import dev.cantina.runtime.Program;
import dev.cantina.syntax.SqlStatement;
import dev.cantina.syntax.SqlText;
import dev.cantina.syntax.Unit;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Says what statements touch, with all that they set off; what is not known touches anything. */
final class Footprints {
    private final Program program;
    private final Catalog catalog;

    /** The tables that foreign keys lead to and from, by the keys of tables. */
    private final Map<String, Set<String>> related;

    private final Map<BoundSql, Footprint> known = new IdentityHashMap<>();
    private final Set<Object> open = new HashSet<>();

    Footprints(Program program, Map<String, Set<String>> related) {
        this.program = program;
        this.catalog = program.catalog();
        this.related = new HashMap<>(related);
    }

    /**
     * Looks whether all that a routine does with data can be seen.
     *
     * @throws ProjectException where it can reach a routine in Java that may touch data
     */
    void checkSeen(RoutineSymbol called) throws ProjectException {
        Set<RoutineSymbol> seen = new HashSet<>();
        List<RoutineSymbol> open = new ArrayList<>(List.of(called));
        catalog.triggers()
                .forEach(
                        t ->
                                open.addAll(
                                        reached(
                                                program.binder().bind(t).routine(),
                                                Optional.empty())));
        while (!open.isEmpty()) {
            RoutineSymbol next = open.remove(open.size() - 1);
            if (!seen.add(next)) {
                continue;
            }
            if (next.tree().body().isPresent()) {
                open.addAll(reached(program.binder().bind(next).routine(), next.module()));
            } else if (maySend(next)) {
                throw new ProjectException(
                        next.name()
                                + " is in Java and may touch data, and nothing can stand between its"
                                + " statements; where it touches none, say NO SQL in it");
            }
        }
    }

    private Set<RoutineSymbol> reached(BoundRoutine routine, Optional<ModuleSymbol> module) {
        return Reach.of(routine, catalog, module).routines();
    }

    /** Whether a routine in Java may send statements. */
    private static boolean maySend(RoutineSymbol external) {
        return external.tree()
                .characteristics()
                .access()
                .filter(a -> a == Unit.SqlAccess.NO_SQL || a == Unit.SqlAccess.CONTAINS_SQL)
                .isEmpty();
    }

    /** Of a statement that is about to be sent. */
    synchronized Footprint of(Performed performed) {
        Optional<DataSite> site = performed.site();
        return site.isPresent() ? of(site.get().sql()) : Footprint.ANYTHING;
    }

    private Footprint of(BoundSql sql) {
        Footprint found = known.get(sql);
        if (found == null) {
            found =
                    sql.source().tree() instanceof SqlStatement.Unread
                            ? Footprint.ANYTHING
                            : of(sql.source().scope()).and(called(sql));
            known.put(sql, found);
        }
        return found;
    }

    private Footprint of(SqlText.Scope scope) {
        Footprint all = Footprint.NOTHING;
        for (SqlText.TableUse use : scope.tables()) {
            if (!use.names().isEmpty()) {
                all = all.and(of(use));
            }
        }
        for (SqlText.Scope child : scope.children()) {
            all = all.and(of(child));
        }
        return all;
    }

    private Footprint of(SqlText.TableUse use) {
        Optional<Table> table = catalog.table(use.names().get(use.names().size() - 1));
        if (table.isEmpty()) {
            // A query in WITH, whose own tables are its own; or one of the session's alone.
            return Footprint.NOTHING;
        }
        if (table.get().view()) {
            return Footprint.ANYTHING;
        }
        String key = table.get().key();
        if (use.role() == SqlText.Role.READ) {
            return new Footprint(Set.of(key), Set.of());
        }
        Footprint all = new Footprint(related.getOrDefault(key, Set.of()), Set.of(key));
        for (TriggerSymbol trigger : catalog.triggers()) {
            if (trigger.table().key().equals(key)) {
                all = all.and(of(trigger));
            }
        }
        return all;
    }

    private Footprint called(BoundSql sql) {
        Footprint all = Footprint.NOTHING;
        for (SqlText.Call call : sql.source().calls()) {
            String key = call.function().get(call.function().size() - 1).key();
            for (RoutineSymbol function : catalog.functions(key)) {
                all = all.and(of(function));
            }
        }
        for (BoundExpression parameter : sql.parameters()) {
            all = all.and(of(parameter));
        }
        return all;
    }

    private Footprint of(TriggerSymbol trigger) {
        return open.add(trigger)
                ? closing(trigger, program.binder().bind(trigger).routine())
                : Footprint.NOTHING;
    }

    private Footprint of(RoutineSymbol routine) {
        if (routine.tree().body().isEmpty()) {
            return maySend(routine) ? Footprint.ANYTHING : Footprint.NOTHING;
        }
        return open.add(routine)
                ? closing(routine, program.binder().bind(routine).routine())
                : Footprint.NOTHING;
    }

    private Footprint closing(Object symbol, BoundRoutine routine) {
        try {
            Footprint[] all = {Footprint.NOTHING};
            routine.condition().ifPresent(c -> all[0] = all[0].and(of(c)));
            Walker.statements(routine.body(), s -> all[0] = all[0].and(of(s)));
            return all[0];
        } finally {
            open.remove(symbol);
        }
    }

    private Footprint of(BoundStatement s) {
        if (s instanceof BoundStatement.ExecuteDynamic || s instanceof BoundStatement.Prepare) {
            return Footprint.ANYTHING;
        }
        Footprint[] all = {Footprint.NOTHING};
        if (s instanceof BoundStatement.Call call) {
            all[0] = of(call.routine());
        } else if (s instanceof BoundStatement.Block block) {
            block.cursors().forEach(c -> c.query().ifPresent(q -> all[0] = all[0].and(of(q))));
        }
        Walker.sql(s).ifPresent(sql -> all[0] = all[0].and(of(sql)));
        Walker.expressions(s, e -> all[0] = all[0].and(one(e)));
        return all[0];
    }

    private Footprint of(BoundExpression expression) {
        Footprint[] all = {Footprint.NOTHING};
        Walker.expressions(expression, e -> all[0] = all[0].and(one(e)));
        return all[0];
    }

    private Footprint one(BoundExpression e) {
        if (e instanceof BoundExpression.Invoke invoke) {
            return of(invoke.routine());
        }
        return e instanceof BoundExpression.DatabaseExpression ask
                ? of(ask.sql())
                : Footprint.NOTHING;
    }
}
