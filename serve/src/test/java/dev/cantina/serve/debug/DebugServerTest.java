package dev.cantina.serve.debug;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import org.eclipse.lsp4j.debug.Breakpoint;
import org.eclipse.lsp4j.debug.BreakpointLocationsArguments;
import org.eclipse.lsp4j.debug.CancelArguments;
import org.eclipse.lsp4j.debug.CompletionsArguments;
import org.eclipse.lsp4j.debug.DataBreakpoint;
import org.eclipse.lsp4j.debug.DataBreakpointInfoArguments;
import org.eclipse.lsp4j.debug.DisconnectArguments;
import org.eclipse.lsp4j.debug.EvaluateArguments;
import org.eclipse.lsp4j.debug.EvaluateResponse;
import org.eclipse.lsp4j.debug.ExceptionFilterOptions;
import org.eclipse.lsp4j.debug.ExceptionInfoArguments;
import org.eclipse.lsp4j.debug.FunctionBreakpoint;
import org.eclipse.lsp4j.debug.PauseArguments;
import org.eclipse.lsp4j.debug.RestartArguments;
import org.eclipse.lsp4j.debug.RestartFrameArguments;
import org.eclipse.lsp4j.debug.ReverseContinueArguments;
import org.eclipse.lsp4j.debug.SetDataBreakpointsArguments;
import org.eclipse.lsp4j.debug.SetExceptionBreakpointsArguments;
import org.eclipse.lsp4j.debug.SetExpressionArguments;
import org.eclipse.lsp4j.debug.SetFunctionBreakpointsArguments;
import org.eclipse.lsp4j.debug.SetVariableArguments;
import org.eclipse.lsp4j.debug.Source;
import org.eclipse.lsp4j.debug.SourceBreakpoint;
import org.eclipse.lsp4j.debug.StackTraceArguments;
import org.eclipse.lsp4j.debug.StepBackArguments;
import org.eclipse.lsp4j.debug.StepInArguments;
import org.eclipse.lsp4j.debug.StepInTargetsArguments;
import org.eclipse.lsp4j.debug.StepOutArguments;
import org.eclipse.lsp4j.debug.TerminateArguments;
import org.eclipse.lsp4j.debug.VariablesArguments;
import org.eclipse.lsp4j.jsonrpc.ResponseErrorException;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

/** Each thing that the debug server says it can do, asked by the protocol's own client. */
@Timeout(value = 60, unit = TimeUnit.SECONDS)
class DebugServerTest {
    private static final String TABLES =
            "CREATE TABLE tank (code VARCHAR(4) PRIMARY KEY, litres INTEGER);\n";
    private static final String FILL =
            """
            CREATE PROCEDURE fill (IN most INTEGER, OUT total INTEGER)
            BEGIN
              DECLARE i INTEGER DEFAULT 0;
              DECLARE marks INTEGER ARRAY[4] DEFAULT ARRAY[1, 2];
              DECLARE spot ROW (x INTEGER, y VARCHAR(9)) DEFAULT ROW(1, 'left');
              SET total = 0;
              WHILE i < most DO
                SET i = i + 1;
                SET total = total + twice(i) + twice(1);
                UPDATE tank SET litres = litres + i WHERE code = 'T1';
              END WHILE;
              REPORT 'filled ', total;
              -- and this is all
            END;
            """;
    private static final String TWICE =
            """
            -- twice as much
            CREATE FUNCTION twice (x INTEGER) RETURNS INTEGER
            BEGIN
              RETURN x * 2;
            END;

            CREATE TRIGGER noted AFTER UPDATE ON tank FOR EACH ROW
            BEGIN
              DECLARE was INTEGER;
              SET was = OLD.litres;
            END;

            CREATE PROCEDURE fails ()
            BEGIN
              DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' BEGIN END;
              SET @x = 1;
            END;
            """
                    .replace(
                            "  SET @x = 1;\n",
                            "  SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'no';\n");
    private static final String ENDLESS =
            """
            CREATE PROCEDURE endless ()
            BEGIN
              DECLARE i INTEGER DEFAULT 0;
              WHILE TRUE DO
                SET i = 1 - i;
              END WHILE;
            END;
            CREATE FUNCTION forever (x INTEGER) RETURNS INTEGER
            BEGIN
              WHILE TRUE DO
                SET x = 1 - x;
              END WHILE;
              RETURN x;
            END;
            """;

    @TempDir Path folder;
    private Path fill;
    private Path twice;
    private Editor editor;

