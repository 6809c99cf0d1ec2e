package dev.cantina.debugging;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import java.sql.SQLException;
import java.util.Optional;

/**
 * What a debugger needs in order to go back: a run that is the same each time, because it begins
 * with the same rows, the same clock and the same random numbers.
 *
 * <p>The work is done by {@link #run} once, and again for as long as the debugger wants it.
 */
public final class DebugRun {
    private static final int SEED = 1;

    /** Gives the workspace in which the next run is made: the same as the last, or a new one. */
    public interface Place {
        Workspace workspace() throws ProjectException, SQLException;
    }

    /** The code of a script in a workspace; empty where a routine is run. */
    public interface Script {
        Optional<BoundRoutine> in(Workspace workspace) throws ProjectException;
    }

    /** Makes one run, with the debugger as its probe, and leaves the data to be taken back. */
    public interface Work<T> {
        T run(Workspace workspace, Optional<BoundRoutine> script)
                throws ProjectException, SQLException;
    }

    /** Takes back all that a run did. */
    public interface Undo {
        void undo(Workspace workspace) throws SQLException;
    }

    private final Place place;
    private final Script script;
    private final Undo undo;

    public DebugRun(Place place, Script script, Undo undo) {
        this.place = place;
        this.script = script;
        this.undo = undo;
    }

    /**
     * Makes the run, and again as often as the debugger goes back.
     *
     * @return what the last run came to
     */
    public <T> T run(Debugger debugger, Work<T> work) throws ProjectException, SQLException {
        while (true) {
            Workspace workspace = place.workspace();
            workspace.database().seed(SEED);
            Optional<BoundRoutine> code = script.in(workspace);
            debugger.begin(workspace.program(), code);
            T result = work.run(workspace, code);
            if (!debugger.isAgain()) {
                return result;
            }
            undo.undo(workspace);
        }
    }

    /** Takes back what the last run did, for another to begin. */
    public void undo() throws ProjectException, SQLException {
        undo.undo(place.workspace());
    }
}
