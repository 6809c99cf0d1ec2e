package dev.cantina.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.junit.jupiter.api.Assertions.fail;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/**
 * Runs every example of the README and the docs on a copy of the winery. A {@code console} block
 * holds command lines after {@code $} and lines that their output has, in order, {@code …} standing
 * for anything; a {@code sql} block is added to the project, a {@code yaml} block with cases too.
 */
class DocsTest {
    private static final Path ROOT = Path.of("..");

    @TempDir Path temporary;

    static List<Path> pages() throws IOException {
        try (Stream<Path> docs = Files.list(ROOT.resolve("docs"))) {
            List<Path> pages =
                    new ArrayList<>(
                            docs.filter(p -> p.toString().endsWith(".md")).sorted().toList());
            pages.add(ROOT.resolve("README.md"));
            return pages;
        }
    }

    /** Runs the examples of a page that want a server, in a project that knows one. */
    static void onServer(Cli cli, String page) throws IOException {
        run(cli, page, "server");
    }

    /** Runs the examples of a kind in a project. */
    static void run(Cli cli, String page, String kind) throws IOException {
        Path of = ROOT.resolve("docs").resolve(page);
        for (Block block : blocks(of)) {
            if (block.kind().equals(kind)) {
                console(cli, of, block);
            }
        }
    }

    /** Runs the examples of a kind, with a text in them in the place of another. */
    static void run(Cli cli, String page, String kind, String text, String by) throws IOException {
        Path of = ROOT.resolve("docs").resolve(page);
        for (Block block : blocks(of)) {
            if (block.kind().equals(kind)) {
                console(
                        cli,
                        of,
                        new Block(
                                kind,
                                block.line(),
                                block.lines().stream().map(l -> l.replace(text, by)).toList()));
            }
        }
    }

    private record Block(String kind, int line, List<String> lines) {
        String text() {
            return String.join("\n", lines) + "\n";
        }
    }

    private static List<Block> blocks(Path page) throws IOException {
        List<Block> blocks = new ArrayList<>();
        Block open = null;
        int number = 0;
        for (String line : Files.readAllLines(page)) {
            number++;
            if (line.startsWith("```")) {
                if (open == null) {
                    open = new Block(line.substring(3), number, new ArrayList<>());
                } else {
                    blocks.add(open);
                    open = null;
                }
            } else if (open != null) {
                open.lines().add(line);
            }
        }
        return blocks;
    }

    @ParameterizedTest
    @MethodSource("pages")
    void everyExampleDoesWhatThePageSays(Path page) throws IOException {
        Cli cli = Cli.winery(temporary);
        for (Block block : blocks(page)) {
            switch (block.kind()) {
                case "console" -> console(cli, page, block);
                case "sql" -> {
                    cli.write("routines/docs_" + block.line() + ".sql", block.text());
                    Cli.Result result = cli.run("check");
                    assertEquals(0, result.code(), page + ":" + block.line() + "\n" + result.out());
                    assertTrue(result.out().contains("all well"), result.out());
                }
                case "yaml" -> {
                    if (block.text().contains("cases:")) {
                        cli.write("cases/docs_" + block.line() + ".yaml", block.text());
                        Cli.Result result = cli.run("test", "cases/docs_" + block.line() + ".yaml");
                        assertEquals(
                                0, result.code(), page + ":" + block.line() + "\n" + result.out());
                        Files.delete(cli.path("cases/docs_" + block.line() + ".yaml"));
                    } else {
                        cli.write("cantina.yaml", block.text());
                        assertEquals(0, cli.run("check").code(), page + ":" + block.line());
                    }
                }
                default -> {
                    // Layouts and shell lines that the build itself runs.
                }
            }
        }
    }

    private static void console(Cli cli, Path page, Block block) throws IOException {
        int at = 0;
        while (at < block.lines().size()) {
            String line = block.lines().get(at++);
            assertTrue(line.startsWith("$ cantina "), line);
            List<String> expected = new ArrayList<>();
            while (at < block.lines().size() && !block.lines().get(at).startsWith("$ ")) {
                expected.add(block.lines().get(at++));
            }
            String[] halves = line.substring(10).split(" < ");
            String input = halves.length > 1 ? Files.readString(cli.path(halves[1].strip())) : "";
            Cli.Result result = cli.typing(input, words(halves[0]).toArray(String[]::new));
            inOrder(expected, result.out() + result.err(), page + ":" + block.line());
        }
    }

    /** The words of a line, those in quotes as one. */
    private static List<String> words(String line) {
        List<String> words = new ArrayList<>();
        var matcher = Pattern.compile("'([^']*)'|(\\S+)").matcher(line);
        while (matcher.find()) {
            words.add(matcher.group(1) != null ? matcher.group(1) : matcher.group(2));
        }
        return words;
    }

    private static void inOrder(List<String> expected, String actual, String where) {
        List<String> lines = actual.lines().toList();
        int at = 0;
        for (String line : expected) {
            if (line.isBlank()) {
                continue;
            }
            String[] parts = line.stripTrailing().split("…", -1);
            StringBuilder pattern = new StringBuilder();
            for (int i = 0; i < parts.length; i++) {
                pattern.append(i == 0 ? "" : ".*").append(Pattern.quote(parts[i]));
            }
            while (at < lines.size()
                    && !lines.get(at).stripTrailing().matches(pattern.toString())) {
                at++;
            }
            if (at++ >= lines.size()) {
                fail(where + ": not found in order: " + line + "\n" + actual);
            }
        }
    }

    @Test
    void everyPictureIsLinkedFromTheReadmeAndIsThere() throws IOException {
        String readme = Files.readString(ROOT.resolve("README.md"));
        try (Stream<Path> pictures = Files.list(ROOT.resolve("docs/screenshots"))) {
            for (Path picture : pictures.filter(p -> p.toString().endsWith(".png")).toList()) {
                assertTrue(
                        readme.contains("docs/screenshots/" + picture.getFileName()),
                        picture.toString());
            }
        }
        var links = Pattern.compile("\\]\\(([^)#]+)\\)").matcher(readme);
        while (links.find()) {
            assertTrue(Files.exists(ROOT.resolve(links.group(1))), links.group(1));
        }
    }
}
