package dev.cantina.testing;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.programs.ProgramSettings;
import dev.cantina.project.Arguments;
import dev.cantina.project.Invariants;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.project.Workspace;
import dev.cantina.project.YamlNode;
import dev.cantina.runtime.Limits;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.Probe;
import dev.cantina.runtime.Program;
import dev.cantina.runtime.RowEvent;
import dev.cantina.runtime.Session;
import dev.cantina.runtime.TableChanges;
import dev.cantina.runtime.TransactionWords;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import dev.cantina.types.Condition;
import dev.cantina.types.ConditionException;
import java.sql.SQLException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Runs cases, each in one transaction that is rolled back, so that no case sees another. A
 * workspace is opened once for each fixture, and again where a case has changed the tables
 * themselves.
 */
public final class CaseRunner implements AutoCloseable {
    private final Project project;
    private final Optional<String> fixture;
    private final Limits limits;
    private final Clock clock;
    private final Opener opener;
    private final Map<String, Workspace> workspaces = new LinkedHashMap<>();
    private volatile Session running;

    /**
     * @param fixture the fixture for all cases; empty for each case's own
     * @param clock for cases that say nothing of the time
     */
    public CaseRunner(Project project, Optional<String> fixture, Limits limits, Clock clock) {
        this(project, fixture, limits, clock, (p, name) -> Workspace.open(p, Optional.of(name)));
    }

    /** Opens a project with a fixture, on whatever database. */
    @FunctionalInterface
    public interface Opener {
        Workspace open(Project project, String fixture) throws ProjectException, SQLException;

        /** The server of cantina.yaml that it opens; empty for the embedded database. */
        default Optional<String> server() {
            return Optional.empty();
        }
    }

    /** The same on a database that is opened in a way of its own. */
    public CaseRunner(
            Project project, Optional<String> fixture, Limits limits, Clock clock, Opener opener) {
        this.opener = opener;
        this.clock = clock;
        this.project = project;
        this.fixture = fixture;
        this.limits = limits;
    }

    /** Stops the case that runs; may be called from any thread. */
    public void interrupt() {
        Session session = running;
        if (session != null) {
            session.interrupt();
        }
    }

    /** Runs a case. Whatever is wrong with the case itself makes it broken, and throws nothing. */
    public CaseResult run(TestCase testCase) {
        return run(testCase, Optional.empty());
    }

    /** Runs a case under a probe; a debugger, for one. */
    public CaseResult run(TestCase testCase, Optional<Probe> probe) {
        if (testCase.skip().isPresent()) {
            return new CaseResult(
                    testCase,
                    CaseResult.Verdict.SKIPPED,
                    0,
                    List.of(),
                    Optional.empty(),
                    Optional.empty());
        }
        try {
            if (testCase.atOnce().isPresent()) {
                return atOnce(testCase, probe);
            }
            Workspace workspace = workspace(testCase);
            boolean watched = probe.isPresent() || testCase.standIns().isPresent();
            if (watched && workspace.program().expectWatching(probe.map(Probe::detail))) {
                workspace.database().keep();
            }
            if (testCase.clock().isPresent() && !workspace.database().hasClock()) {
                throw new ProjectException(
                        Problem.error(
                                testCase.place(),
                                "clock",
                                "the clock of this server can't be set for its own routines; pass"
                                        + " the moment to the routine, or leave clock out"));
            }
            long start = System.nanoTime();
            List<Difference> differences = new ArrayList<>();
            try {
                Outcome outcome = outcome(testCase, workspace, probe, differences);
                CaseResult.Verdict verdict =
                        differences.isEmpty()
                                ? CaseResult.Verdict.PASSED
                                : CaseResult.Verdict.FAILED;
                return new CaseResult(
                        testCase,
                        verdict,
                        (System.nanoTime() - start) / 1e6,
                        differences,
                        Optional.empty(),
                        Optional.of(outcome));
            } finally {
                restore(workspace);
            }
        } catch (ProjectException e) {
            Problem problem =
                    e.problems().isEmpty()
                            ? Problem.error(testCase.place(), "case", e.getMessage())
                            : e.problems().get(0);
            return CaseFiles.broken(testCase, problem);
        } catch (Program.UnsoundException e) {
            return CaseFiles.broken(testCase, e.problems().get(0));
        } catch (ConditionException e) {
            return CaseFiles.broken(
                    testCase, Problem.error(testCase.place(), "case", e.condition().message()));
        } catch (SQLException e) {
            return CaseFiles.broken(
                    testCase, Problem.error(testCase.place(), "database", e.getMessage()));
        }
    }

