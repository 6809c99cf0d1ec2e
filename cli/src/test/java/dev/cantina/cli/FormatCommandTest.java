package dev.cantina.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class FormatCommandTest {
    private static final String TIDY =
            "CREATE PROCEDURE p (OUT r INTEGER)\nBEGIN\n  -- One.\n  SET r = 1;\nEND;\n";

    @TempDir Path folder;
    private Cli cli;

    @BeforeEach
    void project() throws IOException {
        cli = new Cli(folder);
        cli.write("cantina.yaml", "project: tidy\n");
        cli.write("routines/p.sql", TIDY.replace("  SET", "       SET").replace("  --", "--"));
        cli.write("routines/q.sql", TIDY.replace(" p ", " q "));
    }

    @Test
    void whatWouldChangeIsSaidAndLeft() throws IOException {
        String before = Files.readString(cli.path("routines/p.sql"));
        Cli.Result shown = cli.run("format", "--show");
        assertEquals(1, shown.code());
        assertEquals("  routines/p.sql\n1 file would change\n", shown.out());
        assertEquals(before, Files.readString(cli.path("routines/p.sql")));
    }

    @Test
    void filesAreLaidOutOnce() throws IOException {
        Cli.Result first = cli.run("format");
        assertEquals("0   routines/p.sql\n1 file changed\n", first.code() + " " + first.out());
        assertEquals(TIDY, Files.readString(cli.path("routines/p.sql")));
        assertEquals("all is laid out already\n", cli.run("format", "routines/p.sql").out());
    }

    @Test
    void aFileThatCantBeReadIsLeftAloneAndTheOthersAreNot() throws IOException {
        cli.write("routines/a.sql", "CREATE PROCEDURE a (");
        Cli.Result result = cli.run("format");
        assertEquals(1, result.code());
        assertTrue(result.err().startsWith("left alone: routines/a.sql; "), result.err());
        assertEquals("CREATE PROCEDURE a (", Files.readString(cli.path("routines/a.sql")));
        assertEquals(TIDY, Files.readString(cli.path("routines/p.sql")));
    }

    @Test
    void whatIsNoRoutineIsRefused() {
        Cli.Result result = cli.run("format", "cantina.yaml");
        assertEquals(2, result.code());
        assertTrue(result.err().contains("is no file or folder of routines"), result.err());
    }

    /** Without a server: only the texts are looked at. */
    @Test
    void routinesInAServersOwnWordsToo() throws IOException {
        cli.write(
                "cantina.yaml",
                "project: tidy\ndialect: postgresql\ndatabase: private\n"
                        + "routines: code/*.sql\nstandard: routines/*.sql\n");
        String tidy =
                "CREATE FUNCTION f() RETURNS int LANGUAGE plpgsql AS $$\nBEGIN\n  RETURN 1;\nEND $$;\n"
                        + "   CREATE FUNCTION s() RETURNS int LANGUAGE sql AS 'SELECT 1';\n";
        cli.write("code/f.sql", tidy.replace("  RETURN", "RETURN"));
        String broken =
                "CREATE FUNCTION b() RETURNS int LANGUAGE plpgsql AS $$\nBEGIN\nIF THEN\nEND $$;\n";
        cli.write("code/b.sql", broken);
        Cli.Result result = cli.run("format");
        assertEquals(1, result.code());
        assertEquals("  routines/p.sql\n  code/f.sql\n2 files changed\n", result.out());
        assertEquals(tidy, Files.readString(cli.path("code/f.sql")));
        assertEquals(TIDY, Files.readString(cli.path("routines/p.sql")));
        assertEquals(broken, Files.readString(cli.path("code/b.sql")));
        assertTrue(result.err().contains("left alone: b, code/b.sql:1:17; "), result.err());
        assertTrue(result.err().contains("1 routine is left as written"), result.err());
    }
}
