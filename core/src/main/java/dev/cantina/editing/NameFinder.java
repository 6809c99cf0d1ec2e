package dev.cantina.editing;

import dev.cantina.binding.NamedUse;
import dev.cantina.binding.NamedUse.Meaning;
import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.Table;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/** Finds what names mean, where they are declared, and where else they stand. */
public final class NameFinder {
    private final ProjectView view;

    public NameFinder(ProjectView view) {
        this.view = view;
    }

    /**
     * A name in a text.
     *
     * @param unit the routine that it stands in; null where it stands in none
     */
    public record Found(Span span, Meaning meaning, CheckedUnit unit) {}

    /** A name of a text, with what it means. */
    public record Named(Span span, Meaning meaning, boolean declares) {}

    /** All names of a file, as they stand in a text that may be newer than what was checked. */
    public List<Named> all(String file, Source source) {
        List<Named> all = new ArrayList<>();
        for (CheckedUnit unit : view.units().getOrDefault(file, List.of())) {
            for (NamedUse use : unit.uses()) {
                Span span = unit.moved(use.span());
                if (span.end() <= source.written().length()) {
                    all.add(
                            new Named(
                                    source.span(span.start(), span.end()),
                                    use.meaning(),
                                    use.declares()));
                }
            }
        }
        return all;
    }

    /** The variables that are named in the routine that holds an offset. */
    public List<Named> variables(String file, Source source, int offset) {
        Optional<CheckedUnit> unit = view.unit(file, offset);
        return all(file, source).stream()
                .filter(n -> n.meaning() instanceof Meaning.OfVariable)
                .filter(n -> unit.isPresent() && n.span().start() >= unit.get().now())
                .filter(n -> n.span().start() <= offset)
                .toList();
    }

    /** The same as {@link #at(String, int)}, in files of cases too. */
    public Optional<Found> at(ProjectState state, String file, int offset) {
        if (!file.endsWith(".yaml") && !file.endsWith(".yml")) {
            return at(file, offset);
        }
        Source source = new Source(file, state.text(file).orElse(""));
        for (CaseNames.Use use : CaseNames.of(source)) {
            if (holds(use.span(), offset)) {
                return meaning(use).map(m -> new Found(use.span(), m, null));
            }
        }
        return Optional.empty();
    }

    /** What a name in a file of cases means. */
    private Optional<Meaning> meaning(CaseNames.Use use) {
        return switch (use.kind()) {
            case ROUTINE ->
                    view.catalog().routinesCalled(use.name().toUpperCase(Locale.ROOT)).stream()
                            .findFirst()
                            .map(Meaning.OfRoutine::new);
            case TABLE -> view.catalog().tableCalled(use.name()).map(Meaning.OfTable::new);
            case COLUMN ->
                    view.catalog()
                            .tableCalled(use.routine())
                            .filter(t -> t.positionCalled(use.name()) >= 0)
                            .map(
                                    t ->
                                            new Meaning.OfColumn(
                                                    t,
                                                    t.columns()
                                                            .get(t.positionCalled(use.name()))
                                                            .key()));
            case PARAMETER, RESULT, CASE -> Optional.empty();
        };
    }

    /** The name at an offset, where it is known what it means. */
    public Optional<Found> at(String file, int offset) {
        Found best = null;
        Optional<CheckedUnit> unit = view.unit(file, offset);
        if (unit.isPresent()) {
            for (NamedUse use : unit.get().uses()) {
                Span span = unit.get().moved(use.span());
                boolean smaller =
                        best == null
                                || span.end() - span.start()
                                        < best.span().end() - best.span().start();
                if (holds(span, offset) && smaller) {
                    best = new Found(span, use.meaning(), unit.get());
                }
            }
        }
        return Optional.ofNullable(best).or(() -> declared(file, offset));
    }

    private static boolean holds(Span span, int offset) {
        return span.start() <= offset && offset <= span.end();
    }

    /** What is declared outside the bodies of routines. */
    private Optional<Found> declared(String file, int offset) {
        for (Source script : view.tables()) {
            if (script.name().equals(file)) {
                for (TableSources.Made made : TableSources.of(script)) {
                    Optional<Table> table = view.catalog().table(made.table());
                    if (holds(made.span(), offset) && table.isPresent()) {
                        Meaning meaning =
                                made.column().isPresent()
                                        ? new Meaning.OfColumn(table.get(), made.column().get())
                                        : new Meaning.OfTable(table.get());
                        return Optional.of(new Found(made.span(), meaning, null));
                    }
                }
            }
        }
        Optional<Source> source =
                Optional.ofNullable(view.files().get(file)).map(ParsedFile::source);
        for (RoutineSymbol routine : view.catalog().routines()) {
            Span span = routine.tree().name().span();
            if (isIn(span, source) && holds(span, offset)) {
                return Optional.of(new Found(span, new Meaning.OfRoutine(routine), null));
            }
        }
        for (ModuleSymbol module : view.catalog().modules()) {
            Span span = module.tree().name().span();
            if (isIn(span, source) && holds(span, offset)) {
                return Optional.of(new Found(span, new Meaning.OfModule(module), null));
            }
            for (int i = 0; i < module.variables().size(); i++) {
                Span name = module.variables().get(i).name().span();
                if (isIn(name, source) && holds(name, offset)) {
                    return Optional.of(new Found(name, new Meaning.OfShared(module, i), null));
                }
            }
        }
        return Optional.empty();
    }

