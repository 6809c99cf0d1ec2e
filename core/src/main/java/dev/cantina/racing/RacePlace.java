package dev.cantina.racing;

import dev.cantina.catalog.Column;
import dev.cantina.catalog.Table;
import dev.cantina.database.ProjectDatabase;
import dev.cantina.programs.ProgramConnection;
import dev.cantina.programs.ProgramDatabase;
import dev.cantina.programs.ProgramSettings;
import dev.cantina.project.Invariant;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Outcome;
import dev.cantina.syntax.Problem;
import dev.cantina.types.Condition;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;

/** Makes one order of steps after the other, each with the rows of the fixture. */
final class RacePlace {
    /** How long sessions may wait for each other, and nobody ends one of them. */
    private static final long PATIENCE_NANOS = 10_000_000_000L;

    /** What makes more steps can't be tried in many orders, and may never end. */
    private static final int MOST_STEPS = 1000;

    private final ProgramSettings settings;
    private final Level level;
    private final List<Invariant> invariants;

    /**
     * @param level at which all transactions run
     * @param invariants looked at before and after each order
     */
    RacePlace(ProgramSettings settings, Level level, List<Invariant> invariants) {
        this.settings = settings;
        this.invariants = invariants;
        this.level = level;
    }

    /**
     * Makes one.
     *
     * @param calls of the sessions, by their numbers
     * @param order the sessions of the first steps; then the one goes on that was last, as long as
     *     it can
     * @throws ProjectException where a call can't be made at all
     */
    RaceRun run(Map<Integer, RaceCall> calls, List<Integer> order)
            throws ProjectException, SQLException {
        try (ProgramDatabase database = ProgramDatabase.open(settings, false)) {
            Workspace workspace = database.workspace();
            Footprints footprints = new Footprints(workspace.program(), related(workspace));
            Map<String, List<String>> before = held(workspace);
            for (Invariant one : invariants) {
                if (!one.same() && !before.get(one.name()).isEmpty()) {
                    throw new ProjectException(
                            Problem.error(
                                    one.place(),
                                    "invariant",
                                    "'"
                                            + one.name()
                                            + "' does not hold before anything is called"));
                }
            }
            Object monitor = new Object();
            List<RaceSession> sessions = new ArrayList<>();
            List<RaceCall.Found> made = new ArrayList<>();
            try {
                for (Map.Entry<Integer, RaceCall> one : calls.entrySet()) {
                    RaceCall.Found found = one.getValue().finding().in(workspace);
                    made.add(found);
                    RaceSession session =
                            new RaceSession(
                                    one.getKey(),
                                    monitor,
                                    footprints,
                                    level.isSnapshot(workspace.database().connection()));
                    start(session, database, found);
                    sessions.add(session);
                }
                Course course = new Course(sessions, monitor, workspace.database());
                course.run(order);
                Set<String> numbers = new HashSet<>();
                Map<String, List<String>> rows = rows(workspace, numbers);
                return course.came(made, rows, numbers, broken(before, held(workspace)));
            } finally {
                close(sessions, monitor);
            }
        }
    }

    private void start(RaceSession session, ProgramDatabase database, RaceCall.Found call)
            throws SQLException {
        ProgramConnection connection = database.connect(Optional.of(() -> session));
        try {
            level.set(connection.database().connection());
            session.start(connection, call);
        } catch (SQLException | RuntimeException e) {
            connection.close();
            throw e;
        }
    }

    private static void close(List<RaceSession> sessions, Object monitor) throws SQLException {
        for (RaceSession session : sessions) {
            synchronized (monitor) {
                if (session.state() != RaceSession.State.ENDED) {
                    session.cancel();
                }
            }
        }
        for (RaceSession session : sessions) {
            try {
                session.thread().join(PATIENCE_NANOS / 1_000_000);
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            }
            session.connection().close();
        }
    }

    // ------------------------------------------------------------------ what is at the end

