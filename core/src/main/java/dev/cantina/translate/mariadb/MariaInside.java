package dev.cantina.translate.mariadb;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.Walker;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.translate.BoundRoutines;
import dev.cantina.translate.Calls;
import dev.cantina.translate.Effects;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * The procedures that functions and triggers call. MariaDB lets those call nothing that could begin
 * a transaction, as a procedure does that changes data; so each of these procedures stands there
 * once more, without its transaction, for calls from inside.
 */
final class MariaInside {
    private MariaInside() {}

    /** Whether a procedure begins a transaction where its caller has none. */
    static boolean begins(BoundRoutine routine, Effects effects) {
        if (routine.kind() != BoundRoutine.Kind.PROCEDURE) {
            return false;
        }
        boolean[] transactions = {false};
        Walker.statements(
                routine.body(), s -> transactions[0] |= s instanceof BoundStatement.Transaction);
        boolean single = routine.body() instanceof BoundStatement.Execute;
        return transactions[0] || !single && effects.changes(routine.body());
    }

    /** Those procedures that begin one and that a function or trigger reaches. */
    static Set<RoutineSymbol> of(Catalog catalog, BoundRoutines routines, Effects effects) {
        Set<RoutineSymbol> seen = new HashSet<>();
        List<RoutineSymbol> open = new ArrayList<>();
        for (TriggerSymbol trigger : catalog.triggers()) {
            called(routines.of(trigger), catalog, Optional.empty(), seen, open);
        }
        for (RoutineSymbol routine : catalog.routines()) {
            if (routine.isFunction() && routine.tree().body().isPresent()) {
                called(routines.of(routine), catalog, routine.module(), seen, open);
            }
        }
        while (!open.isEmpty()) {
            RoutineSymbol next = open.remove(open.size() - 1);
            if (next.tree().body().isPresent()) {
                called(routines.of(next), catalog, next.module(), seen, open);
            }
        }
        seen.removeIf(r -> r.tree().body().isEmpty() || !begins(routines.of(r), effects));
        return seen;
    }

    private static void called(
            BoundRoutine routine,
            Catalog catalog,
            Optional<ModuleSymbol> module,
            Set<RoutineSymbol> seen,
            List<RoutineSymbol> open) {
        for (Calls.Call call : Calls.of(routine, catalog, module)) {
            if (seen.add(call.routine())) {
                open.add(call.routine());
            }
        }
    }
}
