package dev.cantina.project;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;

/**
 * A JSON file of {@code .cantina/}, the folder in which a project keeps what it has found out from
 * one run to the next. Nothing in it is needed: where it can't be read or written, nothing is kept.
 */
public final class KeptFile {
    private static final ObjectMapper JSON = new ObjectMapper();

    private final Path file;

    public KeptFile(Project project, String name) {
        this.file = project.root().resolve(".cantina").resolve(name);
    }

    /** What is kept; an empty object where nothing is, or it can't be read. */
    public ObjectNode read() {
        try {
            if (isOurs()
                    && Files.exists(file)
                    && JSON.readTree(Files.readString(file)) instanceof ObjectNode known) {
                return known;
            }
        } catch (JsonProcessingException e) {
            return JSON.createObjectNode();
        } catch (IOException e) {
            return JSON.createObjectNode();
        }
        return JSON.createObjectNode();
    }

    /** A link would lead to some other folder: it is not followed. */
    private boolean isOurs() {
        return !Files.isSymbolicLink(file.getParent()) && !Files.isSymbolicLink(file);
    }

    /**
     * Keeps this from now on, whole or not at all.
     *
     * @return whether it could be written
     */
    public boolean write(ObjectNode content) {
        if (!isOurs()) {
            return false;
        }
        try {
            Files.createDirectories(file.getParent());
            Path ignore = file.resolveSibling(".gitignore");
            if (!Files.exists(ignore)) {
                Files.writeString(ignore, "*\n");
            }
            Path fresh =
                    file.resolveSibling(file.getFileName() + "." + ProcessHandle.current().pid());
            Files.writeString(
                    fresh, JSON.writerWithDefaultPrettyPrinter().writeValueAsString(content));
            Files.move(fresh, file, StandardCopyOption.REPLACE_EXISTING);
            return true;
        } catch (IOException e) {
            return false;
        }
    }
}
