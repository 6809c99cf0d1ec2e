package dev.cantina.database;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What is said of a server that can't be used. */
class ServerConnectionTest {
    @TempDir Path folder;

    private String refused(String url, String user, String password) {
        return assertThrows(
                        UnreachableException.class,
                        () ->
                                ServerConnection.open(
                                        new ServerConnection.Address("there", url, user, password),
                                        folder))
                .getMessage();
    }

    @Test
    void whatIsTooOldIsSaid() {
        assertEquals(
                Optional.of("there is MariaDB 10.5, which is too old; 10.6 or later is wanted"),
                tooOld("mariadb", 10, 5));
        assertEquals(
                Optional.of("there is PostgreSQL 13.9, which is too old; 14 or later is wanted"),
                tooOld("postgresql", 13, 9));
        assertEquals(Optional.empty(), tooOld("mariadb", 11, 4));
        assertEquals(Optional.empty(), tooOld("mariadb", 10, 6));
        assertEquals(Optional.empty(), tooOld("postgresql", 14, 0));
    }

    @Test
    void aServerThatIsDownIsNamedForBothKinds() {
        for (String kind : new String[] {"postgresql", "mariadb"}) {
            String said = refused("jdbc:" + kind + "://localhost:1/x", "", "");
            assertTrue(said.contains("there can't be reached"), said);
        }
    }

    @Test
    void anotherKindOfUrlIsRefused() {
        String said = refused("jdbc:h2:mem:x", "", "");
        assertTrue(said.contains("jdbc:postgresql: or jdbc:mariadb:"), said);
    }

    @Test
    void aPasswordGoesToAnotherMachineOnlyWithAWordOnEncryption() throws Exception {
        Files.writeString(folder.resolve("secret"), "open-sesame\n");
        for (String url :
                new String[] {
                    "jdbc:postgresql://db.example/x",
                    "jdbc:mariadb://127.0.0.1,db.example:3306/x",
                    "jdbc:mariadb:replication://db.example/x?connectTimeout=1"
                }) {
            String said = refused(url, "keeper", "file:secret");
            assertTrue(said.contains("nothing says whether the password goes there"), said);
            assertTrue(!said.contains("sesame"), said);
        }
        for (String url :
                new String[] {
                    "jdbc:postgresql://localhost:1/x",
                    "jdbc:postgresql://[::1]:1/x",
                    "jdbc:postgresql:x",
                    "jdbc:postgresql://db.example/x?sslmode=require",
                    "jdbc:mariadb://db.example/x?a=b&sslMode=disable"
                }) {
            assertTrue(!ServerConnection.isUnprotected(url), url);
        }
    }

    @Test
    void aPasswordIsNeverShown() throws Exception {
        Files.writeString(folder.resolve("secret"), "open-sesame\n");
        String said = refused("jdbc:mariadb://localhost:1/x?password=open-sesame", "", "");
        assertTrue(!said.contains("open-sesame"), said);
        said = refused("jdbc:mariadb://localhost:1/x", "keeper", "file:secret");
        assertTrue(!said.contains("open-sesame"), said);
        said = refused("jdbc:mariadb://localhost:1/x", "keeper", "open-sesame");
        assertTrue(said.contains("env:NAME") && !said.contains("open-sesame"), said);
        said = refused("jdbc:mariadb://localhost:1/x", "keeper", "env:NOBODY_HAS_THIS");
        assertTrue(said.contains("NOBODY_HAS_THIS is not set"), said);
        said = refused("jdbc:mariadb://localhost:1/x", "keeper", "file:nothing");
        assertTrue(said.contains("can't be read"), said);
    }

    private static Optional<String> tooOld(String kind, int major, int minor) {
        return ServerConnection.tooOld(
                "there",
                ServerKind.named(kind).orElseThrow(),
                new ServerKind.Version(major, minor));
    }
}
