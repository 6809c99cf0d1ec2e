package dev.cantina.project;

import dev.cantina.binding.Binder;
import dev.cantina.catalog.Catalog;
import dev.cantina.catalog.CatalogBuilder;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.Table;
import dev.cantina.database.ServerConnection;
import dev.cantina.database.ServerDatabase;
import dev.cantina.database.ServerKind;
import dev.cantina.hosting.GuestDatabase;
import dev.cantina.hosting.HostingException;
import dev.cantina.hosting.PrivateServer;
import dev.cantina.nativecode.PlacedParts;
import dev.cantina.nativecode.ServerCode;
import dev.cantina.runtime.Program;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * Opens a project in a server's own language: its tables and routines as they are written, on a
 * private server, in one transaction that is never committed.
 */
final class OwnWorkspace {
    private static final int NAME_LENGTH = 12;

    private OwnWorkspace() {}

    /**
     * @param fixture empty for tables without rows
     * @throws ProjectException where the server can't be had, or the tables can't be made
     */
    static Workspace open(Project project, String fixture, Optional<ParsedFile> script)
            throws ProjectException {
        return open(project, project, fixture, script);
    }

    /**
     * The same without rows, with texts that are not stored.
     *
     * @param typed the texts of files as they are to be read, by their names in the project
     */
    static Workspace open(Project project, Map<String, String> typed) throws ProjectException {
        return open(project, project, "", Optional.empty(), typed);
    }

    /**
     * The same with rows of another project.
     *
     * @param rows the project whose fixture it is
     */
    static Workspace open(
            Project project, Project rows, String fixture, Optional<ParsedFile> script)
            throws ProjectException {
        return open(project, rows, fixture, script, Map.of());
    }

    private static Workspace open(
            Project project,
            Project rows,
            String fixture,
            Optional<ParsedFile> script,
            Map<String, String> typed)
            throws ProjectException {
        PrivateServer.Lease lease = lease(project);
        ServerConnection.Address address = address(project, lease);
        try {
            ServerDatabase database = ServerDatabase.open(address, project.root());
            if (!database.isEmpty()) {
                // Something of an earlier run has stayed: another database is to be had.
                lease.staying();
                database.close();
                lease.close();
                lease = lease(project);
                address = address(project, lease);
                database = ServerDatabase.open(address, project.root());
            }
            try {
                return open(project, rows, fixture, script, typed, database, lease, address);
            } catch (ProjectException | SQLException | RuntimeException e) {
                database.close();
                throw e;
            }
        } catch (ProjectException | RuntimeException e) {
            lease.close();
            throw e;
        } catch (SQLException e) {
            lease.close();
            throw new ProjectException(
                    (project.database().equals(PrivateServer.NAME)
                                    ? "the private server: "
                                    : project.database() + ": ")
                            + e.getMessage());
        }
    }

