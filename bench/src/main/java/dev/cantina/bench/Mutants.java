package dev.cantina.bench;

import dev.cantina.laboratory.MutantLab;
import dev.cantina.laboratory.MutantMemory;
import dev.cantina.laboratory.MutantReport;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectReader;
import dev.cantina.testing.CaseFiles;
import dev.cantina.testing.Fingerprints;
import dev.cantina.testing.TestCase;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneId;
import java.util.List;
import java.util.Optional;

/** How many planted mistakes a second are tried, in a cold process and in a warm one. */
public final class Mutants {
    private static final int ROUNDS = 5;

    private Mutants() {}

    /** The first argument is a project's folder. */
    public static void main(String[] arguments) throws Exception {
        Project project = ProjectReader.read(Path.of(arguments[0]));
        System.out.println("round  calls looked for  mistakes   runs  seconds  mistakes a second");
        for (int round = 1; round <= ROUNDS; round++) {
            for (boolean drafts : new boolean[] {false, true}) {
                long start = System.nanoTime();
                MutantReport report = tried(project, drafts);
                double seconds = (System.nanoTime() - start) / 1e9;
                System.out.printf(
                        "%5d  %-16s  %8d  %5d  %7.2f  %17.0f%n",
                        round,
                        drafts ? "yes" : "no",
                        report.results().size(),
                        report.runs(),
                        seconds,
                        report.results().size() / seconds);
            }
        }
        System.exit(0);
    }

    private static MutantReport tried(Project project, boolean drafts) throws Exception {
        List<TestCase> cases = CaseFiles.read(project).cases();
        Clock clock = Clock.fixed(Instant.parse("2031-10-04T09:00:00Z"), ZoneId.of("UTC"));
        MutantLab.Settings settings =
                new MutantLab.Settings(
                        Optional.empty(),
                        project.limits(),
                        clock,
                        600,
                        drafts,
                        Runtime.getRuntime().availableProcessors());
        return new MutantLab(project, settings, () -> false)
                .run(
                        cases,
                        List.of(),
                        new Fingerprints(project).of(cases),
                        MutantMemory.of(project),
                        false);
    }
}
