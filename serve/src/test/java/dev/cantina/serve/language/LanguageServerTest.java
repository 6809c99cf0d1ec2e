package dev.cantina.serve.language;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.TimeUnit;
import org.eclipse.lsp4j.ClientCapabilities;
import org.eclipse.lsp4j.CodeActionContext;
import org.eclipse.lsp4j.CodeActionParams;
import org.eclipse.lsp4j.CodeLensParams;
import org.eclipse.lsp4j.CompletionItem;
import org.eclipse.lsp4j.CompletionParams;
import org.eclipse.lsp4j.DefinitionParams;
import org.eclipse.lsp4j.Diagnostic;
import org.eclipse.lsp4j.DidChangeTextDocumentParams;
import org.eclipse.lsp4j.DidCloseTextDocumentParams;
import org.eclipse.lsp4j.DidSaveTextDocumentParams;
import org.eclipse.lsp4j.DocumentFormattingParams;
import org.eclipse.lsp4j.DocumentSymbolParams;
import org.eclipse.lsp4j.FoldingRangeRequestParams;
import org.eclipse.lsp4j.FormattingOptions;
import org.eclipse.lsp4j.Hover;
import org.eclipse.lsp4j.HoverParams;
import org.eclipse.lsp4j.InitializeParams;
import org.eclipse.lsp4j.InlayHintParams;
import org.eclipse.lsp4j.InlineValueContext;
import org.eclipse.lsp4j.InlineValueParams;
import org.eclipse.lsp4j.Location;
import org.eclipse.lsp4j.Position;
import org.eclipse.lsp4j.Range;
import org.eclipse.lsp4j.ReferenceContext;
import org.eclipse.lsp4j.ReferenceParams;
import org.eclipse.lsp4j.RenameFile;
import org.eclipse.lsp4j.RenameParams;
import org.eclipse.lsp4j.ResourceOperationKind;
import org.eclipse.lsp4j.SemanticTokensParams;
import org.eclipse.lsp4j.SignatureHelpParams;
import org.eclipse.lsp4j.TextDocumentContentChangeEvent;
import org.eclipse.lsp4j.TextEdit;
import org.eclipse.lsp4j.VersionedTextDocumentIdentifier;
import org.eclipse.lsp4j.WorkspaceClientCapabilities;
import org.eclipse.lsp4j.WorkspaceEditCapabilities;
import org.eclipse.lsp4j.WorkspaceSymbolParams;
import org.eclipse.lsp4j.jsonrpc.ResponseErrorException;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** What an editor asks of the language server, asked by the protocol's own client. */
@Timeout(value = 60, unit = TimeUnit.SECONDS)
class LanguageServerTest extends LanguageTest {
    private static final String FILL =
            """
            -- Fills the tank T1,
            -- and says how much.
            CREATE PROCEDURE fill (IN most INTEGER, OUT total INTEGER)
            BEGIN
              DECLARE i INTEGER DEFAULT 0;
              DECLARE spilt CONDITION FOR SQLSTATE '45001';
              DECLARE c CURSOR FOR SELECT code FROM tank t WHERE t.litres > most;
              SET total = 0;
              rounds: WHILE i < most DO
                SET i = i + 1;
                SET total = total + twice(i);
                IF total > 1000 THEN
                  LEAVE rounds;
                END IF;
              END WHILE rounds;
              OPEN c;
              CLOSE c;
              UPDATE tank SET litres = litres + total WHERE code = 'T1';
              FOR row AS SELECT code, litres AS much FROM tank DO
                SET total = total + row.much;
              END FOR;
              IF total < 0 THEN
                SIGNAL spilt;
              END IF;
              CALL note_it(total);
            END;
            """;
    private static final String OTHERS =
            """
            /* Twice as much. */
            CREATE FUNCTION twice (x INTEGER) RETURNS INTEGER
              RETURN x * 2;

            CREATE PROCEDURE note_it (IN what INTEGER)
            BEGIN
              DECLARE v INTEGER;
              SET v = twice(what);
              INSERT INTO tank (code, litres) VALUES ('N', what);
            END;

            CREATE TRIGGER noted AFTER UPDATE ON tank FOR EACH ROW
            BEGIN
              DECLARE was INTEGER;
              SET was = OLD.litres;
            END;
            """;
    private static final String CASES =
            """
            routine: fill
            cases:
              - case: fills a little
                pass: { most: 1 }
                returns: { total: 43 }
                data: { others: free }
              - case: notes
                routine: note_it
                pass: { what: 3 }
                data:
                  tank: { added: 1 }
            """;

