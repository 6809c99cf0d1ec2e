package dev.cantina.serve.language;

import dev.cantina.editing.ProjectState;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.syntax.Problem;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.CompletableFuture;

/** A project that an editor has files of, checked on a thread of its own. */
final class OpenProject implements AutoCloseable {
    /** Takes the problems of a file. */
    interface Sink {
        void problems(Path file, List<Problem> problems);

        /** Something could not be done, and it is no file's fault. */
        void trouble(String text);

        /** A check is over: what depends on it may be asked for again. */
        void checked();
    }

    /** Deep enough for any text that the parser lets through. */
    private static final long STACK = 64L << 20;

    /** How long no key is struck before what takes long is begun. */
    private static final long QUIET_MILLIS = 300;

    private final Project project;
    private final Sink sink;
    private final Optional<ProjectState> state;
    private final Thread thread;
    private final Object bell = new Object();
    private final List<CompletableFuture<Void>> waiting = new ArrayList<>();
    private final Set<String> toldOwn = new HashSet<>();
    private boolean due = true;
    private boolean closed;

    OpenProject(Project project, Sink sink) throws ProjectException {
        this.project = project;
        this.sink = sink;
        this.state =
                project.own().isPresent()
                        ? Optional.empty()
                        : Optional.of(
                                new ProjectState(
                                        project,
                                        (file, problems) ->
                                                sink.problems(
                                                        project.root().resolve(file), problems)));
        this.thread = new Thread(null, this::work, "check " + project.name(), STACK);
        thread.setDaemon(true);
        thread.start();
    }

    Project project() {
        return project;
    }

    /** Empty for a project in a server's own language. */
    Optional<ProjectState> state() {
        return state;
    }

    void change(String file, String text) {
        state.ifPresent(s -> s.change(file, text));
        if (state.isPresent()) {
            ring();
        }
    }

    void forget(String file) {
        state.ifPresent(s -> s.forget(file));
        ring();
    }

    /** Files were saved, or have come or gone. */
    void reread() {
        state.ifPresent(ProjectState::reread);
        ring();
    }

    private void ring() {
        synchronized (bell) {
            due = true;
            bell.notifyAll();
        }
    }

    /** Done when all that has changed by now is checked. */
    CompletableFuture<Void> checked() {
        CompletableFuture<Void> done = new CompletableFuture<>();
        synchronized (bell) {
            if (!due && !working) {
                done.complete(null);
            } else {
                waiting.add(done);
            }
        }
        return done;
    }

    private boolean working;

    private void work() {
        while (true) {
            List<CompletableFuture<Void>> answered;
            synchronized (bell) {
                while (!due && !closed) {
                    try {
                        bell.wait();
                    } catch (InterruptedException e) {
                        return;
                    }
                }
                if (closed) {
                    return;
                }
                due = false;
                working = true;
                answered = new ArrayList<>(waiting);
                waiting.clear();
            }
            boolean over = checkOnce();
            synchronized (bell) {
                working = false;
                if (!over || due) {
                    due = true;
                    waiting.addAll(answered);
                    continue;
                }
                // Who has come meanwhile has changed nothing since.
                answered.addAll(waiting);
                waiting.clear();
            }
            answered.forEach(a -> a.complete(null));
            sink.checked();
        }
    }

    /** Checks what has changed; says whether all is checked. */
    private boolean checkOnce() {
        try {
            if (state.isPresent()) {
                return state.get().check();
            }
            Thread.sleep(QUIET_MILLIS);
            checkOwn();
        } catch (ProjectException e) {
            if (e.problems().isEmpty()) {
                sink.trouble(e.getMessage());
            } else {
                tell(e.problems());
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } catch (RuntimeException | StackOverflowError e) {
            sink.trouble("a defect of Cantina's own: " + e);
        }
        return true;
    }

    /** A project in a server's own language is checked by its server, as its files are stored. */
    private void checkOwn() throws ProjectException {
        try (Workspace workspace = Workspace.open(project, Optional.empty())) {
            tell(workspace.check());
        }
    }

    private void tell(List<Problem> problems) {
        Map<String, List<Problem>> byFile = new HashMap<>();
        toldOwn.forEach(f -> byFile.put(f, new ArrayList<>()));
        for (Problem problem : problems) {
            byFile.computeIfAbsent(problem.span().source().name(), f -> new ArrayList<>())
                    .add(problem);
        }
        byFile.forEach((file, list) -> sink.problems(project.root().resolve(file), list));
        toldOwn.addAll(byFile.keySet());
    }

    @Override
    public void close() {
        synchronized (bell) {
            closed = true;
            bell.notifyAll();
        }
        try {
            thread.join(1000);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
        state.ifPresent(ProjectState::close);
    }
}
