package dev.cantina.translate;

import dev.cantina.binding.Binder;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.TriggerSymbol;
import java.util.IdentityHashMap;
import java.util.Map;

/** The routines of a project, each bound once however often it is asked for. */
public final class BoundRoutines {
    private final Binder binder;
    private final Map<Object, BoundRoutine> bound = new IdentityHashMap<>();

    public BoundRoutines(Binder binder) {
        this.binder = binder;
    }

    Binder binder() {
        return binder;
    }

    Catalog catalog() {
        return binder.catalog();
    }

    public BoundRoutine of(RoutineSymbol routine) {
        BoundRoutine known = bound.get(routine);
        if (known == null) {
            known = binder.bind(routine).routine();
            bound.put(routine, known);
        }
        return known;
    }

    public BoundRoutine of(TriggerSymbol trigger) {
        BoundRoutine known = bound.get(trigger);
        if (known == null) {
            known = binder.bind(trigger).routine();
            bound.put(trigger, known);
        }
        return known;
    }
}
