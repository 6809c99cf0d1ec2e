package dev.cantina.cli;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.drafting.ArgumentSearch;
import dev.cantina.laboratory.Explorer;
import dev.cantina.laboratory.FoundCases;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.testing.CaseFiles;
import dev.cantina.testing.CaseRunner;
import dev.cantina.workbench.RunSettings;
import java.nio.file.Path;
import java.sql.SQLException;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.apache.commons.cli.Options;

/** {@code explore ROUTINE}: arguments with which it does what it was not meant to. */
final class ExploreCommand implements Command {
    private static final int SECONDS = 20;

    @Override
    public String name() {
        return "explore";
    }

    @Override
    public String arguments() {
        return "ROUTINE";
    }

    @Override
    public String summary() {
        return "look for arguments with which a routine does what it was not meant to";
    }

    @Override
    public String example() {
        return "cantina --project demo/winery explore grade_for";
    }

    @Override
    public Options options() {
        Options options = CallCommand.serving(new Options());
        Main.option(options, "to", "FILE", "write what was found as cases into a new file");
        Main.option(options, "seconds", "N", "how long to try at most (otherwise 20)");
        LabPages.option(options);
        return options;
    }

    @Override
    public Set<String> common() {
        return OF_RUNS;
    }

    @Override
    public int run(Invocation call) throws UsageException, ProjectException, SQLException {
        if (call.arguments().size() != 1) {
            throw new UsageException(
                    "explore takes the name of a routine: cantina explore ROUTINE; its arguments"
                            + " are what it looks for");
        }
        Project project = call.project();
        int seconds = DraftCommand.seconds(call);
        Optional<Path> file = call.value("to").map(call.folder()::resolve);
        if (file.isPresent()) {
            DraftCommand.free(file.get(), project.shown(file.get()), "");
        }
        RunSettings settings = call.settings(project).withClockStopped();
        boolean isOwn = project.own().isPresent();
        RunSettings here =
                isOwn
                        ? settings
                        : new RunSettings(
                                project,
                                Optional.of("embedded"),
                                settings.fixture(),
                                settings.limits(),
                                settings.clock());
        boolean isElsewhere = !isOwn && settings.server().isPresent();
        try (CaseRunner runner = here.cases();
                CaseRunner second = here.cases();
                CaseRunner elsewhere = settings.cases();
                Workspace workspace =
                        here.workspace(Optional.empty(), call.reached(Optional.empty()))) {
            RoutineSymbol routine = workspace.routine(call.arguments().get(0), List.of());
            Optional<LocalDateTime> clock =
                    workspace.database().hasClock() ? Optional.of(moment(call)) : Optional.empty();
            ArgumentSearch search =
                    new ArgumentSearch(
                            runner,
                            workspace,
                            routine,
                            clock,
                            call.value("fixture"),
                            CaseFiles.invariants(project, List.of(routine.name())),
                            true,
                            seconds);
            call.interrupts()
                    .during(
                            () -> {
                                search.stop();
                                runner.interrupt();
                            });
            Explorer.Report report =
                    new Explorer(
                                    routine,
                                    search,
                                    second,
                                    isElsewhere ? Optional.of(elsewhere) : Optional.empty(),
                                    clock)
                            .explore();
            ExploreView view = new ExploreView(call, report, settings.server());
            if (call.json()) {
                call.screen().line(Json.text(view.json()));
            } else {
                view.show();
            }
            LabPages.write(call, view::page);
            if (file.isPresent() && !report.findings().isEmpty()) {
                LabPages.cases(
                        call,
                        project,
                        file.get(),
                        FoundCases.of(report, call.value("fixture"), clock));
            }
            return report.findings().isEmpty() ? ExitCode.WELL : ExitCode.FAILED;
        }
    }

    private static LocalDateTime moment(Invocation call) throws UsageException {
        return call.value("clock").isPresent()
                ? LocalDateTime.now(call.clock()).truncatedTo(ChronoUnit.SECONDS)
                : LocalDate.now().atTime(9, 0);
    }
}
