package dev.cantina.cli;

import dev.cantina.database.ServerConnection;
import dev.cantina.database.ServerKind;
import dev.cantina.importing.ImportedProject;
import dev.cantina.importing.LiveServer;
import dev.cantina.importing.ProjectImport;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileSystems;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.PathMatcher;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.apache.commons.cli.Options;

/** {@code import URL DIR}: a project from a live server; {@code import} again: what has changed. */
final class ImportCommand implements Command {
    /** What a new project calls the server that it comes from. */
    static final String LIVE = "live";

    private static final List<String> OF_NEW =
            List.of("user", "password", "schema", "rows", "rows-of", "hide", "fixture");

    @Override
    public String name() {
        return "import";
    }

    @Override
    public String arguments() {
        return "[URL DIR]";
    }

    @Override
    public String summary() {
        return "a project from a live server: its tables, its routines, some of its rows";
    }

    @Override
    public String example() {
        return "cantina import jdbc:postgresql://127.0.0.1/depot depot --user reader --rows 100";
    }

    @Override
    public Options options() {
        Options options = new Options();
        Main.option(options, "user", "NAME", "as whom to go to the server");
        Main.option(options, "password", "WHERE", "env:NAME or file:PATH that holds the password");
        Main.option(options, "schema", "NAME", "take this schema alone; may be said again");
        Main.option(options, "rows", "N", "the first N rows of each table, and what they refer to");
        Main.option(
                options,
                "rows-of",
                "TABLE:QUERY",
                "the rows that a query gives, and what they refer to");
        Main.option(
                options,
                "hide",
                "COLUMN=HOW",
                "hide a column of all tables, or TABLE.COLUMN: made-up, null or text:…");
        Main.option(options, "fixture", "NAME", "the fixture that the rows become; imported");
        Main.option(options, "diff", null, "show what differs, line by line");
        Main.option(
                options,
                "take",
                "FILE",
                "make a file what it is on the server; a pattern, or all that was not changed here");
        return options;
    }

    @Override
    public int run(Invocation call) throws UsageException, ProjectException, SQLException {
        List<String> words = call.arguments();
        boolean fresh = !words.isEmpty() && words.get(0).startsWith("jdbc:");
        if (words.size() > 2 || fresh && words.size() != 2 || !fresh && words.size() > 1) {
            throw new UsageException(
                    "import takes a url and a new folder: cantina import jdbc:postgresql://HOST/NAME"
                            + " DIR; in a project that was imported it takes nothing");
        }
        return fresh ? begin(call, words.get(0), words.get(1)) : again(call);
    }

    // ---------------------------------------------------------------- a new project

    private static int begin(Invocation call, String url, String folder)
            throws UsageException, ProjectException, SQLException {
        Path root = call.folder().resolve(folder).toAbsolutePath().normalize();
        if (ServerConnection.holdsPassword(url)) {
            throw new UsageException(
                    "the url holds a user or a password; say --user, and --password env:NAME or"
                            + " file:PATH");
        }
        if (call.has("take") || call.has("diff")) {
            throw new UsageException("--take and --diff are for a project that is there already");
        }
        ServerKind kind =
                ServerKind.of(url)
                        .orElseThrow(
                                () ->
                                        new UsageException(
                                                "a url begins with jdbc:postgresql: or"
                                                        + " jdbc:mariadb:"));
        if (Files.isRegularFile(root.resolve(ProjectReader.FILE))) {
            throw new UsageException(
                    folder
                            + " is a project already; cantina --project "
                            + Screen.typed(folder)
                            + " import shows what has changed on the server");
        }
        if (!isFree(root)) {
            throw new UsageException(
                    root
                            + " already exists and is not empty; name a new folder, nothing was written");
        }
        Project.Imported wanted = ImportSettings.of(call);
        ServerConnection.Address address =
                new ServerConnection.Address(
                        LIVE,
                        url,
                        call.value("user").orElse(""),
                        call.value("password").orElse(""));
        ProjectImport.Result result = read(kind, address, call.folder(), wanted);
        String settings =
                ImportSettings.yaml(
                        root, kind.name(), fromFolder(address, call, root), wanted, result);
        Project project;
        List<ImportedProject.Change> changes;
        try {
            Files.createDirectories(root);
            Files.writeString(root.resolve(ProjectReader.FILE), settings, StandardCharsets.UTF_8);
            Files.writeString(root.resolve(".gitignore"), ".cantina/\n", StandardCharsets.UTF_8);
            Files.createDirectories(root.resolve("cases"));
            project = ProjectReader.read(root);
            ImportedProject imported = new ImportedProject(project);
            changes = imported.compare(result.files());
            imported.take(changes);
        } catch (IOException e) {
            throw new UsageException(root + " can't be written (" + ProjectReader.reason(e) + ")");
        }
        if (call.json()) {
            call.screen().line(ImportView.json(project, changes, changes, result));
        } else if (!call.quiet()) {
            new ImportView(call.screen()).begun(folder, changes, result);
        }
        return ExitCode.WELL;
    }

