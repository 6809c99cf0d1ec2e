package dev.cantina.cli;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.Table;
import dev.cantina.database.ForeignKey;
import dev.cantina.drafting.CallDraft;
import dev.cantina.drafting.CaseDrafts;
import dev.cantina.drafting.Draft;
import dev.cantina.drafting.StubDraft;
import dev.cantina.drafting.TableDrafts;
import dev.cantina.drafting.YamlText;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.project.Workspace;
import dev.cantina.syntax.Nearest;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.testing.CaseFiles;
import dev.cantina.testing.CaseRunner;
import dev.cantina.testing.TestCase;
import dev.cantina.types.Values;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.sql.SQLException;
import java.time.Clock;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.apache.commons.cli.Options;

/** {@code draft WHAT NAME}: first versions of routines. */
final class DraftCommand implements Command {
    private static final List<String> OF_TABLES = List.of("insert", "update", "delete", "list");
    private static final List<String> ALL =
            List.of("insert", "update", "delete", "list", "cases", "call", "stub");

    private static final List<String> WRITTEN =
            List.of("insert", "update", "delete", "list", "cases", "stub");

    /** What each option means something to; to all else it is refused. */
    private static final Map<String, List<String>> MEANT =
            Map.of(
                    "show", WRITTEN,
                    "to", WRITTEN,
                    "name", OF_TABLES,
                    "from", List.of("stub"),
                    "fixture", List.of("cases", "call"),
                    "seconds", List.of("cases"),
                    "clock", List.of("cases"),
                    "limit", List.of("cases"));

    /** How long cases are tried out where nobody says it. */
    private static final int SECONDS = 20;

    @Override
    public String name() {
        return "draft";
    }

    @Override
    public String arguments() {
        return "insert|update|delete|list TABLE | cases|call ROUTINE | stub NAME…";
    }

    @Override
    public String summary() {
        return "write the first version of a procedure for a table, of cases, of a call or a stub";
    }

    @Override
    public String example() {
        return "cantina --project demo/winery draft insert plot --show";
    }

    @Override
    public Options options() {
        Options options = new Options();
        Main.option(options, "show", null, "only print it; nothing is written");
        Main.option(options, "to", "FILE", "the new file (otherwise one in the project's folders)");
        Main.option(options, "name", "NAME", "what the procedure for a table is called");
        Main.option(options, "from", "FILE", "stub: a list of signatures, one a line");
        Main.option(options, "seconds", "N", "cases: how long to try at most (otherwise 20)");
        return options;
    }

    @Override
    public boolean hasJson() {
        return false;
    }

    @Override
    public Set<String> common() {
        return OF_RUNS;
    }

    @Override
    public List<String> words() {
        return ALL;
    }

    @Override
    public int run(Invocation call) throws UsageException, ProjectException, SQLException {
        List<String> said = call.arguments();
        String what = said.isEmpty() ? "" : said.get(0).toLowerCase(Locale.ROOT);
        if (!ALL.contains(what)) {
            throw new UsageException(
                    "draft takes insert, update, delete or list with a table, cases or call with a"
                            + " routine, or stub with names"
                            + (said.isEmpty()
                                    ? ""
                                    : Nearest.to(said.get(0), ALL)
                                            .map(n -> "; did you mean " + n + "?")
                                            .orElse("")));
        }
        for (String option : MEANT.keySet().stream().sorted().toList()) {
            if (call.has(option) && !MEANT.get(option).contains(what)) {
                throw new UsageException(
                        "--"
                                + option
                                + " means nothing to draft "
                                + what
                                + "; it is for "
                                + String.join(", ", MEANT.get(option)));
            }
        }
        boolean fromList = what.equals("stub") && call.value("from").isPresent();
        if (said.size() != 2 && !(what.equals("stub") && said.size() > 2) && !fromList) {
            throw new UsageException(
                    "draft "
                            + what
                            + " takes "
                            + (OF_TABLES.contains(what)
                                    ? "the name of a table"
                                    : what.equals("stub")
                                            ? "names of routines, or --from FILE with their signatures"
                                            : "the name of a routine"));
        }
        Project project = call.project();
        return switch (what) {
            case "cases" -> cases(call, project);
            case "call" -> oneCall(call, project);
            case "stub" -> stubs(call, project);
            default -> table(call, project);
        };
    }