    private static boolean isIn(Span span, Optional<Source> source) {
        return source.isPresent() && span.source() == source.get();
    }

    /** Where what a name means is declared. */
    public Optional<Span> definition(Found found) {
        Meaning meaning = found.meaning();
        if (meaning instanceof Meaning.OfVariable of) {
            return Optional.of(found.unit().moved(of.variable().span()));
        }
        if (meaning instanceof Meaning.OfField of) {
            return Optional.of(found.unit().moved(of.row().span()));
        }
        if (meaning instanceof Meaning.OfCursor || meaning instanceof Meaning.OfLabel) {
            return found.unit().uses().stream()
                    .filter(u -> u.declares() && same(u.meaning(), meaning))
                    .map(u -> found.unit().moved(u.span()))
                    .findFirst();
        }
        if (meaning instanceof Meaning.OfCondition of) {
            // One of a module stands outside the routine.
            return found.unit().uses().stream()
                    .filter(u -> u.declares() && same(u.meaning(), meaning))
                    .map(u -> found.unit().moved(u.span()))
                    .findFirst()
                    .or(() -> Optional.of(of.declared().span()));
        }
        if (meaning instanceof Meaning.OfRoutine of) {
            return current(of.routine()).map(r -> r.tree().name().span());
        }
        if (meaning instanceof Meaning.OfArgument of) {
            return current(of.routine())
                    .filter(r -> of.index() < r.parameters().size())
                    .map(r -> r.parameters().get(of.index()).name().span());
        }
        if (meaning instanceof Meaning.OfModule of) {
            return view.catalog().module(of.module().key()).map(m -> m.tree().name().span());
        }
        if (meaning instanceof Meaning.OfShared of) {
            return view.catalog()
                    .module(of.module().key())
                    .filter(m -> of.index() < m.variables().size())
                    .map(m -> m.variables().get(of.index()).name().span());
        }
        if (meaning instanceof Meaning.OfTable of) {
            return TableSources.find(view.tables(), of.table().key(), Optional.empty());
        }
        Meaning.OfColumn of = (Meaning.OfColumn) meaning;
        return TableSources.find(view.tables(), of.table().key(), Optional.of(of.key()));
    }

    /** A routine as it is in the catalog now. */
    private Optional<RoutineSymbol> current(RoutineSymbol routine) {
        return view.catalog().routines(routine.key()).stream()
                .filter(r -> sameTypes(r, routine))
                .findFirst()
                .or(() -> view.catalog().routines(routine.key()).stream().findFirst());
    }

    private static boolean sameTypes(RoutineSymbol one, RoutineSymbol other) {
        return one.parameters().stream()
                .map(ParameterSymbol::type)
                .toList()
                .equals(other.parameters().stream().map(ParameterSymbol::type).toList());
    }

    /** Whether two names mean the same. */
    static boolean same(Meaning one, Meaning other) {
        if (one instanceof Meaning.OfRoutine a && other instanceof Meaning.OfRoutine b) {
            return a.routine().key().equals(b.routine().key())
                    && a.routine().isFunction() == b.routine().isFunction()
                    && sameTypes(a.routine(), b.routine());
        }
        if (one instanceof Meaning.OfArgument a && other instanceof Meaning.OfArgument b) {
            return a.index() == b.index()
                    && same(new Meaning.OfRoutine(a.routine()), new Meaning.OfRoutine(b.routine()));
        }
        if (one instanceof Meaning.OfTable a && other instanceof Meaning.OfTable b) {
            return a.table().key().equals(b.table().key());
        }
        if (one instanceof Meaning.OfColumn a && other instanceof Meaning.OfColumn b) {
            return a.table().key().equals(b.table().key()) && a.key().equals(b.key());
        }
        if (one instanceof Meaning.OfModule a && other instanceof Meaning.OfModule b) {
            return a.module().key().equals(b.module().key());
        }
        if (one instanceof Meaning.OfShared a && other instanceof Meaning.OfShared b) {
            return a.module().key().equals(b.module().key()) && a.index() == b.index();
        }
        if (one instanceof Meaning.OfVariable a && other instanceof Meaning.OfVariable b) {
            return a.variable() == b.variable();
        }
        if (one instanceof Meaning.OfCursor a && other instanceof Meaning.OfCursor b) {
            return a.cursor() == b.cursor();
        }
        if (one instanceof Meaning.OfLabel a && other instanceof Meaning.OfLabel b) {
            return a.target() == b.target();
        }
        if (one instanceof Meaning.OfField a && other instanceof Meaning.OfField b) {
            return a.row() == b.row() && a.field().equalsIgnoreCase(b.field());
        }
        return one instanceof Meaning.OfCondition a
                && other instanceof Meaning.OfCondition b
                && a.declared() == b.declared();
    }

