package dev.cantina.agree;

import dev.cantina.project.Placement;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Limits;
import dev.cantina.runtime.Program;
import dev.cantina.runtime.RowEvent;
import dev.cantina.runtime.TableChanges;
import dev.cantina.syntax.Problem;
import dev.cantina.testing.CaseRunner;
import dev.cantina.testing.TestCase;
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
 * Runs cases in several ways and lays what was seen side by side: in Cantina on the embedded
 * database, in Cantina on each server, and on each server by itself, with what {@code ship} would
 * take there.
 */
public final class Agreement implements AutoCloseable {
    /** The way that all others are held against. */
    public static final String EMBEDDED = "embedded";

    /**
     * A case in all ways.
     *
     * @param seen by way; empty where it could not be run in that way
     * @param reasons why it could not, by way
     * @param differences by place, what each way says
     * @param problem why the case could not be run at all, where it is broken
     */
    public record Compared(
            TestCase testCase,
            Map<String, Optional<ObservedResult>> seen,
            Map<String, String> reasons,
            Map<String, Map<String, String>> differences,
            Optional<Problem> problem) {
        /** How a case came out. */
        public Verdict verdict() {
            if (problem.isPresent()) {
                return Verdict.BROKEN;
            }
            if (!differences.isEmpty()) {
                return Verdict.DIFFERS;
            }
            long ran = seen.values().stream().filter(Optional::isPresent).count();
            return ran < 2 ? Verdict.ALONE : Verdict.AGREES;
        }
    }

    /** How a case came out; alone is one that ran in one way, with nothing to compare it to. */
    public enum Verdict {
        AGREES,
        DIFFERS,
        ALONE,
        BROKEN
    }

    /** A case that is broken before it begins. */
    public Compared broken(TestCase testCase, Problem problem) {
        Map<String, Optional<ObservedResult>> nowhere = new LinkedHashMap<>();
        ways().forEach(way -> nowhere.put(way, Optional.empty()));
        return new Compared(testCase, nowhere, Map.of(), Map.of(), Optional.of(problem));
    }

    /** What is wrong with a case, however it is told. */
    private static Problem problem(TestCase testCase, ProjectException e) {
        return e.problems().isEmpty()
                ? Problem.error(testCase.place(), "case", e.getMessage())
                : e.problems().get(0);
    }

    private final Project project;
    private final List<String> databases;
    private final Limits limits;
    private final Clock clock;
    private final Map<String, CaseRunner> runners = new LinkedHashMap<>();
    private final Map<String, NativeServer> servers = new LinkedHashMap<>();
    private Optional<OwnTwin> twin = Optional.empty();
    private String twinName = "";

    /**
     * @param databases the servers, as {@code cantina.yaml} calls them
     */
    public Agreement(Project project, List<String> databases, Limits limits, Clock clock) {
        this.project = project;
        this.databases = List.copyOf(databases);
        this.limits = limits;
        this.clock = clock;
        runners.put(EMBEDDED, new CaseRunner(project, Optional.empty(), limits, clock));
        for (String database : databases) {
            runners.put(
                    database,
                    new CaseRunner(
                            project,
                            Optional.empty(),
                            limits,
                            clock,
                            (p, fixture) ->
                                    Workspace.scratch(
                                            p,
                                            database,
                                            fixture,
                                            Optional.empty(),
                                            Placement::place)));
        }
    }

    /**
     * One more way: a project in a server's own language, which has routines that are the same.
     *
     * @throws ProjectException where it is none
     */
    public Agreement with(Project own) throws ProjectException {
        if (own.own().isEmpty()) {
            throw new ProjectException(
                    own.name()
                            + " is in the standard language too; --with names a project in a"
                            + " server's own");
        }
        try (Workspace here = Workspace.open(project, Optional.empty())) {
            for (String routine : project.same().keySet()) {
                if (here.catalog().routinesCalled(routine).isEmpty()) {
                    throw new ProjectException(
                            "agree: of cantina.yaml names "
                                    + routine
                                    + ", and there is no such routine");
                }
            }
        }
        twin = Optional.of(new OwnTwin(project, own, limits, runners.get(EMBEDDED)));
        String name = own.name();
        twinName =
                name.equals(project.name()) || ways().contains(name)
                        ? name + " in " + own.own().get().dialect()
                        : name;
        return this;
    }