    private static int table(Invocation call, Project project)
            throws UsageException, ProjectException, SQLException {
        String folder = folder(project);
        return made(call, project, folder, List.of(ofTable(call, project)));
    }

    /** Prints or writes routines, each into a file of its own, or all into one that is named. */
    private static int made(Invocation call, Project project, String folder, List<Draft> drafts)
            throws UsageException, ProjectException {
        if (call.has("show")) {
            for (Draft draft : drafts) {
                draft.text().lines().forEach(call.screen()::line);
                draft.notes().forEach(n -> call.screen().note("note: " + n));
            }
            return ExitCode.WELL;
        }
        Map<Path, String> files = new LinkedHashMap<>();
        for (Draft draft : drafts) {
            Path file =
                    call.value("to")
                            .map(call.folder()::resolve)
                            .orElse(project.root().resolve(folder + "/" + fileName(draft)));
            files.merge(file, draft.text(), (a, b) -> a + "\n" + b);
        }
        for (Path file : files.keySet()) {
            free(file, project.shown(file));
        }
        for (Map.Entry<Path, String> file : files.entrySet()) {
            write(file.getKey(), project.shown(file.getKey()), file.getValue());
        }
        return written(call, project, files.keySet(), drafts);
    }

    // ------------------------------------------------------------------ stubs

    private static int stubs(Invocation call, Project project)
            throws UsageException, ProjectException {
        String folder = folder(project);
        List<Draft> drafts = new ArrayList<>();
        try (Workspace workspace = Workspace.open(project, Optional.empty())) {
            if (call.value("from").isPresent()) {
                drafts.addAll(listed(call));
            }
            List<Source> texts = new ArrayList<>(workspace.sources());
            for (Path script : ProjectReader.files(project.root().resolve("scripts"), ".sql")) {
                texts.add(ProjectReader.source(script, project.shown(script)));
            }
            List<TestCase> cases = CaseFiles.read(project).cases();
            for (String name : call.arguments().subList(1, call.arguments().size())) {
                drafts.add(
                        StubDraft.of(name, texts, cases)
                                .orElseThrow(
                                        () ->
                                                new UsageException(
                                                        "nothing calls "
                                                                + name
                                                                + " yet: no routine, no script, no case;"
                                                                + " --from FILE takes its signature")));
            }
            for (Draft draft : drafts) {
                free(workspace, draft.name());
            }
        }
        return made(call, project, folder, drafts);
    }

    private static List<Draft> listed(Invocation call) throws UsageException, ProjectException {
        String name = call.value("from").get();
        List<Draft> drafts = new ArrayList<>();
        for (StubDraft.Line line :
                StubDraft.list(ProjectReader.source(call.folder().resolve(name), name))) {
            drafts.add(
                    line.draft()
                            .orElseThrow(
                                    () ->
                                            new UsageException(
                                                    name
                                                            + ":"
                                                            + line.number()
                                                            + ": "
                                                            + line.text()
                                                            + ": "
                                                            + line.trouble())));
        }
        if (drafts.isEmpty()) {
            throw new UsageException(name + " has no signatures: one a line, NAME (PARAMETERS)");
        }
        return drafts;
    }

    // ------------------------------------------------------------------ calls and cases

    private static int oneCall(Invocation call, Project project)
            throws UsageException, ProjectException, SQLException {
        try (Workspace workspace = Workspace.open(project, Optional.of(call.fixture(project)))) {
            RoutineSymbol routine = workspace.routine(call.arguments().get(1), List.of());
            CallDraft draft = CallDraft.of(workspace, routine);
            StringBuilder line = new StringBuilder("cantina call " + routine.name());
            draft.arguments()
                    .forEach(
                            (name, value) ->
                                    line.append(' ')
                                            .append(Screen.typed(name + "=" + argument(value))));
            call.screen().line(line.toString());
            if (!routine.isOnServer()) {
                call.screen().line();
                draft.block().lines().forEach(call.screen()::line);
            }
            return ExitCode.WELL;
        }
    }

    /** A value as it stands behind NAME= on a command line. */
    static String argument(Object value) {
        if (value == null) {
            return "null";
        }
        String text = Values.text(value);
        boolean quoted =
                value instanceof String
                        && (text.isEmpty()
                                || text.strip().length() < text.length()
                                || text.equalsIgnoreCase("null")
                                || text.startsWith("=")
                                || text.startsWith("'"));
        return quoted ? "'" + text.replace("'", "''") + "'" : text;
    }

