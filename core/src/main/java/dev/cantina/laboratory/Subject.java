package dev.cantina.laboratory;

import dev.cantina.project.Invariants;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.Probe;
import dev.cantina.runtime.RowEvent;
import java.sql.SQLException;
import java.util.List;

/** Something that can be run again and again, each time from the same rows. */
public interface Subject extends AutoCloseable {
    /** What it is called, for a person. */
    String title();

    /** What shows a run of it in the debugger, but for the fault. */
    String replay();

    /** Where it runs, as that is now. */
    Workspace workspace() throws ProjectException, SQLException;

    /**
     * What a run came to.
     *
     * @param outcome of its last call
     * @param events all rows that have changed and stayed changed
     * @param broken the invariants that do not hold after it
     */
    record Ran(Outcome outcome, List<RowEvent> events, List<Invariants.Broken> broken) {}

    /**
     * Runs it under a probe, and takes back what it did.
     *
     * @throws ProjectException where it can't be run
     */
    Ran run(Probe probe) throws ProjectException, SQLException;

    @Override
    void close();
}
