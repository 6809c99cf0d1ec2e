package dev.cantina.cli;

import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Probe;
import dev.cantina.syntax.ParsedFile;
import java.sql.SQLException;
import java.util.Optional;

/** The workspace of several runs: opened once, and again where a run has altered its tables. */
final class RunPlace implements AutoCloseable {
    private final Project project;
    private final Invocation call;
    private final Optional<ParsedFile> script;
    private final Workspace.ServerCode code;
    private final Probe.Detail detail;
    private Optional<Workspace> open = Optional.empty();

    /**
     * @param code what stands on the server of the runs, where they are on one
     * @param detail what those who watch want of what a server runs
     */
    RunPlace(
            Project project,
            Invocation call,
            Optional<ParsedFile> script,
            Workspace.ServerCode code,
            Probe.Detail detail) {
        this.project = project;
        this.call = call;
        this.script = script;
        this.code = code;
        this.detail = detail;
    }

    Workspace workspace() throws ProjectException, SQLException {
        if (open.isEmpty()) {
            try {
                open = Optional.of(call.workspace(project, script, code));
            } catch (UsageException e) {
                throw new ProjectException(e.getMessage());
            }
            keepWatched();
        }
        return open.get();
    }

    /** All runs are watched. */
    void keepWatched() throws SQLException {
        open.get().program().expectWatching(detail);
        keep();
    }

    /** All runs begin with the rows as they are now. */
    void keep() throws SQLException {
        open.get().database().keep();
    }

    void undo(Workspace workspace) throws SQLException {
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
