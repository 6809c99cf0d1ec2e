package dev.cantina.site;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class SiteTest {
    private static final Path SOURCES = Path.of("..");
    private static final Pattern LEADS = Pattern.compile("(?:href|src)=\"([^\"]*)\"");

    @TempDir Path folder;

    private static List<Path> pages(Path folder) throws IOException {
        try (Stream<Path> all = Files.walk(folder)) {
            return all.filter(f -> f.toString().endsWith(".html")).toList();
        }
    }

    @Test
    void everyLinkLeadsToAFileAndAnAnchorInTheFolder() throws IOException {
        Site.make(SOURCES, folder);
        int links = 0;
        for (Path page : pages(folder)) {
            Matcher matcher = LEADS.matcher(Files.readString(page));
            while (matcher.find()) {
                String[] parts = matcher.group(1).split("#", 2);
                Path at = parts[0].isEmpty() ? page : page.resolveSibling(parts[0]).normalize();
                assertTrue(Files.isRegularFile(at), page + " leads to " + matcher.group(1));
                assertTrue(at.startsWith(folder), page + " leads out, to " + matcher.group(1));
                if (parts.length == 2) {
                    assertTrue(
                            Files.readString(at).contains(" id=\"" + parts[1] + "\""),
                            page + " leads to " + matcher.group(1));
                }
                links++;
            }
        }
        assertTrue(links > 300, links + " links");
    }

    @Test
    void nothingComesFromElsewhere() throws IOException {
        Site.make(SOURCES, folder);
        Pattern elsewhere = Pattern.compile("(src|href)=\"(\\w+:|//)|url\\(|@import|fetch\\(");
        for (Path page : pages(folder)) {
            assertFalse(elsewhere.matcher(Files.readString(page)).find(), page.toString());
        }
        for (String file : List.of("site.css", "search.js")) {
            assertFalse(elsewhere.matcher(Files.readString(folder.resolve(file))).find(), file);
        }
    }

    /** Every heading of the files is in the index, at an anchor, with the text that is below it. */
    @Test
    void theIndexHoldsEveryHeading() throws IOException {
        Site.make(SOURCES, folder);
        JsonNode index = index();
        for (String file : List.of("README.md", "docs/servers.md", "docs/language.md")) {
            boolean code = false;
            for (String line : Files.readAllLines(SOURCES.resolve(file))) {
                code ^= line.startsWith("```");
                if (line.startsWith("## ") && !code) {
                    String heading = line.substring(3).replace("`", "").strip();
                    boolean held = false;
                    for (JsonNode section : index) {
                        held |= section.get("title").asText().equals(heading);
                    }
                    assertTrue(held, file + " has " + heading);
                }
            }
        }
    }

    @Test
    void headingsOfOneNameHaveAnchorsOfTheirOwn() {
        Page page =
                Page.read("docs/x.md", "# Top\n\n## Keys\n\none\n\n## Keys\n\n`two`\n\n## Ä & B\n");
        assertEquals(
                List.of(
                        new Page.Section("Top", "Top", "docs/x.html#top", ""),
                        new Page.Section("Top", "Keys", "docs/x.html#keys", "one"),
                        new Page.Section("Top", "Keys", "docs/x.html#keys-1", "two"),
                        new Page.Section("Top", "Ä & B", "docs/x.html#ä--b", "")),
                page.sections());
    }

    @Test
    void whatIsSearchedHasNoMarks() {
        Page page =
                Page.read(
                        "docs/x.md",
                        "# `a` *b*\n\n**One** [two](x.md)\nthree\n\n- `four`\n- five\n\n"
                                + "| six | se<i>v</i>en |\n|---|---|\n| `e\\|t` | 9 |\n\n```\nten\n```\n");
        assertEquals(
                List.of(
                        new Page.Section(
                                "a b",
                                "a b",
                                "docs/x.html#a-b",
                                "One two three four five six se<i>v</i>en e|t 9 ten")),
                page.sections());
    }

    @Test
    void markupInATextIsShownAndNotObeyed() throws IOException {
        Path sources =
                sources("# A <b>\n\n<script>x</script> and a </script> in text, <i>so</i>\n");
        Site.make(sources, folder.resolve("pages"));
        String page = Files.readString(folder.resolve("pages/docs/commands.html"));
        assertTrue(page.contains("&lt;script&gt;x&lt;/script&gt;"), page);
        assertTrue(page.contains("&lt;i&gt;so"), page);
    }

    @Test
    void aLinkThatLeadsNowhereIsAnError() throws IOException {
        for (String link :
                List.of("none.md", "commands.md#none", "../pom.xml", "../../x", "#none")) {
            Path sources = sources("# A\n\n[x](" + link + ")\n");
            IOException error =
                    assertThrows(
                            IOException.class, () -> Site.make(sources, folder.resolve("pages")));
            assertEquals(
                    "docs/commands.md leads to " + link + ", which no page has",
                    error.getMessage());
        }
    }

    @Test
    void aPageThatTheListLacksIsAnError() throws IOException {
        Path sources = sources("# A\n");
        Files.writeString(sources.resolve("docs/other.md"), "# Other\n");
        IOException error =
                assertThrows(IOException.class, () -> Site.make(sources, folder.resolve("pages")));
        assertTrue(error.getMessage().startsWith("docs/other.md is not in"), error.getMessage());
    }

    private JsonNode index() throws IOException {
        String script = Files.readString(folder.resolve("index.js"));
        String start = "const sections = ";
        assertTrue(script.startsWith(start) && script.endsWith(";\n"));
        return new ObjectMapper().readTree(script.substring(start.length(), script.length() - 2));
    }

    /** The same files as the product's, each with a title alone, and a page of commands. */
    private Path sources(String commands) throws IOException {
        Path sources = Files.createDirectories(folder.resolve("sources"));
        for (String name : List.of("README.md", "SECURITY.md", "CONTRIBUTING.md", "CHANGELOG.md")) {
            Files.writeString(sources.resolve(name), "# " + name + "\n");
        }
        for (String name : List.of("docs/screenshots", "docs/schemas", "docs/ci")) {
            Files.createDirectories(sources.resolve(name));
            Files.writeString(sources.resolve(name).resolve("one.txt"), "one\n");
        }
        Files.writeString(sources.resolve("LICENSE"), "free\n");
        try (Stream<Path> docs = Files.list(SOURCES.resolve("docs"))) {
            for (Path doc : docs.filter(d -> d.toString().endsWith(".md")).toList()) {
                Files.writeString(sources.resolve("docs").resolve(doc.getFileName()), "# Doc\n");
            }
        }
        Files.writeString(sources.resolve("docs/commands.md"), commands);
        return sources;
    }
}
