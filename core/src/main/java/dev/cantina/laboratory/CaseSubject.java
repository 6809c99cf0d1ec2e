package dev.cantina.laboratory;

import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Probe;
import dev.cantina.testing.CaseRunner;
import dev.cantina.testing.TestCase;
import java.sql.SQLException;

/** A case: its data, its calls, its stand-ins and its invariants; what it expects is not asked. */
public final class CaseSubject implements Subject {
    private final TestCase testCase;
    private final CaseRunner cases;
    private final String replay;

    /**
     * @param replay the command that debugs it
     */
    public CaseSubject(TestCase testCase, CaseRunner cases, String replay) {
        this.testCase = testCase;
        this.cases = cases;
        this.replay = replay;
    }

    @Override
    public String title() {
        return testCase.name();
    }

    @Override
    public String replay() {
        return replay;
    }

    @Override
    public Workspace workspace() throws ProjectException, SQLException {
        return cases.workspace(testCase);
    }

    @Override
    public Ran run(Probe probe) throws ProjectException, SQLException {
        CaseRunner.Told told = cases.told(testCase, probe);
        return new Ran(told.outcome(), told.events(), told.broken());
    }

    @Override
    public void close() {
        cases.close();
    }
}
