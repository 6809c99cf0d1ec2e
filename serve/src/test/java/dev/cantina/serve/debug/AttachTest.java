package dev.cantina.serve.debug;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.programs.ProgramConnection;
import dev.cantina.programs.ProgramDatabase;
import dev.cantina.programs.ProgramSettings;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectReader;
import dev.cantina.runtime.Outcome;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import org.eclipse.lsp4j.debug.DisconnectArguments;
import org.eclipse.lsp4j.debug.PauseArguments;
import org.eclipse.lsp4j.debug.StepBackArguments;
import org.eclipse.lsp4j.debug.StepInArguments;
import org.eclipse.lsp4j.debug.TerminateArguments;
import org.eclipse.lsp4j.jsonrpc.ResponseErrorException;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

/** An editor attaches to a program that calls, by the protocol's own client. */
@Timeout(value = 60, unit = TimeUnit.SECONDS)
class AttachTest {
    private static final String ROUTINES =
            """
            CREATE PROCEDURE fill (IN litres INTEGER, INOUT total INTEGER)
            BEGIN
              DECLARE half INTEGER;
              SET half = litres / 2;
              UPDATE tank SET held = held + litres WHERE code = 'T1';
              SET total = total + half;
              REPORT 'filled ', litres;
            END;
            CREATE TRIGGER noted AFTER UPDATE ON tank
            REFERENCING OLD ROW AS was NEW ROW AS now FOR EACH ROW
            BEGIN
              DECLARE more INTEGER;
              SET more = now.held - was.held;
              INSERT INTO note (tank, more) VALUES (now.code, more);
            END;
            CREATE PROCEDURE fails (IN commits BOOLEAN)
            BEGIN
              INSERT INTO note (tank, more) VALUES ('T1', 7);
              IF commits THEN
                COMMIT;
              END IF;
              SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'no';
            END;
            CREATE PROCEDURE forever ()
            BEGIN
              DECLARE i INTEGER DEFAULT 0;
              WHILE TRUE DO
                SET i = 1 - i;
              END WHILE;
            END;
            """;

    @TempDir Path folder;
    private Path file;
    private ProgramDatabase database;
    private ProgramDebugging debugging;
    private ProgramConnection connection;
    private Editor editor;

    @BeforeEach
    void open() throws Exception {
        Files.writeString(
                folder.resolve("cantina.yaml"),
                "project: tanks\nlimits: {statements: 1000000000000}\n");
        Files.createDirectories(folder.resolve("tables"));
        Files.createDirectories(folder.resolve("routines"));
        Files.writeString(
                folder.resolve("tables/t.sql"),
                "CREATE TABLE tank (code VARCHAR(4) PRIMARY KEY, held INTEGER);\n"
                        + "CREATE TABLE note (n INTEGER GENERATED ALWAYS AS IDENTITY, tank VARCHAR(4),"
                        + " more INTEGER);\n");
        file = Files.writeString(folder.resolve("routines/r.sql"), ROUTINES);
        opened(false);
    }

    private void opened(boolean waits) throws Exception {
        Project project = ProjectReader.read(folder);
        database =
                ProgramDatabase.open(
                        new ProgramSettings(
                                project,
                                Optional.empty(),
                                Optional.empty(),
                                project.limits(),
                                Clock.systemDefaultZone()),
                        true);
        debugging = ProgramDebugging.listen(database.workspace(), 0, waits);
        connection = database.connect(Optional.of(debugging));
        if (!waits) {
            change("INSERT INTO tank VALUES ('T1', 10)");
        }
        editor = new Editor(debugging.port());
    }

    @AfterEach
    void close() throws Exception {
        editor.close();
        connection.close();
        debugging.close();
        database.close();
    }

    private Outcome change(String sql) throws SQLException {
        return change(connection, sql);
    }

    private static Outcome change(ProgramConnection connection, String sql) throws SQLException {
        return connection.send(
                sql,
                Optional.empty(),
                () -> {
                    try (var statement = connection.database().connection().createStatement()) {
                        return statement.executeUpdate(sql);
                    }
                });
    }

    private Outcome call(String routine, Object... values) throws SQLException {
        RoutineSymbol symbol = database.workspace().catalog().routinesCalled(routine).get(0);
        List<Optional<Object>> given = new ArrayList<>();
        for (Object value : values) {
            given.add(Optional.of(value));
        }
        return connection.call(symbol, given);
    }

