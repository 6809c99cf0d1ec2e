package dev.cantina.runtime;

import dev.cantina.binding.Binder;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.Describer;
import dev.cantina.catalog.Fault;
import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.facts.Reach;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Statement;
import dev.cantina.syntax.Unit;
import java.sql.SQLException;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.Deque;
import java.util.IdentityHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;

/**
 * Lets a run begin only where nothing that it can reach has an error: not in the routine, not in
 * what it calls, not in a trigger on a table whose rows may change (language profile, "Source
 * text"). Every run of every face passes here.
 */
final class Gate {
    private final Program program;
    private final Catalog catalog;
    private final Optional<Describer> describer;

    /** The routines that may run, whatever is replaced. */
    private final Set<RoutineSymbol> admitted = Collections.newSetFromMap(new IdentityHashMap<>());

    Gate(Program program, Optional<Describer> describer) {
        this.program = program;
        this.catalog = program.catalog();
        this.describer = describer;
    }

    /**
     * @param replaced routines that are not run where they are called
     * @throws Program.UnsoundException with all errors within reach
     */
    void admit(RoutineSymbol routine, Predicate<RoutineSymbol> replaced) {
        if (admitted.contains(routine)) {
            return;
        }
        Walk walk = new Walk(replaced);
        walk.routine(routine);
        walk.end(routine.name());
        if (!walk.spared) {
            admitted.add(routine);
        }
    }

    /**
     * The same of the statements of a script. Where it makes tables, what it calls can be bound
     * only when it is called; what can't be read stays an error.
     */
    void admit(BoundRoutine script) {
        Walk walk = new Walk(r -> false);
        walk.early = script.makesTables();
        walk.reach(Reach.of(script, catalog, Optional.empty()));
        walk.end(script.name());
    }

    /** The same of changes of some tables that no routine makes: the rows of a fixture. */
    void admit(String what, Set<String> tables) {
        Walk walk = new Walk(r -> false);
        walk.reach(Reach.ofChanging(tables, catalog));
        walk.end(what);
    }

    /** The same of a statement that goes to the database as it is. */
    void admit(String statement) {
        ParsedFile read = Parser.parse(new Source("statement", statement));
        Walk walk = new Walk(r -> false);
        if (read.problems().isEmpty()
                && read.units().size() == 1
                && read.units().get(0) instanceof Unit.Step step) {
            List<Statement> only = List.of(step.statement());
            walk.reach(
                    Reach.of(
                            program.binder().bindScript("statement", step.span(), only).routine(),
                            catalog,
                            Optional.empty()));
        } else {
            walk.reach(Reach.ofAnything(catalog));
        }
        walk.end("the statement");
    }

    /** One walk over all that is within reach. */
    private final class Walk {
        private final Predicate<RoutineSymbol> replaced;
        private final Set<Object> seen = Collections.newSetFromMap(new IdentityHashMap<>());
        private final Deque<Runnable> open = new ArrayDeque<>();
        private final Set<Problem> errors = new LinkedHashSet<>();
        private Optional<Set<String>> cascaded = Optional.empty();
        private boolean asked;

        /** Whether tables may be made before what is called is bound for good. */
        private boolean early;

        /** Whether something was passed by that another run would reach. */
        private boolean spared;

        Walk(Predicate<RoutineSymbol> replaced) {
            this.replaced = replaced;
        }

        void routine(RoutineSymbol symbol) {
            if (!seen.add(symbol)) {
                return;
            }
            open.add(
                    () -> {
                        errors.addAll(catalog.errors(symbol));
                        catalog.faults().stream()
                                .filter(f -> f.mayDefine(symbol.key()))
                                .forEach(f -> errors.addAll(f.errors()));
                        symbol.module().ifPresent(this::module);
                        if (symbol.isOnServer()) {
                            // What it calls is there, or the server says that it is not.
                            return;
                        }
                        if (symbol.tree().body().isEmpty()) {
                            program.checkExternal(symbol).ifPresent(errors::add);
                            if (!keepsOut(symbol)) {
                                reach(Reach.ofAnything(catalog));
                            }
                            return;
                        }
                        bound(
                                early ? program.binder().bind(symbol) : program.bound(symbol),
                                symbol.module());
                        for (int i = 0; i < symbol.parameters().size(); i++) {
                            if (symbol.parameters().get(i).initial().isPresent()) {
                                value(program.binder().initial(symbol.parameters().get(i)));
                            }
                        }
                    });
        }

        private void module(ModuleSymbol module) {
            if (!seen.add(module)) {
                return;
            }
            for (int i = 0; i < module.variables().size(); i++) {
                if (module.variables().get(i).initial().isPresent()) {
                    value(program.binder().initial(module, i));
                }
            }
        }

        private void value(Binder.BoundProbe value) {
            errors(value.problems());
            reach(Reach.of(value.expression(), catalog, Optional.empty()));
        }

        /** Whether a Java routine says that it has nothing to do with the database. */
        private boolean keepsOut(RoutineSymbol symbol) {
            return symbol.tree()
                    .characteristics()
                    .access()
                    .filter(a -> a == Unit.SqlAccess.NO_SQL || a == Unit.SqlAccess.CONTAINS_SQL)
                    .isPresent();
        }

        private void trigger(TriggerSymbol symbol) {
            if (!seen.add(symbol)) {
                return;
            }
            open.add(
                    () -> {
                        errors.addAll(catalog.errors(symbol));
                        bound(
                                early ? program.binder().bind(symbol) : program.bound(symbol),
                                Optional.empty());
                    });
        }

        private void bound(Binder.Result result, Optional<ModuleSymbol> module) {
            boolean wrong = result.problems().stream().anyMatch(Problem::isError);
            if (early && wrong) {
                reach(Reach.ofAnything(catalog));
                return;
            }
            errors(result.problems());
            reach(Reach.of(result.routine(), catalog, module));
        }

        void reach(Reach reach) {
            for (RoutineSymbol called : reach.routines()) {
                if (replaced.test(called)) {
                    spared = true;
                } else {
                    routine(called);
                }
            }
            reach.modules().forEach(this::module);
            if (reach.changesRows()) {
                reach.triggers(cascaded()).forEach(this::trigger);
            }
            for (Fault fault : catalog.faults()) {
                boolean set =
                        fault.trigger()
                                && reach.changesRows()
                                && fault.table().map(t -> reach.fires(t, cascaded())).orElse(true);
                boolean called = reach.names().stream().anyMatch(fault::mayDefine);
                if (set || called || reach.isUnbounded()) {
                    errors.addAll(fault.errors());
                }
            }
        }

        /** Asked for when it is first wanted: most projects have no trigger that it matters to. */
        private Optional<Set<String>> cascaded() {
            if (!asked) {
                asked = true;
                try {
                    cascaded =
                            describer.isPresent()
                                    ? Optional.of(describer.get().cascaded().keySet())
                                    : Optional.empty();
                } catch (SQLException e) {
                    // What is not known counts as everything.
                    cascaded = Optional.empty();
                }
            }
            return cascaded;
        }

        private void errors(List<Problem> problems) {
            problems.stream().filter(Problem::isError).forEach(errors::add);
        }

        void end(String root) {
            while (!open.isEmpty()) {
                open.poll().run();
            }
            if (!errors.isEmpty()) {
                List<Problem> all = new ArrayList<>(errors);
                all.sort(
                        Comparator.comparing((Problem p) -> p.span().source().name())
                                .thenComparingInt(p -> p.span().start()));
                throw new Program.UnsoundException(root, all);
            }
        }
    }
}
