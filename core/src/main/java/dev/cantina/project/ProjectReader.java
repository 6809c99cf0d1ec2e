package dev.cantina.project;

import dev.cantina.database.ServerConnection;
import dev.cantina.hosting.PrivateServer;
import dev.cantina.runtime.Limits;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Reading;
import dev.cantina.syntax.Source;
import java.io.IOException;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileSystemLoopException;
import java.nio.file.FileVisitOption;
import java.nio.file.FileVisitResult;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.PathMatcher;
import java.nio.file.SimpleFileVisitor;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;

/** Finds and reads the files of a project. */
public final class ProjectReader {
    private static final String TABLES = "tables/**/*.sql";
    private static final String ROUTINES = "routines/**/*.sql";

    public static final String FILE = "cantina.yaml";

    /** What a decoder puts in the place of what it can't read. */
    private static final char REPLACED = '\uFFFD';

    private static final Set<String> KEYS =
            Set.of(
                    "project",
                    "fixture",
                    "database",
                    "databases",
                    "limits",
                    "advice",
                    "dialect",
                    "schema",
                    "tables",
                    "routines",
                    "standard",
                    "search_path",
                    "import",
                    "agree",
                    "invariants");
    private static final Set<String> LIMITS = Set.of("statements", "seconds", "depth", "rows");

    private ProjectReader() {}

    /** The keys of {@code cantina.yaml}, in order. */
    public static List<String> keys() {
        return KEYS.stream().sorted().toList();
    }

    /** The names of limits, in order. */
    public static List<String> limitNames() {
        return LIMITS.stream().sorted().toList();
    }

    /**
     * Reads the project that a folder belongs to: its own, or the nearest one above it.
     *
     * @throws ProjectException where there is none, or it is wrong
     */
    public static Project find(Path folder) throws ProjectException {
        Path start = folder.toAbsolutePath().normalize();
        for (Path at = start; at != null; at = at.getParent()) {
            if (Files.isRegularFile(at.resolve(FILE))) {
                return read(at);
            }
        }
        throw new ProjectException(
                "no "
                        + FILE
                        + " in "
                        + folder
                        + " or above it; go to a project's folder, name one"
                        + " with --project DIR, or start one with cantina new DIR");
    }

    /** Reads the project in exactly this folder. */
    public static Project read(Path root) throws ProjectException {
        Path file = root.resolve(FILE);
        if (!Files.isRegularFile(file)) {
            throw new ProjectException(
                    "no " + FILE + " in " + root + "; start a project with cantina new DIR");
        }
        return read(root, source(file, FILE));
    }

    /** The project of a folder, with settings that need not be stored. */
    public static Project read(Path root, Source settings) throws ProjectException {
        YamlNode.Mapping top = YamlReader.read(settings).mapping(FILE, KEYS);
        String name =
                top.get("project").isPresent()
                        ? top.get("project").get().text("project")
                        : String.valueOf(root.toAbsolutePath().normalize().getFileName());
        String fixture =
                top.get("fixture").isPresent() ? top.get("fixture").get().text("fixture") : "";
        String database =
                top.get("database").isPresent()
                        ? top.get("database").get().text("database")
                        : "embedded";
        return new Project(
                root,
                name,
                fixture,
                database,
                databases(top),
                limits(top),
                silenced(top),
                reading(top, database),
                own(top, database),
                imported(top),
                same(top, database),
                top.get("invariants").isPresent()
                        ? Invariant.read(top.get("invariants").get(), List.of())
                        : List.of(),
                false);
    }

    /** The routines that another project has too; that is said in the standard language's. */
    private static Map<String, String> same(YamlNode.Mapping top, String database)
            throws ProjectException {
        if (top.get("agree").isPresent() && own(top, database).isPresent()) {
            throw top.get("agree")
                    .get()
                    .wrong("agree: is said in the project of the standard language");
        }
        return texts(top, "agree");
    }

    private static final Set<String> IMPORT_KEYS =
            Set.of("from", "schemas", "rows", "queries", "hide", "fixture");

