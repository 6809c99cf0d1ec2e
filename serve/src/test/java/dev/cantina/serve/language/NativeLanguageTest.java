package dev.cantina.serve.language;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.hosting.PrivateServer;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;
import org.eclipse.lsp4j.CodeLensParams;
import org.eclipse.lsp4j.CompletionItem;
import org.eclipse.lsp4j.CompletionParams;
import org.eclipse.lsp4j.DefinitionParams;
import org.eclipse.lsp4j.DidCloseTextDocumentParams;
import org.eclipse.lsp4j.DocumentFormattingParams;
import org.eclipse.lsp4j.DocumentSymbolParams;
import org.eclipse.lsp4j.FormattingOptions;
import org.eclipse.lsp4j.HoverParams;
import org.eclipse.lsp4j.InlayHintParams;
import org.eclipse.lsp4j.Location;
import org.eclipse.lsp4j.Position;
import org.eclipse.lsp4j.Range;
import org.eclipse.lsp4j.ReferenceContext;
import org.eclipse.lsp4j.ReferenceParams;
import org.eclipse.lsp4j.RenameParams;
import org.eclipse.lsp4j.SemanticTokensParams;
import org.eclipse.lsp4j.WorkspaceSymbolParams;
import org.eclipse.lsp4j.jsonrpc.ResponseErrorException;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.Test;

/** The demos in a server's own language, in an editor. */
class NativeLanguageTest extends LanguageTest {
    @AfterAll
    static void end() throws Exception {
        PrivateServer.of("postgresql").stop();
        PrivateServer.of("mariadb").stop();
    }

    private Path demo(String kind) throws IOException {
        Path from = Path.of("../demo/winery-" + kind);
        try (Stream<Path> all = Files.walk(from)) {
            for (Path path : all.sorted().toList()) {
                Path to = folder.resolve(from.relativize(path).toString());
                if (!Files.exists(to)) {
                    Files.copy(path, to);
                }
            }
        }
        return folder;
    }

    /** Waits for what the server says of a file. */
    private String problems(String file, boolean any) throws InterruptedException {
        for (int i = 0; i < 1600 && said(file).isEmpty() == any; i++) {
            Thread.sleep(50);
        }
        return said(file);
    }

    private String hovered(Path file, String text, String what) {
        var hover =
                get(
                        server.getTextDocumentService()
                                .hover(new HoverParams(id(file), at(text, what))));
        return hover == null ? "" : hover.getContents().getRight().getValue();
    }

    private List<String> definitions(Path file, String text, String what) {
        return get(
                        server.getTextDocumentService()
                                .definition(new DefinitionParams(id(file), at(text, what))))
                .getLeft()
                .stream()
                .map(l -> shown((Location) l))
                .toList();
    }

    private List<String> offers(Path file, String text, String what) {
        return get(
                        server.getTextDocumentService()
                                .completion(new CompletionParams(id(file), at(text, what))))
                .getLeft()
                .stream()
                .map(CompletionItem::getLabel)
                .sorted()
                .toList();
    }

    @Test
    void problemsOfPostgresComeAsTheyAreTyped() throws Exception {
        Path file = demo("postgresql").resolve("db/functions/move_wine.sql");
        String text = Files.readString(file);
        open(file, text.replace("GET DIAGNOSTICS touched", "GET DIAGNOSTICS tuched"));
        String said = problems("move_wine.sql", true);
        assertTrue(said.contains("tuched"), said);
        type(file, text);
        assertEquals("", problems("move_wine.sql", false));
        // What is not saved is another's trouble no more than what is.
        type(
                file,
                text.replace(
                        "UPDATE vessel SET level_l = level_l - litres", "UPDATE vesel SET x = 1"));
        server.getTextDocumentService().didClose(new DidCloseTextDocumentParams(id(file)));
        assertEquals("", problems("move_wine.sql", false));
    }

    @Test
    void namesOfPostgresAreKnownWithoutItsServer() throws Exception {
        Path file = demo("postgresql").resolve("db/functions/move_wine.sql");
        String text = Files.readString(file);
        open(file, text);
        assertTrue(hovered(file, text, "UPDATE ves").contains("TABLE vessel ("));
        assertTrue(hovered(file, text, "IF tou").contains("touched integer"));
        assertTrue(hovered(file, text, "code = sou").contains("IN source varchar"));
        assertTrue(hovered(file, text, "movement (sou").contains("a column of movement"));
        assertTrue(hovered(file, text, "FUNCTION move_").contains("two levels and a line"));
        assertEquals(List.of("move_wine.sql:7:3"), definitions(file, text, "DIAGNOSTICS touch"));
        assertTrue(definitions(file, text, "SET level").get(0).startsWith("1_tables.sql:"));
        assertTrue(offers(file, text, "INSERT INTO ").contains("movement"));
        assertTrue(offers(file, text, "WHERE code = ").containsAll(List.of("source", "code")));
        List<? extends Location> places =
                get(
                        server.getTextDocumentService()
                                .references(
                                        new ReferenceParams(
                                                id(file),
                                                at(text, "FUNCTION move_"),
                                                new ReferenceContext(true))));
        List<String> shown = places.stream().map(l -> shown(l)).toList();
        assertTrue(shown.contains("move_wine.yaml:1:10"), shown::toString);
        assertTrue(shown.contains("move_wine.sql:2:28"), shown::toString);
    }