    /** Makes the calls of a case at the same time. */
    private CaseResult atOnce(TestCase testCase, Optional<Probe> probe)
            throws ProjectException, SQLException {
        if (probe.filter(p -> p.detail() != Probe.Detail.COUNTS).isPresent()) {
            throw together(testCase);
        }
        if (project.own().isPresent()) {
            throw new ProjectException(
                    Problem.error(
                            testCase.place(),
                            "at_once",
                            "at_once is for routines of the standard language: between the"
                                    + " statements of a server's own nothing can stand"));
        }
        long start = System.nanoTime();
        Limits own =
                testCase.limits().isPresent()
                        ? ProjectReader.limits(testCase.limits().get(), limits)
                        : limits;
        Clock time = clock(testCase);
        List<Difference> differences =
                AtOnceRun.run(
                        testCase,
                        new ProgramSettings(
                                project,
                                opener.server(),
                                fixture.or(testCase::fixture),
                                own,
                                Clock.fixed(time.instant(), time.getZone())),
                        this,
                        () -> System.nanoTime() - start > own.seconds() * 1e9);
        return new CaseResult(
                testCase,
                differences.isEmpty() ? CaseResult.Verdict.PASSED : CaseResult.Verdict.FAILED,
                (System.nanoTime() - start) / 1e6,
                differences,
                Optional.empty(),
                Optional.empty());
    }

    private static ProjectException together(TestCase testCase) {
        return new ProjectException(
                Problem.error(
                        testCase.place(),
                        "at_once",
                        "calls that are made at the same time are run by test and by race"));
    }

    /** Makes all calls of a case, and compares; gives what the last came to. */
    private Outcome outcome(
            TestCase testCase,
            Workspace workspace,
            Optional<Probe> probe,
            List<Difference> differences)
            throws ProjectException, SQLException {
        Clock time = clock(testCase);
        begin(testCase, workspace);
        Limits own =
                testCase.limits().isPresent()
                        ? ProjectReader.limits(testCase.limits().get(), limits)
                        : limits;
        Session session = new Session(workspace.program(), workspace.database(), own, time, probe);
        running = session;
        try {
            Optional<StandIns> standIns = Optional.empty();
            if (testCase.standIns().isPresent()) {
                standIns =
                        Optional.of(new StandIns(testCase.standIns().get(), workspace.catalog()));
                session.replace(standIns.get());
            }
            actAs(testCase, workspace, session);
            CaseComparison comparison = new CaseComparison(workspace, session, differences);
            Invariants invariants = Invariants.before(testCase.invariants(), session);
            List<RowEvent> all = new ArrayList<>();
            Outcome outcome = null;
            for (TestCase.Call call : testCase.calls()) {
                RoutineSymbol routine = routine(workspace, call);
                List<Optional<Object>> given = arguments(workspace, call, routine);
                outcome = session.run(routine, given);
                all.addAll(outcome.events());
                comparison.call(call, routine, given, outcome);
            }
            for (Invariants.Broken broken : invariants.after(session)) {
                differences.add(
                        Difference.of(
                                Invariants.AT + broken.invariant().name(),
                                broken.expected(),
                                broken.actual()));
            }
            if (testCase.data().isPresent()) {
                comparison.data(testCase.data().get(), "data", TableChanges.of(all));
            }
            if (testCase.ask().isPresent()) {
                comparison.ask(testCase.ask().get());
            }
            if (testCase.asked().isPresent()) {
                if (standIns.isEmpty()) {
                    throw testCase.asked()
                            .get()
                            .wrong("asked is for the routines of stand_in, and there is none");
                }
                standIns.get().compare(comparison.resolved(testCase.asked().get()), differences);
            }
            return outcome;
        } finally {
            running = null;
            session.close();
        }
    }

