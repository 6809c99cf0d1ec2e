package dev.cantina.hosting;

import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.database.ServerConnection;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.Statement;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.Test;

/** A MariaDB that starts removes the temporary tables it finds, another's too where they share. */
class PrivateTemporaryTest {
    @AfterAll
    static void end() throws HostingException {
        PrivateServer.of("mariadb").stop();
    }

    @Test
    void temporaryTablesAreTheServersOwn() throws Exception {
        PrivateServer server = PrivateServer.of("mariadb");
        try (PrivateServer.Lease lease = server.lease("temporary");
                Connection connection = ServerConnection.open(lease.address(), Path.of("."));
                Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery("SELECT @@tmpdir")) {
            row.next();
            Path folder = Path.of(row.getString(1));
            assertTrue(folder.startsWith(server.data().getParent()), folder.toString());
        }
    }
}
