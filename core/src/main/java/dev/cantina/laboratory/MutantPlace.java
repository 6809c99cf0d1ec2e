package dev.cantina.laboratory;

import dev.cantina.project.Workspace;
import dev.cantina.testing.CaseRunner;

/**
 * Where one thread tries mistakes: databases of its own.
 *
 * @param workspace in which routines are bound, and values for calls are found
 * @param cases runs the cases
 * @param calls makes calls of routines as they are
 * @param other makes the same calls with a mistake
 */
record MutantPlace(Workspace workspace, CaseRunner cases, CaseRunner calls, CaseRunner other)
        implements AutoCloseable {
    @Override
    public void close() {
        other.close();
        calls.close();
        cases.close();
        workspace.close();
    }
}
