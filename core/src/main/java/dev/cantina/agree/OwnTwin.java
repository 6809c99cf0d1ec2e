package dev.cantina.agree;

import dev.cantina.catalog.Column;
import dev.cantina.catalog.ParameterSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.Table;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Limits;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.Program;
import dev.cantina.runtime.RowEvent;
import dev.cantina.runtime.Session;
import dev.cantina.runtime.TableChanges;
import dev.cantina.testing.CaseRunner;
import dev.cantina.testing.TestCase;
import java.sql.SQLException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;

/**
 * A project in a server's own language that has the same routines: it runs the cases of the other,
 * on the same rows. Parameters are matched by their names where both have the same, and else by
 * their order.
 */
final class OwnTwin implements AutoCloseable {
    private final Project standard;
    private final Project own;
    private final Limits limits;
    private final CaseRunner cases;
    private final Map<String, Workspace> workspaces = new HashMap<>();
    private final Set<String> notCompared = new TreeSet<>();

    /**
     * @param standard the project whose cases are run
     * @param own the one that runs them
     * @param cases reads the cases' arguments
     */
    OwnTwin(Project standard, Project own, Limits limits, CaseRunner cases) {
        this.standard = standard;
        this.own = own;
        this.limits = limits;
        this.cases = cases;
    }

    /** Why a case can't be run this way; empty where it can. */
    Optional<String> cannot(TestCase testCase) throws ProjectException {
        if (testCase.standIns().isPresent()) {
            return Optional.of("stand-ins name routines of one project");
        }
        if (!testCase.before().isEmpty()) {
            return Optional.of("what is done before is in the standard language");
        }
        Workspace workspace = workspace(testCase, true);
        if (testCase.clock().isPresent() && !workspace.database().hasClock()) {
            return Optional.of("its clock can't be set");
        }
        for (TestCase.Call call : testCase.calls()) {
            if (!standard.same().isEmpty() && called(call).isEmpty()) {
                return Optional.of("agree: of cantina.yaml does not name " + call.routine());
            }
        }
        return Optional.empty();
    }

    /** What a routine is called there; empty where nobody has said it. */
    private Optional<String> called(TestCase.Call call) {
        return standard.same().entrySet().stream()
                .filter(e -> e.getKey().equalsIgnoreCase(call.routine()))
                .map(Map.Entry::getValue)
                .findFirst();
    }

    /**
     * Where a case runs.
     *
     * @param clocked whether its routines see the time that the other's see
     */
    private Workspace workspace(TestCase testCase, boolean clocked) throws ProjectException {
        String fixture = testCase.fixture().orElse(standard.fixture());
        String key = clocked + " " + fixture;
        Workspace workspace = workspaces.get(key);
        if (workspace == null) {
            workspace = Workspace.open(clocked ? own.withClock() : own, standard, fixture);
            try {
                workspace.database().keep();
            } catch (SQLException e) {
                workspace.close();
                throw new ProjectException(own.name() + ": " + e.getMessage());
            }
            workspaces.put(key, workspace);
        }
        return workspace;
    }

    /**
     * Runs a case, and takes back what it did. It sees the time that the other sees, unless
     * something there asks the server for it, and the case does not say what time it is.
     */
    ObservedResult run(TestCase testCase) throws ProjectException, SQLException {
        try {
            return run(testCase, workspace(testCase, true));
        } catch (Program.UnsoundException e) {
            if (testCase.clock().isPresent()) {
                throw e;
            }
            return run(testCase, workspace(testCase, false));
        }
    }

    private ObservedResult run(TestCase testCase, Workspace there)
            throws ProjectException, SQLException {
        Workspace here = cases.workspace(testCase);
        Clock clock = cases.clock(testCase);
        ObservedResult seen = new ObservedResult();
        List<RowEvent> events = new ArrayList<>();
        try (Session session =
                new Session(there.program(), there.database(), limits, clock, Optional.empty())) {
            for (TestCase.Call call : testCase.calls()) {
                RoutineSymbol routine = CaseRunner.routine(here, call);
                RoutineSymbol twin = twin(there, call, routine);
                List<Optional<Object>> given = cases.arguments(here, call, routine);
                Outcome outcome =
                        session.run(twin, places(twin, routine).stream().map(given::get).toList());
                events.addAll(outcome.events());
                seen.call(call.at(), routine, named(Behaviour.of(outcome), twin, routine));
            }
            seen.changes(TableChanges.of(events.stream().map(e -> shared(e, here)).toList()));
        } finally {
            there.database().restore();
            if (there.database().isAltered()) {
                workspaces.values().remove(there);
                there.close();
            }
        }
        return seen;
    }

