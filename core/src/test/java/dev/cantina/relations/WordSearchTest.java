package dev.cantina.relations;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.project.ProjectReader;
import dev.cantina.project.Workspace;
import dev.cantina.relations.WordSearch.Item;
import dev.cantina.relations.WordSearch.Kind;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What is found by words, and in which order. */
class WordSearchTest {
    private static final List<Item> ITEMS =
            List.of(
                    new Item(Kind.COMMENT, "Moves wine, and writes the ledger.", "", "r.sql", 1),
                    new Item(Kind.CASE, "moves wine", "move_wine", "c.yaml", 3),
                    new Item(
                            Kind.PROCEDURE,
                            "move_wine",
                            "(IN litres INTEGER)  the ledger too",
                            "r.sql",
                            2),
                    new Item(Kind.TABLE, "movement", "", "t.sql", 1),
                    new Item(Kind.COLUMN, "movement.litres", "INTEGER", "t.sql", 2),
                    new Item(Kind.TABLE, "wine", "", "t.sql", 5));

    @TempDir Path folder;

    private static List<String> found(String... words) {
        return new WordSearch(List.of(words)).in(ITEMS).stream().map(Item::name).toList();
    }

    @Test
    void theNearestComesFirst() {
        assertEquals(
                List.of("wine", "move_wine", "moves wine", "Moves wine, and writes the ledger."),
                found("wine"));
        assertEquals(
                List.of(
                        "move_wine",
                        "movement",
                        "moves wine",
                        "Moves wine, and writes the ledger."),
                found("move"));
        assertEquals(List.of("movement.litres", "move_wine"), found("LITRES"));
        assertEquals(List.of("movement"), found("movment"));
        assertEquals(List.of("movement.litres", "move_wine"), found("move", "litres"));
        assertEquals(
                List.of("move_wine", "Moves wine, and writes the ledger."), found("wine ledger"));
        assertEquals(List.of(), found("zebra"));
        assertEquals(List.of(), found("  "));
    }

    @Test
    void aProjectIsSearchedWithItsCommentsAndCases() throws Exception {
        for (String name : List.of("tables", "routines", "cases")) {
            Files.createDirectories(folder.resolve(name));
        }
        Files.writeString(folder.resolve("cantina.yaml"), "project: p\n");
        Files.writeString(
                folder.resolve("tables/t.sql"),
                "/* All the casks,\n   oak or not. */\nCREATE TABLE cask (code INTEGER PRIMARY KEY,\n  size INTEGER);\n");
        Files.writeString(
                folder.resolve("routines/r.sql"),
                "CREATE FUNCTION f () RETURNS VARCHAR(20)\n  RETURN '-- no comment'; -- but this\n");
        Files.writeString(
                folder.resolve("cases/c.yaml"), "routine: f\ncases:\n  - case: gives a text\n");
        try (Workspace workspace = Workspace.open(ProjectReader.read(folder), Optional.empty())) {
            List<Item> items = SearchItems.of(workspace);
            assertEquals(
                    List.of("oak or not."),
                    new WordSearch(List.of("oak")).in(items).stream().map(Item::name).toList());
            Item column = new WordSearch(List.of("size")).in(items).get(0);
            assertEquals("tables/t.sql:4", column.file() + ":" + column.line());
            assertEquals(
                    List.of("but this"),
                    items.stream()
                            .filter(
                                    i ->
                                            i.file().startsWith("routines")
                                                    && i.kind() == Kind.COMMENT)
                            .map(Item::name)
                            .toList());
            assertTrue(items.stream().anyMatch(i -> i.kind() == Kind.CASE && i.line() == 3));
        }
    }
}
