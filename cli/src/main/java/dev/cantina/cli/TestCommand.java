package dev.cantina.cli;

import dev.cantina.observe.Coverage;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.report.Report;
import dev.cantina.testing.CaseFiles;
import dev.cantina.testing.CaseResult;
import dev.cantina.testing.CaseResult.Verdict;
import dev.cantina.testing.Fingerprints;
import dev.cantina.testing.Selector;
import dev.cantina.testing.Suite;
import dev.cantina.testing.SuiteMemory;
import dev.cantina.testing.TestCase;
import java.sql.SQLException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import org.apache.commons.cli.Option;
import org.apache.commons.cli.Options;

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
    public Options options() {
        Options options = new Options();
        Main.option(options, "list", null, "show the cases, and run none");
        Main.option(options, "failed", null, "only what did not pass last time");
        Main.option(options, "changed", null, "only what a change since it last passed can affect");
        Main.option(options, "shard", "I/N", "the I-th of N parts that take about the same time");
        Main.option(options, "first", null, "stop at the first case that does not pass");
        Main.option(options, "jobs", "N", "how many cases at a time (otherwise the cores)");
        options.addOption(
                Option.builder()
                        .longOpt("shuffle")
                        .hasArg()
                        .optionalArg(true)
                        .argName("SEED")
                        .desc("mix the order; the seed is shown, and repeats it")
                        .get());
        Main.option(options, "watch", null, "run again whenever a file of the project changes");
        Main.option(options, "coverage", null, "show what of each routine was reached");
        Main.option(
                options, "coverage-at-least", "PERCENT", "fail where fewer statements are reached");
        Main.option(
                options,
                "report",
                "KIND=FILE",
                "write a report: junit, tap, lcov or html; more than once");
        Main.option(
                options,
                "on",
                "DATABASE",
                "a server of cantina.yaml, in a schema that is gone afterwards");
        return options;
    }

    /** What one run came to. */
    private record Ran(List<CaseResult> results, Optional<Coverage> coverage, double millis) {}

    @Override
    public Set<String> common() {
        return OF_RUNS;
    }

    @Override
    public int run(Invocation call) throws UsageException, ProjectException, SQLException {
        Project project = call.project();
        Reports reports = Reports.of(call);
        double least = Reports.percent(call);
        if (call.has("list")) {
            return list(call, project);
        }
        if (call.has("watch")) {
            return new TestWatch(call, project).run(() -> once(call, project, reports, least));
        }
        if (call.settings(project).server().isPresent()) {
            // A server that can't be reached is one problem, and not one for each case.
            call.settings(project).opener().open(project, call.fixture(project)).close();
        }
        return once(call, project, reports, least);
    }

    private int list(Invocation call, Project project) throws UsageException, ProjectException {
        List<TestCase> cases = chosen(call, project, CaseFiles.read(project));
        if (call.json()) {
            call.screen()
                    .line(Json.text(Map.of("cases", cases.stream().map(this::listed).toList())));
            return ExitCode.WELL;
        }
        String file = "";
        for (TestCase testCase : cases) {
            if (!testCase.file().equals(file)) {
                file = testCase.file();
                call.screen().line(call.screen().tone(Screen.Tone.STRONG, file));
            }
            String tags =
                    testCase.tags().isEmpty()
                            ? ""
                            : "  [" + String.join(", ", testCase.tags()) + "]";
            call.screen()
                    .line("  " + testCase.name() + call.screen().tone(Screen.Tone.FAINT, tags));
        }
        return ExitCode.WELL;
    }

    private Map<String, Object> listed(TestCase testCase) {
        Map<String, Object> listed = new LinkedHashMap<>();
        listed.put("file", testCase.file());
        listed.put("line", testCase.place().line());
        listed.put("case", testCase.name());
        listed.put("routine", testCase.routine());
        listed.put("tags", testCase.tags());
        return listed;
    }

    /** The cases that the line asks for. */
    private static List<TestCase> chosen(Invocation call, Project project, CaseFiles.Found found)
            throws UsageException, ProjectException {
        Selector selector = new Selector(call.arguments());
        List<TestCase> cases = found.cases().stream().filter(selector::selects).toList();
        boolean anyBroken = found.broken().stream().anyMatch(r -> selector.selects(r.testCase()));
        if (cases.isEmpty() && !anyBroken) {
            throw new UsageException(
                    found.cases().isEmpty()
                            ? "the project has no cases yet; they stand in cases/*.yaml"
                            : "no case fits "
                                    + String.join(" ", call.arguments())
                                    + "; a selector is a file, a routine, a tag or the name of a case");
        }
        SuiteMemory memory = SuiteMemory.of(project);
        if (call.has("failed")) {
            cases = cases.stream().filter(memory::failed).toList();
        }
        if (call.has("changed")) {
            Map<String, String> now = new Fingerprints(project).of(cases);
            cases = cases.stream().filter(c -> !memory.isGreen(c, now.get(c.id()))).toList();
        }
        Optional<String> shard = call.value("shard");
        if (shard.isPresent()) {
            String[] parts = shard.get().split("/", 2);
            int part = parts.length == 2 ? number(parts[0]) : 0;
            int of = parts.length == 2 ? number(parts[1]) : 0;
            if (part < 1 || part > of) {
                throw new UsageException("--shard takes a part of a whole, as in --shard 2/5");
            }
            cases = memory.share(cases, part, of);
        }
        return cases;
    }

    private static int number(String text) {
        return text.matches("\\d{1,6}") ? Integer.parseInt(text) : 0;
    }

    private static Suite.Order order(Invocation call) throws UsageException {
        int jobs = Runtime.getRuntime().availableProcessors();
        if (call.value("jobs").isPresent()) {
            jobs = number(call.value("jobs").get());
            if (jobs < 1) {
                throw new UsageException("--jobs takes a number greater than 0");
            }
        }
        Optional<Long> seed = Optional.empty();
        if (call.has("shuffle")) {
            String said = call.value("shuffle").orElse("");
            if (!said.isEmpty() && !said.matches("-?\\d{1,18}")) {
                throw new UsageException("--shuffle takes a number, or none");
            }
            seed =
                    Optional.of(
                            said.isEmpty()
                                    ? (long) new Random().nextInt(1_000_000)
                                    : Long.parseLong(said));
            call.screen().note("cantina: shuffled; --shuffle " + seed.get() + " repeats the order");
        }
        return new Suite.Order(jobs, seed, call.has("first"));
    }

    private int once(Invocation call, Project project, Reports reports, double least)
            throws UsageException, ProjectException {
        Instant at = Instant.now();
        CaseFiles.Found found = CaseFiles.read(project);
        List<TestCase> cases = chosen(call, project, found);
        Selector selector = new Selector(call.arguments());
        List<CaseResult> broken =
                found.broken().stream().filter(r -> selector.selects(r.testCase())).toList();
        if (cases.isEmpty() && broken.isEmpty()) {
            call.screen().line(nothing(call));
            return ExitCode.WELL;
        }
        Optional<Coverage> coverage =
                reports.measures() || least >= 0 || call.has("coverage")
                        ? Optional.of(new Coverage())
                        : Optional.empty();
        Suite suite =
                new Suite(
                        project,
                        call.value("fixture"),
                        call.limits(project),
                        call.clock(),
                        () -> coverage.map(Coverage::probe),
                        call.settings(project).opener());
        call.interrupts().during(suite::interrupt);
        Ran ran = ran(call, project, suite, cases, broken, coverage);
        // A part leaves the times alone: the other parts are cut by the same ones.
        if (!call.has("shard") && call.settings(project).server().isEmpty()) {
            remember(project, ran.results());
        }
        show(call, ran);
        reports.write(
                new Report(project.name(), at, ran.millis(), ran.results(), ran.coverage()),
                project);
        if (suite.isInterrupted()) {
            call.screen()
                    .note("cantina: interrupted; the cases after the last one shown were not run");
            return ExitCode.INTERRUPTED;
        }
        if (least >= 0 && ran.coverage().orElseThrow().percent() < least) {
            call.screen()
                    .note(
                            String.format(
                                    java.util.Locale.ROOT,
                                    "cantina: %.1f %% of the statements were reached, and %.1f %% are asked for",
                                    ran.coverage().get().percent(),
                                    least));
            return ExitCode.FAILED;
        }
        boolean well =
                ran.results().stream()
                        .allMatch(
                                r ->
                                        r.verdict() == Verdict.PASSED
                                                || r.verdict() == Verdict.SKIPPED);
        return well ? ExitCode.WELL : ExitCode.FAILED;
    }

    private static String nothing(Invocation call) {
        if (call.has("failed")) {
            return "no case failed last time";
        }
        return call.has("changed")
                ? "nothing to run: no change since the cases last passed can affect one"
                : "no case to run";
    }

    private static Ran ran(
            Invocation call,
            Project project,
            Suite suite,
            List<TestCase> cases,
            List<CaseResult> broken,
            Optional<Coverage> coverage)
            throws UsageException, ProjectException {
        long start = System.nanoTime();
        List<CaseResult> results = new ArrayList<>(broken);
        Progress progress = new Progress(call, cases.size());
        results.addAll(suite.run(cases, order(call), progress::told));
        progress.finished();
        results.sort(
                Comparator.comparing((CaseResult r) -> r.testCase().file())
                        .thenComparingInt(r -> r.testCase().place().start())
                        .thenComparing(r -> r.testCase().name()));
        if (coverage.isPresent()) {
            Reports.expectAll(project, coverage.get());
        }
        return new Ran(results, coverage, (System.nanoTime() - start) / 1e6);
    }

    private static void remember(Project project, List<CaseResult> results)
            throws ProjectException {
        SuiteMemory memory = SuiteMemory.of(project);
        List<TestCase> passed =
                results.stream()
                        .filter(r -> r.verdict() == Verdict.PASSED)
                        .map(CaseResult::testCase)
                        .toList();
        memory.note(results, new Fingerprints(project).of(passed));
        memory.keep();
    }

    private static void show(Invocation call, Ran ran) {
        if (call.json()) {
            call.screen().line(Json.text(TestView.json(ran.results())));
            return;
        }
        if (call.has("coverage")) {
            ran.coverage().ifPresent(new CoverageView(call.screen())::show);
        }
        new TestView(call.screen(), call.value("on"))
                .show(ran.results(), ran.millis(), call.quiet());
    }
}
