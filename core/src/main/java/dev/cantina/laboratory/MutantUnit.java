package dev.cantina.laboratory;

import dev.cantina.binding.Binder;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.project.Project;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Planted;
import dev.cantina.runtime.Program;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.Unit;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * A routine or trigger in which mistakes are planted. Each workspace has symbols of its own for it,
 * which are found by where it begins.
 */
sealed interface MutantUnit {
    String name();

    /** What tells it from others of its name. */
    String id();

    Span span();

    /** The mistakes that can be made in it. */
    List<Mutation> mutations();

    /** What it is in a workspace. */
    Optional<MutantUnit> in(Workspace workspace);

    /** It as it is, bound. */
    BoundRoutine bound(Program program);

    /**
     * It with a mistake, bound; empty where that is no program.
     *
     * @param planted the unit as it was read from the file with the mistake
     */
    Optional<BoundRoutine> bound(Program program, Unit planted);

    Planted plant(Program program, BoundRoutine other);

    /** A routine that has a body. */
    record OfRoutine(RoutineSymbol symbol) implements MutantUnit {
        @Override
        public String name() {
            return symbol.name();
        }

        @Override
        public String id() {
            return symbol.signature();
        }

        @Override
        public Span span() {
            return symbol.span();
        }

        @Override
        public List<Mutation> mutations() {
            return Mutations.of(symbol.tree());
        }

        @Override
        public Optional<MutantUnit> in(Workspace workspace) {
            return workspace.catalog().routines().stream()
                    .filter(r -> isAt(r.span(), span()))
                    .findFirst()
                    .map(OfRoutine::new);
        }

        @Override
        public BoundRoutine bound(Program program) {
            return program.binder().bind(symbol).routine();
        }

        @Override
        public Optional<BoundRoutine> bound(Program program, Unit planted) {
            return planted instanceof Unit.Routine tree && tree.body().isPresent()
                    ? sound(
                            program.binder()
                                    .bind(
                                            new RoutineSymbol(
                                                    tree,
                                                    symbol.parameters(),
                                                    symbol.returns(),
                                                    symbol.module())))
                    : Optional.empty();
        }

        @Override
        public Planted plant(Program program, BoundRoutine other) {
            return program.plant(symbol, other);
        }
    }

    /** A trigger. */
    record OfTrigger(TriggerSymbol symbol) implements MutantUnit {
        @Override
        public String name() {
            return symbol.name();
        }

        @Override
        public String id() {
            return "trigger " + symbol.name();
        }

        @Override
        public Span span() {
            return symbol.tree().span();
        }

        @Override
        public List<Mutation> mutations() {
            return Mutations.of(symbol.tree());
        }

        @Override
        public Optional<MutantUnit> in(Workspace workspace) {
            return workspace.catalog().triggers().stream()
                    .filter(t -> isAt(t.tree().span(), span()))
                    .findFirst()
                    .map(OfTrigger::new);
        }

        @Override
        public BoundRoutine bound(Program program) {
            return program.binder().bind(symbol).routine();
        }

        @Override
        public Optional<BoundRoutine> bound(Program program, Unit planted) {
            return planted instanceof Unit.Trigger tree
                    ? sound(program.binder().bind(new TriggerSymbol(tree, symbol.table())))
                    : Optional.empty();
        }

        @Override
        public Planted plant(Program program, BoundRoutine other) {
            return program.plant(symbol, other);
        }
    }

    private static boolean isAt(Span one, Span other) {
        return one.start() == other.start() && one.source().name().equals(other.source().name());
    }

    private static Optional<BoundRoutine> sound(Binder.Result result) {
        return result.problems().stream().anyMatch(Problem::isError)
                ? Optional.empty()
                : Optional.of(result.routine());
    }

    /** All of a workspace that have a body and no errors, in the order of the files. */
    static List<MutantUnit> of(Workspace workspace) {
        Stream<MutantUnit> routines =
                workspace.catalog().routines().stream()
                        .filter(r -> r.tree().body().isPresent() && !r.isOnServer())
                        .filter(r -> workspace.catalog().errors(r).isEmpty())
                        .map(OfRoutine::new);
        Stream<MutantUnit> triggers =
                workspace.catalog().triggers().stream()
                        .filter(t -> workspace.catalog().errors(t).isEmpty())
                        .map(OfTrigger::new);
        return Stream.concat(routines, triggers)
                .sorted(
                        (a, b) -> {
                            int file = a.span().source().name().compareTo(b.span().source().name());
                            return file != 0
                                    ? file
                                    : Integer.compare(a.span().start(), b.span().start());
                        })
                .toList();
    }

    /** The unit as it is read with a mistake in its file; empty where it can't be read. */
    default Optional<Unit> read(Mutation mutation, Project project) {
        ParsedFile file = Parser.parse(mutation.planted(), project.reading());
        if (file.problems().stream().anyMatch(Problem::isError)) {
            return Optional.empty();
        }
        return file.units().stream()
                .flatMap(
                        u ->
                                u instanceof Unit.Module module
                                        ? module.routines().stream()
                                        : Stream.of(u))
                .filter(u -> u.span().start() == span().start())
                .findFirst();
    }
}
