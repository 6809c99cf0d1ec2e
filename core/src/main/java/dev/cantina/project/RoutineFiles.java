package dev.cantina.project;

import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Parser;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.FutureTask;
import java.util.concurrent.atomic.AtomicInteger;

/**
 * Reads the files of a project's routines, on threads of its own: whoever asks for them can do
 * something else first.
 */
final class RoutineFiles {
    /** Deep enough for any text: the parser has a limit of its own. */
    private static final long STACK = 64L << 20;

    /** From so many files on a second thread is worth its while. */
    private static final int MANY = 4;

    private final Project project;
    private final List<Path> paths;
    private final Result[] results;
    private final AtomicInteger next = new AtomicInteger();
    private final FutureTask<Void> first;

    /** What became of a file. */
    private sealed interface Result {
        record Read(ParsedFile file) implements Result {}

        record Unreadable(ProjectException reason) implements Result {}
    }

    /** Begins to read. */
    static RoutineFiles begin(Project project) throws ProjectException {
        return begin(project, ProjectReader.files(project.root().resolve("routines"), ".sql"));
    }

    /** Begins to read files that are known. */
    static RoutineFiles begin(Project project, List<Path> paths) {
        return new RoutineFiles(project, paths);
    }

    private RoutineFiles(Project project, List<Path> paths) {
        this.project = project;
        this.paths = paths;
        this.results = new Result[paths.size()];
        this.first = start();
    }

    private FutureTask<Void> start() {
        FutureTask<Void> task = new FutureTask<>(this::work, null);
        Thread thread = new Thread(null, task, "parser", STACK);
        thread.setDaemon(true);
        thread.start();
        return task;
    }

    private void work() {
        for (int i = next.getAndIncrement(); i < results.length; i = next.getAndIncrement()) {
            results[i] = read(paths.get(i));
        }
    }

    private Result read(Path path) {
        try {
            return new Result.Read(
                    Parser.parse(
                            ProjectReader.source(path, project.shown(path)), project.reading()));
        } catch (ProjectException e) {
            return new Result.Unreadable(e);
        }
    }

    /**
     * All files, in name order; one in another encoding holds nothing but that problem. The caller
     * has nothing else to do: what is left is shared by two threads.
     *
     * @throws ProjectException where a file can't be read at all
     */
    List<ParsedFile> get() throws ProjectException {
        if (results.length - next.get() >= MANY) {
            await(start());
        }
        await(first);
        List<ParsedFile> files = new ArrayList<>();
        for (Result result : results) {
            if (result instanceof Result.Read read) {
                files.add(read.file());
            } else if (result instanceof Result.Unreadable unreadable) {
                if (unreadable.reason().problems().isEmpty()) {
                    throw unreadable.reason();
                }
                files.add(ParsedFile.unreadable(unreadable.reason().problems()));
            }
        }
        return files;
    }

    private static void await(FutureTask<Void> task) {
        try {
            task.get();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IllegalStateException("interrupted", e);
        } catch (ExecutionException e) {
            throw new IllegalStateException(e.getCause());
        }
    }
}