    private static Workspace open(
            Project project,
            Project rows,
            String fixture,
            Optional<ParsedFile> script,
            Map<String, String> typed,
            ServerDatabase database,
            PrivateServer.Lease lease,
            ServerConnection.Address address)
            throws ProjectException, SQLException {
        database.speakOwn();
        Project.OwnLanguage own = project.own().orElseThrow();
        List<Source> tables = sources(project, own.tables(), typed);
        List<Source> routines = sources(project, own.routines(), typed);
        ServerCode code =
                code(
                        own.dialect(),
                        database,
                        new ServerCode.Connector() {
                            @Override
                            public Connection open() throws SQLException {
                                return ServerConnection.open(address, project.root());
                            }

                            @Override
                            public void staying() throws SQLException {
                                lease.staying();
                            }

                            @Override
                            public void role(String name, boolean inherits) throws SQLException {
                                lease.role(name, inherits);
                            }

                            @Override
                            public void member(String role, String of, boolean is)
                                    throws SQLException {
                                lease.member(role, of, is);
                            }
                        });
        if (project.clocked()) {
            List<Source> all = new ArrayList<>(tables);
            all.addAll(routines);
            Optional<ServerCode.Clocked> clocked = code.clocked(all);
            if (clocked.isPresent()) {
                int count = tables.size();
                tables = clocked.get().scripts().subList(0, count);
                routines = clocked.get().scripts().subList(count, all.size());
                database.seeClock(clocked.get().sent(), clocked.get().made());
            }
        }
        code.load(tables, ServerCode.Part.ALL);
        // Tables and views may call routines: those are made first then, but no trigger is, which
        // would see the rows of the fixture come.
        boolean early = code.waits();
        if (early) {
            code.load(routines, ServerCode.Part.BEFORE_TRIGGERS);
            code.finish();
        }
        Set<Source> ofTables = Set.copyOf(tables);
        List<Problem> refused =
                code.problems().stream()
                        .filter(p -> p.isError() && ofTables.contains(p.span().source()))
                        .toList();
        if (!refused.isEmpty()) {
            throw new ProjectException(refused);
        }
        List<Table> made = database.tables();
        if (!fixture.isEmpty()) {
            new FixtureLoader(rows, database, made)
                    .without(code.leftOut())
                    .load(FixtureLoader.plan(rows, fixture));
        }
        code.load(routines, early ? ServerCode.Part.TRIGGERS : ServerCode.Part.ALL);
        List<Problem> ofStandard = new ArrayList<>();
        List<ParsedFile> standard = standard(project, own, typed);
        PlacedParts placed = PlacedParts.NONE;
        if (!standard.isEmpty()) {
            placed = translate(standard, database, code, ofStandard);
        }
        code.finish();
        List<Problem> problems = new ArrayList<>(code.problems());
        problems.addAll(ofStandard);
        List<ParsedFile> files = new ArrayList<>();
        routines.forEach(
                s ->
                        files.add(
                                new ParsedFile(
                                        s, List.of(), List.of(), List.of(), Optional.empty())));
        files.addAll(standard);
        List<ParsedFile> read = new ArrayList<>(standard);
        script.ifPresent(s -> read.add(Workspace.withoutSteps(s)));
        Catalog catalog =
                new CatalogBuilder(database.tables(), problems::add)
                        .build(read)
                        .with(code.symbols());
        Program program =
                new Program(
                        catalog,
                        Optional.of(database),
                        Workspace.externals(project),
                        Optional.of(code));
        if (!standard.isEmpty()) {
            code.take(placed, program);
        }
        database.install(catalog);
        return new Workspace(
                project,
                database,
                files,
                problems,
                catalog,
                program,
                code::advice,
                () -> {
                    code.close();
                    lease.close();
                },
                Optional.of(code));
    }

    private static List<ParsedFile> standard(
            Project project, Project.OwnLanguage own, Map<String, String> typed)
            throws ProjectException {
        if (own.standard().isEmpty()) {
            return List.of();
        }
        List<ParsedFile> files = new ArrayList<>();
        for (ParsedFile file :
                RoutineFiles.begin(project, ProjectReader.matching(project, own.standard()))
                        .get()) {
            String text = typed.get(file.source().name());
            files.add(
                    text == null
                            ? file
                            : Parser.parse(
                                    new Source(file.source().name(), text), project.reading()));
        }
        return files;
    }

    /**
     * Makes the routines of the standard language stand beside the server's own, which they may
     * call, and which may call them.
     *
     * @param problems takes what keeps one of them from standing there
     */
    private static PlacedParts translate(
            List<ParsedFile> files,
            ServerDatabase database,
            ServerCode code,
            List<Problem> problems)
            throws SQLException {
        List<RoutineSymbol> own = code.symbols();
        // What is wrong in them is said when the whole is there.
        Catalog catalog =
                new CatalogBuilder(database.tables(), problem -> {}).build(files).with(own);
        for (RoutineSymbol routine : catalog.routines()) {
            if (!routine.isOnServer()) {
                own.stream()
                        .filter(o -> o.name().equalsIgnoreCase(routine.name()))
                        .findFirst()
                        .ifPresent(o -> problems.add(twice(routine, o)));
            }
        }
        if (!problems.isEmpty()) {
            return PlacedParts.NONE;
        }
        Placement.Standing standing =
                Placement.beside(catalog, new Binder(catalog, Optional.of(database)), database);
        problems.addAll(standing.refused());
        return standing.parts();
    }

    private static Problem twice(RoutineSymbol routine, RoutineSymbol own) {
        return Problem.error(
                routine.tree().name().span(),
                "duplicate-routine",
                routine.name()
                        + " is a routine in the server's own language too, in "
                        + own.tree().span().place(),
                "give one of them another name");
    }