    private Path fill;
    private Path others;
    private Path cases;

    @BeforeEach
    void start() throws Exception {
        write("cantina.yaml", "project: tanks\nfixture: base\n");
        write(
                "tables/tank.sql",
                "CREATE TABLE tank (code VARCHAR(4) PRIMARY KEY, litres INTEGER);\n");
        fill = write("routines/fill.sql", FILL);
        others = write("routines/others.sql", OTHERS);
        cases = write("cases/fill.yaml", CASES);
        write("fixtures/base/tank.csv", "code,litres\nT1,10\n");
    }

    @Test
    void problemsComeAsTheyAreTypedAndGo() throws IOException {
        open(fill);
        assertEquals("", said("fill.sql"));
        type(fill, FILL.replace("SET total = 0", "SET totl = 0"));
        assertEquals("8:7 there is no variable totl here\ndid you mean total?\n", said("fill.sql"));
        type(fill, FILL);
        assertEquals("", said("fill.sql"));
    }

    @Test
    void onlyTheStretchThatIsTypedIsSent() throws IOException {
        open(fill);
        Position start = at(FILL, "SET tota");
        TextDocumentContentChangeEvent change =
                new TextDocumentContentChangeEvent(
                        new Range(start, new Position(start.getLine(), start.getCharacter() + 1)),
                        "x");
        server.getTextDocumentService()
                .didChange(
                        new DidChangeTextDocumentParams(
                                new VersionedTextDocumentIdentifier(uri(fill), 2),
                                List.of(change)));
        settle(fill);
        assertTrue(said("fill.sql").contains("no variable totax"), said("fill.sql"));
    }

    @Test
    void aHintIsOneKeyAway() throws IOException {
        open(fill, FILL.replace("SET total = 0", "SET totl = 0"));
        Diagnostic problem = diagnostics.get("fill.sql").get(0);
        var actions =
                get(
                        server.getTextDocumentService()
                                .codeAction(
                                        new CodeActionParams(
                                                id(fill),
                                                problem.getRange(),
                                                new CodeActionContext(List.of(problem)))));
        assertEquals(1, actions.size());
        assertEquals("Write total", actions.get(0).getRight().getTitle());
        TextEdit edit = actions.get(0).getRight().getEdit().getChanges().get(uri(fill)).get(0);
        assertEquals("total", edit.getNewText());
        assertEquals(problem.getRange(), edit.getRange());
    }

    private String definition(Path file, String text, String what) {
        List<? extends Location> found =
                get(server.getTextDocumentService()
                                .definition(new DefinitionParams(id(file), at(text, what))))
                        .getLeft();
        return found.isEmpty() ? "" : shown(found.get(0));
    }

    @Test
    void definitionsOfEverythingThatIsNamed() throws IOException {
        open(fill);
        assertEquals("fill.sql:5:11", definition(fill, FILL, "SET i = i"));
        assertEquals("fill.sql:3:27", definition(fill, FILL, "litres > mo"));
        assertEquals("others.sql:2:17", definition(fill, FILL, "total + twi"));
        assertEquals("others.sql:5:18", definition(fill, FILL, "CALL note"));
        assertEquals("tank.sql:1:14", definition(fill, FILL, "UPDATE ta"));
        assertEquals("tank.sql:1:49", definition(fill, FILL, "SET litr"));
        assertEquals("tank.sql:1:49", definition(fill, FILL, "t.litr"));
        assertEquals("tank.sql:1:20", definition(fill, FILL, "total WHERE co"));
        assertEquals("fill.sql:7:11", definition(fill, FILL, "OPEN c"));
        assertEquals("fill.sql:9:3", definition(fill, FILL, "LEAVE rou"));
        assertEquals("fill.sql:6:11", definition(fill, FILL, "SIGNAL sp"));
        assertEquals("fill.sql:19:7", definition(fill, FILL, "total + ro"));
        assertEquals("", definition(fill, FILL, "END WHI"));
        assertEquals("fill.sql:3:18", definition(cases, CASES, "routine: fi"));
    }

