package dev.cantina.editing;

import dev.cantina.advice.Advice;
import dev.cantina.advice.CatalogCheck;
import dev.cantina.advice.TriggerCycle;
import dev.cantina.binding.Binder;
import dev.cantina.binding.NamedUse;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.CatalogBuilder;
import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.Table;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.database.DatabaseException;
import dev.cantina.database.embedded.EmbeddedDatabase;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Program;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Unit;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.BooleanSupplier;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * A project in the standard language as an editor has it, text included that is not saved. {@link
 * #change} may be called from any thread; {@link #check} belongs to one. What was found in a
 * routine is kept for as long as neither its text nor anything that it can name has changed.
 */
public final class ProjectState implements AutoCloseable {
    /** Takes the problems of a file each time they are not what they were. */
    public interface Listener {
        void problems(String file, List<Problem> problems);
    }

    private final Project project;
    private final Listener listener;
    private final ClassLoader externals;

    private final OpenTexts texts;

    private final Set<String> changed = new LinkedHashSet<>();
    private boolean reread = true;
    private volatile long generation;

    // Of the thread that checks.
    private final Map<String, ParsedFile> files = new TreeMap<>();
    private final Map<String, List<Unit.Routine>> lastGood = new HashMap<>();
    private final Map<String, Source> tables = new TreeMap<>();
    private final Map<String, List<Problem>> told = new HashMap<>();
    private final Map<String, List<Problem>> ofTables = new HashMap<>();
    private final CaseState cases;
    private Map<String, Map<String, CheckedUnit>> checked = new HashMap<>();
    private String shape = "";
    private String functions = "";
    private boolean staleTables = true;
    private EmbeddedDatabase database;
    private List<Table> known = List.of();
    private volatile ProjectView view;

    /**
     * @throws ProjectException where what a project may run can't be read
     */
    public ProjectState(Project project, Listener listener) throws ProjectException {
        this.project = project;
        this.texts = new OpenTexts(project);
        this.cases = new CaseState(project, texts);
        this.listener = listener;
        this.externals = Workspace.externals(project);
    }

    public Project project() {
        return project;
    }

    /** The project as it was checked last; empty before the first check. */
    public Optional<ProjectView> view() {
        return Optional.ofNullable(view);
    }

    /** A file's text as an editor has it now. */
    public void change(String file, String text) {
        synchronized (changed) {
            texts.put(file, text);
            changed.add(file);
            generation++;
        }
    }

    /** An editor has closed a file: it is again as it is stored. */
    public void forget(String file) {
        synchronized (changed) {
            texts.remove(file);
            changed.add(file);
            generation++;
        }
    }

    /** Files may have come or gone. */
    public void reread() {
        synchronized (changed) {
            reread = true;
            generation++;
        }
    }

    /** A file's text: as an editor has it, or as it is stored; empty where there is none. */
    public Optional<String> text(String file) {
        return texts.text(file);
    }

    /** What has changed since it was asked last. */
    private record Changes(Set<String> files, boolean reread, long generation) {}

    private Changes changes() {
        synchronized (changed) {
            Changes changes = new Changes(new LinkedHashSet<>(changed), reread, generation);
            changed.clear();
            reread = false;
            return changes;
        }
    }

    /**
     * Checks what has changed, first the files themselves, then all that they may matter to; ends
     * early where something changes meanwhile, and is then to be called again.
     *
     * @return whether all is checked
     * @throws ProjectException where a folder can't be read
     */
    public boolean check() throws ProjectException {
        Changes changes = changes();
        boolean all = routines(changes);
        cases(changes);
        return all;
    }

    private boolean routines(Changes changes) throws ProjectException {
        BooleanSupplier over = () -> generation != changes.generation();
        Set<String> first = new LinkedHashSet<>();
        if (changes.reread()) {
            readAll(first);
        }
        for (String file : changes.files()) {
            read(file);
            first.add(file);
        }
        List<Problem> problems = new ArrayList<>();
        Catalog catalog = catalog(problems);
        String functionsNow = signatures(catalog, true);
        if (database == null || staleTables || !functionsNow.equals(functions)) {
            if (renew(catalog)) {
                problems.clear();
                catalog = catalog(problems);
                functionsNow = signatures(catalog, true);
            }
            functions = functionsNow;
        }
        String shapeNow = signatures(catalog, false);
        if (!shapeNow.equals(shape)) {
            checked = new HashMap<>();
            shape = shapeNow;
        }
        Checker checker = new Checker(catalog, problems);
        for (String file : first) {
            if (files.containsKey(file)) {
                checker.file(file);
                tell(file, checker.problems(file));
            } else if (!isCase(file)) {
                tell(file, ofTables.getOrDefault(file, List.of()));
            }
        }
        show(catalog, checker);
        for (String file : files.keySet()) {
            if (over.getAsBoolean()) {
                return false;
            }
            checker.file(file);
        }
        checker.cycles();
        files.keySet().forEach(file -> tell(file, checker.problems(file)));
        tables.keySet().forEach(file -> tell(file, ofTables.getOrDefault(file, List.of())));
        show(catalog, checker);
        return !over.getAsBoolean();
    }

    private void show(Catalog catalog, Checker checker) {
        view =
                new ProjectView(
                        catalog,
                        Map.copyOf(files),
                        List.copyOf(tables.values()),
                        checker.units(),
                        Map.copyOf(unread));
    }

    private void tell(String file, List<Problem> problems) {
        if (!problems.equals(told.getOrDefault(file, List.of()))
                || !told.containsKey(file) && !problems.isEmpty()) {
            told.put(file, problems);
            listener.problems(file, problems);
        }
    }

    // ------------------------------------------------------------------ reading

    private static boolean isIn(String file, String folder) {
        return file.startsWith(folder + "/") && file.endsWith(".sql");
    }

    private void readAll(Set<String> first) throws ProjectException {
        Set<String> there = new HashSet<>();
        for (String folder : List.of("tables", "routines")) {
            for (Path path : ProjectReader.files(project.root().resolve(folder), ".sql")) {
                there.add(project.shown(path));
            }
        }
        synchronized (changed) {
            texts.all().keySet().stream()
                    .filter(f -> isIn(f, "tables") || isIn(f, "routines"))
                    .forEach(there::add);
        }
        Set<String> gone = new HashSet<>(files.keySet());
        gone.addAll(tables.keySet());
        gone.removeAll(there);
        gone.forEach(this::remove);
        first.addAll(gone);
        there.stream().sorted().forEach(this::read);
    }

    private void remove(String file) {
        files.remove(file);
        lastGood.remove(file);
        checked.remove(file);
        if (tables.remove(file) != null) {
            staleTables = true;
            ofTables.remove(file);
        }
    }

    private void read(String file) {
        Optional<String> text = text(file);
        boolean table = isIn(file, "tables");
        if (text.isEmpty()) {
            remove(file);
        } else if (table) {
            Source before = tables.get(file);
            if (before == null || !before.written().equals(text.get())) {
                tables.put(file, new Source(file, text.get()));
                staleTables = true;
            }
        } else if (isIn(file, "routines")) {
            ParsedFile before = files.get(file);
            if (before == null || !before.source().written().equals(text.get())) {
                ParsedFile now = Parser.parse(new Source(file, text.get()), project.reading());
                files.put(file, now);
                if (isWhole(now)) {
                    lastGood.put(file, routines(now));
                }
            }
        }
    }

    /** Whether nothing in a file is half typed. */
    private static boolean isWhole(ParsedFile file) {
        return file.faults().isEmpty()
                && file.units().stream().noneMatch(Unit.Step.class::isInstance);
    }

    private static List<Unit.Routine> routines(ParsedFile file) {
        return file.units().stream()
                .filter(Unit.Routine.class::isInstance)
                .map(Unit.Routine.class::cast)
                .toList();
    }

    /**
     * The catalog of all files. A routine whose head is half typed just now is there as it was when
     * it could be read last: the files of its callers have no part in that.
     */
    private Catalog catalog(List<Problem> problems) {
        List<ParsedFile> all = new ArrayList<>();
        for (Map.Entry<String, ParsedFile> entry : files.entrySet()) {
            ParsedFile file = entry.getValue();
            if (isWhole(file)) {
                all.add(file);
                continue;
            }
            Set<String> there =
                    routines(file).stream().map(r -> r.name().key()).collect(Collectors.toSet());
            List<Unit> units = new ArrayList<>(file.units());
            lastGood.getOrDefault(entry.getKey(), List.of()).stream()
                    .filter(r -> !there.contains(r.name().key()))
                    .forEach(units::add);
            all.add(
                    new ParsedFile(
                            file.source(),
                            units,
                            file.problems(),
                            units.size() > file.units().size() ? List.of() : file.faults(),
                            file.schema()));
        }
        return new CatalogBuilder(known, problems::add).build(all);
    }

    // ------------------------------------------------------------------ the database

    /**
     * Makes the database behind the project anew.
     *
     * @return whether the tables are other ones
     */
    private boolean renew(Catalog catalog) throws ProjectException {
        EmbeddedDatabase made = null;
        try {
            made = EmbeddedDatabase.open();
            boolean other = staleTables || database == null;
            Catalog installed = catalog;
            if (other) {
                ofTables.clear();
                for (Source script : tables.values()) {
                    try {
                        made.create(script);
                    } catch (DatabaseException e) {
                        ofTables.put(script.name(), List.of(e.problem()));
                    }
                }
                if (!ofTables.isEmpty() && database != null) {
                    // A half-typed table: what stands on the tables stays as it was.
                    made.close();
                    staleTables = false;
                    return false;
                }
                known = made.tables();
                installed = catalog(new ArrayList<>());
            } else {
                for (Source script : good) {
                    made.create(script);
                }
            }
            made.install(installed);
            if (other) {
                good = List.copyOf(tables.values());
            }
            if (database != null) {
                database.close();
            }
            database = made;
            staleTables = false;
            checked = new HashMap<>();
            return other;
        } catch (DatabaseException e) {
            throw new ProjectException(e.problem());
        } catch (SQLException e) {
            close(made);
            throw new ProjectException("the embedded database: " + e.getMessage());
        }
    }

    /** The scripts that the tables were made of last. */
    private List<Source> good = List.of();

    private static void close(EmbeddedDatabase database) {
        try {
            if (database != null) {
                database.close();
            }
        } catch (SQLException e) {
            // There is nothing more to be done about it.
            return;
        }
    }

    /**
     * All that a routine can name of others, in a text.
     *
     * @param ofFunctions only what SQL can call
     */
    private static String signatures(Catalog catalog, boolean ofFunctions) {
        StringBuilder text = new StringBuilder();
        for (RoutineSymbol routine : catalog.routines()) {
            if (ofFunctions && !routine.isFunction()) {
                continue;
            }
            text.append(routine.isFunction() ? 'f' : 'p').append(routine.name()).append('(');
            for (ParameterSymbol parameter : routine.parameters()) {
                text.append(parameter.mode())
                        .append(parameter.name())
                        .append(' ')
                        .append(parameter.type().sql())
                        .append(parameter.initial().isPresent())
                        .append(',');
            }
            routine.returns().ifPresent(r -> text.append(r.sql()));
            text.append(routine.isPublic())
                    .append(routine.tree().characteristics())
                    .append(routine.tree().body().isPresent())
                    .append('\n');
        }
        if (!ofFunctions) {
            catalog.modules()
                    .forEach(m -> text.append(m.name()).append(m.variables()).append('\n'));
            catalog.triggers()
                    .forEach(
                            t ->
                                    text.append(t.name())
                                            .append(t.table().key())
                                            .append(t.tree().event())
                                            .append('\n'));
            catalog.faults().forEach(f -> text.append("?\n"));
        }
        return text.toString();
    }

    // ------------------------------------------------------------------ checking

    /** Checks routines against one catalog. */
    private final class Checker {
        private final Catalog catalog;
        private final CatalogCheck check;
        private final Advice advice;
        private final Map<String, List<Problem>> ofCatalog = new HashMap<>();
        private final Map<Object, TriggerCycle.Effects> effects = new LinkedHashMap<>();
        private final Map<String, List<CheckedUnit>> units = new HashMap<>();
        private final Map<String, List<Problem>> cycles = new HashMap<>();
        private final Map<String, List<RoutineSymbol>> routines = new HashMap<>();
        private final Map<String, List<TriggerSymbol>> triggers = new HashMap<>();

        Checker(Catalog catalog, List<Problem> problems) {
            this.catalog = catalog;
            Program program = new Program(catalog, Optional.of(database), externals);
            this.check =
                    new CatalogCheck(
                            catalog,
                            new Binder(catalog, Optional.of(database)).recording(),
                            program::checkExternal);
            this.advice = new Advice(catalog, project.silenced());
            for (Problem problem : problems) {
                ofCatalog
                        .computeIfAbsent(problem.span().source().name(), f -> new ArrayList<>())
                        .add(problem);
            }
            for (RoutineSymbol routine : catalog.routines()) {
                routines.computeIfAbsent(file(routine.tree()), f -> new ArrayList<>()).add(routine);
            }
            for (TriggerSymbol trigger : catalog.triggers()) {
                triggers.computeIfAbsent(file(trigger.tree()), f -> new ArrayList<>()).add(trigger);
            }
        }

        private static String file(Unit unit) {
            return unit.span().source().name();
        }

        /** Checks the routines of a file, as far as they are not checked. */
        void file(String name) {
            if (units.containsKey(name)) {
                return;
            }
            Source source = files.get(name).source();
            Map<String, CheckedUnit> before = checked.getOrDefault(name, Map.of());
            Map<String, CheckedUnit> after = new HashMap<>();
            List<CheckedUnit> found = new ArrayList<>();
            for (RoutineSymbol routine : routines.getOrDefault(name, List.of())) {
                if (routine.span().source() == source) {
                    found.add(
                            unit(
                                    routine.tree(),
                                    routine,
                                    before,
                                    after,
                                    () -> check.look(routine, advice)));
                }
            }
            for (TriggerSymbol trigger : triggers.getOrDefault(name, List.of())) {
                if (trigger.tree().span().source() == source) {
                    found.add(
                            unit(
                                    trigger.tree(),
                                    trigger,
                                    before,
                                    after,
                                    () -> check.trigger(trigger, advice)));
                }
            }
            found.sort(Comparator.comparingInt(CheckedUnit::now));
            remember(name, source, found);
            checked.put(name, after);
            units.put(name, found);
        }

        /** What is known of routines that can't be read just now. */
        private void remember(String name, Source source, List<CheckedUnit> found) {
            if (isWhole(files.get(name))) {
                unread.remove(name);
                return;
            }
            List<CheckedUnit> known = new ArrayList<>(unread.getOrDefault(name, List.of()));
            if (known.isEmpty()) {
                view().map(v -> v.units().getOrDefault(name, List.of())).ifPresent(known::addAll);
            }
            Map<String, CheckedUnit> kept = new LinkedHashMap<>();
            for (CheckedUnit unit : known) {
                Optional<String> head =
                        unit.routine().map(r -> r.span().source().line(r.span().line()));
                int at = head.map(h -> source.written().indexOf(h)).orElse(-1);
                if (at >= 0) {
                    kept.put(head.get(), unit.at(at, source));
                }
            }
            unread.put(name, List.copyOf(kept.values()));
        }

        private CheckedUnit unit(
                Unit tree,
                Object symbol,
                Map<String, CheckedUnit> before,
                Map<String, CheckedUnit> after,
                java.util.function.Supplier<CatalogCheck.Found> look) {
            Source source = tree.span().source();
            int start = tree.span().start();
            // The line before it may silence some advice.
            int from = source.lineOf(start) > 1 ? start - lineBefore(source, start) : start;
            String key = source.written().substring(from, tree.span().end());
            CheckedUnit kept = before.get(key);
            CheckedUnit unit =
                    kept != null
                            ? kept.at(start, source)
                            : new CheckedUnit(look.get(), start, start, source);
            after.put(key, unit);
            effects.put(symbol, unit.found().effects());
            return unit;
        }

        private static int lineBefore(Source source, int start) {
            int line = source.lineOf(start);
            return source.columnOf(start) + source.line(line - 1).length();
        }

        /** Looks at what only shows where all is known. */
        void cycles() {
            Map<String, TriggerCycle.Effects> ofRoutines = new HashMap<>();
            Map<TriggerSymbol, TriggerCycle.Effects> ofTriggers = new LinkedHashMap<>();
            for (RoutineSymbol routine : catalog.routines()) {
                ofRoutines.merge(
                        routine.key(),
                        effects.getOrDefault(routine, TriggerCycle.Effects.NONE),
                        TriggerCycle.Effects::with);
            }
            for (TriggerSymbol trigger : catalog.triggers()) {
                ofTriggers.put(trigger, effects.getOrDefault(trigger, TriggerCycle.Effects.NONE));
            }
            cycles.clear();
            List<Problem> all =
                    new ArrayList<>(
                            new TriggerCycle(ofTriggers, ofRoutines).find(project.silenced()));
            catalog.modules().forEach(m -> all.addAll(check.module(m)));
            for (Problem problem : all) {
                cycles.computeIfAbsent(problem.span().source().name(), f -> new ArrayList<>())
                        .add(problem);
            }
            lastCycles = Map.copyOf(cycles);
        }

        List<Problem> problems(String file) {
            ParsedFile parsed = files.get(file);
            Set<Problem> all = new LinkedHashSet<>(parsed.problems());
            all.addAll(ofCatalog.getOrDefault(file, List.of()));
            units.getOrDefault(file, List.of()).forEach(u -> all.addAll(u.problems()));
            all.addAll((cycles.isEmpty() ? lastCycles : cycles).getOrDefault(file, List.of()));
            return all.stream()
                    .filter(p -> p.span().source() == parsed.source())
                    .sorted(Comparator.comparingInt(p -> p.span().start()))
                    .toList();
        }

        Map<String, List<CheckedUnit>> units() {
            return Map.copyOf(units);
        }
    }

    private Map<String, List<Problem>> lastCycles = Map.of();

    /** What was found in routines that can't be read just now, when they could be. */
    private final Map<String, List<CheckedUnit>> unread = new HashMap<>();

    /**
     * What names mean in statements that stand in no routine. Belongs to the thread that checks.
     *
     * @throws ProjectException where they are wrong, or are no statements alone
     */
    List<NamedUse> uses(Source statements) throws ProjectException {
        Binder.Result bound = bound(statements);
        List<Problem> wrong = bound.problems().stream().filter(Problem::isError).toList();
        if (!wrong.isEmpty()) {
            throw new ProjectException(wrong);
        }
        return bound.uses();
    }

    /** The same, with what is wrong. */
    Binder.Result bound(Source statements) throws ProjectException {
        ParsedFile parsed = Parser.parse(statements, project.reading());
        boolean steps = parsed.units().stream().allMatch(Unit.Step.class::isInstance);
        if (view == null || database == null || !steps || !parsed.faults().isEmpty()) {
            throw new ProjectException("there is more than statements");
        }
        Binder.Result bound =
                new Binder(view.catalog(), Optional.of(database))
                        .recording()
                        .bindScript(
                                statements.name(),
                                statements.span(0, statements.text().length()),
                                parsed.units().stream()
                                        .map(u -> ((Unit.Step) u).statement())
                                        .toList());
        return new Binder.Result(
                bound.routine(),
                Stream.concat(parsed.problems().stream(), bound.problems().stream()).toList(),
                bound.uses());
    }

    /** The files of cases, by their names. */
    public List<String> caseFiles() {
        return texts.caseFiles();
    }

    /** Whether a file is one of cases. */
    public static boolean isCase(String file) {
        return file.startsWith("cases/") && (file.endsWith(".yaml") || file.endsWith(".yml"));
    }

    /** What is wrong with cases before they are run: with those of some files, or with all. */
    private void cases(Changes changes) throws ProjectException {
        Set<String> files =
                changes.files().stream()
                        .filter(ProjectState::isCase)
                        .collect(Collectors.toCollection(LinkedHashSet::new));
        if (changes.reread()) {
            files.addAll(cases.files());
            Path folder = project.root().resolve("cases");
            for (Path path : ProjectReader.files(folder, ".yaml", ".yml")) {
                files.add(project.shown(path));
            }
        }
        cases.read(files);
        if (view != null) {
            boolean whole =
                    ofTables.isEmpty()
                            && this.files.values().stream().allMatch(ProjectState::isWhole);
            boolean stored = !texts.hasUnsaved(f -> isIn(f, "routines") || isIn(f, "tables"));
            cases.look(view.catalog(), shape + known, whole && stored);
        }
        cases.tell(this::tell);
    }

    @Override
    public void close() {
        close(database);
    }
}