    /** The server's address, with the schemas that names without one are looked for in. */
    private static ServerConnection.Address address(Project project, PrivateServer.Lease lease) {
        ServerConnection.Address address = lease.address();
        List<String> path = project.own().orElseThrow().searchPath();
        if (path.isEmpty()) {
            return address;
        }
        String said =
                URLEncoder.encode(
                        path.stream().map(OwnWorkspace::quoted).collect(Collectors.joining(",")),
                        StandardCharsets.UTF_8);
        return new ServerConnection.Address(
                address.name(),
                address.url() + (address.url().contains("?") ? "&" : "?") + "currentSchema=" + said,
                address.user(),
                address.password());
    }

    private static String quoted(String name) {
        return '"' + name.replace("\"", "\"\"") + '"';
    }

    private static ServerCode code(
            String dialect, ServerDatabase database, ServerCode.Connector connector)
            throws ProjectException {
        ServerCode.Opening opening = ServerCode.KINDS.get(dialect);
        if (opening == null) {
            throw new ProjectException(
                    "projects in " + dialect + "'s own language can't be opened yet");
        }
        return opening.on(database.connection(), connector);
    }

    private static List<Source> sources(
            Project project, List<String> patterns, Map<String, String> typed)
            throws ProjectException {
        List<Source> sources = new ArrayList<>();
        for (Path file : ProjectReader.matching(project, patterns)) {
            String name = project.shown(file);
            sources.add(
                    typed.containsKey(name)
                            ? new Source(name, typed.get(name))
                            : ProjectReader.source(file, name));
        }
        return sources;
    }

    /** A database of the project's own on a server that it names. */
    private static PrivateServer.Lease guest(Project project) throws ProjectException {
        String dialect = project.own().orElseThrow().dialect();
        if (project.database().equals("embedded")) {
            throw new ProjectException(
                    "a project in "
                            + dialect
                            + "'s own language runs on a private server, or on one of databases:;"
                            + " say database: private in "
                            + ProjectReader.FILE);
        }
        ServerConnection.Address address = project.address(project.database());
        String kind = ServerKind.of(address.url()).map(ServerKind::name).orElse("");
        if (!kind.equals(dialect)) {
            throw new ProjectException(
                    "the project is in "
                            + dialect
                            + "'s own language, and "
                            + project.database()
                            + " is another kind of server");
        }
        try {
            return kind.equals("postgresql")
                    ? GuestDatabase.on(address, project.root())
                    : new GuestAddress(address);
        } catch (HostingException | SQLException e) {
            throw new ProjectException(e.getMessage());
        }
    }

    /** A server on which a run makes a database of its own by itself. */
    private record GuestAddress(ServerConnection.Address address) implements PrivateServer.Lease {
        @Override
        public void staying() {}

        @Override
        public void role(String name, boolean inherits) throws SQLException {
            throw new SQLException(NO_ROLES, "0A000");
        }

        @Override
        public void member(String role, String of, boolean is) throws SQLException {
            throw new SQLException(NO_ROLES, "0A000");
        }

        @Override
        public void close() {}
    }

    private static PrivateServer.Lease lease(Project project) throws ProjectException {
        Project.OwnLanguage own = project.own().orElseThrow();
        if (!project.database().equals(PrivateServer.NAME)) {
            return guest(project);
        }
        Trust.Reach reach = Trust.here().privateServer(project);
        if (!Trust.here().isTrusted(reach)) {
            throw new ProjectException(
                    "the project's SQL runs on a private server, and is not trusted: it "
                            + reach.does()
                            + "; look at it, and say cantina trust");
        }
        try {
            String path = project.root().toAbsolutePath().normalize().toString();
            String name =
                    HexFormat.of()
                            .formatHex(
                                    MessageDigest.getInstance("SHA-256")
                                            .digest(path.getBytes(StandardCharsets.UTF_8)))
                            .substring(0, NAME_LENGTH);
            return PrivateServer.of(own.dialect()).lease(name);
        } catch (HostingException e) {
            throw new ProjectException(e.getMessage());
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("every Java has SHA-256", e);
        }
    }
}
