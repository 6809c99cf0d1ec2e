package dev.cantina.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** What is made of the option tables: completion for shells, manual pages, help of each command. */
class ShellTest {
    @TempDir Path folder;

    private record Ran(int code, String out) {}

    private Ran run(String... words) throws Exception {
        Path out = folder.resolve("out");
        Process process =
                new ProcessBuilder(words)
                        .directory(folder.toFile())
                        .redirectErrorStream(true)
                        .redirectOutput(out.toFile())
                        .start();
        process.getOutputStream().close();
        assertTrue(process.waitFor(30, TimeUnit.SECONDS));
        return new Ran(process.exitValue(), Files.readString(out));
    }

    private static boolean isThere(String program) {
        return List.of(System.getenv("PATH").split(":")).stream()
                .anyMatch(p -> Files.isExecutable(Path.of(p, program)));
    }

    private Path script(String shell) throws IOException {
        Cli.Result made = new Cli(folder).run("completion", shell);
        assertEquals(ExitCode.WELL, made.code(), made.err());
        return Files.writeString(folder.resolve("_cantina"), made.out(), StandardCharsets.UTF_8);
    }

    /** What bash completes a line to; the last word is the one that is typed. */
    private String completed(String line) throws Exception {
        String words = line.replace("'", "");
        return run(
                        "bash",
                        "-c",
                        ". ./_cantina; COMP_WORDS=("
                                + words
                                + (line.endsWith(" ") ? " ''" : "")
                                + "); COMP_CWORD=$((${#COMP_WORDS[@]} - 1)); _cantina; echo \"${COMPREPLY[@]}\"")
                .out()
                .strip();
    }

    @Test
    void bashCompletesCommandsWordsAndOptions() throws Exception {
        script("bash");
        assertEquals("check", completed("cantina ch"));
        assertTrue(completed("cantina ").contains("call run test"), completed("cantina "));
        assertEquals("insert", completed("cantina draft ins"));
        assertEquals("--fixture", completed("cantina test --fix"));
        assertEquals("", completed("cantina check --fix"));
        assertEquals(
                "--save-args --save-case", completed("cantina --project x call move_wine --save"));
        assertEquals("bash zsh fish", completed("cantina completion "));
    }

    @ParameterizedTest
    @ValueSource(strings = {"bash", "zsh", "fish"})
    void eachShellReadsItsScript(String shell) throws Exception {
        Path script = script(shell);
        String text = Files.readString(script);
        Main.COMMANDS.forEach(c -> assertTrue(text.contains(c.name()), c.name()));
        assumeTrue(isThere(shell), shell + " is not installed here: its script was not read by it");
        Ran read = run(shell, "-n", script.toString());
        assertEquals(0, read.code(), read.out());
    }

    @Test
    void manualPagesAreReadByMan() throws Exception {
        Cli cli = new Cli(folder);
        assertEquals(ExitCode.WELL, cli.run("manual", "pages").code());
        assertEquals(ExitCode.WELL, cli.run("manual", "pages").code());
        try (var pages = Files.list(folder.resolve("pages"))) {
            assertEquals(Main.COMMANDS.size() + 1, pages.count());
        }
        String call = Files.readString(folder.resolve("pages/cantina-call.1"));
        assertTrue(call.contains("\\-\\-save\\-case FILE"), call);
        cli.write("pages/cantina-call.1", "mine\n");
        Cli.Result kept = cli.run("manual", "pages");
        assertEquals(ExitCode.USAGE, kept.code());
        assertEquals("mine\n", Files.readString(folder.resolve("pages/cantina-call.1")));
        assumeTrue(isThere("groff"), "groff is not installed here: the pages were not read by it");
        Ran read =
                run("groff", "-man", "-Tutf8", "-ww", "pages/cantina.1", "pages/cantina-draft.1");
        assertFalse(read.out().contains(": warning:"), read.out());
    }

    @Test
    void helpShowsOnlyWhatMeansSomething() {
        Cli cli = new Cli(folder);
        assertTrue(cli.run("call", "--help").out().contains("--fixture NAME"));
        assertFalse(cli.run("check", "--help").out().contains("--fixture"));
        assertFalse(cli.run("new", "--help").out().contains("--project"));
        Cli.Result refused = cli.run("check", "--clock", "2031-01-01 00:00:00");
        assertTrue(refused.err().contains("check has no option --clock"), refused.err());
        for (String topic : Topics.NAMES) {
            assertFalse(cli.run("help", topic).out().isBlank(), topic);
        }
        assertTrue(cli.run("help", "check").out().contains("cantina check"));
        assertTrue(cli.run("completion", "bsh").err().contains("did you mean bash?"));
        assertTrue(cli.run("manual").err().contains("manual takes one folder"));
    }
}
