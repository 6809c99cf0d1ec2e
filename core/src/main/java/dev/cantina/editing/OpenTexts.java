package dev.cantina.editing;

import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;

/** The texts of a project that an editor has open, by the names of their files. */
final class OpenTexts {
    private final Project project;
    private final Map<String, String> texts = new HashMap<>();

    OpenTexts(Project project) {
        this.project = project;
    }

    synchronized void put(String file, String text) {
        texts.put(file, text);
    }

    synchronized void remove(String file) {
        texts.remove(file);
    }

    synchronized Map<String, String> all() {
        return Map.copyOf(texts);
    }

    /** Whether one of some files has a text that is not stored. */
    boolean hasUnsaved(Predicate<String> files) {
        for (Map.Entry<String, String> one : all().entrySet()) {
            if (files.test(one.getKey())
                    && !stored(one.getKey()).equals(Optional.of(one.getValue()))) {
                return true;
            }
        }
        return false;
    }

    /** The files of cases, by their names. */
    List<String> caseFiles() {
        try {
            return ProjectReader.files(project.root().resolve("cases"), ".yaml", ".yml").stream()
                    .map(project::shown)
                    .toList();
        } catch (ProjectException e) {
            return List.of();
        }
    }

    /** A file's text: as an editor has it, or as it is stored; empty where there is none. */
    Optional<String> text(String file) {
        synchronized (this) {
            if (texts.containsKey(file)) {
                return Optional.of(texts.get(file));
            }
        }
        return stored(file);
    }

    private Optional<String> stored(String file) {
        Path path = project.root().resolve(file);
        try {
            return Files.isRegularFile(path)
                    ? Optional.of(ProjectReader.source(path, file).written())
                    : Optional.empty();
        } catch (ProjectException e) {
            return Optional.empty();
        }
    }
}
