package dev.cantina.cli;

import dev.cantina.agree.Agreement;
import dev.cantina.agree.Agreement.Compared;
import dev.cantina.agree.Agreement.Verdict;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.project.Trust;
import dev.cantina.testing.CaseFiles;
import dev.cantina.testing.CaseResult;
import dev.cantina.testing.MoreCases;
import dev.cantina.testing.Selector;
import dev.cantina.testing.TestCase;
import java.sql.SQLException;
import java.time.Clock;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.apache.commons.cli.Options;

/** {@code agree [DATABASE…]}. */
final class AgreeCommand implements Command {
    @Override
    public String name() {
        return "agree";
    }

    @Override
    public String arguments() {
        return "[DATABASE…]";
    }

    @Override
    public String summary() {
        return "show that servers do what Cantina does";
    }

    @Override
    public String example() {
        return "cantina --project demo/winery agree press-house --cases move_wine";
    }

    @Override
    public Options options() {
        Options options = new Options();
        Main.option(options, "cases", "SELECTOR", "only these cases; more than once");
        Main.option(
                options,
                "with",
                "DIR",
                "a project in a server's own language that has the same routines");
        Main.option(options, "more", "N", "N calls of each routine with other arguments, too");
        Main.option(options, "clock", "TIMESTAMP", "what the current time is, for all ways");
        return options;
    }

    private static int more(Invocation call) throws UsageException {
        String said = call.value("more").orElse("0");
        if (!said.matches("\\d{1,4}")) {
            throw new UsageException("--more is a whole number, not " + said);
        }
        return Integer.parseInt(said);
    }

    /** One moment for all ways. */
    private static Clock still(Invocation call) throws UsageException {
        Clock clock = call.clock();
        // A server's own tables may keep whole seconds.
        ChronoUnit unit = call.has("with") ? ChronoUnit.SECONDS : ChronoUnit.MILLIS;
        return Clock.fixed(clock.instant().truncatedTo(unit), clock.getZone());
    }

    @Override
    public Set<String> common() {
        return Set.of("project", "limit", "clock");
    }

    @Override
    public int run(Invocation call) throws UsageException, ProjectException, SQLException {
        Project project = call.project();
        if (project.own().isPresent()) {
            throw new UsageException(
                    "agree begins in a project of the standard language: cantina agree --with DIR"
                            + " there names this one");
        }
        List<String> databases = new ArrayList<>(call.arguments());
        Optional<Project> twin =
                call.has("with")
                        ? Optional.of(
                                ProjectReader.read(call.folder().resolve(call.value("with").get())))
                        : Optional.empty();
        if (databases.isEmpty() && twin.isEmpty()) {
            databases.addAll(project.databases().keySet());
            // Nobody has named them.
            Trust trust = Trust.here();
            for (Trust.Reach reach : trust.of(project)) {
                if (reach.kind().equals("database") && !trust.isTrusted(reach)) {
                    throw new UsageException(
                            "the database "
                                    + reach.name()
                                    + " of cantina.yaml is not trusted; name those that are"
                                    + " meant, or say cantina trust");
                }
            }
        }
        if (databases.isEmpty() && twin.isEmpty()) {
            throw new UsageException(
                    "there is no server to compare with; name one under databases: in cantina.yaml");
        }
        for (String database : databases) {
            project.address(database);
        }
        CaseFiles.Found found = CaseFiles.read(project);
        Selector selector = new Selector(call.values("cases"));
        List<TestCase> cases =
                found.cases().stream()
                        // Calls at the same time are compared with each other, on each database.
                        .filter(c -> c.atOnce().isEmpty())
                        .filter(selector::selects)
                        .filter(c -> c.skip().isEmpty())
                        .toList();
        List<CaseResult> broken =
                found.broken().stream().filter(r -> selector.selects(r.testCase())).toList();
        if (cases.isEmpty() && broken.isEmpty()) {
            throw new UsageException(
                    found.cases().isEmpty()
                            ? "the project has no cases yet; they stand in cases/*.yaml"
                            : "no case fits "
                                    + String.join(" ", call.values("cases"))
                                    + (found.cases().stream()
                                                    .filter(selector::selects)
                                                    .anyMatch(c -> c.atOnce().isPresent())
                                            ? "; those with at_once are not compared: test --on"
                                                    + " makes their calls on a server"
                                            : ""));
        }
        int more = more(call);
        if (more > 0) {
            cases = new ArrayList<>(cases);
            cases.addAll(MoreCases.of(found.cases(), more));
        }
        List<Compared> compared = new ArrayList<>();
        AgreeView view;
        Set<String> notCompared;
        try (Agreement agreement =
                new Agreement(project, databases, call.limits(project), still(call))) {
            if (twin.isPresent()) {
                agreement.with(twin.get());
            }
            view = new AgreeView(call, agreement.ways());
            for (CaseResult result : broken) {
                Compared one = agreement.broken(result.testCase(), result.problem().orElseThrow());
                compared.add(one);
                view.show(one);
            }
            for (TestCase testCase : cases) {
                Compared one = agreement.compare(testCase);
                compared.add(one);
                view.show(one);
            }
            notCompared = agreement.notCompared();
        }
        if (!notCompared.isEmpty() && !call.json() && !call.quiet()) {
            call.screen()
                    .line(
                            "\n  not compared, since only one of the two has it: "
                                    + String.join(", ", notCompared));
        }
        view.end(compared);
        boolean well =
                compared.stream()
                        .map(Compared::verdict)
                        .allMatch(v -> v == Verdict.AGREES || v == Verdict.ALONE);
        boolean some = compared.stream().anyMatch(c -> c.verdict() == Verdict.AGREES);
        return well && some ? ExitCode.WELL : ExitCode.FAILED;
    }
}
