package dev.cantina.cli;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.observe.Coverage;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.project.Workspace;
import dev.cantina.report.HtmlReport;
import dev.cantina.report.JUnitXml;
import dev.cantina.report.Lcov;
import dev.cantina.report.Report;
import dev.cantina.report.Tap;
import dev.cantina.runtime.Program;
import dev.cantina.syntax.Nearest;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** The reports that a run of the cases is to write, by {@code --report KIND=FILE}. */
final class Reports {
    private static final List<String> KINDS = List.of("junit", "tap", "lcov", "html");

    private final Map<String, Path> files = new LinkedHashMap<>();

    private Reports() {}

    static Reports of(Invocation call) throws UsageException {
        Reports reports = new Reports();
        for (String text : call.values("report")) {
            int sign = text.indexOf('=');
            String kind = sign < 0 ? text : text.substring(0, sign);
            if (!KINDS.contains(kind)) {
                throw new UsageException(
                        "--report takes KIND=FILE; "
                                + Nearest.to(kind, KINDS)
                                        .map(n -> "did you mean --report " + n + "=FILE?")
                                        .orElse("there are " + String.join(", ", KINDS)));
            }
            if (sign < 0 || sign == text.length() - 1) {
                throw new UsageException(
                        "--report " + kind + " needs a file: --report " + kind + "=FILE");
            }
            reports.files.put(kind, call.folder().resolve(text.substring(sign + 1)));
        }
        return reports;
    }

    /** The percentage that is asked for, or less than 0. */
    static double percent(Invocation call) throws UsageException {
        Optional<String> said = call.value("coverage-at-least");
        if (said.isEmpty()) {
            return -1;
        }
        if (!said.get().matches("\\d{1,3}(\\.\\d+)?") || Double.parseDouble(said.get()) > 100) {
            throw new UsageException("--coverage-at-least takes a percentage, as in 80");
        }
        return Double.parseDouble(said.get());
    }

    /** Whether one of the reports tells of coverage. */
    boolean measures() {
        return files.containsKey("lcov") || files.containsKey("html");
    }

    /** Makes every routine of a project known, so that those never reached are told of too. */
    static void expectAll(Project project, Coverage coverage) throws ProjectException {
        try (Workspace workspace = Workspace.open(project, Optional.empty())) {
            Program program = workspace.program();
            for (RoutineSymbol routine : workspace.catalog().routines()) {
                if (routine.tree().body().isPresent()) {
                    try {
                        coverage.expect(program.routine(routine).bound());
                    } catch (Program.UnsoundException e) {
                        // It can't run, and check says why.
                        continue;
                    }
                }
            }
            program.serverRoutines().forEach(coverage::expect);
            for (TriggerSymbol trigger : workspace.catalog().triggers()) {
                try {
                    coverage.expect(program.routine(trigger).bound());
                } catch (Program.UnsoundException e) {
                    continue;
                }
            }
        }
    }

    void write(Report report, Project project) throws ProjectException {
        for (Map.Entry<String, Path> entry : files.entrySet()) {
            String text =
                    switch (entry.getKey()) {
                        case "junit" -> JUnitXml.of(report);
                        case "tap" -> Tap.of(report);
                        case "lcov" ->
                                Lcov.of(
                                        report.coverage().orElseThrow(),
                                        project.root().toAbsolutePath().normalize());
                        default -> HtmlReport.of(report);
                    };
            try {
                if (entry.getValue().getParent() != null) {
                    Files.createDirectories(entry.getValue().getParent());
                }
                Files.writeString(entry.getValue(), text);
            } catch (IOException e) {
                throw new ProjectException(
                        "the report "
                                + entry.getValue()
                                + " can't be written: "
                                + ProjectReader.reason(e));
            }
        }
    }
}
