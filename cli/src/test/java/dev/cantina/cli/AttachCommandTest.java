package dev.cantina.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.file.Path;
import java.sql.CallableStatement;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

/** The terminal's debugger, attached to a program that calls the winery's routines. */
@Timeout(value = 60, unit = TimeUnit.SECONDS)
class AttachCommandTest {
    @TempDir Path folder;
    private Cli cli;
    private int port;

    @BeforeEach
    void winery() throws IOException {
        cli = Cli.winery(folder);
        try (ServerSocket free = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            port = free.getLocalPort();
        }
    }

    /** A program that moves wine, and then overfills a barrel; it gives the SQLSTATE of that. */
    private CompletableFuture<String> program() throws SQLException {
        String url = "jdbc:cantina:" + cli.path("") + "?fresh=yes&wait=yes&debug=" + port;
        Connection connection = DriverManager.getConnection(url);
        return CompletableFuture.supplyAsync(
                () -> {
                    try (connection;
                            CallableStatement call =
                                    connection.prepareCall("{call move_wine('T1', ?, ?, ?)}")) {
                        call.setString(1, "C7");
                        call.setInt(2, 80);
                        call.execute();
                        call.setString(1, "B1");
                        call.execute();
                        return "nothing";
                    } catch (SQLException e) {
                        return e.getSQLState();
                    }
                });
    }

    private String attached(String... words) {
        Cli.Result result =
                cli.typing(
                        String.join("\n", words) + "\n", "debug", "--attach", String.valueOf(port));
        assertEquals(0, result.code(), result.out() + result.err());
        return result.out();
    }

    @Test
    void itStopsInARoutineAndItsTrigger() throws Exception {
        CompletableFuture<String> program = program();
        String out =
                attached(
                        "pause at vessel_journal:7",
                        "pause at move_wine:26 when target = 'C7'",
                        "pauses",
                        "continue",
                        "stack",
                        "out",
                        "vars",
                        "rows vessel WHERE code = 'T1'",
                        "back",
                        "remove all",
                        "continue");
        assertTrue(
                out.contains(
                        "vessel_journal stopped at line 7 of routines/vessel_journal.sql: a"
                                + " breakpoint\n"),
                out);
        assertTrue(out.contains("  1  move_wine  routines/move_wine.sql:24\n"), out);
        assertTrue(out.contains("move_wine stopped at line 26 of routines/move_wine.sql: a"), out);
        assertTrue(out.contains("  litres   80.0\n"), out);
        assertTrue(out.contains("  code 'T1', kind 'tank', capacity_l 1000.0, level_l 420.0"), out);
        assertTrue(out.contains("gone back"), out);
        assertTrue(out.endsWith("the program has ended\n"), out);
        assertEquals("45000", program.get());
    }

    @Test
    void itStopsAtAConditionAndLetsGo() throws Exception {
        CompletableFuture<String> program = program();
        String out =
                attached(
                        "-- what a script says to itself",
                        "pause on unhandled",
                        "pause at move_wine:30 tell moving {litres} to {target}",
                        "continue",
                        "diagnostics",
                        "eval litres * 2",
                        "set litres = 5",
                        "show litres",
                        "sql! UPDATE vessel SET level_l = 1 WHERE code = 'T2'",
                        "changes",
                        "transaction",
                        "quit");
        assertTrue(out.contains("raised: 45000 B1 has no room for 80.0 litres\n"), out);
        assertTrue(out.contains("  moving 80.0 to C7\n"), out);
        assertTrue(out.contains("  160.0  DECIMAL"), out);
        assertTrue(out.contains("  litres  5.0\n"), out);
        assertTrue(out.contains("1 row changed, inside the running transaction"), out);
        assertTrue(out.contains("  vessel "), out);
        assertTrue(out.endsWith("detached: the program goes on\n"), out);
        assertEquals("45000", program.get());
    }

    @Test
    void whatIsNotUnderstoodIsSaid() throws Exception {
        CompletableFuture<String> program = program();
        String out =
                attached(
                        "pause",
                        "pause at nosuch:3",
                        "pause at move_wine:999",
                        "pause at move_wine:24 unless",
                        "pause on write to vessel",
                        "vars",
                        "remove 4",
                        "watch litres",
                        "jump",
                        "pause at move_wine:24",
                        "continue",
                        "to 30",
                        "frame 9",
                        "set litres",
                        "eval",
                        "over twice",
                        "quit");
        for (String said :
                new String[] {
                    "pause takes a line of a routine: pause at move_wine:24, or pause on unhandled",
                    "there is no routine or trigger nosuch",
                    "no statement at line 999",
                    "'unless' is not understood; write when CONDITION, after N or tell TEXT",
                    "a program that runs elsewhere pauses on unhandled, exception, not found",
                    "nothing stands yet; continue waits",
                    "there is no breakpoint 4; pauses lists them",
                    "watch is not for a program that runs elsewhere",
                    "there is no word jump",
                    "to is not for a program that runs elsewhere",
                    "there is no frame 9; stack shows them",
                    "set takes a variable and a value: set litres = 80",
                    "eval wants more: eval EXPRESSION",
                    "over stands alone; 'twice' is not understood"
                }) {
            assertTrue(out.contains(said), said + "\n" + out);
        }
        assertEquals("45000", program.get());
    }

    @Test
    void theEndOfAPipeLetsGo() throws Exception {
        CompletableFuture<String> program = program();
        String out = attached("pause at move_wine:24", "continue");
        assertTrue(out.endsWith("detached: the program goes on\n"), out);
        assertEquals("45000", program.get());
    }

    @Test
    void theDocsAreRight() throws Exception {
        CompletableFuture<String> program = program();
        DocsTest.run(cli, "programs.md", "attach", "4711", String.valueOf(port));
        assertEquals("45000", program.get());
    }

    @Test
    void whereNobodyWaitsThatIsSaid() {
        Cli.Result none = cli.run("debug", "--attach", String.valueOf(port));
        assertEquals(2, none.code());
        assertTrue(
                none.err().contains("no program waits for a debugger at port " + port), none.err());
        assertTrue(none.err().contains("jdbc:cantina:FOLDER?debug=" + port), none.err());
        Cli.Result word = cli.run("debug", "--attach", "many");
        assertTrue(word.err().contains("--attach takes a number"), word.err());
        Cli.Result both = cli.run("debug", "move_wine", "--attach", "1");
        assertTrue(both.err().contains("--attach stands alone"), both.err());
        assertFalse(both.out().contains("attached"), both.out());
    }

    @Test
    void anotherProjectsProgramIsRefused() throws Exception {
        CompletableFuture<String> program = program();
        Cli.Result other = new Cli(Cli.WINERY).run("debug", "--attach", String.valueOf(port));
        assertTrue(other.err().contains("the program runs another project"), other.err());
        attached("quit");
        assertEquals("45000", program.get());
    }
}
