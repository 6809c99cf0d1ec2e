package dev.cantina.nativecode;

import static org.junit.jupiter.api.Assertions.assertEquals;

import dev.cantina.binding.Variable;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.debugging.Debugger;
import dev.cantina.debugging.Resume;
import dev.cantina.debugging.Stop;
import dev.cantina.debugging.StopListener;
import dev.cantina.project.Arguments;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Frame;
import dev.cantina.runtime.Limits;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.Probe;
import dev.cantina.runtime.Session;
import dev.cantina.types.Condition;
import dev.cantina.types.Values;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.junit.jupiter.api.io.TempDir;

/** Routines in a server's own language that are watched in a test. */
public abstract class WatchedRoutines {
    @TempDir protected Path folder;

    /** A project with these routines, one of which is called f, to be watched at each statement. */
    protected abstract Workspace watched(String routines) throws Exception;

    /** Writes a project in a server's own language, and opens it. */
    protected Workspace project(String dialect, String tables, String routines)
            throws IOException, ProjectException {
        Files.writeString(
                folder.resolve("cantina.yaml"), "dialect: " + dialect + "\ndatabase: private\n");
        Files.createDirectories(folder.resolve("tables"));
        Files.createDirectories(folder.resolve("routines"));
        Files.writeString(folder.resolve("tables/t.sql"), tables);
        Files.writeString(folder.resolve("routines/r.sql"), routines);
        return Workspace.open(ProjectReader.read(folder), Optional.empty());
    }

    protected static Session session(Workspace workspace, Optional<Probe> probe)
            throws SQLException {
        return new Session(
                workspace.program(),
                workspace.database(),
                Limits.DEFAULT,
                Clock.systemUTC(),
                probe);
    }

    /** One that may take its time: the machine is busy. */
    protected static Session patient(Workspace workspace, Probe probe) throws SQLException {
        return new Session(
                workspace.program(),
                workspace.database(),
                new Limits(10_000_000, 900, 200, 1_000_000),
                Clock.systemUTC(),
                Optional.of(probe));
    }

    /** Keeps a core busy until it is closed. */
    protected static final class Busy implements AutoCloseable {
        private volatile boolean going = true;

        public Busy() {
            Thread thread =
                    new Thread(
                            () -> {
                                while (going) {
                                    Thread.onSpinWait();
                                }
                            });
            thread.setDaemon(true);
            thread.start();
        }

        public boolean isGoing() {
            return going;
        }

        @Override
        public void close() {
            going = false;
        }
    }

    protected static Outcome run(Workspace workspace, Session session, Map<String, Object> given)
            throws ProjectException, Arguments.MisfitException {
        RoutineSymbol symbol = workspace.routine("f", given.keySet());
        Outcome outcome = session.run(symbol, Arguments.match(symbol, given));
        outcome.events();
        return outcome;
    }

    /** Writes down what it is told. */
    public static final class Recorder implements Probe {
        public final List<String> lines = new ArrayList<>();
        public final boolean holds;
        public final boolean values;

        public Recorder(boolean holds, boolean values) {
            this.holds = holds;
            this.values = values;
        }

        @Override
        public Detail detail() {
            return holds ? Detail.HOLD : Detail.VALUES;
        }

        @Override
        public void entered(Frame frame) {
            frame.session.watchAll(true);
            java.util.Arrays.fill(frame.watch, (byte) 1);
        }

        @Override
        public void reached(Frame frame) {
            String shown =
                    frame.place().scope().variables().stream()
                            .map(v -> v.name() + "=" + Values.text(frame.get(v)))
                            .collect(Collectors.joining(" "));
            lines.add(
                    frame.depth()
                            + " "
                            + frame.routine().name()
                            + ":"
                            + frame.place().span().line()
                            + (values ? " " + shown : ""));
        }

        @Override
        public void raised(Frame frame, Condition condition) {
            lines.add(frame.depth() + " raised " + condition.sqlstate());
        }

        @Override
        public void left(Frame frame, Condition condition) {
            lines.add(frame.depth() + " left " + frame.routine().name());
        }
    }

    protected List<String> record(String routines, Map<String, Object> given, boolean values)
            throws Exception {
        List<String> held;
        try (Workspace workspace = watched(routines)) {
            Recorder recorder = new Recorder(true, values);
            try (Session session = session(workspace, Optional.of(recorder))) {
                run(workspace, session, given);
            }
            held = recorder.lines;
        }
        try (Workspace workspace = watched(routines)) {
            Recorder recorder = new Recorder(false, values);
            try (Session session = session(workspace, Optional.of(recorder))) {
                run(workspace, session, given);
            }
            assertEquals(held, recorder.lines, "what is told of a run that is not held");
        }
        return held;
    }

    /** Counts each statement of each routine, however it hears of that. */
    public static final class Counter implements Probe {
        public final Map<String, Long> counts = new java.util.TreeMap<>();
        public final Detail detail;

        public Counter(Detail detail) {
            this.detail = detail;
        }

        @Override
        public Detail detail() {
            return detail;
        }

        @Override
        public void entered(Frame frame) {
            frame.session.watchAll(true);
            java.util.Arrays.fill(frame.watch, (byte) 1);
        }

        @Override
        public void reached(Frame frame) {
            counted(frame, frame.at, 1);
        }

        @Override
        public void counted(Frame frame, int statement, long times) {
            counts.merge(frame.routine().name() + " " + statement, times, Long::sum);
        }
    }

    /** Does at each stop what it is told to. */
    public static final class Script implements StopListener {
        public final List<String> seen = new ArrayList<>();
        public Debugger debugger;
        public java.util.function.BiFunction<Stop, Debugger, Resume> act;

        @Override
        public Resume stopped(Stop stop) {
            seen.add(stop.frame().routine().name() + ":" + stop.frame().place().span().line());
            return act.apply(stop, debugger);
        }

        @Override
        public void troubled(dev.cantina.debugging.Breakpoint breakpoint, String reason) {
            seen.add("troubled " + reason);
        }
    }

    /** A debugger of f that asks the script at each stop. */
    protected static Debugger debugger(Workspace workspace, Script script, boolean atStart) {
        Debugger debugger = new Debugger(workspace.program(), script, atStart);
        script.debugger = debugger;
        debugger.runs(List.of("f"), Optional.empty());
        return debugger;
    }

    protected static Object value(Frame frame, String name) {
        Variable variable =
                frame.place().scope().variables().stream()
                        .filter(v -> v.name().equals(name))
                        .findFirst()
                        .orElseThrow();
        return frame.get(variable);
    }
}
