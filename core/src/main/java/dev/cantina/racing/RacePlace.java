package dev.cantina.racing;

import dev.cantina.programs.ProgramConnection;
import dev.cantina.programs.ProgramDatabase;
import dev.cantina.programs.ProgramSettings;
import dev.cantina.project.Invariant;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Makes one order of steps after the other, each with the rows of the fixture. */
final class RacePlace {
    private final ProgramSettings settings;
    private final IsolationLevel level;
    private final List<Invariant> invariants;

    /**
     * @param level at which all transactions run
     * @param invariants looked at before and after each order
     */
    RacePlace(ProgramSettings settings, IsolationLevel level, List<Invariant> invariants) {
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
            RaceRows rows = new RaceRows(workspace, settings, invariants);
            Footprints footprints = new Footprints(workspace.program(), rows.related());
            Object monitor = new Object();
            List<RaceSession> sessions = new ArrayList<>();
            List<RaceCall.Found> made = new ArrayList<>();
            try {
                for (Map.Entry<Integer, RaceCall> one : calls.entrySet()) {
                    RaceCall.Found found = one.getValue().finding().in(workspace);
                    footprints.checkSeen(found.routine());
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
                RaceCourse course = new RaceCourse(sessions, monitor, workspace.database());
                course.run(order);
                return course.came(made, rows.end());
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
                session.thread().join(RaceCourse.PATIENCE_NANOS / 1_000_000);
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            }
            session.connection().close();
        }
    }
}
