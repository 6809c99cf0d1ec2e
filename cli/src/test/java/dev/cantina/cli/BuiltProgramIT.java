package dev.cantina.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The program as it is built, in a process of its own. */
class BuiltProgramIT {
    private static final Path JAR = Path.of("target/cantina-cli.jar").toAbsolutePath();

    @TempDir Path temporary;

    private Process start(Path folder, String... words) throws IOException {
        List<String> command = new ArrayList<>();
        // A build started in the background ignores interrupts, and so does what it starts.
        if (System.getProperty("os.name").equals("Linux"))
            command.addAll(List.of("env", "--default-signal=INT"));
        command.add(Path.of(System.getProperty("java.home"), "bin", "java").toString());
        command.addAll(List.of("-Xss64m", "-jar", JAR.toString()));
        command.addAll(List.of(words));
        return new ProcessBuilder(command).directory(folder.toFile()).start();
    }

    private static String read(Process process) throws IOException {
        return new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    }

    @Test
    void itChecksAndTestsAndEndsWithTheRightCode() throws Exception {
        Cli cli = Cli.winery(temporary);
        Process check = start(cli.path(""), "check");
        assertTrue(read(check).startsWith("winery: all well"));
        assertEquals(0, check.waitFor());
        Process test = start(cli.path("routines"), "test", "--quiet");
        assertTrue(read(test).contains("45 passed, 1 failed"));
        assertEquals(1, test.waitFor());
    }

    private static byte[] message(String json) {
        byte[] text = json.getBytes(StandardCharsets.UTF_8);
        byte[] head =
                ("Content-Length: " + text.length + "\r\n\r\n").getBytes(StandardCharsets.UTF_8);
        byte[] all = java.util.Arrays.copyOf(head, head.length + text.length);
        System.arraycopy(text, 0, all, head.length, text.length);
        return all;
    }

    @Test
    void anEditorIsAnsweredAndOneThatDiesLeavesNothingBehind() throws Exception {
        Cli cli = Cli.winery(temporary);
        cli.write(
                "routines/spin.sql",
                "CREATE PROCEDURE spin ()\nBEGIN\n  WHILE TRUE DO\n    CALL spin_once();\n  END WHILE;\nEND;\n"
                        + "CREATE PROCEDURE spin_once () BEGIN END;\n");
        Process debug = start(cli.path(""), "serve", "debug");
        var out = debug.getOutputStream();
        out.write(
                message(
                        "{\"seq\":1,\"type\":\"request\",\"command\":\"initialize\",\"arguments\":{}}"));
        out.write(
                message(
                        "{\"seq\":2,\"type\":\"request\",\"command\":\"launch\",\"arguments\":{\"routine\":\"spin\",\"limits\":{\"statements\":1000000000000}}}"));
        out.write(
                message(
                        "{\"seq\":3,\"type\":\"request\",\"command\":\"configurationDone\",\"arguments\":{}}"));
        out.flush();
        Thread.sleep(3000);
        assertTrue(debug.isAlive());
        out.close();
        String said = read(debug);
        assertTrue(debug.waitFor(20, TimeUnit.SECONDS));
        assertEquals(0, debug.exitValue());
        assertTrue(said.contains("supportsStepBack"), said);
        assertTrue(said.contains("\"event\":\"initialized\""), said);
        Process language = start(cli.path(""), "serve", "language");
        language.getOutputStream()
                .write(
                        message(
                                "{\"jsonrpc\":\"2.0\",\"id\":1,\"method\":\"initialize\",\"params\":{\"capabilities\":{}}}"));
        language.getOutputStream().close();
        assertTrue(read(language).contains("hoverProvider"));
        assertTrue(language.waitFor(20, TimeUnit.SECONDS));
        assertEquals(0, language.exitValue());
    }

