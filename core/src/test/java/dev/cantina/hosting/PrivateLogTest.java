package dev.cantina.hosting;

import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;

import dev.cantina.database.ServerConnection;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.Test;

/** A private server's log grows with its starts, and not with what projects do. */
class PrivateLogTest {
    @AfterAll
    static void end() throws HostingException {
        PrivateServer.of("postgresql").stop();
    }

    @Test
    void statementsThatFailAreNotLogged() throws Exception {
        PrivateServer server = PrivateServer.of("postgresql");
        try (PrivateServer.Lease lease = server.lease("logged");
                Connection connection = ServerConnection.open(lease.address(), Path.of("."));
                Statement statement = connection.createStatement()) {
            assertThrows(
                    SQLException.class,
                    () -> statement.execute("SELECT 'a value of the project''s' FROM nothing"));
        }
        assertFalse(Files.readString(server.log()).contains("a value of the project"));
    }
}