    private static Optional<Project.Imported> imported(YamlNode.Mapping top)
            throws ProjectException {
        if (top.get("import").isEmpty()) {
            return Optional.empty();
        }
        YamlNode.Mapping said = top.get("import").get().mapping("import", IMPORT_KEYS);
        if (said.get("from").isEmpty()) {
            throw said.wrong("import: says from which database, as in from: live");
        }
        String from = said.get("from").get().text("from");
        boolean known =
                top.get("databases").isPresent()
                        && top.get("databases").get().get(from).isPresent();
        if (!known) {
            throw said.get("from")
                    .get()
                    .wrong("there is no database " + from + " in databases: of " + FILE);
        }
        int rows = 0;
        if (said.get("rows").isPresent()) {
            BigDecimal number = said.get("rows").get().number("rows");
            if (number.signum() < 0 || number.stripTrailingZeros().scale() > 0) {
                throw said.get("rows").get().wrong("rows is a whole number, 0 for none");
            }
            rows = number.min(BigDecimal.valueOf(Integer.MAX_VALUE)).intValue();
        }
        String fixture =
                said.get("fixture").isPresent()
                        ? said.get("fixture").get().text("fixture")
                        : "imported";
        if (fixture.isBlank() || fixture.contains("..") || fixture.startsWith("/")) {
            throw said.get("fixture").get().wrong("a fixture's name is that of a folder");
        }
        return Optional.of(
                new Project.Imported(
                        from,
                        said.get("schemas").isEmpty() ? List.of() : patterns(said, "schemas", ""),
                        rows,
                        texts(said, "queries"),
                        texts(said, "hide"),
                        fixture));
    }

    private static Map<String, String> texts(YamlNode.Mapping mapping, String key)
            throws ProjectException {
        Map<String, String> texts = new LinkedHashMap<>();
        if (mapping.get(key).isPresent()) {
            for (Map.Entry<String, YamlNode> entry :
                    mapping.get(key).get().mapping(key).fields().entrySet()) {
                // NULL is a word here.
                YamlNode value = entry.getValue();
                boolean none = value instanceof YamlNode.Scalar scalar && scalar.value() == null;
                texts.put(entry.getKey(), none ? "null" : value.text(entry.getKey()));
            }
        }
        return texts;
    }

    /** Whether the project is in a server's own language, and where that is. */
    private static Optional<Project.OwnLanguage> own(YamlNode.Mapping top, String database)
            throws ProjectException {
        String dialect =
                top.get("dialect").isPresent()
                        ? top.get("dialect").get().text("dialect")
                        : "standard";
        boolean hosted = database.equals(PrivateServer.NAME);
        // The routines of the standard language may be read with the quotes of MariaDB.
        boolean own = dialect.equals("postgresql") || dialect.equals("mariadb") && hosted;
        for (String key : List.of("tables", "routines", "standard", "search_path", "import")) {
            if (!own && top.get(key).isPresent()) {
                throw top.get(key)
                        .get()
                        .wrong(
                                key
                                        + " is for a project in a server's own language: dialect:"
                                        + " postgresql, or mariadb, with database: private");
            }
        }
        if (!own) {
            if (hosted) {
                throw top.get("database")
                        .get()
                        .wrong(
                                "a private server is for a project in a server's own language; say"
                                        + " dialect: postgresql or mariadb too");
            }
            return Optional.empty();
        }
        return Optional.of(
                new Project.OwnLanguage(
                        dialect,
                        patterns(top, "tables", TABLES),
                        patterns(top, "routines", ROUTINES),
                        top.get("standard").isEmpty() ? List.of() : patterns(top, "standard", ""),
                        searchPath(top, dialect)));
    }

    private static List<String> searchPath(YamlNode.Mapping top, String dialect)
            throws ProjectException {
        if (top.get("search_path").isEmpty()) {
            return List.of();
        }
        if (!dialect.equals("postgresql")) {
            throw top.get("search_path").get().wrong("search_path is for dialect: postgresql");
        }
        return patterns(top, "search_path", "");
    }

    private static List<String> patterns(YamlNode.Mapping top, String key, String otherwise)
            throws ProjectException {
        if (top.get(key).isEmpty()) {
            return List.of(otherwise);
        }
        YamlNode node = top.get(key).get();
        List<String> patterns = new ArrayList<>();
        if (node instanceof YamlNode.Sequence sequence) {
            for (YamlNode item : sequence.items()) {
                patterns.add(item.text(key));
            }
        } else {
            patterns.add(node.text(key));
        }
        return patterns;
    }