    @Test
    void anInterruptRollsBackSaysSoAndEndsWith130() throws Exception {
        Cli cli = Cli.winery(temporary);
        cli.write(
                "routines/spin.sql",
                "CREATE PROCEDURE spin ()\nBEGIN\n  WHILE TRUE DO\n    UPDATE vessel SET level_l = 1 WHERE code = 'T1';\n  END WHILE;\nEND;\n");
        Process process =
                start(cli.path(""), "call", "spin", "--limit", "statements=1000000000000");
        Thread.sleep(3000);
        new ProcessBuilder("kill", "-INT", String.valueOf(process.pid())).start().waitFor();
        String out = read(process);
        assertTrue(process.waitFor(20, TimeUnit.SECONDS));
        assertEquals(130, process.exitValue(), out);
        assertTrue(out.contains("was interrupted; nothing was changed"), out);
    }

    @Test
    void aPipeThatClosesEarlyIsNoDisaster() throws Exception {
        Cli cli = Cli.winery(temporary);
        Process process = start(cli.path(""), "test");
        process.getInputStream().close();
        String err = new String(process.getErrorStream().readAllBytes(), StandardCharsets.UTF_8);
        assertTrue(process.waitFor(20, TimeUnit.SECONDS));
        assertEquals("", err);
    }

    @Test
    void namesAndTextsInAnyScriptGoThrough() throws Exception {
        Cli cli = Cli.winery(temporary);
        Files.writeString(
                cli.path("routines/größe.sql"),
                "CREATE FUNCTION größe (straße VARCHAR(20)) RETURNS VARCHAR(30) RETURN straße || ' 🍷';\n");
        Process process = start(cli.path(""), "call", "größe", "straße=Süd");
        assertTrue(read(process).contains("'Süd 🍷'"));
        assertEquals(0, process.waitFor());
    }

    private int untrusted(Path folder, StringBuilder said, String... words) throws Exception {
        List<String> command = new ArrayList<>();
        command.add(Path.of(System.getProperty("java.home"), "bin", "java").toString());
        command.addAll(List.of("-Xss64m", "-jar", JAR.toString()));
        command.addAll(List.of(words));
        ProcessBuilder builder = new ProcessBuilder(command).directory(folder.toFile());
        builder.environment().remove("CANTINA_TRUST");
        builder.environment().put("XDG_CONFIG_HOME", temporary.resolve("config").toString());
        Process process = builder.redirectErrorStream(true).start();
        said.setLength(0);
        said.append(read(process));
        return process.waitFor();
    }

    @Test
    void aDatabaseIsGoneToOnlyOnceItIsTrusted() throws Exception {
        Cli cli = Cli.winery(temporary);
        Path folder = cli.path("");
        cli.write(
                "cantina.yaml",
                "project: winery\nfixture: cellar\ndatabases:\n"
                        + "  far: { url: \"jdbc:postgresql://localhost:1/x\", user: pat,"
                        + " password: \"env:NO_SUCH_VARIABLE\" }\n"
                        + "  here: { url: \"jdbc:postgresql://localhost:1/x?user=pat\" }\n");
        StringBuilder said = new StringBuilder();
        for (String[] words :
                new String[][] {
                    {"check", "--on", "far"},
                    {"call", "topping_loss", "vessel=C7", "months=1", "--on", "far"},
                    {"test", "--on", "far"},
                    {"ship", "far"},
                    {"agree"},
                    {"trace", "topping_loss", "vessel=C7", "months=1", "--on", "far"}
                }) {
            assertEquals(2, untrusted(folder, said, words), said.toString());
            assertTrue(said.toString().contains("is not trusted"), said.toString());
        }
        // No secret goes to a server on this machine that wants none, once it is named.
        assertEquals(4, untrusted(folder, said, "check", "--on", "here"), said.toString());
        assertEquals(0, untrusted(folder, said, "check"), said.toString());
        assertEquals(0, untrusted(folder, said, "trust"), said.toString());
        assertTrue(said.toString().contains("trusted     database  far"), said.toString());
        assertEquals(4, untrusted(folder, said, "check", "--on", "far"), said.toString());
        assertEquals(0, untrusted(folder, said, "trust", "--forget"), said.toString());
        assertEquals(2, untrusted(folder, said, "check", "--on", "far"), said.toString());
    }
}
