package dev.cantina.testing;

import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Unit;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * What a case depends on, as one text that differs when any of it does: its file, the tables, its
 * fixture, the jars, and all code that it can reach. Code is reached by name: a routine whose name
 * stands in a text that is reached, and a trigger whose table does. That is sometimes more than
 * what is called, and never less.
 */
public final class Fingerprints {
    private static final Pattern WORD = Pattern.compile("[\\p{L}_][\\p{L}\\p{N}_$]*");

    private final Project project;
    private final String common;

    /** The texts of routines and modules by the names that reach them, of triggers by table. */
    private final Map<String, Set<String>> texts = new HashMap<>();

    private final Map<String, Set<String>> words = new HashMap<>();
    private final Map<String, String> fixtures = new HashMap<>();
    private final Map<String, String> files = new HashMap<>();

    /**
     * @throws ProjectException where the project's files can't be read
     */
    public Fingerprints(Project project) throws ProjectException {
        this.project = project;
        Path root = project.root();
        this.common =
                content(ProjectReader.files(root.resolve("tables"), ".sql"))
                        + content(ProjectReader.files(root.resolve("lib"), ".jar"));
        for (Path path : ProjectReader.files(root.resolve("routines"), ".sql")) {
            Source source = ProjectReader.source(path, project.shown(path));
            ParsedFile file = Parser.parse(source);
            for (Unit unit : file.units()) {
                unit(unit);
            }
            if (!file.problems().isEmpty()) {
                // What can't be read may be anything.
                file.units().forEach(u -> reach("", source.text()));
            }
        }
    }

    private void unit(Unit unit) {
        String text = unit.span().text();
        if (unit instanceof Unit.Routine routine) {
            reach(routine.name().key(), text);
        } else if (unit instanceof Unit.Module module) {
            reach(module.name().key(), text);
            module.routines().forEach(r -> reach(r.name().key(), text));
        } else if (unit instanceof Unit.Trigger trigger) {
            reach(trigger.table().key(), text);
        }
    }

    private void reach(String name, String text) {
        texts.computeIfAbsent(name.toUpperCase(Locale.ROOT), n -> new LinkedHashSet<>()).add(text);
    }

    /** The fingerprint of each case, by its identity. */
    public Map<String, String> of(List<TestCase> cases) throws ProjectException {
        Map<String, String> all = new LinkedHashMap<>();
        for (TestCase testCase : cases) {
            all.put(testCase.id(), of(testCase));
        }
        return all;
    }

    private String of(TestCase testCase) throws ProjectException {
        String file = files.get(testCase.file());
        if (file == null) {
            file =
                    ProjectReader.source(project.root().resolve(testCase.file()), testCase.file())
                            .text();
            files.put(testCase.file(), file);
        }
        Set<String> reached = new TreeSet<>(texts.getOrDefault("", Set.of()));
        List<String> open = new ArrayList<>(reached);
        // The case's own words reach code too: its queries, and what it changes before.
        open.add(file);
        while (!open.isEmpty()) {
            String text = open.remove(open.size() - 1);
            for (String word : words.computeIfAbsent(text, Fingerprints::wordsOf)) {
                for (String next : texts.getOrDefault(word, Set.of())) {
                    if (reached.add(next)) {
                        open.add(next);
                    }
                }
            }
        }
        String fixture = testCase.fixture().orElse(project.fixture());
        StringBuilder whole = new StringBuilder(common).append(fixture(fixture)).append(file);
        reached.forEach(text -> whole.append('\0').append(text));
        return hash(whole.toString().getBytes(StandardCharsets.UTF_8));
    }

    private static Set<String> wordsOf(String text) {
        Set<String> words = new LinkedHashSet<>();
        Matcher matcher = WORD.matcher(text);
        while (matcher.find()) {
            words.add(matcher.group().toUpperCase(Locale.ROOT));
        }
        return words;
    }

    /** All fixtures' files: one may extend another. */
    private String fixture(String name) throws ProjectException {
        String known = fixtures.get(name);
        if (known == null) {
            known = name + content(ProjectReader.files(project.root().resolve("fixtures"), ""));
            fixtures.put(name, known);
        }
        return known;
    }

    private static String content(List<Path> files) throws ProjectException {
        StringBuilder all = new StringBuilder();
        for (Path file : files) {
            try {
                all.append(file.getFileName()).append(hash(Files.readAllBytes(file)));
            } catch (IOException e) {
                throw new ProjectException(
                        file + ": can't be read (" + ProjectReader.reason(e) + ")");
            }
        }
        return all.toString();
    }

    /** The fingerprint of a text. */
    public static String hash(String text) {
        return hash(text.getBytes(StandardCharsets.UTF_8));
    }

    private static String hash(byte[] bytes) {
        try {
            byte[] digest = MessageDigest.getInstance("SHA-256").digest(bytes);
            return HexFormat.of().formatHex(digest, 0, 12);
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }
}
