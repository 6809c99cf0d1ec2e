package dev.cantina.nativecode.postgresql;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.nativecode.Mark;
import dev.cantina.nativecode.NativeSyntaxException;
import dev.cantina.nativecode.PlacedRoutines;
import dev.cantina.runtime.Probe;
import dev.cantina.runtime.StackEntry;
import dev.cantina.syntax.Source;
import java.util.ArrayList;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** The copies of a project's routines in the standard language that stand beside its PL/pgSQL. */
final class PgStandard {
    private final PlacedRoutines routines;
    private final Map<PgCode.Known, PlacedRoutines.Copy> copies = new IdentityHashMap<>();
    private final Map<Integer, RoutineSymbol> called = new java.util.HashMap<>();

    PgStandard(PlacedRoutines routines) {
        this.routines = routines;
    }

    PlacedRoutines routines() {
        return routines;
    }

    /** The copy whose body the server keeps; empty where it is none. */
    Optional<PlacedRoutines.Copy> copy(String body) {
        return body == null || body.isEmpty()
                ? Optional.empty()
                : routines.copies().stream().filter(c -> c.create().contains(body)).findFirst();
    }

    /** The head of a copy. */
    static PgRoutine head(PlacedRoutines.Copy copy) {
        try {
            return PgScript.of(new Source("", copy.create())).stream()
                    .flatMap(s -> PgRoutine.of(s).stream())
                    .findFirst()
                    .orElseThrow();
        } catch (NativeSyntaxException e) {
            throw new IllegalStateException("a copy can't be read: " + e.getMessage(), e);
        }
    }

    /**
     * Takes a copy as the server knows it.
     *
     * @return the routine that is called by it; empty for a trigger's, and for one more copy
     */
    Optional<RoutineSymbol> take(PlacedRoutines.Copy copy, PgCode.Known known) {
        copies.put(known, copy);
        Optional<RoutineSymbol> symbol = routines.symbol(copy.routine());
        boolean first =
                routines.copies().stream()
                        .filter(c -> c.routine() == copy.routine())
                        .findFirst()
                        .equals(Optional.of(copy));
        symbol = symbol.filter(s -> first && !called.containsKey(copy.routine()));
        symbol.ifPresent(s -> called.put(copy.routine(), s));
        return symbol;
    }

    boolean has(PgCode.Known known) {
        return copies.containsKey(known);
    }

    /** The copies as they were made. */
    List<String> unwoven(Set<PgCode.Known> without) {
        List<String> all = new ArrayList<>();
        copies.forEach(
                (known, copy) -> {
                    if (!without.contains(known)) {
                        all.add(PgWeaver.replacing(copy.create()));
                    }
                });
        return all;
    }

    /** The copies once more, with probes in the place of their marks. */
    List<String> woven(Probe.Detail detail, Set<PgCode.Known> without) {
        List<String> woven = new ArrayList<>();
        copies.forEach(
                (known, copy) -> {
                    if (!without.contains(known)) {
                        woven.add(
                                new PgPlacedWeaver(copy, routines.places(copy.routine()), detail)
                                        .weave());
                    }
                });
        return woven;
    }

    /**
     * The statement that a copy was at.
     *
     * @param line of the body, the first of which is that behind the quote
     */
    Optional<StackEntry> at(PgCode.Known known, int line) {
        PlacedRoutines.Copy copy = copies.get(known);
        int end = known.written().body().orElseThrow().start();
        for (int i = 0; i < line && end >= 0; i++) {
            end = copy.create().indexOf('\n', end) + 1;
            if (end == 0) {
                end = copy.create().length();
                break;
            }
        }
        int at = -1;
        for (Mark.Found one : copy.marks()) {
            boolean stands = one.mark().kind() == Mark.Kind.STATEMENT;
            at = stands && one.start() < end ? one.mark().at() : at;
        }
        BoundRoutine routine = routines.routine(copy.routine());
        return at < 0
                ? Optional.empty()
                : Optional.of(new StackEntry(routine.name(), routine.places().get(at).span()));
    }
}