    /** Columns of changed tables that only one of two projects has, and that were not compared. */
    public Set<String> notCompared() {
        return twin.map(OwnTwin::notCompared).orElse(Set.of());
    }

    /** The ways by name, in the order of their columns. */
    public List<String> ways() {
        List<String> ways = new ArrayList<>(List.of(EMBEDDED));
        twin.ifPresent(t -> ways.add(twinName));
        for (String database : databases) {
            ways.add(database);
            ways.add(itself(database));
        }
        return ways;
    }

    private static String itself(String database) {
        return database + " itself";
    }

    /**
     * Runs a case in every way.
     *
     * @throws SQLException where a server can't be reached, or is gone
     */
    public Compared compare(TestCase testCase) throws SQLException {
        Map<String, String> reasons = new LinkedHashMap<>();
        Optional<Problem> here = Optional.empty();
        Map<String, Optional<ObservedResult>> ordered = new LinkedHashMap<>();
        for (String way : ways()) {
            ordered.put(way, Optional.empty());
        }
        for (Map.Entry<String, CaseRunner> way : runners.entrySet()) {
            try {
                ordered.put(way.getKey(), Optional.of(seen(way.getValue(), testCase)));
            } catch (ProjectException e) {
                if (way.getKey().equals(EMBEDDED)) {
                    here = Optional.of(problem(testCase, e));
                }
                reasons.put(way.getKey(), reason(e));
            }
        }
        if (twin.isPresent()) {
            try {
                Optional<String> cannot = twin.get().cannot(testCase);
                if (cannot.isPresent()) {
                    reasons.put(twinName, cannot.get());
                } else {
                    ObservedResult seen = twin.get().run(testCase);
                    ordered.get(EMBEDDED).ifPresent(seen::constraintsAs);
                    ordered.put(twinName, Optional.of(seen));
                }
            } catch (ProjectException e) {
                reasons.put(twinName, reason(e));
            } catch (Program.UnsoundException e) {
                reasons.put(twinName, reason(new ProjectException(e.problems())));
            }
        }
        for (String database : databases) {
            String way = itself(database);
            try {
                NativeServer server = server(database, testCase);
                Optional<String> cannot = server.cannot(testCase);
                if (cannot.isPresent()) {
                    reasons.put(way, cannot.get());
                } else {
                    ordered.put(way, Optional.of(server.run(testCase)));
                }
            } catch (ProjectException e) {
                reasons.put(way, reason(e));
            } catch (Program.UnsoundException e) {
                reasons.put(way, reason(new ProjectException(e.problems())));
            }
        }
        // What no way can run is broken; what only a server can run may agree there.
        boolean none = ordered.values().stream().noneMatch(Optional::isPresent);
        if (here.isPresent() && none) {
            return broken(testCase, here.get());
        }
        return new Compared(
                testCase, ordered, reasons, ObservedResult.differences(ordered), Optional.empty());
    }

    private static String reason(ProjectException e) {
        return e.problems().isEmpty() ? e.getMessage() : e.problems().get(0).message();
    }

    private static ObservedResult seen(CaseRunner runner, TestCase testCase)
            throws ProjectException, SQLException {
        ObservedResult seen = new ObservedResult();
        List<RowEvent> events = new ArrayList<>();
        List<CaseRunner.Called> calls;
        try {
            calls = runner.calls(testCase);
        } catch (Program.UnsoundException e) {
            throw new ProjectException(e.problems());
        } catch (ConditionException e) {
            throw new ProjectException(
                    Problem.error(testCase.place(), "case", e.condition().message()));
        }
        for (CaseRunner.Called called : calls) {
            seen.call(called.call().at(), called.routine(), Behaviour.of(called.outcome()));
            events.addAll(called.outcome().events());
        }
        seen.changes(TableChanges.of(events));
        return seen;
    }

    private NativeServer server(String database, TestCase testCase)
            throws ProjectException, SQLException {
        String fixture = testCase.fixture().orElse(project.fixture());
        String key = database + "\n" + fixture;
        NativeServer server = servers.get(key);
        if (server == null) {
            server = NativeServer.open(project, database, fixture, runners.get(EMBEDDED));
            servers.put(key, server);
        }
        return server;
    }

    @Override
    public void close() throws SQLException {
        twin.ifPresent(OwnTwin::close);
        runners.values().forEach(CaseRunner::close);
        for (NativeServer server : servers.values()) {
            server.close();
        }
    }
}
