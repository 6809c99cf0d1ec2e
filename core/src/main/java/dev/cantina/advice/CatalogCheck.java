package dev.cantina.advice;

import dev.cantina.binding.Binder;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.syntax.Name;
import dev.cantina.syntax.Problem;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.FutureTask;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.Function;

/**
 * Checks everything in a catalog: errors first, and advice where a routine has none of them. A
 * large catalog is checked by several threads.
 */
public final class CatalogCheck {
    /** From so many routines on another thread is worth its while. */
    private static final int MANY = 100;

    /** Deep enough for any tree that the parser lets through. */
    private static final long STACK = 64L << 20;

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
     * What was found in one routine or trigger.
     *
     * @param bound empty where it has no body here, or could not be bound
     */
    public record Found(
            List<Problem> problems, TriggerCycle.Effects effects, Optional<Binder.Result> bound) {
        private static Found of(List<Problem> problems) {
            return new Found(problems, TriggerCycle.Effects.NONE, Optional.empty());
        }
    }

    /**
     * All problems, in no particular order.
     *
     * @param silenced rules of advice that are not wanted
     */
    public List<Problem> problems(List<String> silenced) {
        List<Problem> all = new ArrayList<>();
        Advice advice = new Advice(catalog, silenced);
        List<RoutineSymbol> symbols = catalog.routines();
        Found[] found = new Found[symbols.size()];
        AtomicInteger next = new AtomicInteger();
        Runnable work =
                () -> {
                    for (int i = next.getAndIncrement();
                            i < found.length;
                            i = next.getAndIncrement()) {
                        found[i] = look(symbols.get(i), advice);
                    }
                };
        if (found.length < MANY) {
            work.run();
        } else {
            together(work);
        }
        Map<String, TriggerCycle.Effects> routines = new HashMap<>();
        for (int i = 0; i < found.length; i++) {
            all.addAll(found[i].problems());
            routines.merge(symbols.get(i).key(), found[i].effects(), TriggerCycle.Effects::with);
        }
        catalog.modules().forEach(m -> all.addAll(module(m)));
        Map<TriggerSymbol, TriggerCycle.Effects> triggers = new LinkedHashMap<>();
        for (TriggerSymbol trigger : catalog.triggers()) {
            Found one = trigger(trigger, advice);
            all.addAll(one.problems());
            triggers.put(trigger, one.effects());
        }
        all.addAll(new TriggerCycle(triggers, routines).find(silenced));
        // A parameter's default is bound where it stands, and wherever it is taken.
        return new ArrayList<>(new LinkedHashSet<>(all));
    }

    /** What is wrong with what the variables of a module begin with. */
    public List<Problem> module(ModuleSymbol module) {
        List<Problem> problems = new ArrayList<>();
        for (int i = 0; i < module.variables().size(); i++) {
            if (module.variables().get(i).initial().isPresent()) {
                problems.addAll(binder.initial(module, i).problems());
            }
        }
        return problems;
    }

    /** Looks at one trigger. */
    public Found trigger(TriggerSymbol trigger, Advice advice) {
        try {
            return judge(binder.bind(trigger), advice);
        } catch (RuntimeException | StackOverflowError e) {
            return Found.of(List.of(defect(trigger.tree().name(), e)));
        }
    }

    /** Does the same work on this thread and on another. */
    private static void together(Runnable work) {
        FutureTask<Void> other = new FutureTask<>(work, null);
        Thread thread = new Thread(null, other, "check", STACK);
        thread.setDaemon(true);
        thread.start();
        work.run();
        try {
            other.get();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IllegalStateException("interrupted", e);
        } catch (ExecutionException e) {
            throw new IllegalStateException(e.getCause());
        }
    }

    /** Looks at one routine. One defect must not take all that was found with it. */
    public Found look(RoutineSymbol routine, Advice advice) {
        try {
            return looked(routine, advice);
        } catch (RuntimeException | StackOverflowError e) {
            return Found.of(List.of(defect(routine.tree().name(), e)));
        }
    }

    private static Problem defect(Name name, Throwable e) {
        return Problem.error(
                name.span(),
                "defect",
                "a defect of Cantina's own keeps " + name + " from being checked: " + e,
                "please report it, with this routine");
    }

    private Found looked(RoutineSymbol routine, Advice advice) {
        if (routine.isOnServer()) {
            // Its own compiler has looked at it.
            return Found.of(List.of());
        }
        if (routine.tree().body().isEmpty()) {
            return Found.of(externals.apply(routine).stream().toList());
        }
        Found found = judge(binder.bind(routine), advice);
        if (!binder.knowsRights()) {
            advice.rights(routine).ifPresent(found.problems()::add);
        }
        return found;
    }

    private static Found judge(Binder.Result result, Advice advice) {
        List<Problem> problems = advice.wanted(result.problems());
        if (problems.stream().noneMatch(Problem::isError)) {
            problems.addAll(advice.of(result.routine()));
        }
        return new Found(problems, TriggerCycle.Effects.of(result.routine()), Optional.of(result));
    }
}
