package dev.cantina.cli;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.project.Arguments;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.Session;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.apache.commons.cli.Options;

/** {@code call ROUTINE [NAME=VALUE…]}. */
final class CallCommand implements Command {
    @Override
    public String name() {
        return "call";
    }

    @Override
    public String arguments() {
        return "ROUTINE [NAME=VALUE…]";
    }

    @Override
    public String summary() {
        return "run one routine on the fixture: its results, its messages, every row it changed";
    }

    @Override
    public String example() {
        return "cantina --project demo/winery call move_wine source=T1 target=C7 litres=120";
    }

    @Override
    public Options options() {
        Options options = failing(keeping(argumentOptions()));
        Main.option(options, "save-case", "FILE", "write the call, and what was seen, as a case");
        return options;
    }

    @Override
    public Set<String> common() {
        return OF_RUNS;
    }

    @Override
    public int run(Invocation call) throws UsageException, ProjectException, SQLException {
        if (call.arguments().isEmpty()) {
            throw new UsageException(
                    "call takes the name of a routine: cantina call ROUTINE [NAME=VALUE…]");
        }
        Project project = call.project();
        Optional<Path> saved = CaseSaver.file(call, project);
        try (Workspace workspace = call.workspace(project, Optional.empty())) {
            RoutineSymbol routine =
                    workspace.routine(call.arguments().get(0), CallCommand.names(call));
            List<Optional<Object>> arguments = arguments(call, routine, workspace);
            Session session = call.session(workspace, Optional.empty());
            try {
                Outcome outcome = session.run(routine, arguments);
                int code = ended(call, outcome);
                call.settle(workspace, outcome);
                if (saved.isPresent()) {
                    CaseSaver.save(call, project, saved.get(), routine, arguments);
                }
                return code;
            } finally {
                session.close();
            }
        }
    }

    /** With what a command has that can use a server. */
    static Options serving(Options options) {
        Main.option(
                options,
                "on",
                "DATABASE",
                "a server of cantina.yaml, with its own tables and rows");
        return options;
    }

    /** With what a command has that may change a server's rows. */
    static Options keeping(Options options) {
        serving(options);
        options.addOption(
                null, "keep", false, "on a server: commit what it did (otherwise nothing stays)");
        return options;
    }

    /** With something that goes wrong in the run. */
    static Options failing(Options options) {
        Main.option(
                options,
                "fault",
                "STATE@ROUTINE:LINE",
                "let a statement fail when it is about to touch data; #N for the Nth time");
        return options;
    }

    static Options argumentOptions() {
        Options options = new Options();
        Main.option(options, "args", "FILE", "arguments from a JSON file; those on the line win");
        Main.option(options, "save-args", "FILE", "keep the arguments in a JSON file");
        Main.option(options, "again", null, "the arguments of last time; those on the line win");
        return options;
    }

    /** The arguments: those on the line, then those of {@code --args}. */
    static List<Optional<Object>> arguments(
            Invocation call, RoutineSymbol routine, Workspace workspace)
            throws UsageException, ProjectException {
        try {
            Optional<Path> file = call.value("args").map(call.folder()::resolve);
            LastArguments last = new LastArguments(workspace.project(), routine);
            Map<String, Object> saved =
                    file.isPresent()
                            ? SavedArguments.read(file.get())
                            : call.has("again") ? last.again() : Map.of();
            Map<String, Object> given =
                    Arguments.read(
                            routine,
                            call.arguments().subList(1, call.arguments().size()),
                            saved,
                            workspace::ask);
            if (!Arguments.missing(routine, given).isEmpty()
                    && call.screen().isTerminal()
                    && !call.json()) {
                AskedArguments.ask(call, routine, workspace, given, last.values());
            }
            List<Optional<Object>> arguments = Arguments.match(routine, given);
            last.keep(given);
            if (call.value("save-args").isPresent()) {
                SavedArguments.write(call.folder().resolve(call.value("save-args").get()), given);
            }
            return arguments;
        } catch (Arguments.MisfitException e) {
            throw new UsageException(e.getMessage());
        }
    }

    /** The names of the arguments on the line. */
    static List<String> names(Invocation call) {
        return call.arguments().stream()
                .skip(1)
                .filter(a -> a.indexOf('=') > 0)
                .map(a -> a.substring(0, a.indexOf('=')).strip())
                .toList();
    }

    /** Shows what a run came to, and gives its exit code. */
    static int ended(Invocation call, Outcome outcome) {
        if (call.json()) {
            call.screen().line(Json.text(OutcomeJson.of(outcome)));
        } else {
            new OutcomeView(call.screen()).show(outcome, call.quiet());
        }
        return exitCode(outcome);
    }

    static int exitCode(Outcome outcome) {
        return switch (outcome.kind()) {
            case COMPLETED -> ExitCode.WELL;
            case RAISED -> ExitCode.RAISED;
            case LIMITED ->
                    outcome.condition().get().sqlstate().equals("UL000")
                            ? ExitCode.INTERRUPTED
                            : ExitCode.LIMITED;
        };
    }
}
