package dev.cantina.serve.language;

import dev.cantina.editing.AskedText;
import dev.cantina.editing.OwnAskedText;
import dev.cantina.editing.OwnCases;
import dev.cantina.editing.OwnState;
import dev.cantina.editing.OwnView;
import dev.cantina.editing.ProjectState;
import dev.cantina.editing.StandardText;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.atomic.AtomicLong;

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
    private final Optional<OwnState> own;
    private final Thread thread;
    private final Object bell = new Object();
    private final List<CompletableFuture<Void>> waiting = new ArrayList<>();
    private final Set<String> toldOwn = new HashSet<>();
    private boolean due = true;
    private volatile boolean closed;
    private final AtomicLong changes = new AtomicLong();
    private String trouble = "";

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
        this.own = project.own().map(o -> new OwnState(project));
        this.thread = new Thread(null, this::work, "check " + project.name(), STACK);
        thread.setDaemon(true);
        thread.start();
    }

    Project project() {
        return project;
    }

    /** A file's text: as an editor has it, or as it is stored; empty where there is none. */
    Optional<String> text(String file) {
        return state.isPresent() ? state.get().text(file) : own.orElseThrow().text(file);
    }

    /** What can be asked of a text; empty before the project was checked once. */
    Optional<AskedText> asked(Source source) {
        return state.isPresent()
                ? state.get().view().map(v -> new StandardText(state.get(), v, source))
                : own.map(o -> new OwnAskedText(o, source));
    }

    /** All files of routines and tables that can be asked about. */
    List<AskedText> files() {
        List<AskedText> files = new ArrayList<>();
        if (state.isPresent()) {
            state.get()
                    .view()
                    .ifPresent(
                            v ->
                                    v.files()
                                            .values()
                                            .forEach(
                                                    f ->
                                                            files.add(
                                                                    new StandardText(
                                                                            state.get(),
                                                                            v,
                                                                            f.source()))));
        } else {
            OwnState of = own.orElseThrow();
            OwnView view = of.view();
            view.files().values().forEach(f -> files.add(new OwnAskedText(of, f.source())));
            view.standard().values().forEach(f -> files.add(new OwnAskedText(of, f.source())));
        }
        return files;
    }

    void change(String file, String text) {
        own.ifPresent(o -> o.change(file, text));
        state.ifPresent(s -> s.change(file, text));
        changed(file);
    }

    void forget(String file) {
        own.ifPresent(o -> o.forget(file));
        state.ifPresent(s -> s.forget(file));
        changed(file);
    }

    private void changed(String file) {
        if (own.isPresent() && ProjectState.isCase(file)) {
            sink.problems(project.root().resolve(file), OwnCases.wrong(own.get(), file));
            return;
        }
        ring();
    }

    /** Files were saved, or have come or gone. */
    void reread() {
        own.ifPresent(OwnState::reread);
        state.ifPresent(ProjectState::reread);
        ring();
    }

    private void ring() {
        synchronized (bell) {
            changes.incrementAndGet();
            due = true;
            bell.notifyAll();
        }
    }

    /**
     * Done when all that has changed by now is checked: what is asked of texts in a server's own
     * words doesn't wait for that server.
     */
    CompletableFuture<Void> checked() {
        CompletableFuture<Void> done = new CompletableFuture<>();
        if (own.isPresent()) {
            done.complete(null);
            return done;
        }
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
            long seen;
            do {
                seen = changes.get();
                Thread.sleep(QUIET_MILLIS);
            } while (seen != changes.get() && !closed);
            checkOwn();
        } catch (ProjectException e) {
            if (e.problems().isEmpty()) {
                trouble(e.getMessage());
            } else {
                tell(e.problems());
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } catch (RuntimeException | StackOverflowError e) {
            trouble("a defect of Cantina's own: " + e);
        }
        return true;
    }

    /** A project in a server's own language is checked by its server. */
    private void checkOwn() throws ProjectException {
        try (Workspace workspace = Workspace.open(project, own.orElseThrow().typed())) {
            tell(workspace.check());
            trouble = "";
        }
    }

    /** What can't be done is said once, and not at every key. */
    private void trouble(String text) {
        if (!text.equals(trouble)) {
            trouble = text;
            sink.trouble(text);
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
