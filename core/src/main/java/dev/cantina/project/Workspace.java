package dev.cantina.project;

import dev.cantina.advice.Advice;
import dev.cantina.advice.CatalogCheck;
import dev.cantina.binding.Binder;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.CatalogBuilder;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.Table;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.database.DatabaseException;
import dev.cantina.database.ProjectDatabase;
import dev.cantina.database.ServerConnection;
import dev.cantina.database.ServerDatabase;
import dev.cantina.database.UnreachableException;
import dev.cantina.database.embedded.EmbeddedDatabase;
import dev.cantina.nativecode.PlacedParts;
import dev.cantina.runtime.PlacedCode;
import dev.cantina.runtime.Probe;
import dev.cantina.runtime.Program;
import dev.cantina.syntax.Nearest;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Statement;
import dev.cantina.syntax.Unit;
import java.net.MalformedURLException;
import java.net.URL;
import java.net.URLClassLoader;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;
import java.util.stream.Collectors;

/**
 * A project made ready: its routines read, an embedded database with its tables and, where one is
 * asked for, a fixture's rows, and the program that can be run on it.
 */
public final class Workspace implements AutoCloseable {
    private final Project project;
    private final ProjectDatabase database;
    private final List<ParsedFile> files;
    private final List<Problem> problems;
    private final Catalog catalog;
    private final Program program;
    private final Supplier<List<Problem>> ownAdvice;
    private final Runnable after;
    private final Optional<dev.cantina.nativecode.ServerCode> own;
    private Optional<PlacedCode> placed = Optional.empty();

    private Workspace(
            Project project,
            ProjectDatabase database,
            List<ParsedFile> files,
            List<Problem> problems,
            Catalog catalog,
            ClassLoader externals) {
        this(
                project,
                database,
                files,
                problems,
                catalog,
                new Program(catalog, Optional.of(database), externals),
                List::of,
                () -> {},
                Optional.empty());
    }

    /**
     * @param program what can be run
     * @param ownAdvice what else there is to say of routines, when somebody checks them
     * @param after what is done when it is closed
     * @param own the routines of a project in a server's own language
     */
    Workspace(
            Project project,
            ProjectDatabase database,
            List<ParsedFile> files,
            List<Problem> problems,
            Catalog catalog,
            Program program,
            Supplier<List<Problem>> ownAdvice,
            Runnable after,
            Optional<dev.cantina.nativecode.ServerCode> own) {
        this.own = own;
        this.ownAdvice = ownAdvice;
        this.after = after;
        this.project = project;
        this.database = database;
        this.files = files;
        this.problems = problems;
        this.catalog = catalog;
        this.program = program;
    }

    /** The files of its routines, as they were read. */
    public List<ParsedFile> files() {
        return List.copyOf(files);
    }

    /** The routines of a project in a server's own language, on their server. */
    public Optional<dev.cantina.nativecode.ServerCode> own() {
        return own;
    }

    /**
     * Opens a project.
     *
     * @param fixture the fixture to load; empty for tables without rows
     * @throws ProjectException where tables or fixture can't be made; what is wrong in routines is
     *     kept among the {@link #check problems} instead
     */
    public static Workspace open(Project project, Optional<String> fixture)
            throws ProjectException {
        return open(project, fixture, Optional.empty());
    }

    /**
     * Opens a project in a server's own language with the rows of another project's fixture.
     *
     * @param fixture of that project; empty for tables without rows
     */
    public static Workspace open(Project project, Project rows, String fixture)
            throws ProjectException {
        return OwnWorkspace.open(project, rows, fixture, Optional.empty());
    }

    /**
     * Opens a project in a server's own language without rows, with texts that are not stored.
     *
     * @param typed the texts of files as they are to be read, by their names in the project
     */
    public static Workspace open(Project project, Map<String, String> typed)
            throws ProjectException {
        return OwnWorkspace.open(project, typed);
    }

