package dev.cantina.hosting;

import java.io.IOException;
import java.net.URISyntaxException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.TimeUnit;

/** Ends a private server that nobody has used for a while: a small process beside it. */
public final class Keeper {
    private static final int LOOK_SECONDS = 10;

    private Keeper() {}

    /** Begins to look after a server that was just started. */
    static void begin(String kind, Path state) throws IOException {
        Path java = Path.of(System.getProperty("java.home"), "bin", "java");
        List<String> command = new ArrayList<>();
        if (Files.isExecutable(Path.of("/usr/bin/setsid"))) {
            command.add("/usr/bin/setsid");
        }
        command.addAll(
                List.of(
                        java.toString(),
                        "-Xmx24m",
                        "-XX:+UseSerialGC",
                        "-XX:TieredStopAtLevel=1",
                        "-XX:-UsePerfData",
                        "-cp",
                        place(),
                        Keeper.class.getName(),
                        kind));
        new ProcessBuilder(command)
                .redirectErrorStream(true)
                .redirectOutput(state.resolve("keeper").toFile())
                .redirectInput(ProcessBuilder.Redirect.from(Path.of("/dev/null").toFile()))
                .start();
    }

    /** Where this class was loaded from. */
    private static String place() throws IOException {
        try {
            return Path.of(Keeper.class.getProtectionDomain().getCodeSource().getLocation().toURI())
                    .toString();
        } catch (URISyntaxException e) {
            throw new IOException(e.getMessage(), e);
        }
    }

    /**
     * @param arguments the server's kind
     */
    public static void main(String[] arguments)
            throws HostingException, IOException, InterruptedException {
        PrivateServer server = PrivateServer.of(arguments[0]);
        while (server.running().isPresent()) {
            TimeUnit.SECONDS.sleep(LOOK_SECONDS);
            Optional<Duration> idle = server.idle();
            if (idle.isPresent() && idle.get().compareTo(PrivateServer.IDLE) > 0) {
                server.stop();
            }
        }
    }
}
