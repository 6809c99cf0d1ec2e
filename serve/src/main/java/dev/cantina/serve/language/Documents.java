package dev.cantina.serve.language;

import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.syntax.Source;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.eclipse.lsp4j.TextDocumentContentChangeEvent;

/** The files that an editor has open, and the projects that they belong to. */
final class Documents {
    /**
     * A file that is open.
     *
     * @param project empty where it belongs to none
     * @param name its path in the project
     */
    record Document(Path path, Optional<OpenProject> project, String name) {}

    private final OpenProject.Sink sink;
    private final Map<String, String> texts = new HashMap<>();
    private final Map<Path, OpenProject> projects = new HashMap<>();

    private volatile boolean movesFiles;

    /** Whether the editor gives files other names when it is told to. */
    boolean canMoveFiles() {
        return movesFiles;
    }

    void movesFiles(boolean does) {
        movesFiles = does;
    }

    Documents(OpenProject.Sink sink) {
        this.sink = sink;
    }

    static Optional<Path> path(String uri) {
        try {
            URI parsed = URI.create(uri);
            return "file".equals(parsed.getScheme())
                    ? Optional.of(Path.of(parsed).toAbsolutePath().normalize())
                    : Optional.empty();
        } catch (IllegalArgumentException | java.nio.file.FileSystemNotFoundException e) {
            return Optional.empty();
        }
    }

    static String uri(Path path) {
        return path.toUri().toString();
    }

    /** A file with the project that it is in: the nearest folder upward with a cantina.yaml. */
    synchronized Optional<Document> document(String uri) {
        Optional<Path> path = path(uri);
        if (path.isEmpty()) {
            return Optional.empty();
        }
        for (Path folder = path.get().getParent(); folder != null; folder = folder.getParent()) {
            if (projects.containsKey(folder) || Files.exists(folder.resolve(ProjectReader.FILE))) {
                Optional<OpenProject> project = project(folder);
                String name =
                        project.map(p -> p.project().shown(path.get()))
                                .orElse(path.get().toString());
                return Optional.of(new Document(path.get(), project, name));
            }
        }
        return Optional.of(new Document(path.get(), Optional.empty(), path.get().toString()));
    }

    /** The project of a folder, opened where it is not open yet. */
    private Optional<OpenProject> project(Path folder) {
        if (projects.containsKey(folder)) {
            return Optional.of(projects.get(folder));
        }
        try {
            Project read = ProjectReader.read(folder);
            OpenProject opened = new OpenProject(read, sink);
            projects.put(folder, opened);
            sink.problems(folder.resolve(ProjectReader.FILE), List.of());
            return Optional.of(opened);
        } catch (ProjectException e) {
            wrong(folder, e);
            return Optional.empty();
        }
    }

    private void wrong(Path folder, ProjectException e) {
        if (e.problems().isEmpty()) {
            sink.trouble(e.getMessage());
        } else {
            sink.problems(folder.resolve(ProjectReader.FILE), e.problems());
        }
    }

    /** What is wrong with settings as they are typed; they hold from when they are saved. */
    private void settings(String uri) {
        Optional<Path> path = path(uri).filter(p -> p.endsWith(ProjectReader.FILE));
        if (path.isEmpty()) {
            return;
        }
        Path folder = path.get().getParent();
        try {
            if (texts.containsKey(uri)) {
                ProjectReader.read(folder, new Source(ProjectReader.FILE, texts.get(uri)));
            } else {
                ProjectReader.read(folder);
            }
            sink.problems(path.get(), List.of());
        } catch (ProjectException e) {
            wrong(folder, e);
        }
    }

    synchronized Collection<OpenProject> projects() {
        return List.copyOf(projects.values());
    }

    synchronized void open(String uri, String text) {
        texts.put(uri, text);
        changed(uri);
    }

    synchronized void change(String uri, List<TextDocumentContentChangeEvent> changes) {
        String text = texts.getOrDefault(uri, "");
        for (TextDocumentContentChangeEvent change : changes) {
            if (change.getRange() == null) {
                text = change.getText();
            } else {
                int start = Positions.offset(text, change.getRange().getStart());
                int end = Math.max(start, Positions.offset(text, change.getRange().getEnd()));
                text = text.substring(0, start) + change.getText() + text.substring(end);
            }
        }
        texts.put(uri, text);
        changed(uri);
    }

    private void changed(String uri) {
        document(uri)
                .ifPresent(d -> d.project().ifPresent(p -> p.change(d.name(), texts.get(uri))));
        settings(uri);
    }

    synchronized void close(String uri) {
        texts.remove(uri);
        document(uri).ifPresent(d -> d.project().ifPresent(p -> p.forget(d.name())));
        settings(uri);
    }

    /** A file was saved, or has come or gone, or is another than it was. */
    synchronized void stored(String uri) {
        Optional<Path> path = path(uri);
        if (path.isPresent() && path.get().endsWith(ProjectReader.FILE)) {
            renew(path.get().getParent());
            return;
        }
        document(uri).ifPresent(d -> d.project().ifPresent(OpenProject::reread));
    }

    /** A project whose settings have changed is opened again, with the files that are open. */
    private void renew(Path folder) {
        OpenProject before = projects.remove(folder);
        if (before != null) {
            before.close();
        }
        if (project(folder).isPresent()) {
            new ArrayList<>(texts.keySet()).forEach(this::changed);
        }
    }

    /** A file's text as the editor has it; else as it is stored. */
    synchronized Optional<String> text(String uri) {
        if (texts.containsKey(uri)) {
            return Optional.of(texts.get(uri));
        }
        return document(uri).flatMap(d -> d.project().flatMap(p -> p.text(d.name())));
    }

    synchronized void closeAll() {
        projects.values().forEach(OpenProject::close);
        projects.clear();
    }
}
