package dev.cantina.cli;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.cli.Screen.Tone;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Span;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.apache.commons.cli.Options;

/** {@code check [PATH…]}. */
final class CheckCommand implements Command {
    @Override
    public String name() {
        return "check";
    }

    @Override
    public String arguments() {
        return "[PATH…]";
    }

    @Override
    public String summary() {
        return "read every routine, and show errors and warnings";
    }

    @Override
    public String example() {
        return "cantina --project demo/winery check routines/move_wine.sql";
    }

    @Override
    public Options options() {
        return CallCommand.serving(new Options());
    }

    @Override
    public int run(Invocation call) throws UsageException, ProjectException, SQLException {
        Project project = call.project();
        List<String> wanted = paths(call, project);
        try (Workspace workspace = call.settings(project).tables()) {
            List<Problem> problems =
                    workspace.check().stream()
                            .filter(p -> wanted.isEmpty() || isWanted(p, wanted))
                            .toList();
            long errors = problems.stream().filter(Problem::isError).count();
            if (call.json()) {
                Map<String, Object> object = new LinkedHashMap<>();
                object.put("problems", problems.stream().map(CheckCommand::json).toList());
                call.screen().line(Json.text(object));
            } else {
                show(call, workspace, problems, errors);
            }
            return errors == 0 ? ExitCode.WELL : ExitCode.FAILED;
        }
    }

    private static List<String> paths(Invocation call, Project project) throws UsageException {
        List<String> shown = new ArrayList<>();
        for (String argument : call.arguments()) {
            Path path = call.folder().resolve(argument);
            if (!Files.exists(path)) {
                path = project.root().resolve(argument);
            }
            if (!Files.exists(path)) {
                throw new UsageException("there is no file or folder " + argument);
            }
            shown.add(project.shown(path.normalize()));
        }
        return shown;
    }

    private static boolean isWanted(Problem problem, List<String> wanted) {
        String file = problem.span().source().name();
        return wanted.stream()
                .anyMatch(w -> w.isEmpty() || file.equals(w) || file.startsWith(w + "/"));
    }

    private static void show(
            Invocation call, Workspace workspace, List<Problem> problems, long errors) {
        Screen screen = call.screen();
        ProblemView view = new ProblemView(screen);
        for (Problem problem : problems) {
            if (problem.isError() || !call.quiet()) {
                view.toOutput(problem);
                screen.line();
            }
        }
        if (call.quiet()) {
            return;
        }
        long advice = problems.size() - errors;
        int routines = workspace.catalog().routines().size();
        int own =
                (int)
                        workspace.program().serverRoutines().stream()
                                .filter(r -> r.kind() == BoundRoutine.Kind.TRIGGER)
                                .count();
        int triggers = workspace.catalog().triggers().size() + own;
        String read =
                count(routines, "routine")
                        + ", "
                        + count(triggers, "trigger")
                        + " in "
                        + count(workspace.sources().size(), "file");
        String verdict =
                errors == 0 && advice == 0
                        ? screen.tone(Tone.GOOD, "all well")
                        : (errors == 0
                                        ? screen.tone(Tone.GOOD, "no errors")
                                        : screen.tone(Tone.BAD, count(errors, "error")))
                                + (advice == 0
                                        ? ""
                                        : ", "
                                                + screen.tone(
                                                        Tone.CAREFUL,
                                                        advice == 1
                                                                ? "1 piece of advice"
                                                                : advice + " pieces of advice"));
        screen.line(
                screen.tone(Tone.STRONG, workspace.project().name())
                        + ": "
                        + verdict
                        + screen.tone(Tone.FAINT, "  (" + read + ")"));
    }

    private static String count(long number, String word) {
        return number + " " + word + (number == 1 ? "" : "s");
    }

    private static Map<String, Object> json(Problem problem) {
        Map<String, Object> object = new LinkedHashMap<>();
        object.put("file", problem.span().source().name());
        object.put("line", problem.span().line());
        object.put("column", problem.span().column());
        object.put("end_line", problem.span().endLine());
        object.put("end_column", problem.span().endColumn());
        object.put("severity", problem.isError() ? "error" : "advice");
        object.put("rule", problem.rule());
        object.put("message", problem.message());
        object.put("hint", problem.hint().orElse(null));
        object.put("edit", problem.edit().map(CheckCommand::json).orElse(null));
        return object;
    }

    private static Map<String, Object> json(Problem.Edit edit) {
        Span range = edit.range();
        return Map.of(
                "range",
                Map.of(
                        "line", range.line(),
                        "column", range.column(),
                        "end_line", range.endLine(),
                        "end_column", range.endColumn()),
                "text",
                edit.text());
    }
}
