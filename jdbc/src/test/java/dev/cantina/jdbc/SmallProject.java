package dev.cantina.jdbc;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;

/** Small projects that a test writes. */
final class SmallProject {
    private SmallProject() {}

    /** A project with a routine that never ends. */
    static String endless() throws IOException {
        return url(
                Map.of(
                        "routines/forever.sql",
                        "CREATE PROCEDURE forever () BEGIN WHILE TRUE DO END WHILE; END;\n"));
    }

    /** A project of these files, by their names. */
    static String url(Map<String, String> files) throws IOException {
        Path folder = Files.createTempDirectory("cantina-jdbc");
        Files.createDirectories(folder.resolve("tables"));
        Files.createDirectories(folder.resolve("routines"));
        Files.writeString(folder.resolve("cantina.yaml"), "project: small\n");
        for (Map.Entry<String, String> file : files.entrySet()) {
            Files.writeString(folder.resolve(file.getKey()), file.getValue());
        }
        return "jdbc:cantina:" + folder + "?fresh=yes";
    }
}
