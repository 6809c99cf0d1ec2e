package dev.cantina.cli;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.debugging.Debugger;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.Session;
import dev.cantina.testing.CaseFiles;
import dev.cantina.testing.CaseResult;
import dev.cantina.testing.CaseRunner;
import dev.cantina.testing.Selector;
import dev.cantina.testing.TestCase;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import org.apache.commons.cli.Options;

/** {@code debug ROUTINE [NAME=VALUE…]} and {@code debug --case SELECTOR}. */
final class DebugCommand implements Command {
    @Override
    public String name() {
        return "debug";
    }

    @Override
    public String arguments() {
        return "ROUTINE [NAME=VALUE…]  or  --case SELECTOR";
    }

    @Override
    public String summary() {
        return "run a routine or a case, stopping where asked";
    }

    @Override
    public String example() {
        return "cantina --project demo/winery debug topping_loss vessel=B1 months=2";
    }

    @Override
    public Options options() {
        Options options = CallCommand.argumentOptions();
        Main.option(options, "case", "SELECTOR", "debug a case: its data, its arguments");
        return options;
    }

    @Override
    public int run(Invocation call) throws UsageException, ProjectException {
        Project project = call.project();
        try (Words words = Words.open(call.screen())) {
            return call.has("case")
                    ? testCase(call, project, words)
                    : routine(call, project, words);
        } catch (SQLException e) {
            call.screen().note("cantina: the database: " + e.getMessage());
            return ExitCode.DATABASE;
        }
    }

    private static int routine(Invocation call, Project project, Words words)
            throws UsageException, ProjectException, SQLException {
        if (call.arguments().isEmpty()) {
            throw new UsageException(
                    "debug takes a routine, or --case SELECTOR: cantina debug ROUTINE [NAME=VALUE…]");
        }
        try (Workspace workspace = Workspace.open(project, Optional.of(call.fixture(project)))) {
            RoutineSymbol routine =
                    workspace.routine(call.arguments().get(0), CallCommand.names(call));
            List<Optional<Object>> arguments = CallCommand.arguments(call, routine, workspace);
            DebugPrompt prompt = new DebugPrompt(call.screen(), words, workspace);
            Debugger debugger = new Debugger(workspace.program(), prompt, true);
            prompt.attach(debugger);
            Session session = call.session(workspace, Optional.of(debugger));
            try {
                Outcome outcome = session.run(routine, arguments);
                prompt.ended();
                if (!prompt.isQuit()) {
                    new OutcomeView(call.screen()).show(outcome, call.quiet());
                }
                return prompt.isQuit() ? ExitCode.WELL : CallCommand.exitCode(outcome);
            } finally {
                session.close();
            }
        }
    }

    private static int testCase(Invocation call, Project project, Words words)
            throws UsageException, ProjectException, SQLException {
        String wanted = call.value("case").orElseThrow();
        CaseFiles.Found found = CaseFiles.read(project);
        Selector selector = new Selector(List.of(wanted));
        List<TestCase> cases = found.cases().stream().filter(selector::selects).toList();
        if (cases.isEmpty()) {
            throw new UsageException(
                    "no case fits " + wanted + "; cantina test lists them by running them");
        }
        try (CaseRunner runner =
                new CaseRunner(
                        project, call.value("fixture"), call.limits(project), call.clock())) {
            TestCase testCase = cases.get(0);
            if (cases.size() > 1) {
                call.screen()
                        .note(cases.size() + " cases fit; this is the first: " + testCase.name());
            }
            Workspace workspace = runner.workspace(testCase);
            DebugPrompt prompt = new DebugPrompt(call.screen(), words, workspace);
            Debugger debugger = new Debugger(workspace.program(), prompt, true);
            prompt.attach(debugger);
            call.interrupts().during(runner::interrupt);
            CaseResult result = runner.run(testCase, Optional.of(debugger));
            prompt.ended();
            if (!prompt.isQuit()) {
                result.outcome()
                        .ifPresent(o -> new OutcomeView(call.screen()).show(o, call.quiet()));
                call.screen().line();
                new TestView(call.screen()).show(List.of(result), result.elapsedMillis(), false);
            }
            return prompt.isQuit() || result.verdict() == CaseResult.Verdict.PASSED
                    ? ExitCode.WELL
                    : ExitCode.FAILED;
        }
    }
}