    @BeforeEach
    void project() throws IOException {
        write(
                "cantina.yaml",
                "project: tanks\nfixture: base\nlimits: {statements: 900000000000}\n");
        write("tables/tank.sql", TABLES);
        fill = write("routines/fill.sql", FILL);
        twice = write("routines/more/twice.sql", TWICE);
        write("routines/endless.sql", ENDLESS);
        write("fixtures/base/tank.csv", "code,litres\nT1,10\nT2,20\n");
        write(
                "cases/fill.yaml",
                """
                routine: fill
                cases:
                  - case: fills one
                    pass: { most: 1 }
                    returns: { total: 4 }
                    data:
                      tank: { changed: { T1: { litres: 99 } } }
                """);
        editor = new Editor(folder);
    }

    @AfterEach
    void close() {
        editor.close();
        assertFalse(editor.isServing(), "it still runs");
    }

    private Path write(String name, String text) throws IOException {
        Path file = folder.resolve(name);
        Files.createDirectories(file.getParent());
        return Files.writeString(file, text);
    }

    private Editor filling() {
        return editor.launch(Map.of("routine", "fill", "arguments", Map.of("most", 3)));
    }

    private static String refused(Runnable work) {
        return assertThrows(ResponseErrorException.class, work::run)
                .getResponseError()
                .getMessage();
    }

    private StackTraceArguments levels(int from, int count) {
        StackTraceArguments arguments = new StackTraceArguments();
        arguments.setStartFrame(from);
        arguments.setLevels(count);
        return arguments;
    }

    @Test
    void aBreakpointInAFunctionAndInATriggerIsStoppedAt() {
        filling();
        assertEquals(4, editor.breakpoints(twice, 4, 9)[0].getLine());
        editor.begin();
        assertEquals("twice:4 breakpoint", editor.place());
        assertEquals("x 1", editor.shown("Parameters"));
        assertEquals(
                List.of("twice", "fill"), editor.stack().stream().map(f -> f.getName()).toList());
        assertEquals(
                "fill",
                Editor.get(editor.server.stackTrace(levels(1, 5))).getStackFrames()[0].getName());
        assertEquals(fill.toString(), editor.stack().get(1).getSource().getPath());
        editor.goOn();
        editor.place();
        editor.goOn();
        assertEquals("noted:10 breakpoint", editor.place());
        editor.breakpoints(twice);
        editor.goOn();
        assertEquals(0, editor.end());
        assertTrue(editor.said().contains("filled 18\n"), editor.said());
        assertTrue(editor.said().endsWith("the end\n"), editor.said());
    }

    @Test
    void aBreakpointIsMovedOrRefusedWithAReason() {
        filling();
        Breakpoint[] set = editor.breakpoints(fill, 8, 13, 14, 1, 99);
        assertEquals(
                "[8, 14, 14, 3, 99]", Arrays.stream(set).map(b -> b.getLine()).toList().toString());
        assertEquals(set[1].getId(), set[2].getId());
        assertFalse(set[4].isVerified());
        assertTrue(set[4].getMessage().contains("no statement at line 99"), set[4].getMessage());
        Breakpoint[] elsewhere = editor.breakpoints(folder.resolve("routines/none.sql"), 1);
        assertFalse(elsewhere[0].isVerified());
        editor.breakpoints(fill, 14);
        editor.begin();
        assertEquals("fill:14 step", editor.place());
        editor.goOn();
        editor.end();
    }

    @Test
    void conditionsCountsAndLogpoints() {
        filling();
        SourceBreakpoint when = Editor.at(8);
        when.setCondition("i = 1");
        SourceBreakpoint third = Editor.at(9);
        third.setHitCondition("> 2");
        SourceBreakpoint log = Editor.at(10);
        log.setLogMessage("i is {i} of {most}");
        SourceBreakpoint bad = Editor.at(12);
        bad.setHitCondition("often");
        SourceBreakpoint wrong = Editor.at(6);
        wrong.setCondition("nosuch = 1");
        Breakpoint[] set = editor.set(fill, when, third, log, bad, wrong);
        assertTrue(set[3].getMessage().contains("'often' is not understood"));
        assertTrue(set[4].getMessage().contains("there is no variable nosuch"));
        editor.begin();
        assertEquals("fill:8 breakpoint", editor.place());
        // The same ones told again have counted what they have counted.
        editor.set(fill, when, third, log);
        editor.goOn();
        assertEquals("fill:9 breakpoint", editor.place());
        assertEquals("3", editor.evaluate("i", "watch").getResult());
        editor.goOn();
        editor.end();
        var logged =
                editor.outputs().stream().filter(o -> o.getOutput().startsWith("i is")).toList();
        assertEquals(
                "[i is 1 of 3\n, i is 2 of 3\n, i is 3 of 3\n]",
                logged.stream().map(o -> o.getOutput()).toList().toString());
        assertEquals(10, logged.get(0).getLine());
        assertEquals(fill.toString(), logged.get(0).getSource().getPath());
    }

