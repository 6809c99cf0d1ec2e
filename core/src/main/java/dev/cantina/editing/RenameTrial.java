package dev.cantina.editing;

import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import dev.cantina.testing.CaseFiles;
import dev.cantina.testing.CaseResult;
import dev.cantina.testing.CaseResult.Verdict;
import dev.cantina.testing.Suite;
import java.io.IOException;
import java.nio.file.FileVisitResult;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.SimpleFileVisitor;
import java.nio.file.attribute.BasicFileAttributes;
import java.time.Clock;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Timer;
import java.util.TimerTask;

/**
 * Runs the cases of a project as it is and as it would be with a new name, in two copies of its
 * folder that are gone afterwards.
 */
final class RenameTrial {
    private static final List<String> FOLDERS =
            List.of("tables", "routines", "cases", "fixtures", "scripts", "lib");
    private static final long MOST_BYTES = 64L << 20;
    private static final long MOST_MILLIS = 60_000;

    private final ProjectState state;
    private final String name;
    private final String old;

    RenameTrial(ProjectState state, String name, String old) {
        this.state = state;
        this.name = name;
        this.old = old;
    }

    /** What came of it. */
    private record Tried(Map<String, CaseResult> results) {
        private boolean passed(String key) {
            return results.containsKey(key) && results.get(key).verdict() == Verdict.PASSED;
        }

        /** The first case that passed and does not any more. */
        private Optional<CaseResult> worse(Tried then) {
            return results.keySet().stream()
                    .filter(k -> passed(k) && !then.passed(k))
                    .findFirst()
                    .map(results::get);
        }
    }

    /**
     * Runs all cases before and after.
     *
     * @param results whether a column is renamed, by whose name rows may be handed out
     * @return the change, with the names of results where they have changed too
     * @throws ProjectException where a case that passes would not, or they take too long
     */
    Rename.Change proved(Rename.Change change, boolean results) throws ProjectException {
        Tried now = tried(new Rename.Change(Map.of(), Map.of(), List.of()));
        Tried then = tried(change);
        if (results && now.worse(then).isPresent()) {
            Rename.Change more = withResults(change);
            Tried again = tried(more);
            if (now.worse(again).isEmpty()) {
                return more;
            }
        }
        Optional<CaseResult> worse = now.worse(then);
        if (worse.isPresent()) {
            throw new ProjectException(
                    old
                            + " can't be called "
                            + name
                            + ": the case '"
                            + worse.get().testCase().name()
                            + "' would not pass any more");
        }
        return change;
    }

    /** The columns of rows that are handed out, and that cases expect by their names. */
    private Rename.Change withResults(Rename.Change change) {
        Map<String, List<Span>> places = new LinkedHashMap<>();
        change.places().forEach((file, spans) -> places.put(file, new ArrayList<>(spans)));
        for (String file : state.caseFiles()) {
            for (CaseNames.Use use : CaseNames.of(new Source(file, state.text(file).orElse("")))) {
                if (use.kind() == CaseNames.Kind.RESULT
                        && CaseNames.same(use.name(), old)
                        && CaseNames.same(use.span().text(), old)) {
                    places.computeIfAbsent(file, f -> new ArrayList<>()).add(use.span());
                }
            }
        }
        return new Rename.Change(places, change.moves(), change.alsoNamed());
    }

    private Tried tried(Rename.Change change) throws ProjectException {
        Path copy = null;
        try {
            copy = Files.createTempDirectory("cantina-rename");
            Path root = state.project().root();
            for (String folder : FOLDERS) {
                copy(root, folder, copy, change);
            }
            write("cantina.yaml", copy, change);
            return run(ProjectReader.read(copy));
        } catch (IOException e) {
            throw new ProjectException(
                    "the cases can't be tried in a copy of the project: " + e.getMessage());
        } finally {
            remove(copy);
        }
    }

    private static void remove(Path folder) {
        if (folder == null) {
            return;
        }
        try (var all = Files.walk(folder)) {
            for (Path path : all.sorted(java.util.Comparator.reverseOrder()).toList()) {
                Files.deleteIfExists(path);
            }
        } catch (IOException e) {
            // It lies in the folder for what is temporary, and nothing uses it.
            return;
        }
    }

    private void copy(Path root, String folder, Path to, Rename.Change change)
            throws IOException, ProjectException {
        Path from = root.resolve(folder);
        if (!Files.isDirectory(from)) {
            return;
        }
        List<Path> files = new ArrayList<>();
        long[] bytes = {0};
        Files.walkFileTree(
                from,
                new SimpleFileVisitor<>() {
                    @Override
                    public FileVisitResult visitFile(Path file, BasicFileAttributes attributes) {
                        if (attributes.isRegularFile()) {
                            bytes[0] += attributes.size();
                            files.add(file);
                        }
                        return bytes[0] > MOST_BYTES
                                ? FileVisitResult.TERMINATE
                                : FileVisitResult.CONTINUE;
                    }
                });
        if (bytes[0] > MOST_BYTES) {
            throw new ProjectException(
                    folder + " is too large to try the cases in a copy: over 64 MB");
        }
        for (Path file : files) {
            String name = state.project().shown(file);
            Path target = to.resolve(change.moves().getOrDefault(name, name));
            Files.createDirectories(target.getParent());
            if (folder.equals("lib")) {
                Files.copy(file, target);
            } else {
                write(name, to, change);
            }
        }
    }

    private void write(String name, Path to, Rename.Change change) throws IOException {
        Optional<String> text = state.text(name);
        Path target = to.resolve(change.moves().getOrDefault(name, name));
        if (text.isPresent()) {
            Files.writeString(
                    target,
                    Rename.renamed(
                            text.get(), change.places().getOrDefault(name, List.of()), this.name));
        } else {
            Files.copy(state.project().root().resolve(name), target);
        }
    }

    private static Tried run(Project project) throws ProjectException {
        CaseFiles.Found found = CaseFiles.read(project);
        Map<String, CaseResult> results = new LinkedHashMap<>();
        found.broken().forEach(r -> results.put(key(r), r));
        Suite suite =
                new Suite(
                        project,
                        Optional.empty(),
                        project.limits(),
                        Clock.system(ZoneId.systemDefault()),
                        Optional::empty);
        Timer timer = new Timer("rename", true);
        try {
            timer.schedule(
                    new TimerTask() {
                        @Override
                        public void run() {
                            suite.interrupt();
                        }
                    },
                    MOST_MILLIS);
            suite.run(
                            found.cases(),
                            new Suite.Order(1, Optional.empty(), false),
                            r -> {
                                // Nobody is told of each.
                            })
                    .forEach(r -> results.put(key(r), r));
        } finally {
            timer.cancel();
        }
        if (suite.isInterrupted()) {
            throw new ProjectException(
                    "the cases take over a minute: whether they pass with another name is not known");
        }
        return new Tried(results);
    }

    private static String key(CaseResult result) {
        return result.testCase().place().source().name() + "\n" + result.testCase().name();
    }
}
