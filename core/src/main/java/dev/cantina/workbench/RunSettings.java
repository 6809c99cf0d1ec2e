package dev.cantina.workbench;

import dev.cantina.hosting.PrivateServer;
import dev.cantina.laboratory.FaultPlan;
import dev.cantina.programs.ProgramSettings;
import dev.cantina.project.Placement;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Limits;
import dev.cantina.runtime.Probe;
import dev.cantina.runtime.Session;
import dev.cantina.syntax.Nearest;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.testing.CaseRunner;
import dev.cantina.types.Conversion;
import dev.cantina.types.SqlType;
import java.sql.SQLException;
import java.time.Clock;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.util.List;
import java.util.Optional;

/**
 * Where and how runs are made.
 *
 * @param on the database of cantina.yaml that was asked for; empty for the project's own
 * @param fixture the fixture that was asked for; empty for the project's own
 * @param faults what goes wrong in each run, in order
 */
public record RunSettings(
        Project project,
        Optional<String> on,
        Optional<String> fixture,
        Limits limits,
        Clock clock,
        FaultPlan faults) {
    public RunSettings(
            Project project,
            Optional<String> on,
            Optional<String> fixture,
            Limits limits,
            Clock clock) {
        this(project, on, fixture, limits, clock, new FaultPlan(List.of()));
    }

    /** The same with something that goes wrong in each run. */
    public RunSettings with(FaultPlan wrong) {
        return new RunSettings(project, on, fixture, limits, clock, wrong);
    }

    /** What watches a run, and makes things go wrong in it where that was asked for. */
    public Optional<Probe> watched(Optional<Probe> probe) {
        return faults.watched(probe);
    }

    private static final List<String> LIMITS = List.of("statements", "seconds", "depth", "rows");

    /**
     * The clock that stands at a moment; empty for the machine's own.
     *
     * @throws ConditionException where that is no timestamp
     */
    public static Clock clock(Optional<String> said) {
        ZoneId zone = ZoneId.systemDefault();
        if (said.isEmpty()) {
            return Clock.system(zone);
        }
        LocalDateTime moment =
                (LocalDateTime) Conversion.cast(said.get(), new SqlType.Timestamp(6, false));
        return Clock.fixed(moment.atZone(zone).toInstant(), zone);
    }

    /**
     * Limits with one of them set by a text, {@code seconds=5}.
     *
     * @throws IllegalArgumentException where it is none; the message says what is wanted
     */
    public static Limits limit(Limits limits, String text) {
        int sign = text.indexOf('=');
        String name = sign < 0 ? text : text.substring(0, sign);
        if (sign < 0 || !LIMITS.contains(name)) {
            String hint =
                    Nearest.to(name, LIMITS)
                            .map(n -> "did you mean " + n + "=N?")
                            .orElse("there are " + String.join(", ", LIMITS));
            throw new IllegalArgumentException("takes NAME=N; " + hint);
        }
        double value;
        try {
            value = Double.parseDouble(text.substring(sign + 1));
        } catch (NumberFormatException e) {
            value = 0;
        }
        if (!(value > 0)) {
            throw new IllegalArgumentException(name + " takes a number greater than 0");
        }
        return ProjectReader.limit(limits, name, value);
    }

    /** The same with a clock that stands still, so that each run is as the first. */
    public RunSettings withClockStopped() {
        Clock still = Clock.fixed(clock.instant(), clock.getZone());
        return new RunSettings(project, on, fixture, limits, still, faults);
    }

    /** The server that the runs are made on; empty for the embedded database or a private one. */
    public Optional<String> server() {
        return on.or(() -> Optional.of(project.database()))
                .filter(name -> !name.equals("embedded") && !name.equals(PrivateServer.NAME));
    }

    /**
     * The project made ready: on the embedded database with a fixture, or on a server, with what is
     * there.
     *
     * @param code what stands on that server meanwhile
     */
    public Workspace workspace(Optional<ParsedFile> script, Workspace.ServerCode code)
            throws ProjectException, SQLException {
        String rows = fixture.orElse(project.fixture());
        if (project.own().isPresent()) {
            return Workspace.open(at(project), Optional.of(rows), script);
        }
        if (server().isEmpty()) {
            return Workspace.open(project, Optional.of(rows), script);
        }
        return fixture.isPresent()
                ? Workspace.scratch(project, server().get(), rows, script, code)
                : Workspace.on(project, server().get(), script, true, code);
    }

    /** The project with tables alone: its own, or those of the server that was asked for. */
    public Workspace tables() throws ProjectException, SQLException {
        if (project.own().isPresent()) {
            return Workspace.open(at(project), Optional.empty());
        }
        return on.isPresent() && !on.get().equals("embedded")
                ? Workspace.on(project, on.get(), Optional.empty(), false, Placement::place)
                : Workspace.open(project, Optional.empty());
    }

    /** The same for a program, or several, that call. */
    public ProgramSettings program() {
        return new ProgramSettings(project, server(), fixture, limits, clock);
    }

    /** How cases open their database. */
    public CaseRunner.Opener opener() {
        Optional<String> server = project.own().isPresent() ? Optional.empty() : server();
        return new CaseRunner.Opener() {
            @Override
            public Workspace open(Project p, String rows) throws ProjectException, SQLException {
                if (project.own().isPresent()) {
                    return Workspace.open(at(p), Optional.of(rows));
                }
                return server.isEmpty()
                        ? Workspace.open(p, Optional.of(rows))
                        : Workspace.scratch(
                                p, server.get(), rows, Optional.empty(), Placement::place);
            }

            @Override
            public Optional<String> server() {
                return server;
            }
        };
    }

    /** A project in a server's own language on the server that was asked for. */
    private Project at(Project of) {
        return on.map(of::on).orElse(of);
    }

    /** A session on a workspace; the caller closes it. */
    public Session session(Workspace workspace, Optional<Probe> probe) throws SQLException {
        return new Session(
                workspace.program(), workspace.database(), limits, clock, watched(probe));
    }

    /** A runner of cases; the caller closes it. */
    public CaseRunner cases() {
        return new CaseRunner(project, fixture, limits, clock, opener());
    }
}
