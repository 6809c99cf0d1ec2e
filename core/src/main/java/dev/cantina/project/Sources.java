package dev.cantina.project;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;

/** The files that a project's routines come from. */
public final class Sources {
    private Sources() {}

    /**
     * A fingerprint of the files of a project, and of the program that reads them: equal where
     * nothing has changed that a translation depends on.
     *
     * @throws ProjectException where a folder can't be read
     */
    public static String fingerprint(Project project) throws ProjectException {
        try {
            MessageDigest digest = MessageDigest.getInstance("SHA-256");
            digest.update(program().getBytes(StandardCharsets.UTF_8));
            for (String folder : List.of("tables", "routines")) {
                for (Path file : ProjectReader.files(project.root().resolve(folder), ".sql")) {
                    digest.update(project.shown(file).getBytes(StandardCharsets.UTF_8));
                    digest.update(Files.readAllBytes(file));
                }
            }
            if (project.own().isPresent()) {
                List<String> patterns = new ArrayList<>(project.own().get().tables());
                patterns.addAll(project.own().get().routines());
                for (Path file : ProjectReader.matching(project, patterns)) {
                    digest.update(project.shown(file).getBytes(StandardCharsets.UTF_8));
                    digest.update(Files.readAllBytes(file));
                }
            }
            digest.update(Files.readAllBytes(project.root().resolve("cantina.yaml")));
            return HexFormat.of().formatHex(digest.digest());
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** Another build may translate otherwise. */
    private static String program() throws IOException {
        Path place =
                Path.of(
                        java.net.URI.create(
                                Sources.class
                                        .getProtectionDomain()
                                        .getCodeSource()
                                        .getLocation()
                                        .toString()));
        return place + " " + Files.getLastModifiedTime(place);
    }
}