    @Test
    void routinesAreStoppedAtByName() {
        filling();
        FunctionBreakpoint one = new FunctionBreakpoint();
        one.setName("TWICE");
        one.setCondition("x = 2");
        FunctionBreakpoint none = new FunctionBreakpoint();
        none.setName("thrice");
        SetFunctionBreakpointsArguments arguments = new SetFunctionBreakpointsArguments();
        arguments.setBreakpoints(new FunctionBreakpoint[] {one, none});
        Breakpoint[] set =
                Editor.get(editor.server.setFunctionBreakpoints(arguments)).getBreakpoints();
        assertTrue(set[0].isVerified());
        assertEquals("there is no routine thrice; did you mean twice?", set[1].getMessage());
        editor.begin();
        assertEquals("twice:4 breakpoint", editor.place());
        assertEquals("x 2", editor.shown("Parameters"));
    }

    @Test
    void stepsOverIntoOneCallAndOut() {
        filling();
        editor.breakpoints(fill, 9);
        editor.begin();
        editor.place();
        StepInTargetsArguments asked = new StepInTargetsArguments();
        asked.setFrameId(editor.stack().get(0).getId());
        var targets = Editor.get(editor.server.stepInTargets(asked)).getTargets();
        assertEquals(
                List.of("twice", "twice (2)"),
                Arrays.stream(targets).map(t -> t.getLabel()).toList());
        StepInArguments into = new StepInArguments();
        into.setTargetId(targets[1].getId());
        Editor.get(editor.server.stepIn(into));
        assertEquals("twice:4 step", editor.place());
        assertEquals("x 1", editor.shown("Parameters"));
        Editor.get(editor.server.stepOut(new StepOutArguments()));
        assertEquals("fill:10 step", editor.place());
        Editor.get(editor.server.stepIn(new StepInArguments()));
        assertEquals("noted:10 step", editor.place());
        editor.next();
        assertEquals("fill:7 step", editor.place());
    }

    @Test
    void backAStepAndToABreakpointAndTheCallAgain() {
        filling();
        editor.breakpoints(fill, 10);
        editor.begin();
        editor.place();
        editor.goOn();
        editor.place();
        assertEquals("2", editor.evaluate("i", "watch").getResult());
        Editor.get(editor.server.reverseContinue(new ReverseContinueArguments()));
        assertEquals("fill:10 step", editor.place());
        assertEquals("1", editor.evaluate("i", "watch").getResult());
        Editor.get(editor.server.stepBack(new StepBackArguments()));
        assertEquals("fill:9 step", editor.place());
        RestartFrameArguments call = new RestartFrameArguments();
        call.setFrameId(editor.stack().get(0).getId());
        Editor.get(editor.server.restartFrame(call));
        assertEquals("fill:3 step", editor.place());
        assertEquals(
                "this is the start; there is nothing before it",
                refused(() -> Editor.get(editor.server.stepBack(new StepBackArguments()))));
    }

    @Test
    void aRunIsBegunAgainWhereItStandsAndWhileItGoesOn() {
        filling();
        editor.breakpoints(fill, 12);
        editor.begin();
        editor.place();
        Editor.get(editor.server.restart(new RestartArguments()));
        assertEquals("fill:3 entry", editor.place());
        editor.goOn();
        assertEquals("fill:12 breakpoint", editor.place());
        editor.goOn();
        editor.end();
    }

    @Test
    void conditionsThatAreRaisedStopIt() {
        editor.launch(Map.of("routine", "fails"));
        editor.begin("unhandled");
        assertEquals("fails:16 exception", editor.place());
        var info = Editor.get(editor.server.exceptionInfo(new ExceptionInfoArguments()));
        assertEquals("45000", info.getExceptionId());
        assertEquals("no", info.getDescription());
        editor.goOn();
        assertEquals(1, editor.end());
    }

