package dev.cantina.debugging;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.Lab;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Breakpoints between two runs, in a project whose routines are edited in the meantime. */
class KeptBreakpointsTest {
    private static final String TABLES = "CREATE TABLE t (id INTEGER PRIMARY KEY);";
    private static final String ROUTINE =
            """
            CREATE PROCEDURE p (IN n INTEGER)
            BEGIN
              DECLARE i INTEGER DEFAULT 0;
              SET i = i + 1;
              SET i = i + 2;
              SET i = i + 1;
            END;
            """;

    @TempDir Path folder;
    private Project project;

    @BeforeEach
    void project() throws IOException, ProjectException {
        Files.writeString(folder.resolve("cantina.yaml"), "project: kept\n");
        project = ProjectReader.read(folder);
    }

    private static Debugger debugger(Lab lab) {
        return new Debugger(lab.program(), stop -> Resume.of(Resume.Kind.CONTINUE), false);
    }

    private interface Work {
        void with(Debugger debugger) throws DebugException;
    }

    private void keep(Work work) throws DebugException {
        try (Lab lab = new Lab(TABLES, ROUTINE)) {
            Debugger debugger = debugger(lab);
            work.with(debugger);
            assertTrue(new KeptBreakpoints(project).keep(debugger));
        }
    }

    /** The lines of the breakpoints after the routine was edited, and what was said of them. */
    private List<String> restored(String routine) {
        try (Lab lab = new Lab(TABLES, routine)) {
            Debugger debugger = debugger(lab);
            List<String> notes = new KeptBreakpoints(project).restore(debugger);
            List<String> all = new java.util.ArrayList<>();
            debugger.breakpoints()
                    .forEach(b -> all.add(b.kind() + " " + b.routine() + " " + b.line() + b.on()));
            all.addAll(notes);
            return all;
        }
    }

    @Test
    void aLineIsFollowedByItsText() throws DebugException {
        keep(d -> d.pauseAt("p", 5, Optional.empty(), 0, 1));
        assertEquals(List.of("LINE p 5"), restored(ROUTINE));
        assertEquals(
                List.of("LINE p 7", "breakpoint 1 has moved with its line, from 5 to p:7"),
                restored("-- one\n-- two\n" + ROUTINE));
    }

    @Test
    void ofLinesThatReadAlikeTheNearestIsMeant() throws DebugException {
        keep(d -> d.pauseAt("p", 6, Optional.empty(), 0, 1));
        assertEquals("LINE p 7", restored("-- one\n" + ROUTINE).get(0));
        keep(d -> d.pauseAt("p", 4, Optional.empty(), 0, 1));
        assertEquals("LINE p 5", restored("-- one\n" + ROUTINE).get(0));
    }

    @Test
    void whereTheLineIsGoneItStaysWhereItWas() throws DebugException {
        keep(d -> d.pauseAt("p", 5, Optional.empty(), 0, 1));
        assertEquals(List.of("LINE p 5"), restored(ROUTINE.replace("i + 2", "i + 3")));
    }

    @Test
    void everyKindIsKeptWithItsConditionCountsAndWhetherItIsEased() throws DebugException {
        keep(
                d -> {
                    d.pauseAt("p", 4, Optional.of("i > 0"), 2, 3);
                    d.pauseAtEnd("p", 0, 1);
                    d.pauseOn("not found", 0, 1);
                    d.pauseOnChange("p", "i", 1, 1);
                    d.pauseOnWrite("", "t", 0, 1);
                    d.change(5, Debugger.Change.DISABLE);
                });
        try (Lab lab = new Lab(TABLES, ROUTINE)) {
            Debugger debugger = debugger(lab);
            assertEquals(List.of(), new KeptBreakpoints(project).restore(debugger));
            List<Breakpoint> all = debugger.breakpoints();
            assertEquals(
                    List.of(Breakpoint.Kind.values()), all.stream().map(Breakpoint::kind).toList());
            assertEquals(Optional.of("i > 0"), all.get(0).condition());
            assertEquals(2, all.get(0).after());
            assertEquals(3, all.get(0).every());
            assertEquals("i", all.get(3).on());
            assertFalse(all.get(4).enabled());
        }
    }

    @Test
    void whatCanStandNowhereWaits() throws DebugException {
        keep(d -> d.pauseAt("p", 5, Optional.empty(), 0, 1));
        String other = ROUTINE.replace("PROCEDURE p", "PROCEDURE q");
        assertTrue(restored(other).get(0).contains("there is no routine p"));
        try (Lab lab = new Lab(TABLES, other)) {
            Debugger debugger = debugger(lab);
            KeptBreakpoints kept = new KeptBreakpoints(project);
            kept.restore(debugger);
            debugger.change(0, Debugger.Change.REMOVE);
            kept.keep(debugger);
        }
        assertEquals(List.of("LINE p 5"), restored(ROUTINE));
    }

    @Test
    void aSecondOneInTheSamePlaceTakesTheFirstOnesNumber() throws DebugException {
        try (Lab lab = new Lab(TABLES, ROUTINE)) {
            Debugger debugger = debugger(lab);
            debugger.pauseAt("p", 4, Optional.empty(), 0, 1);
            debugger.pauseAt("p", 5, Optional.empty(), 0, 1);
            Breakpoint again = debugger.pauseAt("P", 4, Optional.of("i = 1"), 0, 1);
            assertEquals(1, again.number());
            assertEquals(2, debugger.breakpoints().size());
        }
    }

    @Test
    void aFileThatIsNoJsonIsAsGoodAsNone() throws IOException {
        Files.createDirectories(folder.resolve(".cantina"));
        for (String text :
                List.of("{", "[]", "{\"breakpoints\": 3}", "{\"breakpoints\": [{}, 1]}")) {
            Files.writeString(folder.resolve(".cantina/breakpoints.json"), text);
            assertEquals(List.of(), restored(ROUTINE), text);
        }
    }
}