    /** A change by the columns of the other project's table; one that only one has is none. */
    private RowEvent shared(RowEvent event, Workspace here) {
        Optional<Table> table = here.catalog().table(event.table().key());
        if (table.isEmpty()) {
            return event;
        }
        List<Integer> positions = new ArrayList<>();
        Set<String> there = new TreeSet<>(String.CASE_INSENSITIVE_ORDER);
        event.table().columns().forEach(c -> there.add(c.name()));
        for (Column column : table.get().columns()) {
            positions.add(event.table().positionCalled(column.name()));
            if (!there.remove(column.name())) {
                notCompared.add(table.get().name() + "." + column.name());
            }
        }
        there.forEach(name -> notCompared.add(event.table().name() + "." + name));
        return new RowEvent(
                table.get(),
                at(event.before(), positions),
                at(event.after(), positions),
                event.writer());
    }

    private static Object[] at(Object[] row, List<Integer> positions) {
        return row == null ? null : positions.stream().map(i -> i < 0 ? null : row[i]).toArray();
    }

    /** Columns of changed tables that only one of the two projects has. */
    Set<String> notCompared() {
        return notCompared;
    }

    /** The routine of its name there that takes as many parameters. */
    private RoutineSymbol twin(Workspace there, TestCase.Call call, RoutineSymbol routine)
            throws ProjectException {
        String name = called(call).orElse(call.routine());
        List<RoutineSymbol> fitting =
                there.catalog().routines().stream()
                        .filter(r -> r.name().equalsIgnoreCase(name))
                        .filter(r -> r.parameters().size() == routine.parameters().size())
                        .toList();
        if (fitting.size() != 1) {
            throw new ProjectException(
                    own.name()
                            + " has "
                            + (fitting.isEmpty() ? "no routine " : "more than one routine ")
                            + name
                            + " with "
                            + routine.parameters().size()
                            + " parameters");
        }
        return fitting.get(0);
    }

    /** What came out, by the names of the other project's parameters. */
    private static Behaviour named(Behaviour seen, RoutineSymbol twin, RoutineSymbol routine) {
        Map<String, String> names = new HashMap<>();
        List<Integer> places = places(twin, routine);
        for (int i = 0; i < places.size(); i++) {
            names.put(
                    key(twin.parameters().get(i)),
                    routine.parameters().get(places.get(i)).name().text());
        }
        Map<String, Object> out = new LinkedHashMap<>();
        seen.out()
                .forEach(
                        (name, value) ->
                                out.put(
                                        names.getOrDefault(name.toLowerCase(Locale.ROOT), name),
                                        value));
        return new Behaviour(out, seen.returned(), seen.results(), seen.says(), seen.condition());
    }

    /**
     * Which parameter of a routine each of its twin's is: that of its name where both have the same
     * names, which may stand in another order there, and else that at its place.
     */
    private static List<Integer> places(RoutineSymbol twin, RoutineSymbol routine) {
        List<String> names = routine.parameters().stream().map(OwnTwin::key).toList();
        List<String> there = twin.parameters().stream().map(OwnTwin::key).toList();
        boolean same = Set.copyOf(names).equals(Set.copyOf(there));
        List<Integer> places = new ArrayList<>();
        for (int i = 0; i < there.size(); i++) {
            places.add(same ? names.indexOf(there.get(i)) : i);
        }
        return places;
    }

    private static String key(ParameterSymbol parameter) {
        return parameter.name().text().toLowerCase(Locale.ROOT);
    }

    @Override
    public void close() {
        workspaces.values().forEach(Workspace::close);
    }
}
