package dev.cantina.workbench;

import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Probe;
import dev.cantina.syntax.ParsedFile;
import java.sql.SQLException;
import java.util.Optional;

/** The workspace of several runs: opened once, and again where a run has altered its tables. */
public final class RunPlace implements AutoCloseable {
    private final RunSettings settings;
    private final Optional<ParsedFile> script;
    private final Workspace.ServerCode code;
    private final Probe.Detail detail;
    private Optional<Workspace> open = Optional.empty();

    /**
     * @param code what stands on the server of the runs, where they are on one
     * @param detail what those who watch want of what a server runs
     */
    public RunPlace(
            RunSettings settings,
            Optional<ParsedFile> script,
            Workspace.ServerCode code,
            Probe.Detail detail) {
        this.settings = settings;
        this.script = script;
        this.code = code;
        this.detail = detail;
    }

    public Workspace workspace() throws ProjectException, SQLException {
        if (open.isEmpty()) {
            open = Optional.of(settings.workspace(script, code));
            open.get().program().expectWatching(detail);
            keep();
        }
        return open.get();
    }

    /** All runs begin with the rows as they are now. */
    public void keep() throws SQLException {
        open.get().database().keep();
    }

    public void undo(Workspace workspace) throws SQLException {
        workspace.database().restore();
        if (workspace.database().isAltered()) {
            open = Optional.empty();
            workspace.close();
        }
    }

    @Override
    public void close() {
        open.ifPresent(Workspace::close);
    }
}