    /** A call of a case, and what it came to. */
    public record Called(TestCase.Call call, RoutineSymbol routine, Outcome outcome) {}

    /**
     * Makes all calls of a case, compares nothing, and takes back what they did.
     *
     * @throws ProjectException where the case can't be run
     */
    public List<Called> calls(TestCase testCase) throws ProjectException, SQLException {
        if (testCase.atOnce().isPresent()) {
            throw together(testCase);
        }
        Workspace workspace = workspace(testCase);
        List<Called> called = new ArrayList<>();
        Clock time = clock(testCase);
        try {
            begin(testCase, workspace);
            try (Session session =
                    new Session(
                            workspace.program(),
                            workspace.database(),
                            limits,
                            time,
                            Optional.empty())) {
                if (testCase.standIns().isPresent()) {
                    session.replace(new StandIns(testCase.standIns().get(), workspace.catalog()));
                }
                actAs(testCase, workspace, session);
                for (TestCase.Call call : testCase.calls()) {
                    RoutineSymbol routine = routine(workspace, call);
                    Outcome outcome = session.run(routine, arguments(workspace, call, routine));
                    outcome.events();
                    called.add(new Called(call, routine, outcome));
                }
            }
            return called;
        } finally {
            restore(workspace);
        }
    }

    /**
     * What the calls of a case came to, whatever is expected of them.
     *
     * @param outcome of the last that was made: none is behind one that ends in a condition
     */
    public record Told(Outcome outcome, List<RowEvent> events, List<Invariants.Broken> broken) {}

    /**
     * Makes the calls of a case under a probe, and takes back what they did.
     *
     * @throws ProjectException where it can't be run
     */
    public Told told(TestCase testCase, Probe probe) throws ProjectException, SQLException {
        if (testCase.atOnce().isPresent()) {
            throw together(testCase);
        }
        Workspace workspace = workspace(testCase);
        try {
            begin(testCase, workspace);
            try (Session session =
                    new Session(
                            workspace.program(),
                            workspace.database(),
                            limits,
                            clock(testCase),
                            Optional.of(probe))) {
                running = session;
                if (testCase.standIns().isPresent()) {
                    session.replace(new StandIns(testCase.standIns().get(), workspace.catalog()));
                }
                actAs(testCase, workspace, session);
                Invariants invariants = Invariants.before(testCase.invariants(), session);
                List<RowEvent> all = new ArrayList<>();
                Outcome outcome = null;
                for (TestCase.Call call : testCase.calls()) {
                    RoutineSymbol routine = routine(workspace, call);
                    outcome = session.run(routine, arguments(workspace, call, routine));
                    all.addAll(outcome.events());
                    if (outcome.kind() != Outcome.Kind.COMPLETED) {
                        break;
                    }
                }
                return new Told(outcome, all, invariants.after(session));
            } finally {
                running = null;
            }
        } finally {
            restore(workspace);
        }
    }

    private static void actAs(TestCase testCase, Workspace workspace, Session session)
            throws ProjectException, SQLException {
        if (testCase.as().isEmpty()) {
            return;
        }
        String role = testCase.as().get().text("as");
        Optional<String> trouble = workspace.database().cannotActAs(role);
        if (trouble.isPresent()) {
            throw new ProjectException(
                    Problem.error(testCase.as().get().span(), "as", trouble.get()));
        }
        session.actAs(role);
    }

    /** What a case wants done before its calls. */
    public void begin(TestCase testCase, Workspace workspace)
            throws ProjectException, SQLException {
        for (YamlNode script : testCase.before()) {
            before(workspace, script, clock(testCase));
        }
    }

    /** The routine that a call of a case means. */
    public static RoutineSymbol routine(Workspace workspace, TestCase.Call call)
            throws ProjectException {
        try {
            return workspace.routine(call.routine(), call.pass().keySet());
        } catch (ProjectException e) {
            throw new ProjectException(
                    Problem.error(call.place(), "unknown-routine", e.getMessage()));
        }
    }