    /** The same with a script, whose routines are there beside the project's own. */
    public static Workspace open(
            Project project, Optional<String> fixture, Optional<ParsedFile> script)
            throws ProjectException {
        if (project.own().isPresent()) {
            return OwnWorkspace.open(project, fixture.orElse(""), script);
        }
        List<Problem> problems = new ArrayList<>();
        // The engine starts while the routines are read.
        RoutineFiles reading = RoutineFiles.begin(project);
        List<Source> scripts = new ArrayList<>();
        for (Path file : ProjectReader.files(project.root().resolve("tables"), ".sql")) {
            scripts.add(ProjectReader.source(file, project.shown(file)));
        }
        try {
            EmbeddedDatabase database = EmbeddedDatabase.open();
            for (Source tableScript : scripts) {
                database.create(tableScript);
            }
            List<Table> tables = database.tables();
            List<ParsedFile> files = reading.get();
            List<ParsedFile> all = new ArrayList<>(files);
            script.ifPresent(s -> all.add(withoutSteps(s)));
            Catalog catalog = new CatalogBuilder(tables, problems::add).build(all);
            Optional<FixtureLoader.Plan> plan =
                    fixture.isPresent() && !fixture.get().isEmpty()
                            ? Optional.of(FixtureLoader.plan(project, fixture.get()))
                            : Optional.empty();
            boolean fires = plan.isPresent() && plan.get().firesTriggers();
            Workspace workspace =
                    new Workspace(project, database, files, problems, catalog, externals(project));
            if (plan.isPresent() && !fires) {
                new FixtureLoader(project, database, tables).load(plan.get());
            }
            database.install(catalog);
            if (fires) {
                workspace.admitFixture(fixture.get());
                workspace.loadWatched(database, tables, plan.get());
            }
            database.connection().commit();
            return workspace;
        } catch (DatabaseException e) {
            throw new ProjectException(e.problem());
        } catch (SQLException e) {
            throw new ProjectException("the embedded database: " + e.getMessage());
        }
    }

    /**
     * Opens a project on a server that it knows, in a transaction that leaves nothing behind. The
     * tables are the server's own, and so are their rows.
     *
     * @param name as {@code cantina.yaml} calls it
     * @param running whether routines are to run, and not only to be checked
     * @param code what the server is to have itself for that time
     * @throws ProjectException where the project knows no such server
     * @throws UnreachableException where the server can't be reached, or refuses
     */
    public static Workspace on(
            Project project,
            String name,
            Optional<ParsedFile> script,
            boolean running,
            ServerCode code)
            throws ProjectException, SQLException {
        return on(
                project,
                name,
                script,
                Optional.empty(),
                Optional.empty(),
                running ? Use.RUN : Use.LOOK,
                code);
    }

    /**
     * Opens a project on a server with tables and rows of its own: the project's tables and a
     * fixture, in a schema that is gone afterwards.
     */
    public static Workspace scratch(
            Project project,
            String name,
            String fixture,
            Optional<ParsedFile> script,
            ServerCode code)
            throws ProjectException, SQLException {
        return on(project, name, script, Optional.of(fixture), Optional.empty(), Use.RUN, code);
    }

    /** The same without rows, to be looked at alone: its routines are bound, and none is run. */
    public static Workspace bound(Project project, String name, ServerCode code)
            throws ProjectException, SQLException {
        return on(
                project, name, Optional.empty(), Optional.of(""), Optional.empty(), Use.LOOK, code);
    }

    /**
     * The same in a schema of a name, which stays until somebody takes it away: what is done there
     * is committed.
     *
     * @param watched whether somebody may watch what the server runs by itself, on any connection
     */
    public static Workspace lasting(
            Project project,
            String name,
            String fixture,
            String schema,
            ServerCode code,
            boolean watched)
            throws ProjectException, SQLException {
        Workspace workspace =
                on(
                        project,
                        name,
                        Optional.empty(),
                        Optional.of(fixture),
                        Optional.of(schema),
                        watched ? Use.WATCH : Use.LOOK,
                        code);
        workspace.database.connection().commit();
        return workspace;
    }

    /** Makes stand on a server what it is to have itself while a project's routines run here. */
    @FunctionalInterface
    public interface ServerCode {
        /** Gives what it has placed. */
        PlacedParts place(Catalog catalog, Binder binder, ServerDatabase database)
                throws ProjectException, SQLException;
    }

    /** What a workspace on a server is for. */
    private enum Use {
        /** None of its routines is run by a session on its connection. */
        LOOK,
        /** A session runs them. */
        RUN,
        /** The sessions of other connections run them, and may be watched. */
        WATCH
    }

