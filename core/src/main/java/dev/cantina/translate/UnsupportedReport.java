package dev.cantina.translate;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Span;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** What can't be taken to a server, and what for that reason can't be either. */
public final class UnsupportedReport {
    private final String rule;
    private final Catalog catalog;
    private final BoundRoutines routines;
    private final List<Problem> refused = new ArrayList<>();
    private final Map<RoutineSymbol, Problem> lost = new HashMap<>();

    /**
     * @param rule what the problems are called
     */
    public UnsupportedReport(String rule, Catalog catalog, BoundRoutines routines) {
        this.rule = rule;
        this.catalog = catalog;
        this.routines = routines;
    }

    public List<Problem> refused() {
        return refused;
    }

    public void refuse(UnsupportedConstructException reason) {
        refused.add(Problem.error(reason.span(), rule, reason.getMessage()));
    }

    public void add(RoutineSymbol routine, UnsupportedConstructException reason) {
        Problem problem = Problem.error(reason.span(), rule, reason.getMessage());
        refused.add(problem);
        lost.put(routine, problem);
    }

    /** What calls a routine that can't be there can't be there either. */
    public void loseCallers(Map<RoutineSymbol, ?> made) {
        boolean more = true;
        while (more) {
            more = false;
            for (RoutineSymbol routine : List.copyOf(made.keySet())) {
                Optional<UnsupportedConstructException> missing =
                        missing(routines.of(routine), routine.module());
                if (missing.isPresent()) {
                    made.remove(routine);
                    add(routine, missing.get());
                    more = true;
                }
            }
        }
    }

    /** The first call in a routine, or a trigger, of something that can't be there. */
    public Optional<UnsupportedConstructException> missing(
            BoundRoutine routine, Optional<ModuleSymbol> module) {
        return Calls.of(routine, catalog, module).stream()
                .filter(c -> lost.containsKey(c.routine()))
                .findFirst()
                .map(
                        c ->
                                new UnsupportedConstructException(
                                        c.span(),
                                        "this calls "
                                                + c.routine().name()
                                                + ", which can't be taken there"));
    }

    /** The source of a unit from the comments right above it on. */
    public static Span withComments(Span unit) {
        String text = unit.source().text();
        int from = unit.start();
        while (true) {
            int line = text.lastIndexOf('\n', from - 1);
            int before = text.lastIndexOf('\n', line - 1);
            boolean comment = line > 0 && text.substring(before + 1, line).strip().startsWith("--");
            if (!comment) {
                return new Span(unit.source(), from, unit.end());
            }
            from = before + 1;
        }
    }
}