    private List<String> references(Path file, String text, String what) {
        return get(
                        server.getTextDocumentService()
                                .references(
                                        new ReferenceParams(
                                                id(file),
                                                at(text, what),
                                                new ReferenceContext(true))))
                .stream()
                .map(LanguageServerTest::shown)
                .sorted()
                .toList();
    }

    @Test
    void referencesOverFilesAndCases() throws IOException {
        open(fill);
        assertEquals(
                List.of("fill.sql:11:25", "others.sql:2:17", "others.sql:8:11"),
                references(fill, FILL, "total + twi"));
        assertEquals(
                List.of("fill.sql:25:8", "fill.yaml:8:14", "others.sql:5:18"),
                references(fill, FILL, "CALL note"));
        assertEquals(
                List.of(
                        "fill.sql:10:13",
                        "fill.sql:10:9",
                        "fill.sql:11:31",
                        "fill.sql:5:11",
                        "fill.sql:9:17"),
                references(fill, FILL, "DECLARE i"));
        assertEquals(
                List.of(
                        "fill.sql:18:10",
                        "fill.sql:19:47",
                        "fill.sql:7:41",
                        "fill.yaml:11:7",
                        "others.sql:12:38",
                        "others.sql:9:15",
                        "tank.sql:1:14"),
                references(fill, FILL, "UPDATE ta"));
    }

    private Hover hover(Path file, String text, String what) {
        return get(
                server.getTextDocumentService().hover(new HoverParams(id(file), at(text, what))));
    }

    private String hovered(String what) {
        return hover(fill, FILL, what).getContents().getRight().getValue();
    }

    @Test
    void aHoverShowsTheHeadAndTheCommentAboveIt() throws IOException {
        open(fill);
        assertEquals(
                "```sql\nFUNCTION twice(x INTEGER) RETURNS INTEGER\n```\nTwice as much.",
                hovered("total + twi"));
        assertEquals("```sql\nIN most INTEGER\n```\na parameter", hovered("i < mo"));
        assertTrue(hovered("UPDATE ta").contains("code VARCHAR(4) PRIMARY KEY"));
        assertTrue(hovered("UPDATE ta").contains("fires noted (after update)"));
        assertEquals("```sql\nlitres INTEGER\n```\na column of tank", hovered("SET litr"));
        assertEquals(null, hover(fill, FILL, "END WHI"));
        assertTrue(
                hover(fill, FILL, "PROCEDURE fi")
                        .getContents()
                        .getRight()
                        .getValue()
                        .endsWith("Fills the tank T1,\nand says how much."));
    }

    private List<String> completed(Path file, String text, String what) {
        Position place = at(text, what);
        return get(
                        server.getTextDocumentService()
                                .completion(new CompletionParams(id(file), place)))
                .getLeft()
                .stream()
                .map(CompletionItem::getLabel)
                .toList();
    }

    @Test
    void completionKnowsItsPlace() throws IOException {
        open(fill);
        String typed = FILL.replace("CLOSE c;", "CLOSE c;\n  SELECT MAX(t.");
        type(fill, typed + "\n");
        assertTrue(completed(fill, typed, "SELECT MAX(t.").isEmpty());
        typed = FILL.replace("CLOSE c;", "CLOSE c;\n  SELECT t. INTO i FROM tank t;");
        type(fill, typed);
        assertEquals(List.of("code", "litres"), completed(fill, typed, "SELECT t."));
        typed = FILL.replace("CLOSE c;", "CLOSE c;\n  CALL ;");
        type(fill, typed);
        assertEquals(List.of("fill", "note_it"), completed(fill, typed, "CALL "));
        typed = FILL.replace("CLOSE c;", "CLOSE c;\n  SET i = ");
        type(fill, typed);
        List<String> values = completed(fill, typed, "CLOSE c;\n  SET i = ");
        assertTrue(values.containsAll(List.of("i", "most", "total", "twice", "ABS")), values + "");
        assertFalse(values.contains("note_it"));
        typed = FILL.replace("CLOSE c;", "CLOSE ;");
        type(fill, typed);
        assertEquals(List.of("c"), completed(fill, typed, "CLOSE "));
        typed = FILL.replace("SIGNAL spilt", "SIGNAL ");
        type(fill, typed);
        assertTrue(completed(fill, typed, "SIGNAL ").contains("spilt"));
        typed = FILL.replace("row.much", "row.");
        type(fill, typed);
        assertEquals(List.of("code", "MUCH"), completed(fill, typed, "row."));
        typed = FILL.replace("LEAVE rounds", "LEAVE ");
        type(fill, typed);
        assertEquals(List.of("rounds"), completed(fill, typed, "LEAVE "));
        typed = FILL.replace("UPDATE tank SET", "UPDATE  SET");
        type(fill, typed);
        assertEquals(List.of("tank"), completed(fill, typed, "UPDATE "));
        typed = FILL.replace("DECLARE i INTEGER", "DECLARE i ");
        type(fill, typed);
        assertTrue(completed(fill, typed, "DECLARE i ").contains("DECIMAL"));
        typed = FILL.replace("SET total = 0;", "SET total = 0; -- tot");
        type(fill, typed);
        assertEquals(List.of(), completed(fill, typed, "-- tot"));
        typed = FILL.replace("'T1'", "'T");
        type(fill, typed);
        assertEquals(List.of(), completed(fill, typed, "= 'T"));
    }

