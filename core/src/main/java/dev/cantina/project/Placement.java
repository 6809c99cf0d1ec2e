package dev.cantina.project;

import dev.cantina.binding.Binder;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.Walker;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.database.ServerDatabase;
import dev.cantina.database.ServerPart;
import dev.cantina.database.UnreachableException;
import dev.cantina.nativecode.PlacedParts;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlWords;
import dev.cantina.translate.BoundRoutines;
import dev.cantina.translate.Calls;
import dev.cantina.translate.ServerLanguage;
import dev.cantina.translate.ServerObject;
import dev.cantina.translate.Translation;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Collections;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.Predicate;
import java.util.stream.Collectors;

/**
 * What of a project must stand on a server for as long as its routines run in Cantina: the
 * triggers, the functions that SQL calls, and what these call.
 */
public final class Placement {
    private Placement() {}

    /**
     * Places only what one run can set off.
     *
     * @param text what names the routine that is to run, or the code that runs
     */
    public static Workspace.ServerCode reachedFrom(String text) {
        return (catalog, binder, database) ->
                place(catalog.reachedFrom(text), text, binder, database);
    }

    /**
     * Places all that statements can set off, and the functions that a script names.
     *
     * @param script its text
     */
    public static Workspace.ServerCode forScript(String script) {
        return (catalog, binder, database) -> place(catalog, script, binder, database);
    }

    /**
     * Places all that statements can set off, and every function, for a program that sends what
     * nobody knows before.
     *
     * @param mark that names of it end with
     */
    public static Workspace.ServerCode forProgram(String mark) {
        return (catalog, binder, database) ->
                place(
                        catalog,
                        String.join(
                                " ", catalog.routines().stream().map(RoutineSymbol::name).toList()),
                        binder,
                        database,
                        mark);
    }

    /** The same for one that calls nothing but what is named in a text. */
    public static Workspace.ServerCode forProgram(String mark, String calls) {
        return (catalog, binder, database) ->
                place(catalog.reachedFrom(calls), calls, binder, database, mark);
    }

    /**
     * Places the functions that SQL calls without what they do, so that what calls them can be
     * looked at on the server, and translated for it.
     */
    public static PlacedParts heads(Catalog catalog, Binder binder, ServerDatabase database)
            throws SQLException {
        Set<RoutineSymbol> wanted = wanted(catalog, binder);
        if (wanted.isEmpty()) {
            return PlacedParts.NONE;
        }
        database.place(
                ServerLanguage.of(database.kind())
                        .heads(catalog, binder, database, Optional.of(mark()), wanted));
        return PlacedParts.NONE;
    }

    /**
     * Places it, in the transaction that the database is in.
     *
     * @throws ProjectException where something of it can't be said in the server's language
     */
    public static PlacedParts place(Catalog catalog, Binder binder, ServerDatabase database)
            throws ProjectException, SQLException {
        return place(catalog, "", binder, database);
    }

    private static PlacedParts place(
            Catalog catalog, String text, Binder binder, ServerDatabase database)
            throws ProjectException, SQLException {
        return place(catalog, text, binder, database, mark());
    }