    /**
     * The files of a project that patterns mean, pattern by pattern, each in name order; a file
     * that two of them mean comes once. {@code **} stands for any folders, none too.
     *
     * @throws ProjectException where a pattern leads out of the project, or finds nothing
     */
    public static List<Path> matching(Project project, List<String> patterns)
            throws ProjectException {
        LinkedHashSet<Path> found = new LinkedHashSet<>();
        List<Path> all = files(project.root(), "");
        for (String pattern : patterns) {
            if (pattern.startsWith("/") || List.of(pattern.split("/")).contains("..")) {
                throw outside(pattern);
            }
            PathMatcher matcher;
            PathMatcher direct;
            try {
                matcher = project.root().getFileSystem().getPathMatcher("glob:" + pattern);
                direct =
                        project.root()
                                .getFileSystem()
                                .getPathMatcher("glob:" + pattern.replace("**/", ""));
            } catch (IllegalArgumentException e) {
                throw new ProjectException(
                        FILE + ": the pattern " + pattern + " can't be read: " + e.getMessage());
            }
            // A project may have no tables yet, or no routines; what its author wrote must be
            // there.
            boolean any = pattern.equals(TABLES) || pattern.equals(ROUTINES);
            for (Path file : all) {
                Path relative = project.root().relativize(file);
                if (matcher.matches(relative)
                        || pattern.contains("**/") && direct.matches(relative)) {
                    found.add(file);
                    any = true;
                }
            }
            if (!any) {
                throw new ProjectException(
                        FILE + ": no file of the project is meant by the pattern " + pattern);
            }
        }
        return List.copyOf(found);
    }

    private static Reading reading(YamlNode top, String database) throws ProjectException {
        boolean backticks = false;
        if (top.get("dialect").isPresent()) {
            YamlNode dialect = top.get("dialect").get();
            String name = dialect.text("dialect");
            if (!List.of("standard", "postgresql", "mariadb").contains(name)) {
                throw dialect.wrong("dialect is standard, postgresql or mariadb");
            }
            backticks = name.equals("mariadb") && !database.equals(PrivateServer.NAME);
        }
        Optional<String> schema = Optional.empty();
        if (top.get("schema").isPresent()) {
            schema = Optional.of(top.get("schema").get().text("schema").toUpperCase(Locale.ROOT));
        }
        return new Reading(backticks, schema);
    }

    private static Map<String, Project.DatabaseEntry> databases(YamlNode top)
            throws ProjectException {
        Map<String, Project.DatabaseEntry> databases = new LinkedHashMap<>();
        if (top.get("databases").isEmpty()) {
            return databases;
        }
        YamlNode.Mapping all = top.get("databases").get().mapping("databases");
        for (Map.Entry<String, YamlNode> entry : all.fields().entrySet()) {
            YamlNode.Mapping one =
                    entry.getValue().mapping("a database", Set.of("url", "user", "password"));
            Map<String, String> values = new LinkedHashMap<>();
            for (String key : List.of("url", "user", "password")) {
                values.put(key, one.get(key).isPresent() ? one.get(key).get().text(key) : "");
            }
            if (ServerConnection.holdsPassword(values.get("url"))) {
                // Its line is not shown: the password stands in it.
                throw new ProjectException(
                        "cantina.yaml: the url of the database "
                                + entry.getKey()
                                + " holds a user or a password; say user: and password: beside it,"
                                + " the password as env:NAME or file:PATH");
            }
            databases.put(
                    entry.getKey(),
                    new Project.DatabaseEntry(
                            values.get("url"), values.get("user"), values.get("password")));
        }
        return databases;
    }

    private static Limits limits(YamlNode top) throws ProjectException {
        return top.get("limits").isEmpty()
                ? Limits.DEFAULT
                : limits(top.get("limits").get(), Limits.DEFAULT);
    }

    /** Limits as a file says them; what it does not say stays as it is. */
    public static Limits limits(YamlNode node, Limits otherwise) throws ProjectException {
        YamlNode.Mapping mapping = node.mapping("limits", LIMITS);
        Limits limits = otherwise;
        for (Map.Entry<String, YamlNode> entry : mapping.fields().entrySet()) {
            double value = entry.getValue().number(entry.getKey()).doubleValue();
            if (value <= 0) {
                throw entry.getValue().wrong("a limit is greater than 0");
            }
            limits = limit(limits, entry.getKey(), value);
        }
        return limits;
    }

    /** The limits with one of them changed. */
    public static Limits limit(Limits limits, String name, double value) {
        return switch (name) {
            case "statements" ->
                    new Limits((long) value, limits.seconds(), limits.depth(), limits.rows());
            case "seconds" -> new Limits(limits.statements(), value, limits.depth(), limits.rows());
            case "depth" ->
                    new Limits(limits.statements(), limits.seconds(), (int) value, limits.rows());
            default ->
                    new Limits(limits.statements(), limits.seconds(), limits.depth(), (long) value);
        };
    }

    private static List<String> silenced(YamlNode top) throws ProjectException {
        List<String> rules = new ArrayList<>();
        if (top.get("advice").isPresent()) {
            YamlNode advice = top.get("advice").get().mapping("advice", Set.of("silence"));
            if (advice.get("silence").isPresent()) {
                for (YamlNode rule : advice.get("silence").get().sequence("silence").items()) {
                    rules.add(rule.text("a rule"));
                }
            }
        }
        return rules;
    }