    @Test
    void completionInCases() throws IOException {
        open(cases);
        assertEquals(List.of("most", "total"), completed(cases, CASES, "pass: { mo"));
        assertEquals(List.of("what"), completed(cases, CASES, "pass: { wh"));
        assertEquals(
                List.of("fill", "twice", "note_it"), completed(cases, CASES, "    routine: no"));
        assertEquals(List.of("tank"), completed(cases, CASES, "data:\n      ta"));
        assertTrue(completed(cases, CASES, "    re").contains("returns"));
        String rows =
                "routine: fill\ncases:\n  - case: a\n    data:\n      tank:\n        ch: 1\n"
                        + "        added:\n          - { code: x, l: 1 }\n"
                        + "        changed: { T1: { li: 2 } }\n";
        type(cases, rows);
        assertEquals(List.of("added", "removed", "changed"), completed(cases, rows, "        ch"));
        assertEquals(completed(cases, rows, "code: x, l"), completed(cases, rows, "T1: { li"));
        assertTrue(completed(cases, rows, "T1: { li").contains("litres"));
    }

    @Test
    void completionInTheSettings() throws IOException {
        Path yaml = folder.resolve("cantina.yaml");
        String text =
                "project: tanks\nfixture: base\nlim\nlimits: { se }\nadvice:\n  silence:\n    - wh\n";
        open(fill);
        open(yaml, text);
        assertTrue(completed(yaml, text, "\nlim").contains("limits"));
        assertEquals(
                List.of("depth", "rows", "seconds", "statements"),
                completed(yaml, text, "limits: { se"));
        assertTrue(completed(yaml, text, "- wh").contains("whole-table"));
        assertEquals(List.of(), completed(yaml, text, "project: ta"));
    }

    @Test
    void argumentsSayTheirParameters() throws IOException {
        open(fill);
        var hints =
                get(
                        server.getTextDocumentService()
                                .inlayHint(
                                        new InlayHintParams(
                                                id(fill),
                                                new Range(
                                                        new Position(0, 0), new Position(40, 0)))));
        assertEquals(
                List.of("x: 11:31", "what: 25:16"),
                hints.stream()
                        .map(
                                h ->
                                        h.getLabel().getLeft()
                                                + " "
                                                + (h.getPosition().getLine() + 1)
                                                + ":"
                                                + (h.getPosition().getCharacter() + 1))
                        .toList());
    }

    @Test
    void aCallThatIsTypedShowsItsParameters() throws IOException {
        open(fill);
        var help =
                get(
                        server.getTextDocumentService()
                                .signatureHelp(
                                        new SignatureHelpParams(
                                                id(fill), at(FILL, "CALL note_it("))));
        assertEquals("note_it(IN what INTEGER)", help.getSignatures().get(0).getLabel());
        assertEquals(0, help.getActiveParameter());
        assertEquals(
                null,
                get(
                        server.getTextDocumentService()
                                .signatureHelp(
                                        new SignatureHelpParams(id(fill), at(FILL, "i < mo")))));
    }

