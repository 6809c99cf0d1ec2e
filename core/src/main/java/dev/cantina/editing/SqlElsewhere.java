package dev.cantina.editing;

import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.project.YamlNode;
import dev.cantina.project.YamlReader;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Stream;

/**
 * The SQL of a project that stands in no routine: scripts, scripts of fixtures, and in files of
 * cases and {@code cantina.yaml} what goes before a case, what is asked for, and invariants.
 */
final class SqlElsewhere {
    /**
     * Statements at their places.
     *
     * @param source has the name of their file, and each letter at its offset there, with blanks
     *     for all that is around them
     * @param isExact whether each letter is: not where YAML has signs of its own in between
     */
    record Piece(Source source, boolean isExact) {}

    private static final long MOST_BYTES = 1 << 20;
    private static final Set<String> QUERIES = Set.of("ask", "query", "same_as", "none", "same");

    private final List<Piece> pieces = new ArrayList<>();

    private SqlElsewhere() {}

    /**
     * All of a project.
     *
     * @param texts a file's text, by its name in the project
     * @throws ProjectException where a folder can't be read
     */
    static List<Piece> of(Project project, Function<String, Optional<String>> texts)
            throws ProjectException {
        SqlElsewhere all = new SqlElsewhere();
        for (Path file : scripts(project)) {
            String name = project.shown(file);
            texts.apply(name).ifPresent(t -> all.pieces.add(new Piece(new Source(name, t), true)));
        }
        List<Path> yaml =
                new ArrayList<>(
                        ProjectReader.files(project.root().resolve("cases"), ".yaml", ".yml"));
        yaml.add(project.root().resolve("cantina.yaml"));
        for (Path file : yaml) {
            String name = project.shown(file);
            Optional<String> text = texts.apply(name);
            if (text.isPresent()) {
                all.yaml(new Source(name, text.get()));
            }
        }
        return all.pieces;
    }

    private static List<Path> scripts(Project project) throws ProjectException {
        List<Path> all =
                new ArrayList<>(ProjectReader.files(project.root().resolve("scripts"), ".sql"));
        for (Path folder : fixtures(project)) {
            all.addAll(ProjectReader.files(folder, ".sql"));
        }
        return all;
    }

    /** The folders of all fixtures. */
    static List<Path> fixtures(Project project) throws ProjectException {
        Path folder = project.root().resolve("fixtures");
        if (!Files.isDirectory(folder)) {
            return List.of();
        }
        try (Stream<Path> found = Files.list(folder)) {
            return found.filter(Files::isDirectory).sorted().toList();
        } catch (java.io.IOException e) {
            throw new ProjectException(project.shown(folder) + " can't be read");
        }
    }

    private void yaml(Source source) {
        try {
            walk(YamlReader.read(source), source);
        } catch (ProjectException e) {
            // Whoever checks the file says so.
            return;
        }
    }

    private void walk(YamlNode node, Source source) {
        if (node instanceof YamlNode.Sequence sequence) {
            sequence.items().forEach(i -> walk(i, source));
        } else if (node instanceof YamlNode.Mapping mapping) {
            mapping.fields()
                    .forEach(
                            (key, value) -> {
                                boolean sql = key.equals("before") || QUERIES.contains(key);
                                if (sql && value instanceof YamlNode.Scalar scalar) {
                                    piece(source, scalar);
                                } else {
                                    walk(value, source);
                                }
                            });
        }
    }

    private void piece(Source source, YamlNode.Scalar scalar) {
        if (!(scalar.value() instanceof String)) {
            return;
        }
        String raw = source.text();
        StringBuilder only = new StringBuilder();
        for (int i = 0; i < raw.length(); i++) {
            only.append(raw.charAt(i) == '\n' ? '\n' : ' ');
        }
        int at = begin(raw, scalar.span().start());
        boolean exact = true;
        String value = scalar.text();
        for (int i = 0; i < value.length(); i++) {
            char c = value.charAt(i);
            if (Character.isWhitespace(c)) {
                continue;
            }
            while (at < raw.length() && Character.isWhitespace(raw.charAt(at))) {
                at++;
            }
            if (at >= raw.length() || raw.charAt(at) != c) {
                exact = false;
                break;
            }
            only.setCharAt(at++, c);
        }
        if (!exact) {
            pieces.add(new Piece(new Source(source.name(), value), false));
            return;
        }
        if (!value.strip().endsWith(";")) {
            if (at < only.length() && only.charAt(at) == ' ') {
                only.setCharAt(at, ';');
            } else {
                only.append(';');
            }
        }
        pieces.add(new Piece(new Source(source.name(), only.toString()), true));
    }

    /** Behind the sign that a scalar begins with. */
    private static int begin(String raw, int start) {
        if (start >= raw.length()) {
            return start;
        }
        char first = raw.charAt(start);
        if (first == '|' || first == '>') {
            int line = raw.indexOf('\n', start);
            return line < 0 ? raw.length() : line;
        }
        return first == '"' || first == '\'' ? start + 1 : start;
    }

    /**
     * The files beside routines, tables, scripts and cases in which a name stands: scripts for the
     * debugger, programs that write a fixture.
     */
    static List<String> alsoNamed(Project project, String name) throws ProjectException {
        List<Path> folders = new ArrayList<>(fixtures(project));
        folders.add(project.root());
        List<String> named = new ArrayList<>();
        for (Path folder : folders) {
            try (Stream<Path> found = Files.list(folder)) {
                for (Path file : found.filter(Files::isRegularFile).sorted().toList()) {
                    if (isOther(file) && holds(project, file, name)) {
                        named.add(project.shown(file));
                    }
                }
            } catch (java.io.IOException e) {
                throw new ProjectException(project.shown(folder) + " can't be read");
            }
        }
        return named;
    }

    private static boolean isOther(Path file) throws java.io.IOException {
        String name = file.getFileName().toString();
        return !name.startsWith(".")
                && !name.equals(ProjectReader.FILE)
                && !name.endsWith(".csv")
                && !name.endsWith(".sql")
                && Files.size(file) < MOST_BYTES;
    }

    private static boolean holds(Project project, Path file, String name) {
        try {
            Source source = ProjectReader.source(file, project.shown(file));
            return word(source.span(0, source.text().length()), name).isPresent();
        } catch (ProjectException e) {
            // It is no text.
            return false;
        }
    }

    /** The first place at which a text names something, as a word of SQL, whatever it means. */
    static Optional<Span> mention(Source source, String name) {
        for (Span statement : Parser.statements(source)) {
            Optional<Span> found = word(statement, name);
            if (found.isPresent()) {
                return found;
            }
        }
        return Optional.empty();
    }

    /** The first place in a stretch at which a name stands, in quotes for texts too. */
    static Optional<Span> word(Span within, String name) {
        String text = within.text();
        for (int at = 0; at + name.length() <= text.length(); at++) {
            boolean found =
                    text.regionMatches(true, at, name, 0, name.length())
                            && (at == 0 || !isPart(text.charAt(at - 1)))
                            && (at + name.length() == text.length()
                                    || !isPart(text.charAt(at + name.length())));
            if (found) {
                int start = within.start() + at;
                return Optional.of(within.source().span(start, start + name.length()));
            }
        }
        return Optional.empty();
    }

    private static boolean isPart(char c) {
        return c == '_' || c == '$' || Character.isLetterOrDigit(c);
    }
}
