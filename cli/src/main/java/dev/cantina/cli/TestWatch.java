package dev.cantina.cli;

import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.stream.Stream;

/** Runs the cases again whenever a file of the project changes, until it is interrupted. */
final class TestWatch {
    private static final List<String> WATCHED =
            List.of("cantina.yaml", "tables", "routines", "fixtures", "cases", "args", "lib");
    private static final long PAUSE_MILLIS = 250;

    /** One run of the cases. */
    interface Run {
        int once() throws UsageException, ProjectException;
    }

    private final Invocation call;
    private final Project project;
    private final AtomicBoolean stopped = new AtomicBoolean();

    TestWatch(Invocation call, Project project) {
        this.call = call;
        this.project = project;
    }

    int run(Run run) throws UsageException {
        while (true) {
            Map<Path, Long> before = state();
            if (call.screen().isTerminal()) {
                call.screen().out().print("\033[H\033[2J");
            }
            int code;
            try {
                code = run.once();
            } catch (ProjectException e) {
                // The file that is being written may be half there; the next save is looked at too.
                e.problems().forEach(p -> new ProblemView(call.screen()).toError(p));
                if (e.problems().isEmpty()) {
                    call.screen().note("cantina: " + e.getMessage());
                }
                code = ExitCode.USAGE;
            }
            if (code == ExitCode.INTERRUPTED) {
                return code;
            }
            call.screen()
                    .line(
                            call.screen()
                                    .tone(
                                            Screen.Tone.FAINT,
                                            "  watching; it runs again when a file is saved, Ctrl-C ends it"));
            call.screen().out().flush();
            call.interrupts().during(() -> stopped.set(true));
            while (state().equals(before)) {
                try {
                    Thread.sleep(PAUSE_MILLIS);
                } catch (InterruptedException e) {
                    Thread.currentThread().interrupt();
                    return ExitCode.INTERRUPTED;
                }
                if (stopped.get()) {
                    return ExitCode.INTERRUPTED;
                }
            }
        }
    }

    /** When each file was last changed. */
    private Map<Path, Long> state() {
        Map<Path, Long> state = new HashMap<>();
        for (String name : WATCHED) {
            Path path = project.root().resolve(name);
            try (Stream<Path> files = Files.exists(path) ? Files.walk(path) : Stream.empty()) {
                for (Path file : files.filter(Files::isRegularFile).toList()) {
                    state.put(
                            file,
                            Files.getLastModifiedTime(file).toMillis() * 31 + Files.size(file));
                }
            } catch (IOException e) {
                // A file went away while it was looked at; the next look sees that.
                state.put(path, -1L);
            }
        }
        return state;
    }
}