    /** The rows of all tables; what the database numbers by itself is other in each order. */
    private static Map<String, List<String>> rows(Workspace workspace, Set<String> numbers)
            throws SQLException {
        Connection connection = workspace.database().connection();
        connection.rollback();
        Map<String, Set<String>> given = given(workspace);
        Map<String, List<String>> all = new TreeMap<>();
        try (Statement statement = connection.createStatement()) {
            statement.setEscapeProcessing(false);
            for (Table table : workspace.catalog().tables()) {
                if (table.view()) {
                    continue;
                }
                List<String> rows = new ArrayList<>();
                try (ResultSet row =
                        statement.executeQuery(
                                "SELECT * FROM "
                                        + workspace
                                                .database()
                                                .written(table.name(), table.key()))) {
                    while (row.next()) {
                        rows.add(
                                text(
                                        table,
                                        row,
                                        given.getOrDefault(table.key(), Set.of()),
                                        numbers));
                    }
                }
                Collections.sort(rows);
                all.put(table.name(), rows);
            }
        }
        connection.rollback();
        return all;
    }

    /** What the queries of the invariants give. */
    private Map<String, List<String>> held(Workspace workspace)
            throws ProjectException, SQLException {
        Connection connection = workspace.database().connection();
        Map<String, List<String>> all = new HashMap<>();
        for (Invariant one : invariants) {
            List<String> rows = new ArrayList<>();
            try (Statement statement = connection.createStatement();
                    ResultSet row = statement.executeQuery(one.query())) {
                while (row.next()) {
                    StringBuilder text = new StringBuilder();
                    for (int i = 1; i <= row.getMetaData().getColumnCount(); i++) {
                        text.append(row.getString(i)).append(' ');
                    }
                    rows.add(text.toString().strip());
                }
            } catch (SQLException e) {
                throw new ProjectException(
                        Problem.error(
                                one.place(),
                                "invariant",
                                "the query of '"
                                        + one.name()
                                        + "' is refused: "
                                        + workspace.database().condition(e).message()));
            }
            Collections.sort(rows);
            all.put(one.name(), rows);
        }
        connection.rollback();
        return all;
    }

    private List<String> broken(Map<String, List<String>> before, Map<String, List<String>> after) {
        return invariants.stream()
                .filter(
                        i ->
                                i.same()
                                        ? !before.get(i.name()).equals(after.get(i.name()))
                                        : !after.get(i.name()).isEmpty())
                .map(Invariant::name)
                .toList();
    }

    /**
     * A row as a text.
     *
     * @param given the columns that hold numbers which the database gives
     * @param numbers takes these
     */
    private static String text(Table table, ResultSet row, Set<String> given, Set<String> numbers)
            throws SQLException {
        List<String> values = new ArrayList<>();
        for (int i = 0; i < table.columns().size(); i++) {
            Column column = table.columns().get(i);
            String value = row.getString(i + 1);
            if (given.contains(column.key())) {
                numbers.add(value);
            } else {
                values.add(column.name() + " " + value);
            }
        }
        return String.join(", ", values);
    }

    /** The columns of each table that the database numbers, and those that refer to such. */
    private static Map<String, Set<String>> given(Workspace workspace) throws SQLException {
        Map<String, Set<String>> given = new HashMap<>();
        for (Table table : workspace.catalog().tables()) {
            for (Column column : table.columns()) {
                if (column.identity()) {
                    given.computeIfAbsent(table.key(), k -> new HashSet<>()).add(column.key());
                }
            }
        }
        for (Table table : workspace.catalog().tables()) {
            for (ForeignKey key : keys(workspace, table)) {
                if (given.getOrDefault(key.table(), Set.of()).contains(key.column())) {
                    given.computeIfAbsent(table.key(), k -> new HashSet<>()).add(key.own());
                }
            }
        }
        return given;
    }