    /**
     * Reads a text file in UTF-8.
     *
     * @throws ProjectException where it can't be read, or is in another encoding
     */
    public static Source source(Path file, String shown) throws ProjectException {
        try {
            byte[] bytes = Files.readAllBytes(file);
            String text = new String(bytes, StandardCharsets.UTF_8);
            if (text.indexOf(REPLACED) >= 0
                    && !Arrays.equals(bytes, text.getBytes(StandardCharsets.UTF_8))) {
                Source readable = new Source(shown, text);
                int at = text.indexOf(REPLACED);
                throw new ProjectException(
                        Problem.error(
                                readable.span(at, at + 1),
                                "encoding",
                                "this file is not in UTF-8",
                                "save it as UTF-8"));
            }
            return new Source(shown, text);
        } catch (NoSuchFileException e) {
            throw new ProjectException(shown + ": there is no such file");
        } catch (IOException e) {
            throw new ProjectException(shown + ": can't be read (" + reason(e) + ")");
        }
    }

    /** What went wrong with a file, in words. */
    public static String reason(IOException e) {
        return e instanceof java.nio.file.AccessDeniedException
                ? "permission denied"
                : e.getClass().getSimpleName().replace("Exception", "");
    }

    private static boolean hasEnding(Path path, String... endings) {
        return Stream.of(endings).anyMatch(e -> path.getFileName().toString().endsWith(e));
    }

    /** The project that a folder is in; the folder itself where it is in none. */
    private static Path root(Path folder) {
        for (Path at = folder.toAbsolutePath(); at != null; at = at.getParent()) {
            if (Files.exists(at.resolve(FILE))) {
                return at;
            }
        }
        return folder;
    }

    /**
     * The files below a folder with one of the endings, in name order; none where it is missing.
     *
     * @throws ProjectException where one can't be read, or is a link that leads out of the project
     */
    public static List<Path> files(Path folder, String... endings) throws ProjectException {
        if (!Files.isDirectory(folder)) {
            return List.of();
        }
        List<Path> files = new ArrayList<>();
        try {
            Path root = root(folder).toRealPath();
            Files.walkFileTree(
                    folder,
                    Set.of(FileVisitOption.FOLLOW_LINKS),
                    Integer.MAX_VALUE,
                    new SimpleFileVisitor<>() {
                        @Override
                        public FileVisitResult preVisitDirectory(
                                Path inner, BasicFileAttributes attributes) throws IOException {
                            checkInside(inner, root);
                            return FileVisitResult.CONTINUE;
                        }

                        @Override
                        public FileVisitResult visitFile(Path file, BasicFileAttributes attributes)
                                throws IOException {
                            if (attributes.isRegularFile() && hasEnding(file, endings)) {
                                checkInside(file, root);
                                files.add(file);
                            }
                            return FileVisitResult.CONTINUE;
                        }
                    });
        } catch (OutsideException e) {
            throw outside(e.getMessage());
        } catch (FileSystemLoopException e) {
            throw new ProjectException(e.getMessage() + " is a link that leads to itself");
        } catch (IOException e) {
            throw new ProjectException(
                    "the folder " + folder + " can't be read: permission denied");
        }
        files.sort(null);
        return List.copyOf(files);
    }

    /**
     * A file that a file of the project names.
     *
     * @param name its path from the project's folder
     * @throws ProjectException where it is outside of that
     */
    public static Path inside(Project project, String name) throws ProjectException {
        Path root = project.root().toAbsolutePath().normalize();
        try {
            Path file = root.resolve(name).normalize();
            boolean inside =
                    file.startsWith(root)
                            && (!Files.exists(file)
                                    || file.toRealPath().startsWith(root.toRealPath()));
            if (inside) {
                return file;
            }
        } catch (IOException | InvalidPathException e) {
            // What can't be told to be inside is outside.
            throw outside(name);
        }
        throw outside(name);
    }

    private static ProjectException outside(String name) {
        return new ProjectException(
                name + " leads out of the project; keep what is meant there itself");
    }

    /** A link that leads out of the project. */
    private static final class OutsideException extends IOException {
        private static final long serialVersionUID = 1L;

        OutsideException(Path link) {
            super(link.toString());
        }
    }

    private static void checkInside(Path path, Path root) throws IOException {
        if (!path.toRealPath().startsWith(root)) {
            throw new OutsideException(path);
        }
    }
}
