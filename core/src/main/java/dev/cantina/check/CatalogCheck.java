package dev.cantina.check;

import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.syntax.Problem;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;

/** Checks everything in a catalog: errors first, and advice where a routine has none of them. */
public final class CatalogCheck {
    private final Catalog catalog;
    private final Binder binder;
    private final Function<RoutineSymbol, Optional<Problem>> externals;

    /**
     * @param externals what is wrong with a routine that has no body here
     */
    public CatalogCheck(
            Catalog catalog, Binder binder, Function<RoutineSymbol, Optional<Problem>> externals) {
        this.catalog = catalog;
        this.binder = binder;
        this.externals = externals;
    }

    /**
     * All problems, in no particular order.
     *
     * @param silenced rules of advice that are not wanted
     */
    public List<Problem> problems(List<String> silenced) {
        List<Problem> all = new ArrayList<>();
        Advice advice = new Advice(catalog, silenced);
        Map<String, BoundRoutine> routines = new HashMap<>();
        for (RoutineSymbol routine : catalog.routines()) {
            if (routine.tree().body().isEmpty()) {
                externals.apply(routine).ifPresent(all::add);
            } else {
                routines.put(routine.key(), judge(binder.bind(routine), advice, all));
            }
        }
        for (ModuleSymbol module : catalog.modules()) {
            for (int i = 0; i < module.variables().size(); i++) {
                if (module.variables().get(i).initial().isPresent()) {
                    all.addAll(binder.initial(module, i).problems());
                }
            }
        }
        Map<TriggerSymbol, BoundRoutine> triggers = new LinkedHashMap<>();
        for (TriggerSymbol trigger : catalog.triggers()) {
            triggers.put(trigger, judge(binder.bind(trigger), advice, all));
        }
        all.addAll(new TriggerCycle(triggers, routines).find(silenced));
        return all;
    }

    private static BoundRoutine judge(Binder.Result result, Advice advice, List<Problem> all) {
        all.addAll(result.problems());
        if (result.problems().stream().noneMatch(Problem::isError)) {
            all.addAll(advice.of(result.routine()));
        }
        return result.routine();
    }
}