    private static Workspace on(
            Project project,
            String name,
            Optional<ParsedFile> script,
            Optional<String> fixture,
            Optional<String> schema,
            Use use,
            ServerCode code)
            throws ProjectException, SQLException {
        ServerConnection.Address address = project.address(name);
        List<Problem> problems = new ArrayList<>();
        List<ParsedFile> files = RoutineFiles.begin(project).get();
        ServerDatabase database = ServerDatabase.open(address, project.root());
        try {
            List<ParsedFile> all = new ArrayList<>(files);
            script.ifPresent(s -> all.add(withoutSteps(s)));
            Optional<FixtureLoader.Plan> plan = Optional.empty();
            if (fixture.isPresent()) {
                if (!fixture.get().isEmpty()) {
                    plan = Optional.of(FixtureLoader.plan(project, fixture.get()));
                }
                if (schema.isPresent()) {
                    database.scratch(schema.get());
                } else {
                    database.scratch();
                }
                for (Path file : ProjectReader.files(project.root().resolve("tables"), ".sql")) {
                    database.create(ProjectReader.source(file, project.shown(file)));
                }
            }
            boolean fires = plan.isPresent() && plan.get().firesTriggers();
            if (plan.isPresent() && !fires) {
                new FixtureLoader(project, database, database.tables()).load(plan.get());
            }
            Catalog catalog = new CatalogBuilder(database.tables(), problems::add).build(all);
            Workspace workspace =
                    new Workspace(project, database, files, problems, catalog, externals(project));
            PlacedParts placed = code.place(catalog, workspace.program.binder(), database);
            if (fires) {
                workspace.admitFixture(fixture.get());
                new FixtureLoader(project, database, database.tables()).load(plan.get());
            }
            if (use == Use.RUN) {
                database.install(catalog);
            }
            if (use != Use.LOOK) {
                Optional<PlacedCode> telling =
                        placed.code(
                                database.kind().name(),
                                database.connection(),
                                () -> ServerConnection.open(address, project.root()),
                                workspace.program);
                if (use == Use.WATCH && telling.isPresent()) {
                    telling.get().share(Probe.Detail.HOLD);
                }
                telling.ifPresent(workspace::tells);
            }
            return workspace;
        } catch (DatabaseException e) {
            database.close();
            throw new ProjectException(e.problem());
        } catch (ProjectException | SQLException | RuntimeException e) {
            database.close();
            throw e;
        }
    }

    /** The jars of lib/ that are trusted, for external routines: no other class can be named. */
    public static ClassLoader externals(Project project) throws ProjectException {
        List<URL> jars = new ArrayList<>();
        Trust trust = Trust.here();
        for (Path jar : Trust.jars(project)) {
            if (!trust.isTrusted(trust.jar(project, jar))) {
                continue;
            }
            try {
                jars.add(jar.toUri().toURL());
            } catch (MalformedURLException e) {
                throw new ProjectException(project.shown(jar) + ": " + e.getMessage());
            }
        }
        ClassLoader own = Workspace.class.getClassLoader();
        return new URLClassLoader(jars.toArray(URL[]::new), own);
    }

    static ParsedFile withoutSteps(ParsedFile script) {
        List<Unit> routines =
                script.units().stream().filter(unit -> !(unit instanceof Unit.Step)).toList();
        return new ParsedFile(
                script.source(), routines, script.problems(), script.faults(), script.schema());
    }

    /**
     * The statements of a script, bound as one piece of code.
     *
     * @throws ProjectException with its errors, where it has some
     */
    public BoundRoutine script(ParsedFile script) throws ProjectException {
        List<Problem> errors =
                new ArrayList<>(script.problems().stream().filter(Problem::isError).toList());
        List<Statement> statements = new ArrayList<>();
        for (Unit unit : script.units()) {
            if (unit instanceof Unit.Step step) {
                statements.add(step.statement());
            }
        }
        Source source = script.source();
        Binder.Result bound =
                program.binder()
                        .bindScript(
                                source.name(), source.span(0, source.text().length()), statements);
        bound.problems().stream().filter(Problem::isError).forEach(errors::add);
        problems.stream()
                .filter(p -> p.isError() && p.span().source() == source)
                .forEach(errors::add);
        if (!bound.routine().makesTables()) {
            routineErrors(source, errors);
        }
        if (!errors.isEmpty()) {
            errors.sort(Comparator.comparingInt(p -> p.span().start()));
            throw new ProjectException(errors);
        }
        return bound.routine();
    }

    /** The errors of the routines and triggers that a source holds, called or not. */
    private void routineErrors(Source source, List<Problem> errors) {
        List<Problem> found = new ArrayList<>();
        for (RoutineSymbol routine : catalog.routines()) {
            if (routine.span().source() == source && routine.tree().body().isPresent()) {
                found.addAll(program.binder().bind(routine).problems());
            }
        }
        for (TriggerSymbol trigger : catalog.triggers()) {
            if (trigger.tree().span().source() == source) {
                found.addAll(program.binder().bind(trigger).problems());
            }
        }
        found.stream().filter(Problem::isError).forEach(errors::add);
    }