    private static int cases(Invocation call, Project project)
            throws UsageException, ProjectException, SQLException {
        int seconds = seconds(call);
        Clock clock = call.value("clock").isPresent() ? call.clock() : Clock.systemDefaultZone();
        try (CaseRunner runner =
                        new CaseRunner(
                                project, call.value("fixture"), call.limits(project), clock);
                CaseRunner second =
                        new CaseRunner(
                                project, call.value("fixture"), call.limits(project), clock);
                Workspace workspace = Workspace.open(project, Optional.of(call.fixture(project)))) {
            RoutineSymbol routine = workspace.routine(call.arguments().get(1), List.of());
            Path file =
                    call.value("to")
                            .map(call.folder()::resolve)
                            .orElse(
                                    project.root()
                                            .resolve(
                                                    "cases/"
                                                            + routine.name()
                                                                    .replaceAll(
                                                                            "[^\\p{L}\\p{N}_-]",
                                                                            "_")
                                                            + ".yaml"));
            if (!call.has("show")) {
                free(file, project.shown(file));
            }
            LocalDateTime moment =
                    call.value("clock").isPresent()
                            ? LocalDateTime.now(clock).truncatedTo(ChronoUnit.SECONDS)
                            : LocalDate.now(clock).atTime(9, 0);
            call.interrupts().during(runner::interrupt);
            Attempt attempt =
                    time ->
                            new CaseDrafts(
                                            runner,
                                            second,
                                            workspace,
                                            routine,
                                            time,
                                            call.value("fixture"),
                                            seconds)
                                    .draft();
            CaseDrafts.Drafted drafted;
            try {
                drafted = attempt.at(Optional.of(moment));
            } catch (ProjectException e) {
                if (workspace.database().hasClock() || call.value("clock").isPresent()) {
                    throw e;
                }
                drafted = attempt.at(Optional.empty());
                call.screen().note("no time is set in the cases: " + e.getMessage());
            }
            if (call.has("show")) {
                drafted.text().lines().forEach(call.screen()::line);
            } else {
                write(file, project.shown(file), drafted.text());
                if (!call.quiet()) {
                    call.screen().line("wrote " + project.shown(file));
                }
            }
            told(call, routine, drafted);
            if (!call.has("show") && !call.quiet()) {
                call.screen().line("  cantina test " + Screen.typed(project.shown(file)));
            }
            return ExitCode.WELL;
        }
    }

    /** Drafts cases in which it is some time, or whatever time it is. */
    private interface Attempt {
        CaseDrafts.Drafted at(Optional<LocalDateTime> clock) throws ProjectException, SQLException;
    }

    private static void told(Invocation call, RoutineSymbol routine, CaseDrafts.Drafted drafted) {
        call.screen()
                .note(
                        (drafted.cases() == 1 ? "1 case" : drafted.cases() + " cases")
                                + " of "
                                + (drafted.tried() == 1 ? "1 run" : drafted.tried() + " runs")
                                + (drafted.outOfTime()
                                        ? "; time ran out, --seconds N gives more"
                                        : ""));
        for (Map<String, Object> arguments : drafted.unsteady()) {
            call.screen()
                    .note(
                            "left out, since of two runs one ended in a condition and the other did"
                                    + " not: "
                                    + routine.name()
                                    + " with "
                                    + YamlText.of(arguments));
        }
        if (!drafted.unreached().isEmpty()) {
            call.screen()
                    .note(
                            "no run has reached "
                                    + (drafted.unreached().size() == 1 ? "line " : "lines ")
                                    + String.join(
                                            ", ",
                                            drafted.unreached().stream()
                                                    .map(String::valueOf)
                                                    .toList())
                                    + " of "
                                    + routine.span().source().name()
                                    + ": write a case for what they want");
        }
    }

    static int seconds(Invocation call) throws UsageException {
        String said = call.value("seconds").orElse(String.valueOf(SECONDS));
        try {
            int seconds = Integer.parseInt(said);
            if (seconds > 0) {
                return seconds;
            }
        } catch (NumberFormatException e) {
            // What it must be is said below.
        }
        throw new UsageException("--seconds is a number of seconds, not " + said);
    }

    // ------------------------------------------------------------------ files

