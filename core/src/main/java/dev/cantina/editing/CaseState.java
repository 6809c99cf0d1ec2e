package dev.cantina.editing;

import dev.cantina.catalog.Catalog;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.testing.CaseFiles;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;

/**
 * The cases of a project as an editor has them, and what is wrong with them before they are run.
 */
final class CaseState {
    private final Project project;
    private final OpenTexts texts;
    private final Map<String, List<Problem>> ofTexts = new TreeMap<>();
    private final Map<String, List<CaseNames.Use>> uses = new TreeMap<>();
    private final Map<String, List<Problem>> ofNames = new TreeMap<>();

    /** The files that have come to be looked at, or of which something was told. */
    private final Set<String> concerned = new HashSet<>();

    /** Those whose names were not looked at since they were read. */
    private final Set<String> fresh = new HashSet<>();

    private String lookedAt = "";

    /** The project as it was when it could all be read, and was stored. */
    private Catalog stored;

    CaseState(Project project, OpenTexts texts) {
        this.project = project;
        this.texts = texts;
    }

    /** The files that are known. */
    Set<String> files() {
        Set<String> files = new LinkedHashSet<>(ofTexts.keySet());
        files.addAll(uses.keySet());
        return files;
    }

    /** Reads files, as they are now. */
    void read(Set<String> files) {
        concerned.addAll(files);
        for (String file : files) {
            List<Problem> wrong = wrong(file);
            ofTexts.remove(file);
            uses.remove(file);
            ofNames.remove(file);
            if (!wrong.isEmpty()) {
                ofTexts.put(file, wrong);
            }
            Optional<String> text = texts.text(file);
            if (wrong.isEmpty() && text.isPresent()) {
                uses.put(file, CaseNames.of(new Source(file, text.get())));
                fresh.add(file);
            }
        }
    }

    /**
     * Looks up the names in what was read since, or in all where the project has other names.
     *
     * @param names the names that it has, however they are written
     * @param isSettled whether all of the project can be read, and is stored: what is half typed,
     *     or just taken out to be moved, is no reason to find fault with a case
     */
    void look(Catalog catalog, String names, boolean isSettled) {
        if (isSettled) {
            stored = catalog;
        }
        if (stored == null) {
            // What can't be read may make what is named.
            return;
        }
        String now = names + isSettled;
        Set<String> looked = now.equals(lookedAt) ? fresh : uses.keySet();
        for (String file : Set.copyOf(looked)) {
            List<CaseNames.Use> named = uses.getOrDefault(file, List.of());
            List<Problem> wrong = CaseChecks.of(named, catalog);
            if (!isSettled) {
                List<Integer> then =
                        CaseChecks.of(named, stored).stream().map(p -> p.span().start()).toList();
                wrong = wrong.stream().filter(p -> then.contains(p.span().start())).toList();
            }
            ofNames.put(file, wrong);
            concerned.add(file);
        }
        lookedAt = now;
        fresh.clear();
    }

    /** Tells what is wrong with each file of which something was told, or is to be. */
    void tell(ProjectState.Listener listener) {
        Map<String, Set<Problem>> found = new TreeMap<>();
        for (Map<String, List<Problem>> all : List.of(ofTexts, ofNames)) {
            all.values().stream()
                    .flatMap(List::stream)
                    .forEach(
                            p ->
                                    found.computeIfAbsent(
                                                    p.span().source().name(),
                                                    f -> new LinkedHashSet<>())
                                            .add(p));
        }
        concerned.addAll(found.keySet());
        for (String file : concerned) {
            listener.problems(file, List.copyOf(found.getOrDefault(file, Set.of())));
        }
        concerned.retainAll(found.keySet());
    }

    private List<Problem> wrong(String file) {
        Optional<String> text = texts.text(file);
        if (text.isEmpty()) {
            return unreadable(file);
        }
        return CaseFiles.read(project, new Source(file, text.get())).broken().stream()
                .flatMap(b -> b.problem().stream())
                .toList();
    }

    /** A file that is there but can't be read; none where it is gone. */
    private List<Problem> unreadable(String file) {
        Path path = project.root().resolve(file);
        try {
            if (Files.exists(path)) {
                ProjectReader.source(path, file);
            }
            return List.of();
        } catch (ProjectException e) {
            return List.of(Problem.error(new Source(file, "").span(0, 0), "case", e.getMessage()));
        }
    }
}