    /** Whether a name is known only inside its routine. */
    static boolean isLocal(Meaning meaning) {
        return meaning instanceof Meaning.OfVariable
                || meaning instanceof Meaning.OfField
                || meaning instanceof Meaning.OfCursor
                || meaning instanceof Meaning.OfLabel
                || meaning instanceof Meaning.OfCondition;
    }

    /** All places at which a name stands that means the same, its declaration among them. */
    public List<Span> references(Found found) {
        Set<Span> all = new LinkedHashSet<>();
        Optional<Meaning.OfArgument> argument = argument(found);
        if (argument.isPresent()) {
            parameter(argument.get(), all);
        } else if (isLocal(found.meaning()) && found.unit() != null) {
            uses(found.unit(), found.meaning(), all);
        } else {
            view.units()
                    .values()
                    .forEach(units -> units.forEach(u -> uses(u, found.meaning(), all)));
        }
        if (!isLocal(found.meaning())) {
            definition(found).ifPresent(all::add);
        }
        return new ArrayList<>(all);
    }

    /** What a parameter is where its routine is called, whether its name stands there or inside. */
    Optional<Meaning.OfArgument> argument(Found found) {
        if (found.meaning() instanceof Meaning.OfArgument of) {
            return Optional.of(of);
        }
        boolean parameter =
                found.meaning() instanceof Meaning.OfVariable of
                        && of.variable().kind().isParameter();
        if (!parameter || found.unit() == null || found.unit().routine().isEmpty()) {
            return Optional.empty();
        }
        Span declared = ((Meaning.OfVariable) found.meaning()).variable().span();
        for (RoutineSymbol routine : view.catalog().routines(found.unit().routine().get().key())) {
            for (int i = 0; i < routine.parameters().size(); i++) {
                Span name = routine.parameters().get(i).name().span();
                Span now = found.unit().moved(declared);
                if (name.source().name().equals(now.source().name())
                        && name.start() == now.start()) {
                    return Optional.of(new Meaning.OfArgument(routine, i));
                }
            }
        }
        return Optional.empty();
    }

    /** A parameter's name in its routine, and in all calls that say it. */
    private void parameter(Meaning.OfArgument of, Set<Span> all) {
        Span declared = of.routine().parameters().get(of.index()).name().span();
        for (List<CheckedUnit> units : view.units().values()) {
            for (CheckedUnit unit : units) {
                for (NamedUse use : unit.uses()) {
                    boolean own =
                            use.meaning() instanceof Meaning.OfVariable v
                                    && v.variable().kind().isParameter()
                                    && unit.moved(v.variable().span())
                                            .source()
                                            .name()
                                            .equals(declared.source().name())
                                    && unit.moved(v.variable().span()).start() == declared.start();
                    if (own || same(use.meaning(), of)) {
                        all.add(unit.moved(use.span()));
                    }
                }
            }
        }
        all.add(declared);
    }

    /** The same, with the places in files of cases. */
    public List<Span> references(ProjectState state, Found found) {
        List<Span> all = new ArrayList<>(references(found));
        if (isLocal(found.meaning())) {
            return all;
        }
        for (String file : state.caseFiles()) {
            Source source = new Source(file, state.text(file).orElse(""));
            for (CaseNames.Use use : CaseNames.of(source)) {
                if (meaning(use).filter(m -> same(m, found.meaning())).isPresent()) {
                    all.add(use.span());
                }
            }
        }
        return all;
    }

    private static void uses(CheckedUnit unit, Meaning meaning, Set<Span> all) {
        for (NamedUse use : unit.uses()) {
            if (same(use.meaning(), meaning)) {
                all.add(unit.moved(use.span()));
            }
        }
    }

    /** The triggers of a table. */
    List<TriggerSymbol> triggers(Table table) {
        return view.catalog().triggers().stream()
                .filter(t -> t.table().key().equals(table.key()))
                .toList();
    }
}