    private static PlacedParts place(
            Catalog catalog, String text, Binder binder, ServerDatabase database, String mark)
            throws ProjectException, SQLException {
        Set<RoutineSymbol> wanted = wanted(catalog, binder);
        Set<RoutineSymbol> called = called(catalog, text, binder);
        if (wanted.isEmpty() && called.isEmpty() && catalog.triggers().isEmpty()) {
            return PlacedParts.NONE;
        }
        ServerLanguage language = ServerLanguage.of(database.kind());
        List<Problem> unsupportedCalls = language.unsupportedCalls(catalog, binder);
        if (!unsupportedCalls.isEmpty()) {
            throw new ProjectException(unsupportedCalls);
        }
        // Statements that call functions can be looked at only when these are there.
        database.place(language.heads(catalog, binder, database, Optional.of(mark), wanted));
        Translation translation = language.placed(catalog, binder, database, mark);
        // What has errors never runs, so that it need not stand there.
        List<TriggerSymbol> triggers =
                catalog.triggers().stream()
                        .filter(
                                t ->
                                        catalog.errors(t).isEmpty()
                                                && isSound(binder.bind(t).problems()))
                        .toList();
        Predicate<RoutineSymbol> unsound = r -> !isSound(r, catalog, binder);
        wanted.removeIf(unsound);
        called.removeIf(unsound);
        List<Problem> refused =
                new ArrayList<>(
                        translation.refused().stream()
                                .filter(p -> isWanted(p, catalog, wanted, triggers))
                                .toList());
        List<ServerObject> hidden = language.hidden(database, translation.objects());
        for (ServerObject object : hidden) {
            called.removeIf(r -> r.name().equals(object.name()));
            wanted.stream()
                    .filter(r -> r.name().equals(object.name()))
                    .forEach(r -> refused.add(hidden(r)));
        }
        if (!refused.isEmpty()) {
            throw new ProjectException(refused);
        }
        called.removeAll(wanted);
        List<ServerPart> made = new ArrayList<>();
        List<ServerPart> parts = new ArrayList<>();
        translation.support().forEach(o -> parts.addAll(o.parts()));
        translation.objects().stream()
                .filter(o -> isWanted(o, catalog, wanted, triggers))
                .forEach(o -> parts.addAll(o.parts()));
        made.addAll(database.place(parts));
        for (ServerObject object : translation.objects()) {
            if (isWanted(object, catalog, called, List.of())
                    && !isWanted(object, catalog, wanted, triggers)) {
                try {
                    made.addAll(database.place(object.parts()));
                } catch (UnreachableException e) {
                    // What can't be there is not found when it is called.
                    continue;
                }
            }
        }
        return new PlacedParts(mark, made);
    }

    /**
     * What of a project was made to stand on a server beside the server's own routines.
     *
     * @param refused what can't be said in the server's language
     */
    public record Standing(PlacedParts parts, List<Problem> refused) {}

    /**
     * Places all routines and triggers of the standard language that have no errors, in the form in
     * which they are shipped, with marks in them.
     *
     * @throws UnreachableException where the server refuses one
     */
    public static Standing beside(Catalog catalog, Binder binder, ServerDatabase database)
            throws SQLException {
        Set<RoutineSymbol> routines = Collections.newSetFromMap(new IdentityHashMap<>());
        catalog.routines().stream()
                .filter(r -> r.tree().body().isPresent() && catalog.errors(r).isEmpty())
                .forEach(routines::add);
        ServerLanguage language = ServerLanguage.of(database.kind());
        // Statements that call functions can be looked at only when these are there.
        List<ServerPart> heads =
                language.heads(catalog, binder, database, Optional.empty(), routines);
        database.place(heads);
        routines.removeIf(r -> !isSound(binder.bind(r).problems()));
        List<TriggerSymbol> triggers =
                catalog.triggers().stream()
                        .filter(t -> catalog.errors(t).isEmpty())
                        .filter(t -> isSound(binder.bind(t).problems()))
                        .toList();
        String mark = mark();
        Translation translation = language.marked(catalog, binder, database, mark);
        List<ServerPart> parts = new ArrayList<>();
        translation.support().forEach(o -> parts.addAll(o.parts()));
        translation.objects().stream()
                .filter(o -> isWanted(o, catalog, routines, triggers))
                .forEach(o -> parts.addAll(o.parts()));
        List<Problem> refused = new ArrayList<>(language.unsupportedCalls(catalog, binder));
        translation.refused().stream()
                .filter(p -> isWanted(p, catalog, routines, triggers))
                .forEach(refused::add);
        PlacedParts placed = new PlacedParts(mark, database.place(parts));
        takeAway(heads, parts, database);
        return new Standing(placed, refused);
    }

    /** What can't stand there must not answer with nothing. */
    private static void takeAway(
            List<ServerPart> heads, List<ServerPart> parts, ServerDatabase database)
            throws SQLException {
        Set<String> stands = parts.stream().map(ServerPart::identity).collect(Collectors.toSet());
        try (Statement statement = database.connection().createStatement()) {
            for (ServerPart head : heads) {
                if (!stands.contains(head.identity())) {
                    statement.execute(head.drop());
                }
            }
        }
    }

    private static boolean isSound(RoutineSymbol routine, Catalog catalog, Binder binder) {
        return catalog.errors(routine).isEmpty()
                && (routine.tree().body().isEmpty() || isSound(binder.bind(routine).problems()));
    }

    private static Problem hidden(RoutineSymbol routine) {
        return Problem.error(
                routine.tree().name().span(),
                "hidden-function",
                "the server has a function "
                        + routine.name()
                        + " of its own, which its triggers and functions would call; rename yours");
    }

