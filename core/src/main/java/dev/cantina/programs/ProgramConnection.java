package dev.cantina.programs;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.database.ProjectDatabase;
import dev.cantina.database.ServerDatabase;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.CallerSession;
import dev.cantina.runtime.Mark;
import dev.cantina.runtime.Outcome;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.SqlWords;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * A program's connection to a project: what it sends is done in transactions of this connection,
 * with the project's functions and triggers.
 */
public final class ProgramConnection implements AutoCloseable {
    private final Workspace workspace;
    private final ProjectDatabase database;
    private final CallerSession caller;
    private final Optional<ProgramWatcher.Watch> watch;
    private final ProgramDatabase.RunClock clock;

    ProgramConnection(
            Workspace workspace,
            ProjectDatabase database,
            CallerSession caller,
            Optional<ProgramWatcher.Watch> watch,
            ProgramDatabase.RunClock clock) {
        this.workspace = workspace;
        this.database = database;
        this.caller = caller;
        this.watch = watch;
        this.clock = clock;
    }

    public Workspace workspace() {
        return workspace;
    }

    public ProjectDatabase database() {
        return database;
    }

    /**
     * Whether somebody may watch what a server does for it. What is sent as a batch says nothing
     * before its end, so that its statements must be sent one by one.
     */
    public boolean isWatchedOnServer() {
        return watch.isPresent() && database instanceof ServerDatabase;
    }

    /** What begins and ends its transactions. */
    public CallerSession caller() {
        return caller;
    }

    /**
     * Calls a routine.
     *
     * @param arguments a value for each parameter, as a session takes them
     * @throws dev.cantina.runtime.Program.UnsoundException where it, or what it reaches, has errors
     */
    public Outcome call(RoutineSymbol routine, List<Optional<Object>> arguments)
            throws SQLException {
        return watched(() -> caller.call(routine, arguments));
    }

    /**
     * Has a statement of the program's own sent.
     *
     * @param statement one statement; its markers are question marks
     * @param on what is executed once by it; empty where nobody can hear what that sets off on a
     *     server
     * @throws dev.cantina.runtime.Program.UnsoundException where it sets off something with errors
     * @throws SQLException where no program may send it
     */
    public Outcome send(String statement, Optional<Statement> on, CallerSession.Sending sending)
            throws SQLException {
        admit(statement);
        return watched(() -> caller.send(statement, on, sending));
    }

    private static final int MOST_ADMITTED = 500;

    private final Set<String> admitted = new HashSet<>();

    /** What is sent often is looked at once. */
    private void admit(String statement) throws SQLException {
        if (admitted.contains(statement)) {
            return;
        }
        database.admit(statement);
        if (workspace.program().statements(new Source("statement", statement)).size() > 1) {
            throw new SQLException(
                    "several statements can't be sent as one; send them one by one", "0A000");
        }
        StringBuilder valued = new StringBuilder();
        int at = 0;
        for (SqlWords.Word word : SqlWords.of(statement).all()) {
            if (word.is("?")) {
                valued.append(statement, at, word.start()).append("NULL");
                at = word.end();
            }
        }
        workspace.program().admit(valued + statement.substring(at));
        if (admitted.size() == MOST_ADMITTED) {
            // Statements with their values in them are never sent again.
            admitted.clear();
        }
        admitted.add(statement);
    }

    /** What is run, once it is known how. */
    private interface Work {
        Outcome run() throws SQLException;
    }

    private Outcome watched(Work work) throws SQLException {
        return database.running(
                () -> watch.isEmpty() ? work.run() : watch.get().watch(new Repeated(work)));
    }

    /** A run that begins each time with the rows, the clock and the transaction of the first. */
    private final class Repeated implements ProgramWatcher.Run {
        private final Work work;
        private final Mark before;
        private final long commits;
        private final long rollbacks;
        private final boolean changed;

        Repeated(Work work) throws SQLException {
            this.work = work;
            this.before = caller.mark();
            this.commits = caller.commits();
            this.rollbacks = caller.rollbacks();
            this.changed = caller.hasChanges();
        }

        @Override
        public Outcome once() {
            clock.stop();
            try {
                return work.run();
            } catch (SQLException e) {
                throw new IllegalStateException(e.getMessage(), e);
            } finally {
                clock.go();
            }
        }

        /** A ROLLBACK of the routine's own takes back what the program did before, too. */
        @Override
        public boolean canGoBack() {
            return caller.commits() == commits && (caller.rollbacks() == rollbacks || !changed);
        }

        @Override
        public void undo() {
            try {
                if (caller.rollbacks() == rollbacks) {
                    caller.backTo(before);
                } else {
                    caller.rollback();
                }
            } catch (SQLException e) {
                throw new IllegalStateException(e.getMessage(), e);
            }
        }

        @Override
        public void interrupt() {
            caller.interrupt();
        }
    }

    /** Takes back what is not committed, and lets go of the database. */
    @Override
    public void close() throws SQLException {
        caller.close();
        database.close();
    }
}
