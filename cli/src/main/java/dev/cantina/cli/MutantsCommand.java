package dev.cantina.cli;

import dev.cantina.laboratory.MutantCases;
import dev.cantina.laboratory.MutantLab;
import dev.cantina.laboratory.MutantMemory;
import dev.cantina.laboratory.MutantReport;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.testing.CaseFiles;
import dev.cantina.testing.Fingerprints;
import dev.cantina.testing.TestCase;
import dev.cantina.workbench.RunSettings;
import java.nio.file.Path;
import java.sql.SQLException;
import java.time.Clock;
import java.time.LocalDateTime;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.atomic.AtomicBoolean;
import org.apache.commons.cli.Options;

/** {@code mutants [NAME…]}: small mistakes, and whether a case notices each. */
final class MutantsCommand implements Command {
    private static final double SECONDS = 60;

    @Override
    public String name() {
        return "mutants";
    }

    @Override
    public String arguments() {
        return "[NAME…]";
    }

    @Override
    public String summary() {
        return "plant small mistakes, one at a time, and see whether the cases notice";
    }

    @Override
    public String example() {
        return "cantina --project demo/winery mutants grade_for";
    }

    @Override
    public Options options() {
        Options options = new Options();
        Main.option(
                options,
                "changed",
                null,
                "leave out routines that, with their cases, are as they were last time");
        Main.option(options, "at-least", "PERCENT", "fail where fewer mistakes are noticed");
        Main.option(options, "within", "SECONDS", "plant no more after so long; 60 if not said");
        Main.option(options, "to", "FILE", "write calls that would notice as cases, a new file");
        options.addOption(null, "all", false, "show the mistakes that are noticed, too");
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
                    "mutants is for routines of the standard language: those of a server's own are"
                            + " not planted with mistakes");
        }
        double least = percent(call);
        double within = call.within(SECONDS);
        Optional<Path> file = call.value("to").map(call.folder()::resolve);
        if (file.isPresent()) {
            DraftCommand.free(file.get(), project.shown(file.get()), "");
        }
        CaseFiles.Found found = CaseFiles.read(project);
        List<TestCase> cases = found.cases().stream().filter(c -> c.atOnce().isEmpty()).toList();
        int left = found.cases().size() - cases.size();
        if (left > 0) {
            call.screen()
                    .note(
                            left
                                    + (left == 1
                                            ? " case with at_once is"
                                            : " cases with at_once are")
                                    + " left out: their calls are compared with each other");
        }
        if (cases.isEmpty()) {
            throw new UsageException(
                    "the project has no cases that could notice a mistake; they stand in"
                            + " cases/*.yaml, and cantina draft cases ROUTINE writes first ones");
        }
        AtomicBoolean calledOff = new AtomicBoolean();
        call.interrupts().during(() -> calledOff.set(true));
        RunSettings settings = call.settings(project);
        // A case file says the time in seconds.
        Clock clock =
                Clock.fixed(
                        settings.clock().instant().truncatedTo(ChronoUnit.SECONDS),
                        settings.clock().getZone());
        MutantMemory memory = MutantMemory.of(project);
        MutantReport report =
                new MutantLab(
                                project,
                                new MutantLab.Settings(
                                        settings.fixture(),
                                        settings.limits(),
                                        clock,
                                        within,
                                        true,
                                        Runtime.getRuntime().availableProcessors()),
                                calledOff::get)
                        .run(
                                cases,
                                call.arguments(),
                                new Fingerprints(project).of(cases),
                                memory,
                                call.has("changed"));
        memory.keep();
        MutantsView view = new MutantsView(call.screen(), report, call.has("all"));
        if (call.json()) {
            call.screen().line(Json.text(view.json()));
        } else {
            view.show();
        }
        LabPages.write(call, view::page);
        boolean hasDrafts = report.results().stream().anyMatch(r -> r.draft().isPresent());
        if (file.isPresent() && hasDrafts) {
            LabPages.cases(
                    call,
                    project,
                    file.get(),
                    MutantCases.of(
                            report, settings.fixture(), Optional.of(LocalDateTime.now(clock))));
        }
        boolean isGood =
                least >= 0
                        ? report.percent() >= least && report.untried() == 0
                        : report.noticed() == report.all();
        return isGood ? ExitCode.WELL : ExitCode.FAILED;
    }

    /** What {@code --at-least} says; -1 where it is not said. */
    private static double percent(Invocation call) throws UsageException {
        Optional<String> said = call.value("at-least");
        if (said.isEmpty()) {
            return -1;
        }
        try {
            double percent = Double.parseDouble(said.get().replaceFirst("%$", ""));
            if (percent >= 0 && percent <= 100) {
                return percent;
            }
        } catch (NumberFormatException e) {
            // Said below.
        }
        throw new UsageException("--at-least takes a number from 0 to 100: --at-least 90");
    }
}