    @Test
    void oneSqlstateStopsIt() {
        editor.launch(Map.of("routine", "fails"));
        SetExceptionBreakpointsArguments arguments = new SetExceptionBreakpointsArguments();
        arguments.setFilters(new String[0]);
        ExceptionFilterOptions state = new ExceptionFilterOptions();
        state.setFilterId("state");
        state.setCondition("45000");
        ExceptionFilterOptions none = new ExceptionFilterOptions();
        none.setFilterId("state");
        arguments.setFilterOptions(new ExceptionFilterOptions[] {state, none});
        editor.begin();
        Breakpoint[] set =
                Editor.get(editor.server.setExceptionBreakpoints(arguments)).getBreakpoints();
        assertFalse(set[1].isVerified());
        // Set while it went on, or after its end: either is answered.
        assertTrue(set[0].isVerified());
    }

    @Test
    void variablesAreUnfoldedAndSet() {
        filling();
        editor.breakpoints(fill, 7);
        editor.begin();
        editor.place();
        int frame = editor.stack().get(0).getId();
        int scope = editor.scopes(frame).get("Variables");
        var variables = editor.variables(scope);
        assertEquals("i 0, marks [1, 2], spot x 1, y 'left'", Editor.text(variables));
        assertEquals("INTEGER ARRAY[4]", variables.get(1).getType());
        assertEquals(2, variables.get(1).getIndexedVariables());
        var marks = editor.variables(variables.get(1).getVariablesReference());
        assertEquals("[1] 1, [2] 2", Editor.text(marks));
        assertEquals("marks[2]", marks.get(1).getEvaluateName());
        VariablesArguments page = new VariablesArguments();
        page.setVariablesReference(variables.get(1).getVariablesReference());
        page.setStart(1);
        page.setCount(1);
        assertEquals(
                "[2] 2",
                Editor.text(List.of(Editor.get(editor.server.variables(page)).getVariables())));
        var spot = editor.variables(variables.get(2).getVariablesReference());
        assertEquals("x 1, y 'left'", Editor.text(spot));
        assertEquals("spot.y", spot.get(1).getEvaluateName());
        assertEquals(
                "'right'", set(variables.get(2).getVariablesReference(), "y", "'ri' || 'ght'"));
        assertEquals("7", set(scope, "i", "most + 4"));
        assertTrue(refused(() -> set(scope, "i", "'x'")).startsWith("a value of type VARCHAR(1)"));
        SetExpressionArguments expression = new SetExpressionArguments();
        expression.setExpression("marks[1]");
        expression.setValue("40 + 2");
        assertEquals("42", Editor.get(editor.server.setExpression(expression)).getValue());
        assertEquals("i 7, marks [42, 2], spot x 1, y 'right'", editor.shown("Variables"));
        editor.next();
        editor.place();
        assertEquals(
                "the run has gone on since; this is no longer there",
                refused(() -> editor.variables(scope)));
    }

    private String set(int reference, String name, String value) {
        SetVariableArguments arguments = new SetVariableArguments();
        arguments.setVariablesReference(reference);
        arguments.setName(name);
        arguments.setValue(value);
        return Editor.get(editor.server.setVariable(arguments)).getValue();
    }

    @Test
    void expressionsQueriesAndHovers() {
        filling();
        editor.breakpoints(fill, 7);
        editor.begin();
        editor.place();
        EvaluateResponse sum = editor.evaluate("most + 1.5", "watch");
        assertEquals("4.5 DECIMAL(12, 1)", sum.getResult() + " " + sum.getType());
        EvaluateResponse rows =
                editor.evaluate("SELECT code, litres FROM tank WHERE litres > most", "watch");
        assertEquals("2 rows", rows.getResult());
        var lines = editor.variables(rows.getVariablesReference());
        assertEquals("code 'T2', litres 20", lines.get(1).getValue());
        assertEquals(
                "code 'T2', litres 20",
                Editor.text(editor.variables(lines.get(1).getVariablesReference())));
        assertEquals("3", editor.evaluate("most", "hover").getResult());
        assertTrue(refused(() -> editor.evaluate("twice(1)", "hover")).contains("is no variable"));
        assertEquals("left", editor.evaluate("spot.y", "clipboard").getResult());
        assertTrue(
                refused(() -> editor.evaluate("UPDATE tank SET litres = 1", "watch"))
                        .contains("can't be read"));
        assertEquals(
                "2 rows changed, inside the running transaction",
                editor.evaluate("UPDATE tank SET litres = 1", "repl").getResult());
        assertEquals("tank 2 changed", editor.shown("Rows changed so far"));
    }

