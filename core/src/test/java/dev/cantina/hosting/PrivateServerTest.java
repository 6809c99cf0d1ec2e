package dev.cantina.hosting;

import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.database.ServerConnection;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.Test;

/** What private servers keep beside their data. */
class PrivateServerTest {
    @AfterAll
    static void end() throws HostingException {
        PrivateServer.of("postgresql").stop();
        PrivateServer.of("mariadb").stop();
    }

    /** Work with a database of a private server. */
    private interface Work {
        void on(PrivateServer server, Statement statement) throws Exception;
    }

    private static void with(String kind, Work work) throws Exception {
        PrivateServer server = PrivateServer.of(kind);
        try (PrivateServer.Lease lease = server.lease("kept");
                Connection connection = ServerConnection.open(lease.address(), Path.of("."));
                Statement statement = connection.createStatement()) {
            work.on(server, statement);
        }
    }

    /** A log grows with the server's starts, and not with what projects do. */
    @Test
    void statementsThatFailAreNotLogged() throws Exception {
        with(
                "postgresql",
                (server, statement) -> {
                    assertThrows(
                            SQLException.class,
                            () -> statement.execute("SELECT 'a value of the project''s' FROM no"));
                    String log = Files.readString(server.log());
                    assertFalse(log.contains("a value of the project"), log);
                });
    }

    /** A MariaDB that starts removes the temporary tables it finds, another's where they share. */
    @Test
    void temporaryTablesAreTheServersOwn() throws Exception {
        with(
                "mariadb",
                (server, statement) -> {
                    try (ResultSet row = statement.executeQuery("SELECT @@tmpdir")) {
                        row.next();
                        Path folder = Path.of(row.getString(1));
                        assertTrue(folder.startsWith(server.data().getParent()), folder.toString());
                    }
                });
    }
}