    /** The tables that foreign keys lead to and from. */
    private static Map<String, Set<String>> related(Workspace workspace) throws SQLException {
        Map<String, Set<String>> related = new HashMap<>();
        for (Table table : workspace.catalog().tables()) {
            for (ForeignKey key : keys(workspace, table)) {
                related.computeIfAbsent(table.key(), k -> new HashSet<>()).add(key.table());
                related.computeIfAbsent(key.table(), k -> new HashSet<>()).add(table.key());
            }
        }
        return related;
    }

    /** A column that refers to another, by their keys. */
    private record ForeignKey(String own, String table, String column) {}

    private static List<ForeignKey> keys(Workspace workspace, Table table) throws SQLException {
        Connection connection = workspace.database().connection();
        List<ForeignKey> found = new ArrayList<>();
        // Databases fold names in one way or the other.
        for (String name : new LinkedHashSet<>(List.of(table.name(), table.key()))) {
            try (ResultSet keys =
                    connection
                            .getMetaData()
                            .getImportedKeys(
                                    connection.getCatalog(), connection.getSchema(), name)) {
                while (keys.next()) {
                    found.add(
                            new ForeignKey(
                                    keys.getString("FKCOLUMN_NAME").toUpperCase(Locale.ROOT),
                                    keys.getString("PKTABLE_NAME").toUpperCase(Locale.ROOT),
                                    keys.getString("PKCOLUMN_NAME").toUpperCase(Locale.ROOT)));
                }
            }
        }
        return found;
    }

    // ------------------------------------------------------------------ one order

    /** One order of steps, as it is made. */
    private static final class Course {
        private final List<RaceSession> sessions;
        private final Object monitor;
        private final ProjectDatabase watching;
        private final List<RaceStep> steps = new ArrayList<>();
        private final List<List<Integer>> choices = new ArrayList<>();

        /** The last step of each session, by its place in the list. */
        private final Map<Integer, Integer> last = new HashMap<>();

        private final Set<Integer> blocked = new HashSet<>();
        private boolean deadlock;
        private boolean hanging;

        Course(List<RaceSession> sessions, Object monitor, ProjectDatabase watching) {
            this.sessions = sessions;
            this.monitor = monitor;
            this.watching = watching;
        }

        void run(List<Integer> order) throws ProjectException, SQLException {
            int current = 0;
            while (true) {
                settle();
                List<Integer> standing;
                synchronized (monitor) {
                    standing = RaceSession.standing(sessions);
                    if (standing.isEmpty()) {
                        break;
                    }
                    if (steps.size() >= MOST_STEPS) {
                        throw new ProjectException(
                                "the calls make more than "
                                        + MOST_STEPS
                                        + " steps that touch data, the last in "
                                        + steps.get(steps.size() - 1).routine()
                                        + ": too many to be put in other orders");
                    }
                    current = chosen(standing, order, current);
                    choices.add(first(standing, current));
                    last.put(current, steps.size());
                    RaceSession session = session(current);
                    steps.add(session.next());
                    session.grant();
                }
            }
            synchronized (monitor) {
                sessions.forEach(this::note);
            }
        }

        private int chosen(List<Integer> standing, List<Integer> order, int current) {
            int wanted = steps.size() < order.size() ? order.get(steps.size()) : current;
            return standing.contains(wanted) ? wanted : standing.get(0);
        }

        private static List<Integer> first(List<Integer> standing, int chosen) {
            List<Integer> all = new ArrayList<>(List.of(chosen));
            standing.stream().filter(s -> s != chosen).forEach(all::add);
            return all;
        }

        private RaceSession session(int number) {
            return sessions.stream().filter(s -> s.number() == number).findFirst().orElseThrow();
        }

        /** What the last step of a session came to. */
        private void note(RaceSession session) {
            Integer at = last.get(session.number());
            if (at != null) {
                steps.set(
                        at,
                        steps.get(at)
                                .done(
                                        session.rows(),
                                        steps.get(at).waited()
                                                || blocked.contains(session.number()),
                                        session.raised()));
            }
        }

