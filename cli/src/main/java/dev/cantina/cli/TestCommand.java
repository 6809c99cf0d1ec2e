package dev.cantina.cli;

import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.testing.CaseFiles;
import dev.cantina.testing.CaseResult;
import dev.cantina.testing.CaseResult.Verdict;
import dev.cantina.testing.CaseRunner;
import dev.cantina.testing.Selector;
import dev.cantina.testing.TestCase;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.concurrent.atomic.AtomicBoolean;

/** {@code test [SELECTOR…]}. */
final class TestCommand implements Command {
    @Override
    public String name() {
        return "test";
    }

    @Override
    public String arguments() {
        return "[SELECTOR…]";
    }

    @Override
    public String summary() {
        return "run the cases";
    }

    @Override
    public String example() {
        return "cantina --project demo/winery test move_wine";
    }

    @Override
    public int run(Invocation call) throws UsageException, ProjectException {
        Project project = call.project();
        long start = System.nanoTime();
        Selector selector = new Selector(call.arguments());
        CaseFiles.Found found = CaseFiles.read(project);
        List<TestCase> cases = found.cases().stream().filter(selector::selects).toList();
        List<CaseResult> results =
                new ArrayList<>(
                        found.broken().stream()
                                .filter(r -> selector.selects(r.testCase()))
                                .toList());
        if (cases.isEmpty() && results.isEmpty()) {
            throw new UsageException(
                    found.cases().isEmpty()
                            ? "the project has no cases yet; they stand in cases/*.yaml"
                            : "no case fits "
                                    + String.join(" ", call.arguments())
                                    + "; a selector is a file, a routine, a tag or the name of a case");
        }
        AtomicBoolean interrupted = new AtomicBoolean();
        try (CaseRunner runner =
                new CaseRunner(
                        project, call.value("fixture"), call.limits(project), call.clock())) {
            call.interrupts()
                    .during(
                            () -> {
                                interrupted.set(true);
                                runner.interrupt();
                            });
            for (TestCase testCase : cases) {
                if (interrupted.get()) {
                    break;
                }
                results.add(runner.run(testCase));
            }
        }
        results.sort(
                Comparator.comparing((CaseResult r) -> r.testCase().file())
                        .thenComparingInt(r -> r.testCase().place().start()));
        double elapsed = (System.nanoTime() - start) / 1e6;
        if (call.json()) {
            call.screen().line(Json.text(TestView.json(results)));
        } else {
            new TestView(call.screen()).show(results, elapsed, call.quiet());
        }
        if (interrupted.get()) {
            call.screen()
                    .note("cantina: interrupted; the cases after the last one shown were not run");
            return ExitCode.INTERRUPTED;
        }
        boolean well =
                results.stream()
                        .allMatch(
                                r ->
                                        r.verdict() == Verdict.PASSED
                                                || r.verdict() == Verdict.SKIPPED);
        return well ? ExitCode.WELL : ExitCode.FAILED;
    }
}
