package dev.cantina.hosting;

import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.Map;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** A private server whose starter was killed before it could say where the server is. */
class StartedAgainTest {
    @TempDir Path state;

    @ParameterizedTest
    @CsvSource({"postgresql, postmaster.pid", "mariadb, server.pid"})
    void theOneThatWasLeftIsEnded(String kind, String pid) throws Exception {
        Map<String, String> environment = new HashMap<>(System.getenv());
        environment.put("XDG_STATE_HOME", state.toString());
        PrivateServer server = PrivateServer.of(kind, environment);
        server.use();
        Path folder = server.state();
        long left =
                Long.parseLong(
                        Files.readAllLines(folder.resolve("data").resolve(pid)).get(0).strip());
        assertTrue(ProcessHandle.of(left).orElseThrow().isAlive());
        Files.delete(folder.resolve("port"));
        server.use();
        for (int i = 0; i < 100 && isAlive(left); i++) {
            Thread.sleep(50);
        }
        assertFalse(isAlive(left));
        assertTrue(server.stop());
    }

    private static boolean isAlive(long process) {
        return ProcessHandle.of(process).map(ProcessHandle::isAlive).orElse(false);
    }
}
