package dev.cantina.agree;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Program;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Span;
import dev.cantina.translate.ServerObject;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * The routines and triggers that have errors on a server, which are not taken there, and those that
 * can reach them, which are not run there.
 */
final class Unsound {
    /** The first error of a routine or of what it reaches, by its place. */
    private final Map<String, String> reasons = new HashMap<>();

    /** The names of what is not taken there. */
    private final Set<String> left = new HashSet<>();

    /** Something is left out that others may call by the same name, or out of a module. */
    private Optional<String> any = Optional.empty();

    /** Looks at a project that is bound on the server. */
    void look(Workspace bound) {
        for (RoutineSymbol routine : bound.catalog().routines()) {
            try {
                bound.program().admit(routine);
            } catch (Program.UnsoundException e) {
                String first = first(e.problems());
                reasons.put(place(routine.span()), first);
                boolean shared =
                        routine.module().isPresent()
                                || bound.catalog().routines(routine.key()).size() > 1;
                if (shared) {
                    any = any.or(() -> Optional.of(first));
                }
            }
            if (hasErrors(bound, routine)) {
                left.add("routine " + routine.name());
                routine.module().ifPresent(m -> left.add("module " + m.tree().name().text()));
            }
        }
        for (TriggerSymbol trigger : bound.catalog().triggers()) {
            List<Problem> problems = bound.program().binder().bind(trigger).problems();
            if (!bound.catalog().errors(trigger).isEmpty()
                    || problems.stream().anyMatch(Problem::isError)) {
                left.add("trigger " + trigger.name());
            }
        }
    }

    private static boolean hasErrors(Workspace bound, RoutineSymbol routine) {
        return !bound.catalog().errors(routine).isEmpty()
                || routine.tree().body().isPresent()
                        && bound.program().binder().bind(routine).problems().stream()
                                .anyMatch(Problem::isError);
    }

    private static String first(List<Problem> problems) {
        return problems.isEmpty() ? "it has errors there" : problems.get(0).message();
    }

    private static String place(Span span) {
        return span.source().name() + ":" + span.start();
    }

    /** Whether an object is left out. */
    boolean holds(ServerObject object) {
        String kind =
                switch (object.kind()) {
                    case "function", "procedure" -> "routine ";
                    case "trigger" -> "trigger ";
                    default -> "module ";
                };
        return left.contains(kind + object.name());
    }

    /** Why a routine can't run there; empty where it can. */
    Optional<String> reason(RoutineSymbol routine) {
        return Optional.ofNullable(reasons.get(place(routine.span()))).or(() -> any);
    }
}
