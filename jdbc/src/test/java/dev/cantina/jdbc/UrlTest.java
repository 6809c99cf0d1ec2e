package dev.cantina.jdbc;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNotNull;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.BufferedReader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Timestamp;
import java.util.Map;
import java.util.Properties;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class UrlTest {
    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "jdbc:cantina: | names no folder",
                "jdbc:cantina:?fresh=yes | names no folder",
                "jdbc:cantina:/nowhere/at/all | no cantina.yaml in /nowhere/at/all",
                "jdbc:cantina:src | no cantina.yaml in",
                "jdbc:cantina:WINERY?fixtur=empty | a connection has no fixtur; did you mean fixture?",
                "jdbc:cantina:WINERY?fixture | 'fixture' in",
                "jdbc:cantina:WINERY?fixture=none | none",
                "jdbc:cantina:WINERY?fresh=maybe | fresh is yes or no, not maybe",
                "jdbc:cantina:WINERY?on=elsewhere | elsewhere",
                "jdbc:cantina:WINERY?clock=soon | clock: ",
                "jdbc:cantina:WINERY?limits=hours=2 | limits: takes NAME=N; there are",
                "jdbc:cantina:WINERY?debug=many | debug is the number of a port",
                "jdbc:cantina:WINERY?debug=70000 | debug is the number of a port",
                "jdbc:cantina:WINERY?fixture=empty&fixture=cellar | fixture is said twice: empty, and",
                "jdbc:cantina:WINERY?fixture=empty& | '' in",
                "jdbc:cantina:WINERY?& | '' in",
                "jdbc:cantina:WINERY?fixture=%GG | '%GG'"
            })
    void aUrlThatIsWrongSaysWhy(String url, String says) {
        SQLException failure =
                assertThrows(
                        SQLException.class,
                        () ->
                                DriverManager.getConnection(
                                                url.replace("WINERY", Winery.FOLDER.toString()))
                                        .close());
        assertTrue(failure.getMessage().contains(says), failure.getMessage());
        assertEquals("08001", failure.getSQLState(), failure.getMessage());
    }

    @Test
    void otherUrlsAreOthers() throws SQLException {
        CantinaDriver driver = new CantinaDriver();
        assertNull(driver.connect("jdbc:other:x", new Properties()));
        assertEquals("on", driver.getPropertyInfo("jdbc:cantina:x", new Properties())[0].name);
        assertNotNull(DriverManager.getDriver("jdbc:cantina:x"));
    }

    @Test
    void tablesThatCantBeMadeAreTold() throws Exception {
        String url = SmallProject.url(Map.of("tables/t.sql", "CREATE TABLE t (n INTEGR);"));
        SQLException failure =
                assertThrows(SQLException.class, () -> DriverManager.getConnection(url).close());
        assertTrue(failure.getMessage().startsWith("tables/t.sql:1:"), failure.getMessage());
    }

    @Test
    void aFolderMayHaveBlanksAndSigns() throws Exception {
        Path folder = Files.createDirectories(Files.createTempDirectory("c").resolve("a b+c è"));
        Files.writeString(folder.resolve("cantina.yaml"), "project: odd\n");
        String path = folder.toString();
        for (String written : new String[] {path, path.replace(" ", "%20")}) {
            try (Connection connection = DriverManager.getConnection("jdbc:cantina:" + written)) {
                assertEquals(1, Winery.ask(connection, "SELECT 1"));
            }
        }
    }

    @Test
    void whatIsSaidMayBeAProperty() throws SQLException {
        Properties said = new Properties();
        said.setProperty("fixture", "empty");
        said.setProperty("user", "somebody");
        said.setProperty("password", "something");
        try (Connection connection =
                DriverManager.getConnection("jdbc:cantina:" + Winery.FOLDER, said)) {
            assertEquals(0L, Winery.ask(connection, "SELECT COUNT(*) FROM vessel"));
        }
        said.setProperty("colour", "red");
        assertThrows(
                SQLException.class,
                () -> DriverManager.getConnection("jdbc:cantina:" + Winery.FOLDER, said).close());
    }

    @Test
    void aPortThatIsTakenIsTold() throws Exception {
        try (java.net.ServerSocket taken =
                new java.net.ServerSocket(0, 1, java.net.InetAddress.getLoopbackAddress())) {
            SQLException failure =
                    assertThrows(
                            SQLException.class,
                            () ->
                                    DriverManager.getConnection(
                                                    Winery.url() + "&debug=" + taken.getLocalPort())
                                            .close());
            assertTrue(failure.getMessage().contains("another program may have it"));
            assertEquals("08001", failure.getSQLState());
        }
    }

    @Test
    void theClockCanBeMadeToStand() throws SQLException {
        try (Connection connection =
                DriverManager.getConnection(Winery.url() + "&clock=2026-09-20T08:00:00")) {
            Winery.change(connection, "UPDATE vessel SET level_l = 1 WHERE code = 'T2'");
            assertEquals(
                    Timestamp.valueOf("2026-09-20 08:00:00"),
                    Winery.ask(connection, "SELECT at FROM journal"));
        }
    }

    /** Told to end while it waits for a debugger, a program ends. */
    @Test
    void whoWaitsForADebuggerCanBeEnded() throws Exception {
        Process program =
                new ProcessBuilder(
                                Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                                "-cp",
                                System.getProperty("java.class.path"),
                                Leaving.class.getName(),
                                Winery.url() + "&debug=0&wait=yes")
                        .redirectErrorStream(true)
                        .start();
        try (BufferedReader said = program.inputReader()) {
            String line = said.readLine();
            assertTrue(line.startsWith("Cantina: a debugger may attach at port "), line);
            Thread.sleep(500);
            program.destroy();
            assertTrue(program.waitFor(20, TimeUnit.SECONDS));
        } finally {
            program.destroyForcibly();
        }
    }
}