    @Test
    void theOutlineTheLensesAndTheColoursOfMaria() throws Exception {
        Path file = demo("mariadb").resolve("routines/move_wine.sql");
        String text = Files.readString(file);
        open(file, text);
        var symbols =
                get(
                        server.getTextDocumentService()
                                .documentSymbol(new DocumentSymbolParams(id(file))));
        assertEquals(
                List.of("move_wine", "vessel_journal"),
                symbols.stream().map(s -> s.getRight().getName()).toList());
        assertEquals(
                List.of("said"),
                symbols.get(0).getRight().getChildren().stream().map(c -> c.getName()).toList());
        var lenses = get(server.getTextDocumentService().codeLens(new CodeLensParams(id(file))));
        assertEquals(
                List.of("Run", "Debug", "Test", "Profile"),
                lenses.stream().map(l -> l.getCommand().getTitle()).toList());
        var tokens =
                get(
                        server.getTextDocumentService()
                                .semanticTokensFull(new SemanticTokensParams(id(file))));
        assertFalse(tokens.getData().isEmpty());
        var found = get(server.getWorkspaceService().symbol(new WorkspaceSymbolParams("topping")));
        assertEquals("topping_loss", found.getRight().get(0).getName());
        var edit =
                get(
                        server.getTextDocumentService()
                                .rename(new RenameParams(id(file), at(text, "DECLARE sa"), "why")));
        assertEquals(5, edit.getChanges().get(uri(file)).size());
        String refused =
                assertThrows(
                                ResponseErrorException.class,
                                () ->
                                        get(
                                                server.getTextDocumentService()
                                                        .rename(
                                                                new RenameParams(
                                                                        id(file),
                                                                        at(text, "UPDATE ve"),
                                                                        "x"))))
                        .getResponseError()
                        .getMessage();
        assertTrue(refused.contains("not renamed here"), refused);
        // What is laid out already stays; what is not is.
        type(file, text.replace("  SAVEPOINT", "SAVEPOINT"));
        var laid =
                get(
                        server.getTextDocumentService()
                                .formatting(
                                        new DocumentFormattingParams(
                                                id(file), new FormattingOptions(2, true))));
        assertEquals(text, laid.get(0).getNewText());
        var hints =
                get(
                        server.getTextDocumentService()
                                .inlayHint(new InlayHintParams(id(file), whole(text))));
        assertEquals(List.of(), hints);
    }

    private static Range whole(String text) {
        return new Range(new Position(0, 0), new Position((int) text.lines().count(), 0));
    }

    @Test
    void casesAreCheckedAsTheyAreTyped() throws Exception {
        Path file = demo("postgresql").resolve("cases/move_wine.yaml");
        String text = Files.readString(file);
        open(file, text.replaceFirst("pass:", "pas:"));
        String said = problems("move_wine.yaml", true);
        assertTrue(said.contains("has no key pas"), said);
        type(file, text);
        assertEquals("", problems("move_wine.yaml", false));
        for (String[] one :
                new String[][] {
                    {"routine: move_wine", "routine: move_wyne", "no routine move_wyne"},
                    {"source:", "sourze:", "has no parameter sourze"},
                    {"vessel:", "vezzel:", "no table vezzel"},
                    {"level_l:", "levvel_l:", "has no column levvel_l"}
                }) {
            type(file, text.replaceFirst(one[0], one[1]));
            said = problems("move_wine.yaml", true);
            assertTrue(said.contains(one[2]), said);
            type(file, text);
            assertEquals("", problems("move_wine.yaml", false));
        }
    }

    @Test
    void aRoutineOfTheStandardLanguageAmongThemHasItsOutline() throws Exception {
        Path file = demo("postgresql").resolve("standard/rack_off.sql");
        open(file);
        var symbols =
                get(
                        server.getTextDocumentService()
                                .documentSymbol(new DocumentSymbolParams(id(file))));
        assertEquals("rack_off", symbols.get(0).getRight().getName());
    }
}
