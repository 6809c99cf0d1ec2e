package dev.cantina.workbench;

import dev.cantina.database.ProjectDatabase;
import dev.cantina.project.Placement;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.CallerSession;
import dev.cantina.runtime.Session;
import java.sql.SQLException;
import java.time.Clock;
import java.util.Optional;

/**
 * A project's tables, rows and routines, open for a program: any number of connections see the same
 * rows, each in transactions of its own. May be used by several threads; each connection by one at
 * a time.
 */
public final class ProgramDatabase implements AutoCloseable {
    private final RunSettings settings;
    private final Workspace workspace;

    private ProgramDatabase(RunSettings settings, Workspace workspace) {
        this.settings = settings;
        this.workspace = workspace;
    }

    /**
     * Makes tables, rows and routines ready.
     *
     * @throws ProjectException where tables or fixture can't be made
     * @throws SQLException where a server can't be reached, or refuses
     */
    public static ProgramDatabase open(RunSettings settings) throws ProjectException, SQLException {
        return new ProgramDatabase(
                settings, settings.workspace(Optional.empty(), Placement::place));
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
        ProjectDatabase database = workspace.database().beside();
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

    @Override
    public void close() {
        workspace.close();
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