    /** A call's arguments, as {@link Session#run} takes them. */
    public List<Optional<Object>> arguments(
            Workspace workspace, TestCase.Call call, RoutineSymbol routine)
            throws ProjectException {
        Map<String, Object> given = new LinkedHashMap<>();
        for (Map.Entry<String, YamlNode> entry : call.pass().entrySet()) {
            given.put(entry.getKey(), value(workspace, entry.getValue()));
        }
        try {
            return Arguments.match(routine, given);
        } catch (Arguments.MisfitException e) {
            throw new ProjectException(
                    Problem.error(call.place(), "wrong-arguments", e.getMessage()));
        }
    }

    private static final String CLOCKED = "clock ";

    /** The workspace that a case runs in, opened if need be. */
    public Workspace workspace(TestCase testCase) throws ProjectException, SQLException {
        String name = fixture.or(testCase::fixture).orElse(project.fixture());
        // Where no routine sees a time that is set unless it is made to, that is another place.
        boolean clocked = project.own().isPresent() && testCase.clock().isPresent();
        String key = clocked ? CLOCKED + name : name;
        Workspace workspace = workspaces.get(key);
        if (workspace == null) {
            workspace = opener.open(clocked ? project.withClock() : project, name);
            workspaces.put(key, workspace);
            workspace.database().keep();
        }
        return workspace;
    }

    /** Undoes all that a case did, identity values included. */
    public void restore(Workspace workspace) throws SQLException {
        workspace.database().restore();
        if (workspace.database().isAltered()) {
            workspaces.values().remove(workspace);
            workspace.close();
        }
    }

    /** What the current time is in a case. */
    public Clock clock(TestCase testCase) {
        return testCase.clock()
                .map(t -> Clock.fixed(t.atZone(clock.getZone()).toInstant(), clock.getZone()))
                .orElse(clock);
    }

    private void before(Workspace workspace, YamlNode script, Clock time)
            throws ProjectException, SQLException {
        String text = script.text("before");
        Session session =
                new Session(
                        workspace.program(), workspace.database(), limits, time, Optional.empty());
        try {
            Source source = new Source("before", text);
            for (Span span : statements(workspace, source, script)) {
                try {
                    session.questions().change(span.text());
                } catch (SQLException e) {
                    Condition condition = workspace.database().condition(e);
                    throw new ProjectException(
                            Problem.error(
                                    script.span(),
                                    "before",
                                    "'"
                                            + span.text().lines().findFirst().orElse("")
                                            + "' is refused: "
                                            + condition.message()));
                }
            }
        } finally {
            session.close();
        }
    }

    private static List<Span> statements(Workspace workspace, Source source, YamlNode script)
            throws ProjectException {
        try {
            return workspace.program().statements(source);
        } catch (SQLException e) {
            throw new ProjectException(Problem.error(script.span(), "before", e.getMessage()));
        }
    }

    private Object value(Workspace workspace, YamlNode node) throws ProjectException {
        if (node instanceof YamlNode.Scalar scalar) {
            return scalar.value();
        }
        if (node instanceof YamlNode.Sequence sequence) {
            List<Object> elements = new ArrayList<>();
            for (YamlNode item : sequence.items()) {
                elements.add(value(workspace, item));
            }
            return elements.toArray();
        }
        YamlNode ask =
                node.mapping("a value", Set.of("ask"))
                        .get("ask")
                        .orElseThrow(
                                () ->
                                        node.wrong(
                                                "a value is written as it is, or asked for: { ask: SELECT … }"));
        String sql = ask.text("ask");
        try {
            TransactionWords.check(workspace.program(), sql);
        } catch (SQLException e) {
            throw ask.wrong("this query is refused: " + e.getMessage());
        }
        try (var statement = workspace.database().connection().createStatement();
                var row = statement.executeQuery(sql)) {
            if (!row.next()) {
                throw ask.wrong("this query gives no row");
            }
            return workspace
                    .database()
                    .read(row, 1, workspace.database().typeOf(row.getMetaData(), 1));
        } catch (SQLException e) {
            throw ask.wrong(
                    "this query is refused: " + workspace.database().condition(e).message());
        }
    }

    @Override
    public void close() {
        workspaces.values().forEach(Workspace::close);
    }
}
