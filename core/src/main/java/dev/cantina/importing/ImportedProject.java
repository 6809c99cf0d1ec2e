package dev.cantina.importing;

import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.cantina.project.KeptFile;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.Iterator;
import java.util.List;
import java.util.TreeMap;

/** The files of a project beside those that an import makes now. */
public final class ImportedProject {
    private static final String KEPT = "import.json";

    /** How a file stands to the one that is imported now. */
    public enum State {
        /** It is not here yet. */
        NEW,
        /** It is the same here and there. */
        SAME,
        /** It was changed there since it was imported, and not here. */
        CHANGED_THERE,
        /** It was changed here, and not there. */
        CHANGED_HERE,
        /** It was changed on both sides, or nobody knows where. */
        CHANGED_BOTH,
        /** It is there no longer. */
        GONE
    }

    /**
     * A file, here and there.
     *
     * @param here null where it is not here
     * @param there null where it is not there
     */
    public record Change(String path, State state, String here, String there) {}

    private final Project project;
    private final KeptFile kept;

    public ImportedProject(Project project) {
        this.project = project;
        this.kept = new KeptFile(project, KEPT);
    }

    /**
     * All files of an import, in the order of their names, with those that are gone.
     *
     * @throws ProjectException where one can't be read
     */
    public List<Change> compare(List<ImportedFile> files) throws ProjectException {
        ObjectNode before = kept.read();
        TreeMap<String, Change> changes = new TreeMap<>();
        for (ImportedFile file : files) {
            String here = here(file.path());
            String known = before.path(file.path()).asText("");
            changes.put(
                    file.path(),
                    new Change(file.path(), state(here, file.text(), known), here, file.text()));
        }
        for (Iterator<String> names = before.fieldNames(); names.hasNext(); ) {
            String path = names.next();
            String here = changes.containsKey(path) ? null : here(path);
            if (here != null) {
                changes.put(path, new Change(path, State.GONE, here, null));
            }
        }
        return new ArrayList<>(changes.values());
    }

    private static State state(String here, String there, String known) {
        if (here == null) {
            return State.NEW;
        }
        if (here.equals(there)) {
            return State.SAME;
        }
        if (sum(here).equals(known)) {
            return State.CHANGED_THERE;
        }
        return sum(there).equals(known) ? State.CHANGED_HERE : State.CHANGED_BOTH;
    }

    private String here(String path) throws ProjectException {
        Path file = ProjectReader.inside(project, path);
        try {
            return Files.isRegularFile(file) ? Files.readString(file) : null;
        } catch (IOException e) {
            throw new ProjectException(path + " can't be read (" + ProjectReader.reason(e) + ")");
        }
    }

    /**
     * Makes the project's files those that are there: each is written whole, or not at all.
     *
     * @throws ProjectException where one can't be written; those before it are
     */
    public void take(List<Change> changes) throws ProjectException {
        ObjectNode known = kept.read();
        try {
            for (Change change : changes) {
                Path file = ProjectReader.inside(project, change.path());
                try {
                    if (change.there() == null) {
                        Files.deleteIfExists(file);
                        known.remove(change.path());
                    } else {
                        if (!change.there().equals(change.here())) {
                            write(file, change.there());
                        }
                        known.put(change.path(), sum(change.there()));
                    }
                } catch (IOException e) {
                    throw new ProjectException(
                            change.path() + " can't be written (" + ProjectReader.reason(e) + ")");
                }
            }
        } finally {
            kept.write(known);
        }
    }

    private static void write(Path file, String text) throws IOException {
        Files.createDirectories(file.getParent());
        Path fresh = file.resolveSibling(file.getFileName() + "." + ProcessHandle.current().pid());
        try {
            Files.writeString(fresh, text, StandardCharsets.UTF_8);
            Files.move(fresh, file, StandardCopyOption.REPLACE_EXISTING);
        } finally {
            Files.deleteIfExists(fresh);
        }
    }

    private static String sum(String text) {
        try {
            return HexFormat.of()
                    .formatHex(
                            MessageDigest.getInstance("SHA-256")
                                    .digest(text.getBytes(StandardCharsets.UTF_8)));
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("every Java has SHA-256", e);
        }
    }
}
