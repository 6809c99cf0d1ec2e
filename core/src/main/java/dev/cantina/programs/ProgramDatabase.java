package dev.cantina.programs;

import dev.cantina.database.ProjectDatabase;
import dev.cantina.database.ServerDatabase;
import dev.cantina.project.Placement;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.CallerSession;
import dev.cantina.runtime.Session;
import java.sql.SQLException;
import java.time.Clock;
import java.util.List;
import java.util.Optional;

/**
 * A project's tables, rows and routines, open for a program: any number of connections see the same
 * rows, each in transactions of its own. May be used by several threads; each connection by one at
 * a time.
 */
public final class ProgramDatabase implements AutoCloseable {
    private final ProgramSettings settings;
    private final Workspace workspace;

    /** What takes away what was made on a server. */
    private final Leaving leaving;

    private interface Leaving {
        void leave() throws SQLException;
    }

    private ProgramDatabase(ProgramSettings settings, Workspace workspace, Leaving leaving) {
        this.settings = settings;
        this.workspace = workspace;
        this.leaving = leaving;
    }

    /** What names of schemas for programs begin with. */
    private static final String PREFIX = "cantina_program_";

    /**
     * Makes tables, rows and routines ready: on a server in a schema of their own, which is gone
     * when this is closed.
     *
     * @param watched whether somebody may watch what its connections run
     * @throws ProjectException where tables or fixture can't be made
     * @throws SQLException where a server can't be reached, or refuses
     */
    public static ProgramDatabase open(ProgramSettings settings, boolean watched)
            throws ProjectException, SQLException {
        Project project = settings.project();
        if (project.own().isPresent()) {
            throw new ProjectException(
                    "a program can't open a project in "
                            + project.own().get().dialect()
                            + "'s own language: it speaks to such a server by its own driver");
        }
        if (settings.server().isEmpty()) {
            return new ProgramDatabase(
                    settings, Workspace.open(project, Optional.of(settings.rows())), () -> {});
        }
        String mark = Placement.mark().substring(1);
        Workspace workspace =
                Workspace.lasting(
                        project,
                        settings.server().get(),
                        settings.rows(),
                        PREFIX + mark,
                        settings.calls().isPresent()
                                ? Placement.forProgram("_" + mark, settings.calls().get())
                                : Placement.forProgram("_" + mark),
                        watched);
        ServerDatabase server = (ServerDatabase) workspace.database();
        return new ProgramDatabase(settings, workspace, () -> server.abandon(PREFIX, mark));
    }

    public Workspace workspace() {
        return workspace;
    }

    /**
     * One more connection.
     *
     * @param watcher watches what it runs; empty where nobody does
     */
    public ProgramConnection connect(Optional<ProgramWatcher> watcher) throws SQLException {
        ProjectDatabase database =
                workspace.database().beside(List.copyOf(workspace.catalog().tables()));
        try {
            RunClock clock = new RunClock(settings.clock());
            Optional<ProgramWatcher.Watch> watch = watcher.map(ProgramWatcher::connection);
            Session session =
                    new Session(
                            workspace.program(),
                            database,
                            settings.limits(),
                            clock,
                            watch.map(ProgramWatcher.Watch::probe));
            return new ProgramConnection(
                    workspace, database, new CallerSession(session), watch, clock);
        } catch (SQLException | RuntimeException e) {
            database.close();
            throw e;
        }
    }

    /** Closes it, with all rows; the connections must be closed before. */
    @Override
    public void close() {
        try {
            leaving.leave();
        } catch (SQLException e) {
            // The server is gone; what is left there the next program takes away.
            return;
        } finally {
            workspace.close();
        }
    }

    /** A clock that can be made to stand still while a run may be repeated. */
    static final class RunClock extends Clock {
        private final Clock real;
        private volatile Clock now;

        RunClock(Clock real) {
            this.real = real;
            this.now = real;
        }

        void stop() {
            now = Clock.fixed(real.instant(), real.getZone());
        }

        void go() {
            now = real;
        }

        @Override
        public java.time.ZoneId getZone() {
            return real.getZone();
        }

        @Override
        public Clock withZone(java.time.ZoneId zone) {
            return real.withZone(zone);
        }

        @Override
        public java.time.Instant instant() {
            return now.instant();
        }
    }
}
