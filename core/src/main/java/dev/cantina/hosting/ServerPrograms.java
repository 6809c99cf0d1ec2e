package dev.cantina.hosting;

import java.io.File;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;

/**
 * Where the programs of a server are: those that the variable {@code CANTINA_POSTGRESQL} or {@code
 * CANTINA_MARIADB} names, those of the module {@code servers}, unpacked once for each user, or
 * those that the machine has.
 */
final class ServerPrograms {
    private static final int UNPACK_SECONDS = 60;
    private static final String UNPACKER = "dev/cantina/servers/Unpack.class";

    private final Map<String, String> environment;

    ServerPrograms(Map<String, String> environment) {
        this.environment = environment;
    }

    /**
     * The folder that a server is installed in.
     *
     * @param kind {@code postgresql} or {@code mariadb}
     * @param probe a program below it by which it is known
     */
    Path find(String kind, String probe) throws HostingException {
        String variable = "CANTINA_" + kind.toUpperCase(Locale.ROOT);
        String said = environment.getOrDefault(variable, "");
        if (!said.isEmpty()) {
            if (Files.isExecutable(Path.of(said).resolve(probe))) {
                return Path.of(said);
            }
            throw new HostingException(
                    variable
                            + " is "
                            + said
                            + ", where there is no "
                            + probe
                            + "; name the folder"
                            + " that holds it");
        }
        String jars = jars();
        if (!jars.isEmpty()) {
            return unpacked(kind, jars);
        }
        return installed(kind, probe)
                .orElseThrow(
                        () ->
                                new HostingException(
                                        "there are no programs of "
                                                + kind
                                                + " to start a private server from; build the module"
                                                + " servers (mvn -pl servers package), install the"
                                                + " server, or name its folder in "
                                                + variable));
    }

    /** A class path with what unpacks the servers; empty where it was not built. */
    private String jars() {
        String home = environment.getOrDefault("CANTINA_HOME", "");
        if (!home.isEmpty()) {
            Path target = Path.of(home, "servers", "target");
            if (Files.isRegularFile(target.resolve("cantina-servers.jar"))) {
                return target.resolve("cantina-servers.jar")
                        + File.pathSeparator
                        + target.resolve("lib")
                        + File.separator
                        + "*";
            }
        }
        return ServerPrograms.class.getClassLoader().getResource(UNPACKER) == null
                ? ""
                : System.getProperty("java.class.path");
    }

    private Path unpacked(String kind, String jars) throws HostingException {
        Path folder = PrivateServer.folder(environment, "XDG_CACHE_HOME", ".cache");
        Path programs = folder.resolve("programs").resolve(kind);
        if (Files.isDirectory(programs)) {
            return programs;
        }
        Path java = Path.of(System.getProperty("java.home"), "bin", "java");
        try {
            Files.createDirectories(programs.getParent());
            Path log = Files.createTempFile("cantina-unpack", ".log");
            Process process =
                    new ProcessBuilder(
                                    java.toString(),
                                    "-cp",
                                    jars,
                                    "dev.cantina.servers.Unpack",
                                    kind,
                                    programs.toString())
                            .redirectErrorStream(true)
                            .redirectOutput(log.toFile())
                            .start();
            boolean ended = process.waitFor(UNPACK_SECONDS, TimeUnit.SECONDS);
            if (!ended) {
                process.destroyForcibly();
            }
            String said = Files.readString(log);
            Files.delete(log);
            // Another process may have unpacked them at the same time.
            if (!Files.isDirectory(programs)) {
                throw new HostingException(
                        "the programs of "
                                + kind
                                + " can't be unpacked into "
                                + programs
                                + ": "
                                + (ended
                                        ? said.lines().findFirst().orElse("")
                                        : "it took too long"));
            }
            return programs;
        } catch (IOException e) {
            throw new HostingException(
                    "the programs of "
                            + kind
                            + " can't be unpacked into "
                            + programs
                            + ": "
                            + e.getMessage());
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new HostingException("interrupted while the server was unpacked");
        }
    }

    /** The newest that the machine has. */
    private Optional<Path> installed(String kind, String probe) {
        List<Path> places = new ArrayList<>();
        if (kind.equals("postgresql")) {
            try (Stream<Path> versions = Files.list(Path.of("/usr/lib/postgresql"))) {
                versions.sorted(Comparator.reverseOrder()).forEach(places::add);
            } catch (IOException e) {
                // There is none where Debian would have it.
            }
        }
        for (String folder : environment.getOrDefault("PATH", "").split(File.pathSeparator)) {
            Path parent = folder.isEmpty() ? null : Path.of(folder).getParent();
            if (parent != null) {
                places.add(parent);
            }
        }
        return places.stream().filter(p -> Files.isExecutable(p.resolve(probe))).findFirst();
    }
}
