package dev.cantina.testing;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.project.Arguments;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.project.YamlNode;
import dev.cantina.runtime.Limits;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.Probe;
import dev.cantina.runtime.Program;
import dev.cantina.runtime.Session;
import dev.cantina.runtime.StackEntry;
import dev.cantina.runtime.TableChanges;
import dev.cantina.syntax.Nearest;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import dev.cantina.types.Condition;
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
    private final Map<String, Workspace> workspaces = new LinkedHashMap<>();
    private volatile Session running;

    /**
     * @param fixture the fixture for all cases; empty for each case's own
     * @param clock for cases that say nothing of the time
     */
    public CaseRunner(Project project, Optional<String> fixture, Limits limits, Clock clock) {
        this.clock = clock;
        this.project = project;
        this.fixture = fixture;
        this.limits = limits;
    }

    /** A case made ready to run: its rows are in the database, its arguments known. */
    public record Ready(
            Workspace workspace, RoutineSymbol routine, List<Optional<Object>> arguments) {}

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
            workspace(testCase);
            long start = System.nanoTime();
            Ready ready = ready(testCase);
            try {
                Outcome outcome = outcome(ready, clock(testCase), probe);
                List<Difference> differences = compare(testCase, ready, outcome);
                CaseResult.Verdict verdict =
                        differences.isEmpty()
                                ? CaseResult.Verdict.PASSED
                                : CaseResult.Verdict.FAILED;
                double elapsed = (System.nanoTime() - start) / 1e6;
                return new CaseResult(
                        testCase,
                        verdict,
                        elapsed,
                        differences,
                        Optional.empty(),
                        Optional.of(outcome));
            } finally {
                restore(ready.workspace());
            }
        } catch (ProjectException e) {
            Problem problem =
                    e.problems().isEmpty()
                            ? Problem.error(testCase.place(), "case", e.getMessage())
                            : e.problems().get(0);
            return CaseFiles.broken(testCase, problem);
        } catch (Program.UnsoundException e) {
            return CaseFiles.broken(testCase, e.problems().get(0));
        } catch (SQLException e) {
            return CaseFiles.broken(
                    testCase, Problem.error(testCase.place(), "database", e.getMessage()));
        }
    }

    private Outcome outcome(Ready ready, Clock time, Optional<Probe> probe) throws SQLException {
        Session session =
                new Session(
                        ready.workspace().program(),
                        ready.workspace().database(),
                        limits,
                        time,
                        probe);
        running = session;
        try {
            return session.run(ready.routine(), ready.arguments());
        } finally {
            running = null;
            session.close();
        }
    }

    /** The workspace that a case runs in, opened if need be. */
    public Workspace workspace(TestCase testCase) throws ProjectException, SQLException {
        String name = fixture.or(testCase::fixture).orElse(project.fixture());
        Workspace workspace = workspaces.get(name);
        if (workspace == null) {
            workspace = Workspace.open(project, Optional.of(name));
            workspaces.put(name, workspace);
            workspace.database().keep();
        }
        return workspace;
    }

    /**
     * Prepares the database for a case; the caller rolls it back.
     *
     * @throws ProjectException where the case can't be run
     */
    public Ready ready(TestCase testCase) throws ProjectException, SQLException {
        Workspace workspace = workspace(testCase);
        RoutineSymbol routine;
        try {
            routine = workspace.routine(testCase.routine(), testCase.pass().keySet());
        } catch (ProjectException e) {
            throw new ProjectException(
                    Problem.error(testCase.place(), "unknown-routine", e.getMessage()));
        }
        for (YamlNode script : testCase.before()) {
            before(workspace, script, clock(testCase));
        }
        Map<String, Object> given = new LinkedHashMap<>();
        for (Map.Entry<String, YamlNode> entry : testCase.pass().entrySet()) {
            given.put(entry.getKey(), value(workspace, entry.getValue()));
        }
        try {
            return new Ready(workspace, routine, Arguments.match(routine, given));
        } catch (Arguments.MisfitException e) {
            throw new ProjectException(
                    Problem.error(testCase.place(), "wrong-arguments", e.getMessage()));
        }
    }

    /** Undoes all that a case did, identity values included. */
    public void restore(Workspace workspace) throws SQLException {
        workspace.database().restore();
        if (workspace.database().isAltered()) {
            workspaces.values().remove(workspace);
            workspace.close();
        }
    }

    private Clock clock(TestCase testCase) {
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
            for (Span span : Parser.statements(source)) {
                try {
                    session.change(span.text());
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

    private static List<Difference> compare(TestCase testCase, Ready ready, Outcome outcome)
            throws ProjectException {
        List<Difference> differences = new ArrayList<>();
        condition(testCase, outcome, differences);
        if (testCase.returns().isPresent() && outcome.kind() == Outcome.Kind.COMPLETED) {
            returns(testCase.returns().get(), ready.routine(), outcome, differences);
        }
        if (testCase.says().isPresent()) {
            says(testCase.says().get(), outcome, differences);
        }
        if (testCase.data().isPresent()) {
            new DataExpectation(ready.workspace().catalog(), differences)
                    .compare(testCase.data().get(), TableChanges.of(outcome.events()));
        }
        return differences;
    }

    private static void condition(TestCase testCase, Outcome outcome, List<Difference> differences)
            throws ProjectException {
        Optional<StackEntry> place = outcome.stack().stream().findFirst();
        if (testCase.raises().isEmpty()) {
            outcome.condition()
                    .ifPresent(
                            c ->
                                    differences.add(
                                            new Difference(
                                                    "raises",
                                                    new Difference.Words("nothing"),
                                                    new Difference.Words(
                                                            c.sqlstate() + " " + c.message()),
                                                    place)));
            return;
        }
        YamlNode raises = testCase.raises().get();
        boolean anything =
                raises instanceof YamlNode.Scalar scalar && "anything".equals(scalar.value());
        if (outcome.condition().isEmpty()) {
            differences.add(
                    Difference.of(
                            "raises",
                            new Difference.Words(anything ? "a condition" : words(raises)),
                            new Difference.Words("the routine completed")));
            return;
        }
        if (anything) {
            return;
        }
        Condition condition = outcome.condition().get();
        for (Map.Entry<String, YamlNode> item : raises.mapping("raises").fields().entrySet()) {
            Object actual =
                    switch (item.getKey()) {
                        case "sqlstate" -> condition.sqlstate();
                        case "message" -> condition.message();
                        default ->
                                condition
                                        .item(item.getKey().toUpperCase(java.util.Locale.ROOT))
                                        .orElse(null);
                    };
            Expectation expectation =
                    item.getKey().equals("sqlstate") && item.getValue() instanceof YamlNode.Scalar s
                            ? new Expectation.Equal(s.text())
                            : Expectation.of(item.getValue());
            if (!expectation.matches(actual)) {
                differences.add(
                        new Difference(
                                "raises." + item.getKey(), expectation.shown(), actual, place));
            }
        }
    }

    private static String words(YamlNode raises) throws ProjectException {
        List<String> parts = new ArrayList<>();
        for (Map.Entry<String, YamlNode> item : raises.mapping("raises").fields().entrySet()) {
            parts.add(
                    item.getKey()
                            + " "
                            + (item.getValue() instanceof YamlNode.Scalar s
                                    ? s.text()
                                    : Expectation.of(item.getValue()).shown()));
        }
        return String.join(", ", parts);
    }

    private static void returns(
            YamlNode returns, RoutineSymbol routine, Outcome outcome, List<Difference> differences)
            throws ProjectException {
        if (routine.isFunction()) {
            Expectation expectation = Expectation.of(returns);
            if (!expectation.matches(outcome.returned())) {
                differences.add(Difference.of("returns", expectation.shown(), outcome.returned()));
            }
            return;
        }
        YamlNode.Mapping values = returns.mapping("returns of a procedure");
        for (Map.Entry<String, YamlNode> entry : values.fields().entrySet()) {
            Optional<String> name =
                    outcome.out().keySet().stream()
                            .filter(k -> k.equalsIgnoreCase(entry.getKey()))
                            .findFirst();
            if (name.isEmpty()) {
                throw new ProjectException(
                        Problem.error(
                                values.keys().getOrDefault(entry.getKey(), entry.getValue().span()),
                                "unknown-name",
                                routine.name() + " has no OUT or INOUT parameter " + entry.getKey(),
                                Nearest.to(entry.getKey(), outcome.out().keySet())
                                        .map(n -> "did you mean " + n + "?")
                                        .orElse("it is " + routine.signature())));
            }
            Expectation expectation = Expectation.of(entry.getValue());
            Object actual = outcome.out().get(name.get());
            if (!expectation.matches(actual)) {
                differences.add(
                        Difference.of("returns." + name.get(), expectation.shown(), actual));
            }
        }
    }

    private static void says(YamlNode says, Outcome outcome, List<Difference> differences)
            throws ProjectException {
        List<YamlNode> wanted = says.sequence("says").items();
        List<String> actual = outcome.messages();
        for (int i = 0; i < Math.max(wanted.size(), actual.size()); i++) {
            String at = "says[" + i + "]";
            if (i >= wanted.size()) {
                differences.add(Difference.of(at, new Difference.Words("no line"), actual.get(i)));
            } else if (i >= actual.size()) {
                differences.add(
                        Difference.of(
                                at,
                                Expectation.of(wanted.get(i)).shown(),
                                new Difference.Words("no line")));
            } else if (!Expectation.of(wanted.get(i)).matches(actual.get(i))) {
                differences.add(
                        Difference.of(at, Expectation.of(wanted.get(i)).shown(), actual.get(i)));
            }
        }
    }

    @Override
    public void close() {
        workspaces.values().forEach(Workspace::close);
    }
}