    @Test
    void theOutlineLensesFoldsAndSymbols() throws IOException {
        open(fill);
        var symbols =
                get(
                        server.getTextDocumentService()
                                .documentSymbol(new DocumentSymbolParams(id(others))));
        assertEquals(
                List.of("twice", "note_it", "noted"),
                symbols.stream().map(s -> s.getRight().getName()).toList());
        assertEquals("(IN what INTEGER)".replace("IN ", ""), symbols.get(1).getRight().getDetail());
        var lenses = get(server.getTextDocumentService().codeLens(new CodeLensParams(id(fill))));
        assertEquals(
                List.of("Run", "Debug", "Test", "Profile"),
                lenses.stream().map(l -> l.getCommand().getTitle()).toList());
        var ofCases = get(server.getTextDocumentService().codeLens(new CodeLensParams(id(cases))));
        assertEquals(4, ofCases.size());
        assertEquals(2, ofCases.get(0).getRange().getStart().getLine());
        var folds =
                get(
                        server.getTextDocumentService()
                                .foldingRange(new FoldingRangeRequestParams(id(fill))));
        assertTrue(
                folds.stream().anyMatch(f -> f.getStartLine() == 8 && f.getEndLine() == 14),
                folds + "");
        assertTrue(folds.stream().anyMatch(f -> "comment".equals(f.getKind())));
        var found = get(server.getWorkspaceService().symbol(new WorkspaceSymbolParams("NOTE")));
        assertEquals(
                List.of("note_it", "noted"),
                found.getRight().stream().map(s -> s.getName()).sorted().toList());
    }

    private Map<String, String> renamed(Path file, String text, String what, String name) {
        var edit =
                get(
                        server.getTextDocumentService()
                                .rename(new RenameParams(id(file), at(text, what), name)));
        Map<String, String> texts = new TreeMap<>();
        edit.getChanges()
                .forEach(
                        (uri, edits) -> {
                            Path path = Path.of(java.net.URI.create(uri));
                            texts.put(
                                    path.getFileName().toString(),
                                    edits.size() + " " + edits.get(0).getNewText());
                        });
        return texts;
    }

    private String refused(Path file, String text, String what, String name) {
        return assertThrows(ResponseErrorException.class, () -> renamed(file, text, what, name))
                .getResponseError()
                .getMessage();
    }

    @Test
    void aRenameGoesOverFilesAndCases() throws IOException {
        open(fill);
        assertEquals(
                Map.of(
                        "fill.sql",
                        "1 write_it",
                        "fill.yaml",
                        "1 write_it",
                        "others.sql",
                        "1 write_it"),
                renamed(fill, FILL, "CALL note", "write_it"));
        assertEquals(Map.of("fill.sql", "5 turn"), renamed(fill, FILL, "DECLARE i", "turn"));
        assertEquals(
                Map.of("fill.sql", "3 upper_end", "fill.yaml", "1 upper_end"),
                renamed(fill, FILL, "IN mo", "upper_end"));
        assertEquals(Map.of("fill.sql", "3 tanks"), renamed(fill, FILL, "OPEN c", "tanks"));
    }

    @Test
    void aRenameThatChangesWhatSomethingMeansIsRefused() throws IOException {
        open(fill);
        // A column of this name would go before the parameter.
        assertTrue(
                refused(fill, FILL, "IN mo", "litres")
                        .contains("a name in fill would mean something else"));
        assertTrue(refused(fill, FILL, "DECLARE i", "total").contains("can't be called total"));
        assertTrue(refused(fill, FILL, "CALL note", "fill").contains("can't be called fill"));
        assertTrue(refused(fill, FILL, "DECLARE i", "SELECT").contains("can't be a name"));
        assertTrue(refused(fill, FILL, "DECLARE i", "a b").contains("can't be a name"));
        assertTrue(refused(fill, FILL, "UPDATE ta", "select").contains("can't be a name"));
        assertTrue(refused(others, OTHERS, "= OLD", "before").contains("given by the language"));
    }

