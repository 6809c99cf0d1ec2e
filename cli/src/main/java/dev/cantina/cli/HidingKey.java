package dev.cantina.cli;

import dev.cantina.importing.Hiding;
import dev.cantina.project.Project;
import dev.cantina.project.Trust;
import java.io.IOException;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.SecureRandom;
import java.util.HexFormat;

/**
 * The key that made-up values follow from: the user's own, made once, outside all projects. With it
 * an import gives the same values again, and nobody who has a project alone can find the real ones.
 */
final class HidingKey {
    private static final int BYTES = 32;

    private HidingKey() {}

    static byte[] of(Project.Imported wanted) throws UsageException {
        if (!wanted.hide().containsValue(Hiding.MADE_UP)) {
            return new byte[BYTES];
        }
        Path file =
                Trust.here()
                        .file("hiding-key")
                        .orElseThrow(
                                () ->
                                        new UsageException(
                                                "there is no home folder to keep the key of made-up"
                                                        + " values in; set HOME"));
        try {
            if (!Files.exists(file)) {
                Files.createDirectories(file.getParent());
                byte[] fresh = new byte[BYTES];
                new SecureRandom().nextBytes(fresh);
                write(file, HexFormat.of().formatHex(fresh));
            }
            byte[] key = HexFormat.of().parseHex(Files.readString(file).strip());
            if (key.length == BYTES) {
                return key;
            }
        } catch (IOException | IllegalArgumentException e) {
            throw new UsageException(
                    file + ", the key of made-up values, can't be used: " + e.getMessage());
        }
        throw new UsageException(file + ", the key of made-up values, is not whole; take it away");
    }

    private static void write(Path file, String text) throws IOException {
        try {
            boolean posix = Files.getFileStore(file.getParent()).supportsFileAttributeView("posix");
            if (posix) {
                Files.createFile(
                        file,
                        PosixFilePermissions.asFileAttribute(
                                PosixFilePermissions.fromString("rw-------")));
            }
            Files.writeString(file, text);
        } catch (FileAlreadyExistsException e) {
            // Another run has made it meanwhile.
            return;
        }
    }
}
