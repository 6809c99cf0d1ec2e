package dev.cantina.serve.debug;

import dev.cantina.project.Project;
import java.nio.file.Path;

/** A project's files by their names there, and by the paths that an editor has. */
final class SourcePaths {
    private final Path root;

    SourcePaths(Project project) {
        this.root = project.root().toAbsolutePath().normalize();
    }

    /** The name of a file: its path below the project, or the whole of it. */
    static String name(Project project, Path file) {
        return new SourcePaths(project).name(file.toString());
    }

    String name(String path) {
        Path file = Path.of(path).toAbsolutePath().normalize();
        return file.startsWith(root)
                ? root.relativize(file).toString().replace('\\', '/')
                : file.toString();
    }

    /** The path that an editor opens. */
    Path path(String name) {
        return root.resolve(name).normalize();
    }
}
