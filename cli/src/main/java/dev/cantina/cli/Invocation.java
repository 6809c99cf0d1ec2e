package dev.cantina.cli;

import dev.cantina.laboratory.Fault;
import dev.cantina.laboratory.FaultPlan;
import dev.cantina.project.Placement;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Limits;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.Probe;
import dev.cantina.runtime.Session;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.types.ConditionException;
import dev.cantina.workbench.RunSettings;
import java.nio.file.Path;
import java.sql.SQLException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.apache.commons.cli.CommandLine;

/** A command with what was said on its line. */
final class Invocation {
    private final CommandLine line;
    private final Screen screen;
    private final Path folder;
    private final Interrupts interrupts;
    private Optional<Words> words = Optional.empty();
    private Optional<FaultPlan> faults = Optional.empty();

    Invocation(CommandLine line, Screen screen, Path folder, Interrupts interrupts) {
        this.line = line;
        this.screen = screen;
        this.folder = folder;
        this.interrupts = interrupts;
    }

    /** What the person's words are read from, where a command has begun to read them. */
    void words(Words opened) {
        words = Optional.of(opened);
    }

    Optional<Words> words() {
        return words;
    }

    Interrupts interrupts() {
        return interrupts;
    }

    Screen screen() {
        return screen;
    }

    /** The folder that the command was started in. */
    Path folder() {
        return folder;
    }

    List<String> arguments() {
        return line.getArgList();
    }

    boolean has(String option) {
        return line.hasOption(option);
    }

    Optional<String> value(String option) {
        return Optional.ofNullable(line.getOptionValue(option));
    }

    /** All values of an option that may be said more than once. */
    List<String> values(String option) {
        String[] said = line.getOptionValues(option);
        return said == null ? List.of() : List.of(said);
    }

    boolean json() {
        return has("json");
    }

    boolean quiet() {
        return has("quiet");
    }

    /** The project that the command is about. */
    Project project() throws ProjectException {
        Optional<String> named = value("project");
        return named.isPresent()
                ? ProjectReader.read(folder.resolve(named.get()))
                : ProjectReader.find(folder);
    }

    /** The fixture that was asked for, or else the project's own. */
    String fixture(Project project) {
        return value("fixture").orElse(project.fixture());
    }

    /** The same for one run, of the routine that the arguments name or of a script. */
    Workspace workspace(Project project, Optional<ParsedFile> script)
            throws UsageException, ProjectException, SQLException {
        return workspace(project, script, reached(script));
    }

    /** What a run of the routine that the arguments name, or of a script, can set off. */
    Workspace.ServerCode reached(Optional<ParsedFile> script) {
        String text = script.map(s -> s.source().text()).orElse("");
        return Placement.reachedFrom(String.join(" ", arguments()) + " " + text);
    }

    /** Where and how the runs of this command are made. */
    RunSettings settings(Project project) throws UsageException {
        Project clocked = value("clock").isPresent() ? project.withClock() : project;
        return new RunSettings(clocked, value("on"), value("fixture"), limits(project), clock())
                .with(faults(project));
    }

    /** What is to go wrong in each run. */
    private FaultPlan faults(Project project) throws UsageException {
        if (!values("fault").isEmpty() && project.own().isPresent()) {
            throw new UsageException(
                    "--fault is for routines of the standard language: those of a server's own fail"
                            + " there, where nothing can be put in a statement's place");
        }
        if (faults.isPresent()) {
            return faults.get();
        }
        List<Fault> said = new ArrayList<>();
        for (String text : values("fault")) {
            try {
                said.add(Fault.of(text));
            } catch (IllegalArgumentException e) {
                throw new UsageException("--fault " + e.getMessage());
            }
        }
        faults = Optional.of(new FaultPlan(said));
        return faults.get();
    }

    /** What was asked to go wrong and did not. */
    Optional<String> notCome() {
        return faults.flatMap(FaultPlan::notCome);
    }

    /**
     * The project made ready for a run.
     *
     * @param code what stands on the server of {@code --on} meanwhile
     */
    Workspace workspace(Project project, Optional<ParsedFile> script, Workspace.ServerCode code)
            throws UsageException, ProjectException, SQLException {
        RunSettings settings = settings(project);
        if (has("keep")) {
            if (project.own().isPresent()) {
                throw new UsageException(
                        "--keep has nothing to keep: a run in a server's own language has a database"
                                + " of its own, which is gone afterwards");
            }
            if (settings.server().isEmpty()) {
                throw new UsageException(
                        "--keep is for a server: the embedded database is in memory, and gone"
                                + " afterwards");
            }
            if (has("fixture")) {
                throw new UsageException(
                        "--keep has nothing to keep with --fixture: the fixture's rows are gone"
                                + " afterwards");
            }
        }
        return settings.workspace(script, code);
    }

    /** After a run on a server: makes it last where that was asked for. */
    void settle(Workspace workspace, Outcome outcome) throws SQLException {
        if (has("keep") && outcome.kind() == Outcome.Kind.COMPLETED) {
            outcome.events();
            workspace.database().commit();
        }
    }

    /** The session's clock: the machine's own, or the moment that was said. */
    Clock clock() throws UsageException {
        try {
            return RunSettings.clock(value("clock"));
        } catch (ConditionException e) {
            throw new UsageException(
                    "--clock " + e.condition().message() + ", as in --clock '2031-10-04 09:30:00'");
        }
    }

    /** A session on a workspace, which an interrupt of the process ends; the caller closes it. */
    Session session(Workspace workspace, Optional<Probe> probe)
            throws UsageException, SQLException {
        return session(settings(workspace.project()), workspace, probe);
    }

    /** The same with settings that are used again. */
    Session session(RunSettings settings, Workspace workspace, Optional<Probe> probe)
            throws SQLException {
        Session session = settings.session(workspace, probe);
        interrupts.during(session::interrupt);
        return session;
    }

    /** The project's limits, with those of the command line in their place. */
    Limits limits(Project project) throws UsageException {
        Limits limits = project.limits();
        for (String text : values("limit")) {
            try {
                limits = RunSettings.limit(limits, text);
            } catch (IllegalArgumentException e) {
                throw new UsageException("--limit " + e.getMessage());
            }
        }
        return limits;
    }

    /** How many seconds something may take: what {@code --within} says. */
    double within(double otherwise) throws UsageException {
        Optional<String> said = value("within");
        if (said.isEmpty()) {
            return otherwise;
        }
        try {
            double seconds = Double.parseDouble(said.get());
            if (seconds > 0 && seconds < 1e9) {
                return seconds;
            }
        } catch (NumberFormatException e) {
            // Said below.
        }
        throw new UsageException("--within takes a number of seconds: --within 10");
    }
}
