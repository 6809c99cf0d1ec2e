package dev.cantina.advice;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.Walker;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.SqlText;
import dev.cantina.syntax.Unit;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** Triggers that fire each other, or themselves, by what they and the routines they call change. */
public final class TriggerCycle {
    private static final String RULE = "trigger-cycle";

    /** A kind of change of a table. */
    public record Change(String table, Unit.Event event) {}

    private final Map<TriggerSymbol, Effects> triggers;
    private final Map<String, Effects> routines;

    /**
     * @param routines all others, by key
     */
    public TriggerCycle(Map<TriggerSymbol, Effects> triggers, Map<String, Effects> routines) {
        this.triggers = new LinkedHashMap<>(triggers);
        this.routines = routines;
    }

    /** What a routine changes itself, and the procedures that it calls. */
    public record Effects(Set<Change> changes, Set<String> calls) {
        public static final Effects NONE = new Effects(Set.of(), Set.of());

        static Effects of(BoundRoutine routine) {
            Set<Change> changes = new HashSet<>();
            Set<String> calls = new HashSet<>();
            Walker.statements(
                    routine.body(),
                    s -> {
                        Walker.sql(s).ifPresent(sql -> targets(sql.scope(), changes));
                        if (s instanceof BoundStatement.Call call) {
                            calls.add(call.routine().key());
                        }
                    });
            return new Effects(changes, calls);
        }

        /** Those of two routines of one name. */
        public Effects with(Effects other) {
            Set<Change> allChanges = new HashSet<>(changes);
            allChanges.addAll(other.changes);
            Set<String> allCalls = new HashSet<>(calls);
            allCalls.addAll(other.calls);
            return new Effects(allChanges, allCalls);
        }
    }

    /** A piece of advice for each trigger that can come round to itself. */
    public List<Problem> find(List<String> silenced) {
        List<Problem> advice = new ArrayList<>();
        if (silenced.contains(RULE)) {
            return advice;
        }
        for (TriggerSymbol start : triggers.keySet()) {
            List<String> way = new ArrayList<>();
            if (comesBack(start, start, way, new HashSet<>())) {
                Problem problem =
                        Problem.advice(
                                start.tree().name().span(),
                                RULE,
                                "this fires itself: "
                                        + start.name()
                                        + " → "
                                        + String.join(" → ", way),
                                "give it a WHEN that ends it, or change the row in a BEFORE trigger");
                if (!Silence.covers(problem)) {
                    advice.add(problem);
                }
            }
        }
        return advice;
    }

    private boolean comesBack(
            TriggerSymbol from, TriggerSymbol start, List<String> way, Set<TriggerSymbol> seen) {
        Set<Change> changes = new HashSet<>();
        changes(triggers.get(from), changes, new HashSet<>());
        for (TriggerSymbol next : triggers.keySet()) {
            boolean fires =
                    changes.contains(new Change(next.table().key(), next.tree().event()))
                            && next.tree().when().isEmpty();
            if (!fires) {
                continue;
            }
            way.add(next.name());
            if (next == start || seen.add(next) && comesBack(next, start, way, seen)) {
                return true;
            }
            way.remove(way.size() - 1);
        }
        return false;
    }

    private void changes(Effects effects, Set<Change> changes, Set<String> seen) {
        changes.addAll(effects.changes());
        for (String key : effects.calls()) {
            if (routines.containsKey(key) && seen.add(key)) {
                changes(routines.get(key), changes, seen);
            }
        }
    }

    private static void targets(SqlText.Scope scope, Set<Change> changes) {
        for (SqlText.TableUse use : scope.tables()) {
            if (use.names().isEmpty()) {
                continue;
            }
            String table = use.names().get(use.names().size() - 1).key();
            switch (use.role()) {
                case INSERT -> changes.add(new Change(table, Unit.Event.INSERT));
                case UPDATE -> changes.add(new Change(table, Unit.Event.UPDATE));
                case DELETE -> changes.add(new Change(table, Unit.Event.DELETE));
                case MERGE -> {
                    changes.add(new Change(table, Unit.Event.INSERT));
                    changes.add(new Change(table, Unit.Event.UPDATE));
                }
                case READ -> {
                    // Reading fires nothing.
                }
            }
        }
    }
}