    /** A fixture's rows fire triggers only where all of these can be read. */
    private void admitFixture(String fixture) throws ProjectException {
        try {
            program.admit(
                    "the fixture " + fixture,
                    catalog.tables().stream().map(Table::key).collect(Collectors.toSet()));
        } catch (Program.UnsoundException e) {
            throw new ProjectException(e.problems());
        }
    }

    /** Loads a fixture whose rows fire the project's triggers. */
    private void loadWatched(EmbeddedDatabase embedded, List<Table> tables, FixtureLoader.Plan plan)
            throws ProjectException, SQLException {
        var session =
                new dev.cantina.runtime.Session(
                        program,
                        database,
                        project.limits(),
                        java.time.Clock.systemDefaultZone(),
                        Optional.empty());
        try {
            new FixtureLoader(project, embedded, tables).load(plan);
        } finally {
            session.close();
        }
    }

    public Project project() {
        return project;
    }

    /** What the server runs by itself can tell of that, and is let go with this. */
    private void tells(PlacedCode code) {
        program.placed(code);
        placed = Optional.of(code);
    }

    public ProjectDatabase database() {
        return database;
    }

    public Catalog catalog() {
        return catalog;
    }

    public Program program() {
        return program;
    }

    /** The sources of the routines, in name order. */
    public List<Source> sources() {
        return files.stream().map(ParsedFile::source).toList();
    }

    /** All that is wrong in the routines, and all advice, in the order of the files. */
    public List<Problem> check() {
        return check(project.silenced());
    }

    /** What keeps routines from running, without the advice. */
    public List<Problem> errors() {
        return check(Advice.names()).stream().filter(Problem::isError).toList();
    }

    private List<Problem> check(List<String> silenced) {
        List<Problem> all = new ArrayList<>(problems);
        all.addAll(Advice.wanted(ownAdvice.get(), silenced));
        files.forEach(file -> all.addAll(file.problems()));
        all.addAll(
                new CatalogCheck(catalog, program.binder(), program::checkExternal)
                        .problems(silenced));
        all.sort(
                Comparator.comparing((Problem p) -> p.span().source().name())
                        .thenComparingInt(p -> p.span().start()));
        return all;
    }

    /**
     * The routine of a name; of several the one whose parameters the arguments name.
     *
     * @throws ProjectException where there is none, with the nearest that there is
     */
    public RoutineSymbol routine(String name, Collection<String> arguments)
            throws ProjectException {
        List<RoutineSymbol> found = catalog.routinesCalled(name);
        if (!found.isEmpty()) {
            RoutineSymbol chosen = Arguments.choose(found, arguments);
            if (!chosen.isPublic()) {
                throw new ProjectException(
                        chosen.name() + " is private in its module; call a public routine of it");
            }
            return chosen;
        }
        List<Problem> errors =
                catalog.faults().stream()
                        .filter(f -> f.mayDefine(name.toUpperCase(Locale.ROOT)))
                        .flatMap(f -> f.errors().stream())
                        .distinct()
                        .toList();
        if (!errors.isEmpty()) {
            throw new ProjectException(errors);
        }
        List<String> known = catalog.routines().stream().map(RoutineSymbol::name).toList();
        String hint =
                Nearest.to(name, known)
                        .map(n -> "; did you mean " + n + "?")
                        .orElse(
                                known.isEmpty()
                                        ? "; the project has no routines yet"
                                        : "; " + Nearest.listed(name, known));
        throw new ProjectException("there is no routine " + name + hint);
    }

    /**
     * The first value that a query gives.
     *
     * @throws ProjectException where it is refused, or gives no row
     */
    public Object ask(String query) throws ProjectException {
        try (var statement = database.connection().createStatement();
                var row = statement.executeQuery(query)) {
            if (!row.next()) {
                throw new ProjectException("the query " + query + " gives no row");
            }
            return database.read(row, 1, database.typeOf(row.getMetaData(), 1));
        } catch (SQLException e) {
            throw new ProjectException(
                    "the query " + query + " is refused: " + database.condition(e).message());
        }
    }

    @Override
    public void close() {
        placed.ifPresent(PlacedCode::close);
        try {
            database.close();
        } catch (SQLException e) {
            // It was in memory, and is gone either way.
            return;
        } finally {
            after.run();
        }
    }
}
