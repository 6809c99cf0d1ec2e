package dev.cantina.deploy;

import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.check.Binder;
import dev.cantina.check.BoundRoutine;
import dev.cantina.database.ServerPart;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Problem;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * What of a project must stand on a server for as long as its routines run in Cantina: the
 * triggers, the functions that SQL calls, and what these call.
 */
public final class Placement {
    private Placement() {}

    /**
     * The parts, in the order of their making.
     *
     * @param script whose routines are there beside the project's own
     * @throws ProjectException where one of them can't be said in the server's language
     */
    public static List<ServerPart> parts(Project project, Optional<ParsedFile> script)
            throws ProjectException {
        try (Workspace workspace = Workspace.open(project, Optional.empty(), script)) {
            Catalog catalog = workspace.catalog();
            Binder binder = workspace.program().binder();
            Set<Integer> wanted = wanted(catalog, binder);
            Translation translation =
                    new PostgresTranslation(catalog, binder, Optional.of(mark())).translate();
            List<Problem> refused =
                    translation.refused().stream()
                            .filter(p -> isWanted(p, catalog, wanted))
                            .toList();
            if (!refused.isEmpty()) {
                throw new ProjectException(refused);
            }
            List<ServerPart> parts = new ArrayList<>();
            List<ServerObject> objects =
                    translation.objects().stream()
                            .filter(o -> isWanted(o, catalog, wanted))
                            .toList();
            if (!objects.isEmpty()) {
                translation.support().forEach(o -> parts.addAll(o.parts()));
                objects.forEach(o -> parts.addAll(o.parts()));
            }
            return parts;
        }
    }

    /** Marks what stands for one run alone, so that runs do not wait for each other. */
    static String mark() {
        return "_" + Long.toHexString(System.nanoTime() ^ ProcessHandle.current().pid() << 40);
    }

    /** The places of the routines that SQL or a trigger calls, and of those that these call. */
    private static Set<Integer> wanted(Catalog catalog, Binder binder) {
        Set<RoutineSymbol> found = new LinkedHashSet<>();
        Set<RoutineSymbol> open = new LinkedHashSet<>();
        for (TriggerSymbol trigger : catalog.triggers()) {
            BoundRoutine bound = binder.bind(trigger).routine();
            Calls.of(bound, catalog, Optional.empty()).forEach(c -> open.add(c.routine()));
        }
        for (RoutineSymbol routine : catalog.routines()) {
            if (routine.tree().body().isPresent()) {
                BoundRoutine bound = binder.bind(routine).routine();
                Calls.inSql(bound, catalog, routine.module()).forEach(c -> open.add(c.routine()));
            }
        }
        while (!open.isEmpty()) {
            RoutineSymbol next = open.iterator().next();
            open.remove(next);
            if (found.add(next) && next.tree().body().isPresent()) {
                BoundRoutine bound = binder.bind(next).routine();
                Calls.of(bound, catalog, next.module()).stream()
                        .map(Calls.Call::routine)
                        .filter(r -> !found.contains(r))
                        .forEach(open::add);
            }
        }
        Set<Integer> keys = new HashSet<>();
        found.forEach(r -> keys.add(System.identityHashCode(r)));
        return keys;
    }

    private static boolean isWanted(Problem problem, Catalog catalog, Set<Integer> wanted) {
        boolean trigger =
                catalog.triggers().stream().anyMatch(t -> holds(t.tree().span(), problem));
        return trigger
                || catalog.routines().stream()
                        .anyMatch(
                                r ->
                                        wanted.contains(System.identityHashCode(r))
                                                && holds(r.span(), problem));
    }

    private static boolean holds(dev.cantina.syntax.Span span, Problem problem) {
        return span.source() == problem.span().source()
                && span.start() <= problem.span().start()
                && problem.span().end() <= span.end();
    }

    private static boolean isWanted(ServerObject object, Catalog catalog, Set<Integer> wanted) {
        return switch (object.kind()) {
            case "function", "procedure" ->
                    catalog.routines().stream()
                            .anyMatch(
                                    r ->
                                            r.name().equals(object.name())
                                                    && wanted.contains(System.identityHashCode(r)));
            case "trigger" -> true;
            default ->
                    catalog.routines().stream()
                            .anyMatch(
                                    r ->
                                            r.module().isPresent()
                                                    && wanted.contains(System.identityHashCode(r)));
        };
    }
}
