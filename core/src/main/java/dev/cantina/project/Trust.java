package dev.cantina.project;

import dev.cantina.database.ServerConnection;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;

/**
 * What of a project reaches outside, and whether its user has trusted that: classes that run, and
 * servers that get a user's name and a password. It is trusted for one folder and as it is; what is
 * changed is asked for again. The answer is kept outside the project.
 */
public final class Trust {
    /** Says yes to all for one process, where nobody is there to be asked. */
    public static final String VARIABLE = "CANTINA_TRUST";

    /** The jars that ship with Cantina itself, by their SHA-256. */
    private static final Set<String> OWN =
            Set.of("de8069d81f1e59a1f495e0f3534c5d5afbe003275b8d0ed60c3a74f14ab93e7b");

    /**
     * Something that reaches outside.
     *
     * @param kind {@code jar}, {@code database} or {@code server}
     * @param name a jar's path in the project, or a database's name
     * @param does what it does, for a person
     * @param key what it is trusted by: its folder and its content
     */
    public record Reach(String kind, String name, String does, String key) {}

    private final Map<String, String> environment;

    /**
     * @param environment where the variable is looked up, and the folder that answers are kept in
     */
    public Trust(Map<String, String> environment) {
        this.environment = Map.copyOf(environment);
    }

    /** With this process's own variables. */
    public static Trust here() {
        return new Trust(System.getenv());
    }

    /**
     * All of a project that reaches outside, jars first.
     *
     * @throws ProjectException where a jar can't be read
     */
    public List<Reach> of(Project project) throws ProjectException {
        List<Reach> all = new ArrayList<>();
        for (Path jar : jars(project)) {
            all.add(jar(project, jar));
        }
        project.databases().keySet().forEach(name -> all.add(database(project, name)));
        if (project.own().isPresent()) {
            all.add(privateServer(project));
        }
        return all;
    }

    /** The jars of lib/, in name order. */
    static List<Path> jars(Project project) throws ProjectException {
        return ProjectReader.files(project.root().resolve("lib"), ".jar");
    }

    /**
     * A jar of the project.
     *
     * @throws ProjectException where it can't be read
     */
    Reach jar(Project project, Path jar) throws ProjectException {
        try {
            String content = sha256(Files.readAllBytes(jar));
            String name = project.shown(jar);
            String key = OWN.contains(content) ? content : key(project, "jar", name, content);
            return new Reach("jar", name, "its classes run as you do", key);
        } catch (IOException e) {
            throw new ProjectException(
                    project.shown(jar) + " can't be read (" + ProjectReader.reason(e) + ")");
        }
    }

    /** A database of the project. */
    Reach database(Project project, String name) {
        Project.DatabaseEntry entry = project.databases().get(name);
        String who = entry.user().isEmpty() ? "no user name" : "the name " + entry.user();
        String password =
                entry.password().isEmpty() ? "" : " and the password from " + entry.password();
        String content = entry.url() + "\n" + entry.user() + "\n" + entry.password();
        return new Reach(
                "database",
                name,
                "gets " + who + password + ", at " + entry.url(),
                key(project, "database", name, content));
    }

    /** The private server of a project in a server's own language. */
    Reach privateServer(Project project) {
        String dialect = project.own().orElseThrow().dialect();
        return new Reach(
                "server",
                dialect,
                "starts a "
                        + dialect
                        + " server of yours, where its SQL runs as a user without rights",
                key(project, "server", dialect, ""));
    }

    /**
     * Whether nobody hears anything new from going to a database: it is on this machine, wants no
     * password, and its url says nothing but how to talk to it.
     */
    static boolean isHarmless(Project.DatabaseEntry entry) {
        return entry.password().isEmpty() && ServerConnection.isPlainAndHere(entry.url());
    }

    /** Whether something is trusted. */
    public boolean isTrusted(Reach reach) {
        return isAllTrusted() || OWN.contains(reach.key()) || kept().contains(reach.key());
    }

    private boolean isAllTrusted() {
        return environment.getOrDefault(VARIABLE, "").equals("yes");
    }

    /**
     * Trusts these from now on.
     *
     * @throws ProjectException where that can't be kept
     */
    public void trust(List<Reach> reaches) throws ProjectException {
        Set<String> keys = new TreeSet<>(kept());
        reaches.forEach(r -> keys.add(r.key()));
        keep(keys);
    }

    /** Trusts these no longer. */
    public void forget(List<Reach> reaches) throws ProjectException {
        Set<String> keys = new TreeSet<>(kept());
        reaches.forEach(r -> keys.remove(r.key()));
        keep(keys);
    }

    private void keep(Set<String> keys) throws ProjectException {
        Path file =
                file().orElseThrow(
                                () ->
                                        new ProjectException(
                                                "there is no home folder to keep the answer in; set"
                                                        + " HOME, or "
                                                        + VARIABLE
                                                        + "=yes for this run"));
        try {
            Files.createDirectories(file.getParent());
            Path fresh =
                    file.resolveSibling(file.getFileName() + "." + ProcessHandle.current().pid());
            Files.writeString(fresh, String.join("\n", keys) + "\n");
            if (Files.getFileStore(fresh).supportsFileAttributeView("posix")) {
                Files.setPosixFilePermissions(fresh, PosixFilePermissions.fromString("rw-------"));
            }
            Files.move(fresh, file, StandardCopyOption.REPLACE_EXISTING);
        } catch (IOException e) {
            throw new ProjectException(
                    file
                            + " can't be written ("
                            + ProjectReader.reason(e)
                            + "); nothing is trusted");
        }
    }

    private Set<String> kept() {
        Optional<Path> file = file().filter(Files::isRegularFile);
        if (file.isEmpty()) {
            return Set.of();
        }
        try {
            return new LinkedHashSet<>(Files.readAllLines(file.get()));
        } catch (IOException e) {
            // What can't be read trusts nothing.
            return Set.of();
        }
    }

    private Optional<Path> file() {
        return file("trusted");
    }

    /** Where something of the user's own is kept, outside all projects; empty without a home. */
    public Optional<Path> file(String name) {
        String configuration = environment.getOrDefault("XDG_CONFIG_HOME", "");
        String home = environment.getOrDefault("HOME", environment.getOrDefault("USERPROFILE", ""));
        if (configuration.isEmpty() && home.isEmpty()) {
            return Optional.empty();
        }
        Path folder = configuration.isEmpty() ? Path.of(home, ".config") : Path.of(configuration);
        return folder.isAbsolute()
                ? Optional.of(folder.resolve("cantina").resolve(name))
                : Optional.empty();
    }

    private static String key(Project project, String kind, String name, String content) {
        Path root = project.root().toAbsolutePath().normalize();
        try {
            root = root.toRealPath();
        } catch (IOException e) {
            // A folder that is gone trusts nothing that another one at its place would have.
            return "";
        }
        String all = String.join("\0", root.toString(), kind, name, content);
        return sha256(all.getBytes(StandardCharsets.UTF_8));
    }

    private static String sha256(byte[] content) {
        try {
            return HexFormat.of().formatHex(MessageDigest.getInstance("SHA-256").digest(content));
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("every Java has SHA-256", e);
        }
    }
}