    @Test
    void aTableIsRenamedWithTheFilesOfItsRows() throws IOException {
        write("fixtures/some/tank.csv", "code\nT1\n");
        write("look.words", "rows tank\n");
        open(fill);
        assertTrue(
                refused(fill, FILL, "UPDATE ta", "tub").contains("does not rename files"),
                () -> refused(fill, FILL, "UPDATE ta", "tub"));
        var can = new WorkspaceEditCapabilities();
        can.setDocumentChanges(true);
        can.setResourceOperations(List.of(ResourceOperationKind.Rename));
        var workspace = new WorkspaceClientCapabilities();
        workspace.setWorkspaceEdit(can);
        var params = new InitializeParams();
        params.setCapabilities(new ClientCapabilities(workspace, null, null));
        get(server.initialize(params));
        var edit =
                get(
                        server.getTextDocumentService()
                                .rename(new RenameParams(id(fill), at(FILL, "UPDATE ta"), "tub")));
        var last = edit.getDocumentChanges().get(edit.getDocumentChanges().size() - 1);
        RenameFile move = (RenameFile) last.getRight();
        assertTrue(move.getOldUri().endsWith("fixtures/some/tank.csv"), move.getOldUri());
        assertTrue(move.getNewUri().endsWith("fixtures/some/tub.csv"), move.getNewUri());
        assertTrue(
                edit.getDocumentChanges().stream()
                        .filter(c -> c.isLeft())
                        .anyMatch(
                                c ->
                                        c.getLeft()
                                                .getTextDocument()
                                                .getUri()
                                                .endsWith("tables/tank.sql")));
        assertTrue(
                messages.stream().anyMatch(m -> m.contains("look.words too")), messages::toString);
    }

    @Test
    void eachWordIsSaidToBeWhatItIs() throws IOException {
        open(fill);
        var tokens =
                get(
                        server.getTextDocumentService()
                                .semanticTokensFull(new SemanticTokensParams(id(fill))));
        List<Integer> data = tokens.getData();
        assertEquals(0, data.size() % 5);
        List<String> lines = FILL.lines().toList();
        List<String> words = new ArrayList<>();
        int line = 0;
        int column = 0;
        for (int i = 0; i < data.size(); i += 5) {
            line += data.get(i);
            column = data.get(i) == 0 ? column + data.get(i + 1) : data.get(i + 1);
            words.add(
                    lines.get(line).substring(column, column + data.get(i + 2))
                            + " "
                            + TokenMarks.TYPES.get(data.get(i + 3)));
        }
        assertTrue(
                words.containsAll(
                        List.of(
                                "-- Fills the tank T1, comment",
                                "CREATE keyword",
                                "most parameter",
                                "i variable",
                                "twice function",
                                "tank class",
                                "litres property",
                                "'T1' string",
                                "1000 number",
                                "rounds label")),
                words + "");
    }

    @Test
    void aTextIsLaidOutAndOneThatCantBeReadIsNot() throws IOException {
        open(fill, FILL.replace("    SET i = i + 1;", "  SET i = i + 1;  "));
        var edits =
                get(
                        server.getTextDocumentService()
                                .formatting(
                                        new DocumentFormattingParams(
                                                id(fill), new FormattingOptions(2, true))));
        assertEquals(FILL, edits.get(0).getNewText());
        type(fill, FILL.replace("BEGIN", "BEGN"));
        assertThrows(
                ResponseErrorException.class,
                () ->
                        get(
                                server.getTextDocumentService()
                                        .formatting(
                                                new DocumentFormattingParams(
                                                        id(fill),
                                                        new FormattingOptions(2, true)))));
    }

    @Test
    void theValuesInTheLineAreThoseOfVariables() throws IOException {
        open(fill);
        InlineValueParams params =
                new InlineValueParams(
                        id(fill),
                        new Range(new Position(0, 0), new Position(30, 0)),
                        new InlineValueContext(
                                1, new Range(new Position(10, 0), new Position(11, 0))));
        List<?> values = get(server.getTextDocumentService().inlineValue(params));
        assertTrue(values.size() >= 8, values + "");
        assertFalse(values.toString().contains("line = 11"), values + "");
    }

    @Test
    void filesThatBelongNowhereAreLeftAlone() throws IOException {
        Path lonely = Files.createTempDirectory("lonely").resolve("x.sql");
        Files.writeString(lonely, "CREATE PROCEDURE (");
        open(lonely);
        assertEquals("", said("x.sql"));
        open(fill);
        assertEquals("", said("fill.sql"));
        assertTrue(messages.isEmpty(), messages + "");
    }