    /** A password's file is named as it is seen from the project. */
    private static ServerConnection.Address fromFolder(
            ServerConnection.Address address, Invocation call, Path root) {
        String password = address.password();
        if (password.startsWith("file:")) {
            Path file = call.folder().resolve(password.substring(5)).toAbsolutePath().normalize();
            password = "file:" + root.relativize(file).toString().replace('\\', '/');
        }
        return new ServerConnection.Address(
                address.name(), address.url(), address.user(), password);
    }

    private static boolean isFree(Path root) throws UsageException {
        if (!Files.exists(root)) {
            return true;
        }
        try (Stream<Path> list = Files.list(root)) {
            return list.findAny().isEmpty();
        } catch (IOException e) {
            throw new UsageException(root + " can't be read (" + ProjectReader.reason(e) + ")");
        }
    }

    private static ProjectImport.Result read(
            ServerKind kind, ServerConnection.Address address, Path folder, Project.Imported wanted)
            throws UsageException, ProjectException, SQLException {
        try (Connection connection = ServerConnection.open(address, folder)) {
            LiveServer server = LiveServer.KINDS.get(kind.name()).on(connection);
            ProjectImport.Result result =
                    new ProjectImport(server, wanted, HidingKey.of(wanted)).run();
            connection.rollback();
            return result;
        } catch (ProjectImport.ImportException e) {
            throw new UsageException(e.getMessage());
        }
    }

    // ---------------------------------------------------------------- the same again

    private static int again(Invocation call)
            throws UsageException, ProjectException, SQLException {
        Project project = call.project();
        for (String option : OF_NEW) {
            if (call.has(option)) {
                throw new UsageException(
                        "--"
                                + option
                                + " is for a new project; in this one import: of cantina.yaml says it");
            }
        }
        Project.Imported wanted =
                project.imported()
                        .orElseThrow(
                                () ->
                                        new UsageException(
                                                "cantina.yaml has no import:, which says what to"
                                                        + " take from where, as in import: { from:"
                                                        + " live, rows: 100 }"));
        if (!call.arguments().isEmpty() && !call.arguments().get(0).equals(wanted.from())) {
            throw new UsageException(
                    "the project is imported from "
                            + wanted.from()
                            + ", as import: of cantina.yaml says, and not from "
                            + call.arguments().get(0));
        }
        ServerConnection.Address address = project.address(wanted.from());
        ServerKind kind =
                ServerKind.of(address.url())
                        .orElseThrow(
                                () ->
                                        new UsageException(
                                                wanted.from()
                                                        + " can't be imported: its url must begin"
                                                        + " with jdbc:postgresql: or jdbc:mariadb:"));
        if (!kind.name().equals(project.own().orElseThrow().dialect())) {
            throw new UsageException(
                    wanted.from()
                            + " is "
                            + kind.title()
                            + ", and the project speaks "
                            + project.own().orElseThrow().dialect());
        }
        ProjectImport.Result result = read(kind, address, project.root(), wanted);
        ImportedProject imported = new ImportedProject(project);
        List<ImportedProject.Change> changes = imported.compare(result.files());
        List<ImportedProject.Change> taken = chosen(call, changes);
        imported.take(taken);
        if (call.json()) {
            call.screen().line(ImportView.json(project, changes, taken, result));
        } else if (!call.quiet()) {
            new ImportView(call.screen()).again(changes, taken, result, call.has("diff"));
        }
        boolean left =
                changes.stream()
                        .anyMatch(
                                c ->
                                        c.state() != ImportedProject.State.SAME
                                                && c.state() != ImportedProject.State.CHANGED_HERE
                                                && !taken.contains(c));
        return left ? ExitCode.FAILED : ExitCode.WELL;
    }

    /** The files that are to be taken. */
    private static List<ImportedProject.Change> chosen(
            Invocation call, List<ImportedProject.Change> changes) throws UsageException {
        List<ImportedProject.Change> chosen = new ArrayList<>();
        for (String pattern : call.values("take")) {
            boolean all = pattern.equals("all");
            Optional<PathMatcher> matcher = all ? Optional.empty() : Optional.of(matcher(pattern));
            boolean any = all;
            for (ImportedProject.Change change : changes) {
                boolean meant =
                        all
                                ? change.state() != ImportedProject.State.CHANGED_HERE
                                        && change.state() != ImportedProject.State.CHANGED_BOTH
                                : change.path().equals(pattern)
                                        || matcher.get().matches(Path.of(change.path()));
                any |= meant;
                if (meant
                        && change.state() != ImportedProject.State.SAME
                        && !chosen.contains(change)) {
                    chosen.add(change);
                }
            }
            if (!any) {
                throw new UsageException(
                        "--take " + pattern + " means no file of the import; nothing was taken");
            }
        }
        return chosen;
    }

    private static PathMatcher matcher(String pattern) throws UsageException {
        try {
            return FileSystems.getDefault().getPathMatcher("glob:" + pattern);
        } catch (IllegalArgumentException e) {
            throw new UsageException("--take " + pattern + ": the pattern can't be read");
        }
    }
}