    private CompletableFuture<Outcome> calling(String routine, Object... values) {
        return CompletableFuture.supplyAsync(
                () -> {
                    try {
                        return call(routine, values);
                    } catch (SQLException e) {
                        throw new IllegalStateException(e);
                    }
                });
    }

    private Object ask(String query) throws SQLException {
        try (var statement = connection.database().connection().createStatement();
                var row = statement.executeQuery(query)) {
            row.next();
            return row.getObject(1);
        }
    }

    /** Waits until something was said. */
    private void said(String text) throws InterruptedException {
        for (int i = 0; i < 200 && !editor.said().contains(text); i++) {
            Thread.sleep(20);
        }
        assertTrue(editor.said().contains(text), editor.said());
    }

    private static String refused(Runnable work) {
        return assertThrows(ResponseErrorException.class, work::run)
                .getResponseError()
                .getMessage();
    }

    @Test
    void itStopsInTheRoutineAndInItsTrigger() throws Exception {
        editor.attach(Map.of()).breakpoints(file, 4, 13);
        editor.begin();
        CompletableFuture<Outcome> called = calling("fill", 6L, 1L);
        assertEquals("fill:4 breakpoint", editor.place());
        assertEquals("litres 6, total 1", editor.shown("Parameters"));
        editor.goOn();
        assertEquals("noted:13 breakpoint", editor.place());
        assertEquals(
                List.of("noted", "fill"), editor.stack().stream().map(f -> f.getName()).toList());
        editor.next();
        assertEquals("noted:14 step", editor.place());
        assertEquals("6", editor.evaluate("more", "watch").getResult());
        assertFalse(called.isDone());
        editor.goOn();
        assertEquals(4L, called.get().out().get("total"));
        assertEquals(16, ask("SELECT held FROM tank"));
        said("filled 6\n");
    }

    @Test
    void aStatementOfTheProgramsOwnSetsOffATriggerThatIsStoppedIn() throws Exception {
        editor.attach(Map.of()).breakpoints(file, 13);
        editor.begin();
        CompletableFuture<Void> changed =
                CompletableFuture.runAsync(
                        () -> {
                            try {
                                change("UPDATE tank SET held = 30");
                            } catch (SQLException e) {
                                throw new IllegalStateException(e);
                            }
                        });
        assertEquals("noted:13 breakpoint", editor.place());
        assertEquals(1, editor.stack().size());
        editor.evaluate("more = 0", "watch");
        editor.goOn();
        changed.get();
        assertEquals(20, ask("SELECT more FROM note"));
    }

    @Test
    void breakpointsMaySetWhileNothingRuns() throws Exception {
        editor.attach(Map.of()).begin();
        assertEquals(5L, call("fill", 2L, 4L).out().get("total"));
        assertTrue(editor.breakpoints(file, 6)[0].isVerified());
        CompletableFuture<Outcome> called = calling("fill", 6L, 1L);
        assertEquals("fill:6 breakpoint", editor.place());
        editor.breakpoints(file);
        editor.goOn();
        called.get();
        assertEquals(5L, call("fill", 2L, 4L).out().get("total"));
    }

    @Test
    void itGoesBackWithinACall() throws Exception {
        editor.attach(Map.of()).breakpoints(file, 6);
        editor.begin();
        CompletableFuture<Outcome> called = calling("fill", 6L, 1L);
        assertEquals("fill:6 breakpoint", editor.place());
        Editor.get(editor.server.stepBack(new StepBackArguments()));
        assertEquals("fill:5 step", editor.place());
        assertEquals("10", editor.evaluate("(SELECT held FROM tank)", "watch").getResult());
        Editor.get(editor.server.stepIn(new StepInArguments()));
        assertEquals("noted:13 step", editor.place());
        editor.breakpoints(file);
        editor.goOn();
        assertEquals(4L, called.get().out().get("total"));
        assertEquals(16, ask("SELECT held FROM tank"));
        assertEquals(1L, ask("SELECT COUNT(*) FROM note"));
    }

    @Test
    void itStopsAtAConditionThatNothingHandles() throws Exception {
        editor.attach(Map.of()).begin("unhandled");
        CompletableFuture<Outcome> called = calling("fails", false);
        assertEquals("fails:22 exception", editor.place());
        editor.goOn();
        assertEquals("45000", called.get().condition().orElseThrow().sqlstate());
        assertEquals(0L, ask("SELECT COUNT(*) FROM note"));
        said("fails has ended in 45000: no");
    }