    /** Marks what stands for one run alone, so that runs do not wait for each other. */
    public static String mark() {
        return "_" + Long.toHexString(System.nanoTime() ^ ProcessHandle.current().pid() << 40);
    }

    /** The places of the routines that SQL or a trigger calls, and of those that these call. */
    private static Set<RoutineSymbol> wanted(Catalog catalog, Binder binder) {
        BoundRoutines routines = new BoundRoutines(binder);
        Set<RoutineSymbol> open = Collections.newSetFromMap(new IdentityHashMap<>());
        for (TriggerSymbol trigger : catalog.triggers()) {
            BoundRoutine bound = routines.of(trigger);
            Calls.of(bound, catalog, Optional.empty()).forEach(c -> open.add(c.routine()));
        }
        for (RoutineSymbol routine : catalog.routines()) {
            if (routine.tree().body().isPresent()) {
                BoundRoutine bound = routines.of(routine);
                Calls.inSql(bound, catalog, routine.module()).forEach(c -> open.add(c.routine()));
            }
        }
        return withCalled(open, catalog, routines);
    }

    /** Routines, and all that they call. */
    private static Set<RoutineSymbol> withCalled(
            Set<RoutineSymbol> open, Catalog catalog, BoundRoutines routines) {
        Set<RoutineSymbol> found = Collections.newSetFromMap(new IdentityHashMap<>());
        while (!open.isEmpty()) {
            RoutineSymbol next = open.iterator().next();
            open.remove(next);
            if (found.add(next) && next.tree().body().isPresent()) {
                BoundRoutine bound = routines.of(next);
                Calls.of(bound, catalog, next.module()).stream()
                        .map(Calls.Call::routine)
                        .filter(r -> !found.contains(r))
                        .forEach(open::add);
            }
        }
        return found;
    }

    /**
     * What SQL may call that is put together as it runs: nobody knows, so that it is all there; and
     * the functions that a text names, whose SQL calls them.
     */
    private static Set<RoutineSymbol> called(Catalog catalog, String text, Binder binder) {
        BoundRoutines routines = new BoundRoutines(binder);
        Set<RoutineSymbol> all = Collections.newSetFromMap(new IdentityHashMap<>());
        boolean[] dynamic = {false};
        Consumer<BoundRoutine> look =
                routine ->
                        Walker.statements(
                                routine.body(),
                                s -> dynamic[0] |= s instanceof BoundStatement.ExecuteDynamic);
        for (TriggerSymbol trigger : catalog.triggers()) {
            look.accept(routines.of(trigger));
        }
        for (RoutineSymbol routine : catalog.routines()) {
            if (routine.tree().body().isPresent()) {
                all.add(routine);
                look.accept(routines.of(routine));
            }
        }
        if (dynamic[0]) {
            return all;
        }
        SqlWords words = SqlWords.of(text);
        Set<RoutineSymbol> named = Collections.newSetFromMap(new IdentityHashMap<>());
        all.stream()
                .filter(RoutineSymbol::isFunction)
                .filter(r -> words.all().stream().anyMatch(w -> w.is(r.tree().name().key())))
                .forEach(named::add);
        return withCalled(named, catalog, routines);
    }

    private static boolean isSound(List<Problem> problems) {
        return problems.stream().noneMatch(Problem::isError);
    }

    private static boolean isWanted(
            Problem problem,
            Catalog catalog,
            Set<RoutineSymbol> wanted,
            List<TriggerSymbol> triggers) {
        boolean trigger = triggers.stream().anyMatch(t -> holds(t.tree().span(), problem));
        return trigger
                || catalog.routines().stream()
                        .anyMatch(r -> wanted.contains(r) && holds(r.span(), problem));
    }

    private static boolean holds(Span span, Problem problem) {
        return span.source() == problem.span().source()
                && span.start() <= problem.span().start()
                && problem.span().end() <= span.end();
    }

    private static boolean isWanted(
            ServerObject object,
            Catalog catalog,
            Set<RoutineSymbol> wanted,
            List<TriggerSymbol> triggers) {
        return switch (object.kind()) {
            case "function", "procedure" ->
                    catalog.routines().stream()
                            .anyMatch(r -> r.name().equals(object.name()) && wanted.contains(r));
            case "trigger" -> triggers.stream().anyMatch(t -> t.name().equals(object.name()));
            default ->
                    catalog.routines().stream()
                            .anyMatch(r -> r.module().isPresent() && wanted.contains(r));
        };
    }
}