        /** Waits until each session stands, has ended, or waits for a lock of another. */
        private void settle() throws SQLException {
            long since = System.nanoTime();
            int pause = watching.lockWaitPauseMillis();
            Map<Integer, Integer> seen = new HashMap<>();
            while (true) {
                List<RaceSession> running = new ArrayList<>();
                synchronized (monitor) {
                    for (RaceSession session : sessions) {
                        if (session.state() == RaceSession.State.RUNS) {
                            running.add(session);
                        } else {
                            note(session);
                            blocked.remove(session.number());
                        }
                    }
                    if (running.isEmpty()) {
                        return;
                    }
                    try {
                        monitor.wait(pause);
                    } catch (InterruptedException e) {
                        Thread.currentThread().interrupt();
                        return;
                    }
                }
                boolean allWait = true;
                for (RaceSession session : running) {
                    boolean waits =
                            session.state() == RaceSession.State.RUNS
                                    && watching.waitsForLock(
                                            session.connection().database(), session.thread());
                    int times = waits ? seen.merge(session.number(), 1, Integer::sum) : 0;
                    allWait &= times >= watching.lockWaitLooks();
                    if (!waits) {
                        seen.remove(session.number());
                    }
                }
                synchronized (monitor) {
                    boolean still =
                            running.stream().allMatch(s -> s.state() == RaceSession.State.RUNS);
                    if (allWait && still) {
                        running.forEach(s -> waits(s.number()));
                        boolean anyStands = !RaceSession.standing(sessions).isEmpty();
                        if (anyStands) {
                            return;
                        }
                        // All that are left wait for each other, or for somebody from outside.
                        deadlock |= running.size() > 1;
                    }
                    if (System.nanoTime() - since > PATIENCE_NANOS) {
                        if (hanging) {
                            throw new SQLException(
                                    "the sessions wait without end, and can't be ended", "57014");
                        }
                        hanging = true;
                        running.forEach(RaceSession::cancel);
                        since = System.nanoTime();
                    }
                }
            }
        }

        private void waits(int number) {
            blocked.add(number);
            Integer at = last.get(number);
            if (at != null) {
                RaceStep step = steps.get(at);
                steps.set(at, step.done(step.rows(), true, step.raised()));
            }
        }

        RaceRun came(
                List<RaceCall.Found> calls,
                Map<String, List<String>> rows,
                Set<String> numbers,
                List<String> broken)
                throws ProjectException, SQLException {
            List<Outcome> outcomes = new ArrayList<>();
            for (RaceSession session : sessions) {
                if (session.failure().isPresent()) {
                    throw failure(session.failure().get());
                }
                outcomes.add(session.outcome());
                boolean waited = steps.stream().anyMatch(RaceStep::waited);
                deadlock |=
                        waited
                                && session.outcome()
                                        .condition()
                                        .filter(RacePlace::isDeadlock)
                                        .isPresent();
            }
            return new RaceRun(
                    List.copyOf(steps),
                    List.copyOf(choices),
                    List.copyOf(calls),
                    List.copyOf(outcomes),
                    rows,
                    Set.copyOf(numbers),
                    broken,
                    deadlock,
                    hanging);
        }

        private static RuntimeException failure(Throwable failed)
                throws ProjectException, SQLException {
            if (failed instanceof SQLException sql) {
                throw sql;
            }
            if (failed instanceof RuntimeException unchecked) {
                throw unchecked;
            }
            throw new IllegalStateException(failed);
        }
    }

    /** Whether a session was ended since it and another waited for each other. */
    static boolean isDeadlock(Condition condition) {
        boolean says =
                condition.message() != null
                        && condition.message().toLowerCase(Locale.ROOT).contains("deadlock");
        return condition.sqlstate().equals("40P01")
                || condition.sqlstate().startsWith("40") && says;
    }
}