    @Test
    void severalProjectsInOneFolderKnowNothingOfEachOther() throws IOException {
        write("other/cantina.yaml", "project: other\n");
        Path theirs = write("other/routines/theirs.sql", OTHERS.replace("twice", "thrice"));
        open(fill);
        open(theirs, OTHERS.replace("twice", "thrice"));
        assertEquals("", said("fill.sql"));
        // It has no table of this name, and no routine either.
        assertTrue(said("theirs.sql").contains("tank"), said("theirs.sql"));
        String typed = FILL.replace("twice(i)", "thrice(i)");
        type(fill, typed);
        assertTrue(said("fill.sql").contains("there is no function thrice"), said("fill.sql"));
        assertEquals(
                List.of("theirs.sql:2:17", "theirs.sql:8:11"),
                references(theirs, OTHERS.replace("twice", "thrice"), "FUNCTION thr"));
    }

    @Test
    void casesAreReadAsTheyAreTyped() throws IOException {
        open(fill);
        open(cases, CASES);
        assertEquals("", said("fill.yaml"));
        type(cases, CASES.replace("returns:", "return:"));
        assertTrue(said("fill.yaml").contains("return"), said("fill.yaml"));
        type(cases, CASES);
        assertEquals("", said("fill.yaml"));
        type(cases, "cases: [");
        assertTrue(said("fill.yaml").length() > 0);
        server.getTextDocumentService().didClose(new DidCloseTextDocumentParams(id(cases)));
        settle(fill);
        assertEquals("", said("fill.yaml"));
    }

    @Test
    void settingsAreReadAsTheyAreTyped() throws IOException {
        Path yaml = folder.resolve("cantina.yaml");
        open(fill);
        open(yaml, "project: tanks\nfixture: base\n");
        assertEquals("", said("cantina.yaml"));
        type(yaml, "project: tanks\nfixture: base\nlimits:\n  secnds: 3\n");
        assertTrue(said("cantina.yaml").contains("secnds"), said("cantina.yaml"));
        // What is not saved does not hold: the project is open as it was.
        assertEquals("", said("fill.sql"));
        type(yaml, "project: [");
        assertTrue(said("cantina.yaml").length() > 0);
        type(yaml, "project: tanks\nfixture: base\nlimits:\n  seconds: 3\n");
        assertEquals("", said("cantina.yaml"));
        type(yaml, "fixtur: x\n");
        assertTrue(said("cantina.yaml").contains("fixtur"), said("cantina.yaml"));
        server.getTextDocumentService().didClose(new DidCloseTextDocumentParams(id(yaml)));
        settle(fill);
        assertEquals("", said("cantina.yaml"));
    }

    @Test
    void aProjectThatCantBeReadSaysSoAndIsReadWhenItCan() throws IOException {
        Path yaml = write("cantina.yaml", "project: tanks\nfixtur: base\n");
        open(fill);
        assertTrue(said("cantina.yaml").contains("fixtur"), said("cantina.yaml"));
        Files.writeString(yaml, "project: tanks\nfixture: base\n");
        server.getTextDocumentService().didSave(new DidSaveTextDocumentParams(id(yaml)));
        type(fill, FILL.replace("SET total = 0", "SET totl = 0"));
        assertEquals("", said("cantina.yaml"));
        assertTrue(said("fill.sql").contains("totl"), said("fill.sql"));
    }

    @Test
    void aFileThatIsDeletedUnderTheEditorIsGone() throws IOException {
        open(fill);
        Files.delete(others);
        server.getTextDocumentService().didSave(new DidSaveTextDocumentParams(id(fill)));
        settle(fill);
        assertTrue(said("fill.sql").contains("there is no function twice"), said("fill.sql"));
        server.getTextDocumentService().didClose(new DidCloseTextDocumentParams(id(fill)));
        settle(fill);
    }

    @Test
    void aLineOfAMillionCharactersIsAnswered() throws IOException {
        String text = FILL.replace("SET total = 0;", "SET total = 0" + " + 1".repeat(1000) + ";");
        open(fill, text + "-- " + "x".repeat(1_000_000));
        assertEquals("", said("fill.sql"));
        type(fill, "x".repeat(1_000_000));
        assertTrue(said("fill.sql").length() > 0);
        assertTrue(said("fill.sql").length() < 5000, said("fill.sql").length() + "");
    }
}
