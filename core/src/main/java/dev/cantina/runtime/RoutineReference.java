package dev.cantina.runtime;

import dev.cantina.catalog.RoutineSymbol;

/** A routine that compiled code calls, looked up when it is first called. */
public final class RoutineReference {
    static final String INTERNAL = "dev/cantina/runtime/RoutineReference";

    private final RoutineSymbol symbol;
    private volatile Routine routine;

    RoutineReference(RoutineSymbol symbol) {
        this.symbol = symbol;
    }

    boolean isExternal() {
        return symbol.tree().body().isEmpty();
    }

    RoutineSymbol symbol() {
        return symbol;
    }

    Routine routine(Program program) {
        Routine known = routine;
        if (known == null) {
            known = program.routine(symbol);
            routine = known;
        }
        return known;
    }
}
