package dev.cantina.laboratory;

import dev.cantina.project.Invariant;
import dev.cantina.project.Invariants;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Limits;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.Probe;
import dev.cantina.runtime.RowEvent;
import dev.cantina.runtime.Session;
import dev.cantina.testing.CaseFiles;
import java.sql.SQLException;
import java.time.Clock;
import java.util.List;
import java.util.Optional;

/** A routine with its arguments, on the fixture or on a server. */
public final class RoutineSubject implements Subject {
    /** Opens the place of the runs, and again where one has altered its tables. */
    public interface Opening {
        Workspace open() throws ProjectException, SQLException;
    }

    /** The arguments, once it is known what is called. */
    public interface Given {
        List<Optional<Object>> match(Workspace workspace) throws ProjectException;
    }

    private final String name;
    private final List<String> names;
    private final Opening opening;
    private final String replay;
    private final Limits limits;
    private final Clock clock;
    private Workspace workspace;

    /** What holds after it; null until it is first run. */
    private List<Invariant> invariants;

    private List<Optional<Object>> arguments;
    private final Given given;

    /**
     * @param names those of its arguments, by which one of several routines is chosen
     * @param replay the command that debugs it
     * @param clock that stands still
     */
    public RoutineSubject(
            String name,
            List<String> names,
            Given given,
            Opening opening,
            String replay,
            Limits limits,
            Clock clock) {
        this.name = name;
        this.names = List.copyOf(names);
        this.given = given;
        this.opening = opening;
        this.replay = replay;
        this.limits = limits;
        this.clock = clock;
    }

    @Override
    public String title() {
        return name;
    }

    @Override
    public String replay() {
        return replay;
    }

    @Override
    public Workspace workspace() throws ProjectException, SQLException {
        if (workspace == null) {
            workspace = opening.open();
            if (arguments == null) {
                arguments = given.match(workspace);
            }
            workspace.database().keep();
        }
        return workspace;
    }

    @Override
    public Ran run(Probe probe) throws ProjectException, SQLException {
        Workspace in = workspace();
        try (Session session =
                new Session(in.program(), in.database(), limits, clock, Optional.of(probe))) {
            if (invariants == null) {
                invariants = CaseFiles.invariants(in.project(), List.of(name));
            }
            Invariants looked = Invariants.before(invariants, session);
            Outcome outcome = session.run(in.routine(name, names), arguments);
            List<RowEvent> events = outcome.events();
            return new Ran(outcome, events, looked.after(session));
        } finally {
            in.database().restore();
            if (in.database().isAltered()) {
                workspace = null;
                in.close();
            }
        }
    }

    @Override
    public void close() {
        if (workspace != null) {
            workspace.close();
        }
    }
}