    /** Where routines of the standard language are kept. */
    private static String folder(Project project) throws UsageException {
        if (project.own().isEmpty()) {
            return "routines";
        }
        List<String> standard = project.own().get().standard();
        if (standard.isEmpty()) {
            throw new UsageException(
                    "drafts are written in the standard language, and this project has none of it;"
                            + " say standard: standard/*.sql in cantina.yaml");
        }
        String pattern = standard.get(0);
        int star = pattern.indexOf('*');
        int slash = pattern.lastIndexOf('/', star < 0 ? pattern.length() : star);
        return slash < 0 ? "." : pattern.substring(0, slash);
    }

    private static String fileName(Draft draft) {
        return draft.name().replaceAll("[^\\p{L}\\p{N}_-]", "_") + ".sql";
    }

    private static Draft ofTable(Invocation call, Project project)
            throws UsageException, ProjectException, SQLException {
        TableDrafts.Kind kind =
                TableDrafts.Kind.valueOf(call.arguments().get(0).toUpperCase(Locale.ROOT));
        String wanted = call.arguments().get(1);
        try (Workspace workspace = Workspace.open(project, Optional.empty())) {
            Table table = table(workspace, wanted);
            String name = call.value("name").orElse(TableDrafts.name(kind, table));
            free(workspace, name);
            return TableDrafts.of(
                    kind,
                    table,
                    name,
                    kind == TableDrafts.Kind.DELETE
                            ? ForeignKey.to(workspace.database().connection(), table)
                            : List.of());
        } catch (TableDrafts.CannotException e) {
            throw new UsageException(e.getMessage());
        }
    }

    private static Table table(Workspace workspace, String wanted) throws UsageException {
        Optional<Table> table = workspace.catalog().tableCalled(wanted);
        if (table.isPresent()) {
            return table.get();
        }
        List<String> names = workspace.catalog().tables().stream().map(Table::name).toList();
        throw new UsageException(
                "there is no table "
                        + wanted
                        + Nearest.to(wanted, names)
                                .map(n -> "; did you mean " + n + "?")
                                .orElse(
                                        names.isEmpty()
                                                ? "; the project has no tables yet"
                                                : "; " + Nearest.listed(wanted, names)));
    }

    private static void free(Workspace workspace, String name) throws UsageException {
        List<RoutineSymbol> taken = workspace.catalog().routinesCalled(name);
        if (!taken.isEmpty()) {
            throw new UsageException(
                    "there is a routine "
                            + name
                            + " already, in "
                            + taken.get(0).span().source().name()
                            + "; --name gives the new one another");
        }
    }

    static void free(Path file, String shown) throws UsageException {
        free(file, shown, ", --show only prints");
    }

    /**
     * @param or what else can be done
     */
    static void free(Path file, String shown, String or) throws UsageException {
        if (Files.exists(file)) {
            throw new UsageException(shown + " is there already; --to names another file" + or);
        }
    }

    static void write(Path file, String shown, String text) throws UsageException {
        try {
            if (file.getParent() != null) {
                Files.createDirectories(file.getParent());
            }
            Files.writeString(file, text, StandardCharsets.UTF_8, StandardOpenOption.CREATE_NEW);
        } catch (FileAlreadyExistsException e) {
            free(file, shown);
        } catch (IOException e) {
            throw new UsageException(shown + ": " + FileTrouble.writing(e));
        }
    }

    /** Says what was written, and whether it checks. */
    private static int written(
            Invocation call, Project project, Set<Path> files, List<Draft> drafts)
            throws ProjectException {
        Set<String> shown = new LinkedHashSet<>();
        files.forEach(f -> shown.add(project.shown(f)));
        if (!call.quiet()) {
            shown.forEach(f -> call.screen().line("wrote " + f));
        }
        drafts.forEach(d -> d.notes().forEach(n -> call.screen().note("note: " + n)));
        int code = ExitCode.WELL;
        try (Workspace workspace = Workspace.open(project, Optional.empty())) {
            for (Problem problem : workspace.check()) {
                if (shown.contains(problem.span().source().name())) {
                    new ProblemView(call.screen()).toError(problem);
                    code = problem.isError() ? ExitCode.FAILED : code;
                }
            }
        }
        if (!call.quiet() && code == ExitCode.WELL && drafts.size() == 1) {
            call.screen().line("  cantina draft call " + drafts.get(0).name());
            call.screen().line("  cantina draft cases " + drafts.get(0).name());
        }
        return code;
    }
}