    @Test
    void rowsAndTheTransactionAreScopes() {
        filling();
        editor.breakpoints(fill, 10, 7);
        editor.begin();
        editor.place();
        editor.goOn();
        editor.place();
        editor.goOn();
        assertEquals("fill:7 breakpoint", editor.place());
        int frame = editor.stack().get(0).getId();
        var tables = editor.variables(editor.scopes(frame).get("Rows changed since the last stop"));
        assertEquals("tank 1 changed", Editor.text(tables));
        assertEquals(
                "changed 'T1' litres 10 → 11",
                Editor.text(editor.variables(tables.get(0).getVariablesReference())));
        assertTrue(editor.shown("Transaction").startsWith("open yes, savepoints none"));
        assertTrue(editor.shown("Diagnostics").startsWith("the last statement no condition"));
    }

    @Test
    void cursorsAndModulesAreScopes() throws IOException {
        Path reads =
                write(
                        "routines/reads.sql",
                        """
                        CREATE MODULE counters
                          DECLARE turns INTEGER DEFAULT 7;
                          PROCEDURE reads ()
                          BEGIN
                            DECLARE code VARCHAR(4);
                            DECLARE litres INTEGER;
                            DECLARE c CURSOR FOR SELECT code, litres FROM tank ORDER BY code;
                            OPEN c;
                            FETCH c INTO code, litres;
                            SET turns = turns + 1;
                            CLOSE c;
                          END;
                        END MODULE;
                        """);
        editor.launch(Map.of("routine", "counters.reads"));
        editor.breakpoints(reads, 11);
        editor.begin();
        assertEquals("counters.reads:11 breakpoint", editor.place());
        int frame = editor.stack().get(0).getId();
        Map<String, Integer> scopes = editor.scopes(frame);
        var cursors = editor.variables(scopes.get("Cursors"));
        assertEquals("c open, on row 1 of 2 rows", Editor.text(cursors));
        assertEquals(
                "code 'T1', litres 10",
                Editor.text(editor.variables(cursors.get(0).getVariablesReference())));
        assertEquals("turns 8", Editor.text(editor.variables(scopes.get("Module counters"))));
        assertEquals("9", set(scopes.get("Module counters"), "turns", "turns + 1"));
        assertEquals("turns 9", editor.shown("Module counters"));
    }

    @Test
    void dataIsWatchedForWritesAndChanges() {
        filling();
        editor.breakpoints(fill, 7);
        editor.begin();
        editor.place();
        int frame = editor.stack().get(0).getId();
        String change = dataId(editor.scopes(frame).get("Variables"), null, "i");
        String write = dataId(null, frame, "TANK");
        assertEquals("change fill i|write tank", change + "|" + write);
        assertEquals(null, dataId(null, frame, "nothing"));
        editor.breakpoints(fill);
        data(change, write);
        editor.goOn();
        assertEquals("fill:9 data breakpoint", editor.place());
        editor.goOn();
        assertEquals("noted:10 data breakpoint", editor.place().replace("fill:10", "noted:10"));
        assertFalse(data("nonsense", change)[0].isVerified());
        editor.goOn();
        assertEquals("fill:9 data breakpoint", editor.place());
    }

    private String dataId(Integer reference, Integer frame, String name) {
        DataBreakpointInfoArguments arguments = new DataBreakpointInfoArguments();
        arguments.setVariablesReference(reference);
        arguments.setFrameId(frame);
        arguments.setName(name);
        return Editor.get(editor.server.dataBreakpointInfo(arguments)).getDataId();
    }

    private Breakpoint[] data(String... ids) {
        SetDataBreakpointsArguments arguments = new SetDataBreakpointsArguments();
        arguments.setBreakpoints(
                Arrays.stream(ids)
                        .map(
                                id -> {
                                    DataBreakpoint one = new DataBreakpoint();
                                    one.setDataId(id);
                                    return one;
                                })
                        .toArray(DataBreakpoint[]::new));
        return Editor.get(editor.server.setDataBreakpoints(arguments)).getBreakpoints();
    }

    @Test
    void theLinesToStopAtAndNamesToComplete() {
        filling();
        BreakpointLocationsArguments lines = new BreakpointLocationsArguments();
        Source source = new Source();
        source.setPath(fill.toString());
        lines.setSource(source);
        lines.setLine(6);
        lines.setEndLine(20);
        assertEquals(
                "[6, 7, 8, 9, 10, 12, 14]",
                Arrays.stream(Editor.get(editor.server.breakpointLocations(lines)).getBreakpoints())
                        .map(b -> b.getLine())
                        .toList()
                        .toString());
        editor.breakpoints(fill, 7);
        editor.begin();
        editor.place();
        CompletionsArguments completions = new CompletionsArguments();
        completions.setText("1 + t");
        completions.setColumn(6);
        assertEquals(
                "[total, tank, twice]",
                Arrays.stream(Editor.get(editor.server.completions(completions)).getTargets())
                        .map(t -> t.getLabel())
                        .toList()
                        .toString());
    }