    @Test
    void whatWasCommittedIsNotGoneBackTo() throws Exception {
        editor.attach(Map.of()).breakpoints(file, 22);
        editor.begin("unhandled");
        CompletableFuture<Outcome> called = calling("fails", true);
        assertEquals("fails:22 breakpoint", editor.place());
        String why = refused(() -> Editor.get(editor.server.stepBack(new StepBackArguments())));
        assertTrue(why.startsWith("there is no way back: the run has committed"), why);
        editor.goOn();
        assertEquals("45000", called.get().condition().orElseThrow().sqlstate());
        assertEquals(1L, ask("SELECT COUNT(*) FROM note"));
        said("it had committed before");
    }

    @Test
    void aRunIsPausedAndTheNextOneToo() throws Exception {
        editor.attach(Map.of()).begin();
        Editor.get(editor.server.pause(new PauseArguments()));
        CompletableFuture<Outcome> called = calling("fill", 6L, 1L);
        assertEquals("fill:4 entry", editor.place());
        editor.goOn();
        called.get();
        CompletableFuture<Outcome> endless = calling("forever");
        Thread.sleep(200);
        Editor.get(editor.server.pause(new PauseArguments()));
        assertTrue(editor.place().startsWith("forever:"));
        connection.caller().interrupt();
        editor.goOn();
        assertEquals("UL000", endless.get().condition().orElseThrow().sqlstate());
    }

    @Test
    void theProgramGoesOnWhenTheEditorGoes() throws Exception {
        editor.attach(Map.of()).breakpoints(file, 4, 13);
        editor.begin();
        CompletableFuture<Outcome> called = calling("fill", 6L, 1L);
        assertEquals("fill:4 breakpoint", editor.place());
        editor.close();
        assertEquals(4L, called.get().out().get("total"));
        assertEquals(5L, call("fill", 2L, 4L).out().get("total"));
        // And another one may come.
        editor = new Editor(debugging.port()).attach(Map.of());
        editor.breakpoints(file, 4);
        editor.begin();
        CompletableFuture<Outcome> again = calling("fill", 6L, 1L);
        assertEquals("fill:4 breakpoint", editor.place());
        Editor.get(editor.server.disconnect(new DisconnectArguments()));
        again.get();
    }

    @Test
    void oneEditorAtATime() {
        editor.attach(Map.of()).begin();
        try (Editor second = new Editor(debugging.port())) {
            assertEquals(
                    "another debugger is attached to this program",
                    refused(() -> second.attach(Map.of())));
        }
        String launch = refused(() -> Editor.get(editor.server.launch(Map.of("routine", "fill"))));
        assertTrue(launch.contains("attach"), launch);
        assertTrue(
                refused(() -> Editor.get(editor.server.terminate(new TerminateArguments())))
                        .contains("disconnect"));
    }

    @Test
    void anotherProjectIsRefused() {
        String why = refused(() -> editor.attach(Map.of("project", "/elsewhere")));
        assertTrue(why.startsWith("the program runs another project"), why);
        try (Editor second = new Editor(debugging.port())) {
            String name = refused(() -> second.attach(Map.of("projct", "x")));
            assertEquals("attach has no projct; did you mean project?", name);
        }
    }

    @Test
    void runsOfTwoConnectionsTakeTurns() throws Exception {
        editor.attach(Map.of()).breakpoints(file, 4);
        editor.begin();
        CompletableFuture<Outcome> first = calling("fill", 6L, 1L);
        editor.place();
        try (ProgramConnection other = database.connect(Optional.of(debugging))) {
            CompletableFuture<Void> second =
                    CompletableFuture.runAsync(
                            () -> {
                                try {
                                    change(other, "INSERT INTO tank VALUES ('T2', 1)");
                                } catch (SQLException e) {
                                    throw new IllegalStateException(e);
                                }
                            });
            Thread.sleep(100);
            assertFalse(second.isDone());
            editor.goOn();
            first.get();
            second.get();
        }
        assertEquals(2L, ask("SELECT COUNT(*) FROM tank"));
    }

    @Test
    void theFirstRunMayWaitForADebugger() throws Exception {
        close();
        opened(true);
        CompletableFuture<Outcome> called = calling("fill", 6L, 1L);
        Thread.sleep(200);
        assertFalse(called.isDone());
        editor.attach(Map.of()).breakpoints(file, 4);
        editor.begin();
        assertEquals("fill:4 breakpoint", editor.place());
        editor.goOn();
        called.get();
    }
}
