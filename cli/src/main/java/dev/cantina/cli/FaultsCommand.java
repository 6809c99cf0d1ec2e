package dev.cantina.cli;

import dev.cantina.laboratory.CaseSubject;
import dev.cantina.laboratory.FaultLab;
import dev.cantina.laboratory.FaultReport;
import dev.cantina.laboratory.RoutineSubject;
import dev.cantina.laboratory.Subject;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.testing.TestCase;
import dev.cantina.workbench.RunSettings;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.stream.Collectors;
import org.apache.commons.cli.Options;

/** {@code faults ROUTINE [NAME=VALUE…]} and {@code --case SELECTOR}. */
final class FaultsCommand implements Command {
    private static final double SECONDS = 30;

    @Override
    public String name() {
        return "faults";
    }

    @Override
    public String arguments() {
        return "ROUTINE [NAME=VALUE…]  or  --case SELECTOR";
    }

    @Override
    public String summary() {
        return "let each statement fail in turn, and see what stays: nothing, all, or a part";
    }

    @Override
    public String example() {
        return "cantina --project demo/winery faults move_wine source=T1 target=C7 litres=120";
    }

    @Override
    public Options options() {
        Options options = CallCommand.serving(CallCommand.argumentOptions());
        Main.option(options, "case", "SELECTOR", "of a case: its data, its calls, its arguments");
        Main.option(options, "within", "SECONDS", "try no more after so long; 30 if not said");
        options.addOption(null, "all", false, "show what has ended well, too");
        LabPages.option(options);
        return options;
    }

    @Override
    public Set<String> common() {
        return OF_RUNS;
    }

    @Override
    public int run(Invocation call) throws UsageException, ProjectException, SQLException {
        Project project = call.project();
        if (project.own().isPresent()) {
            throw new UsageException(
                    "faults is for routines of the standard language: those of a server's own fail"
                            + " there, where nothing can be put in a statement's place");
        }
        AtomicBoolean calledOff = new AtomicBoolean();
        call.interrupts().during(() -> calledOff.set(true));
        try (Subject subject = subject(call, project)) {
            FaultReport report = new FaultLab(subject, call.within(SECONDS), calledOff::get).run();
            if (call.json()) {
                call.screen().line(Json.text(FaultsView.json(report)));
            } else {
                new FaultsView(call.screen(), call.has("all")).show(report);
            }
            LabPages.write(call, () -> FaultsView.page(report));
            return report.bad().isEmpty() ? ExitCode.WELL : ExitCode.FAILED;
        }
    }

    private static Subject subject(Invocation call, Project project)
            throws UsageException, ProjectException {
        RunSettings settings = call.settings(project).withClockStopped();
        if (call.has("case")) {
            TestCase testCase = WatchedRun.found(call, project);
            return new CaseSubject(
                    testCase,
                    settings.cases(),
                    "cantina debug --case '" + testCase.name() + "'" + on(call));
        }
        if (call.arguments().isEmpty()) {
            throw new UsageException(
                    "faults takes a routine, or --case SELECTOR: cantina faults ROUTINE"
                            + " [NAME=VALUE…]");
        }
        String name = call.arguments().get(0);
        List<String> names = CallCommand.names(call);
        Optional<dev.cantina.syntax.ParsedFile> none = Optional.empty();
        return new RoutineSubject(
                name,
                names,
                workspace -> {
                    try {
                        return CallCommand.arguments(
                                call, workspace.routine(name, names), workspace);
                    } catch (UsageException e) {
                        throw new ProjectException(e.getMessage());
                    }
                },
                () -> settings.workspace(none, call.reached(none)),
                "cantina debug " + words(call.arguments()) + on(call),
                settings.limits(),
                settings.clock());
    }

    private static String words(List<String> words) {
        return words.stream()
                .map(w -> w.matches("[A-Za-z0-9_.=+-]+") ? w : "'" + w.replace("'", "'\\''") + "'")
                .collect(Collectors.joining(" "));
    }

    private static String on(Invocation call) {
        return call.value("on").map(o -> " --on " + o).orElse("")
                + call.value("fixture").map(f -> " --fixture " + f).orElse("");
    }
}