    @Test
    void aRunThatGoesOnIsPausedAndTakesBreakpoints() {
        editor.launch(Map.of("routine", "endless"));
        editor.begin();
        assertTrue(refused(() -> editor.stack()).contains("the run goes on; pause it first"));
        Path endless = folder.resolve("routines/endless.sql");
        editor.breakpoints(endless, 5);
        assertEquals("endless:5 breakpoint", editor.place());
        editor.breakpoints(endless);
        editor.goOn();
        Editor.get(editor.server.pause(new PauseArguments()));
        assertEquals("pause", editor.stop().getReason());
        editor.goOn();
        Editor.get(editor.server.terminate(new TerminateArguments()));
        assertEquals(1, editor.end());
    }

    @Test
    void whatIsAskedIsCalledOff() throws InterruptedException {
        filling();
        editor.breakpoints(fill, 7);
        editor.begin();
        editor.place();
        EvaluateArguments arguments = new EvaluateArguments();
        arguments.setExpression("forever(1)");
        CompletableFuture<EvaluateResponse> answer = editor.server.evaluate(arguments);
        Thread.sleep(300);
        Editor.get(editor.server.cancel(new CancelArguments()));
        assertEquals("UL000 called off", refused(() -> Editor.get(answer)));
        assertEquals("3", editor.evaluate("most", "watch").getResult());
    }

    @Test
    void aCaseStopsAtItsDifference() {
        editor.launch(Map.of("case", "fills one", "atDifference", true));
        editor.begin();
        assertEquals("fill:10 step", editor.place());
        editor.goOn();
        assertEquals(0, editor.end());
    }

    @Test
    void aScriptIsRunFromItsFile() throws IOException {
        Path script = write("scripts/two.sql", "DECLARE n INTEGER;\nCALL fill(1, n);\nREPORT n;\n");
        Files.writeString(script, "CALL twice_of_it();\n");
        Files.writeString(script, "BEGIN\n  DECLARE n INTEGER;\n  CALL fill(1, n);\nEND;\n");
        editor.launch(Map.of("script", "scripts/two.sql", "stopAtStart", true));
        editor.breakpoints(script, 3);
        editor.begin();
        assertEquals("scripts/two.sql:3 entry", editor.place());
        assertEquals(script.toString(), editor.stack().get(0).getSource().getPath());
    }

    @Test
    void withoutDebuggingNothingStopsIt() {
        editor.launch(Map.of("routine", "fill", "arguments", List.of("most=2"), "noDebug", true));
        editor.breakpoints(fill, 7);
        editor.begin("exception");
        assertEquals(0, editor.end());
    }

    @Test
    void whatCantBeLaunchedSaysWhy() {
        editor.initialize();
        assertEquals(
                "there is no routine fil; did you mean fill?",
                refused(() -> Editor.get(editor.server.launch(Map.of("routine", "fil")))));
    }

    @Test
    void wrongWordsInALaunchAreRefused() {
        editor.initialize();
        assertEquals(
                "launch has no rutine; did you mean routine?",
                refused(() -> Editor.get(editor.server.launch(Map.of("rutine", "fill")))));
    }

    @Test
    void argumentsThatDontFitAreRefused() {
        editor.initialize();
        String why =
                refused(
                        () ->
                                Editor.get(
                                        editor.server.launch(
                                                Map.of(
                                                        "routine",
                                                        "fill",
                                                        "arguments",
                                                        Map.of("least", 1)))));
        assertTrue(why.contains("least"), why);
    }

    @Test
    void anEditorThatDiesLeavesNothingRunning() {
        editor.launch(Map.of("routine", "endless"));
        editor.begin();
        editor.close();
        assertFalse(editor.isServing());
    }

    @Test
    void anEditorThatLeavesIsAnsweredWhenTheRunIsOver() {
        filling();
        editor.breakpoints(fill, 7);
        editor.begin();
        editor.place();
        Editor.get(editor.server.disconnect(new DisconnectArguments()));
        assertEquals(1, editor.end());
    }
}
