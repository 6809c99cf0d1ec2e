package dev.cantina.editing;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.project.Workspace;
import dev.cantina.syntax.Problem;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A project while somebody types in it. */
class ProjectStateTest {
    private static final String FILL =
            """
            CREATE PROCEDURE fill (IN most INTEGER, OUT total INTEGER)
            BEGIN
              SET total = twice(most);
              UPDATE tank SET litres = twice(most) WHERE code = 'T1';
            END;
            """;
    private static final String TWICE =
            """
            CREATE FUNCTION twice (x INTEGER) RETURNS INTEGER
              RETURN x * 2;
            """;

    @TempDir Path folder;
    private final Map<String, List<Problem>> problems = new TreeMap<>();
    private ProjectState state;

    @BeforeEach
    void project() throws IOException, ProjectException {
        write("cantina.yaml", "project: tanks\n");
        write(
                "tables/tank.sql",
                "CREATE TABLE tank (code VARCHAR(4) PRIMARY KEY, litres INTEGER);\n");
        write("routines/fill.sql", FILL);
        write("routines/twice.sql", TWICE);
        state = state();
        check();
    }

    private ProjectState state() throws ProjectException {
        Project project = ProjectReader.read(folder);
        return new ProjectState(
                project,
                (file, found) -> {
                    if (found.isEmpty()) {
                        problems.remove(file);
                    } else {
                        problems.put(file, found);
                    }
                });
    }

    @AfterEach
    void close() {
        state.close();
    }

    private void write(String name, String text) throws IOException {
        Path file = folder.resolve(name);
        Files.createDirectories(file.getParent());
        Files.writeString(file, text);
    }

    private void check() throws ProjectException {
        assertTrue(state.check());
    }

    private void type(String file, String text) throws ProjectException {
        state.change(file, text);
        check();
    }

    private String found() {
        StringBuilder text = new StringBuilder();
        problems.forEach(
                (file, list) ->
                        list.forEach(
                                p ->
                                        text.append(p.span().place())
                                                .append(' ')
                                                .append(p.message())
                                                .append('\n')));
        return text.toString();
    }

    @Test
    void aSoundProjectHasNoProblems() {
        assertEquals("", found());
    }

    @Test
    void aMistypedNameIsSaidAtItsPlaceAndGoneWithIt() throws ProjectException {
        type("routines/fill.sql", FILL.replace("SET total", "SET totl"));
        assertEquals("routines/fill.sql:3:7 there is no variable totl here\n", found());
        type("routines/fill.sql", FILL);
        assertEquals("", found());
        type("routines/fill.sql", FILL.replace("SET litres", "SET litrs"));
        assertTrue(found().startsWith("routines/fill.sql:4:"), found());
    }

    @Test
    void problemsMoveWithTheirRoutine() throws ProjectException {
        String wrong = FILL.replace("SET total", "SET totl");
        type("routines/fill.sql", wrong);
        type("routines/fill.sql", "-- one\n-- two\n" + wrong);
        assertEquals("routines/fill.sql:5:7 there is no variable totl here\n", found());
        type("routines/fill.sql", TWICE.replace("twice", "thrice") + "-- two\n" + wrong);
        assertEquals("routines/fill.sql:6:7 there is no variable totl here\n", found());
    }

    @Test
    void aHeadThatIsHalfTypedPutsNothingIntoOtherFiles() throws ProjectException {
        for (int i = 1; i < TWICE.length(); i++) {
            type("routines/twice.sql", TWICE.substring(0, i));
            assertFalse(found().contains("fill.sql"), TWICE.substring(0, i) + "\n" + found());
        }
        type("routines/twice.sql", TWICE);
        assertEquals("", found());
    }

    @Test
    void aFunctionThatTakesOtherTypesIsCheckedWhereverItIsCalled() throws ProjectException {
        type("routines/twice.sql", TWICE.replace("x INTEGER", "x INTEGER, y INTEGER"));
        assertTrue(found().contains("routines/fill.sql:3:15"), found());
        assertTrue(found().contains("routines/fill.sql:4:"), found());
        type("routines/twice.sql", TWICE.replace("twice", "double_it"));
        assertTrue(found().contains("there is no function twice"), found());
        type("routines/twice.sql", TWICE);
        assertEquals("", found());
    }

    @Test
    void aTableWithAnotherColumnIsCheckedWhereverItIsNamed() throws ProjectException {
        String other = "CREATE TABLE tank (code VARCHAR(4) PRIMARY KEY, level INTEGER);\n";
        type("tables/tank.sql", other);
        assertTrue(found().startsWith("routines/fill.sql:4:"), found());
        // Half typed, it is as it was.
        type("tables/tank.sql", "CREATE TABLE tank (code VARCHAR(4) PRIM");
        assertTrue(found().contains("tables/tank.sql:1:"), found());
        type(
                "tables/tank.sql",
                "CREATE TABLE tank (code VARCHAR(4) PRIMARY KEY, litres INTEGER);\n");
        assertEquals("", found());
    }

    @Test
    void filesComeAndGo() throws IOException, ProjectException {
        state.change("routines/new.sql", "CREATE PROCEDURE n () BEGIN CALL fill(1, m); END;");
        check();
        assertTrue(found().contains("there is no variable m here"), found());
        state.forget("routines/new.sql");
        check();
        assertEquals("", found());
        Files.delete(folder.resolve("routines/twice.sql"));
        state.reread();
        check();
        assertTrue(found().contains("there is no function twice"), found());
    }

    @Test
    void casesAreReadAsTheyAreTyped() throws IOException, ProjectException {
        String sound = "routine: fill\ncases:\n  - case: one\n    pass: {most: A1}\n";
        write("cases/fill.yaml", sound);
        state.reread();
        check();
        assertEquals("", found());
        type("cases/fill.yaml", sound.replace("pass:", "passes:"));
        assertTrue(found().contains("cases/fill.yaml") && found().contains("passes"), found());
        type("cases/fill.yaml", "cases: [");
        assertTrue(found().startsWith("cases/fill.yaml"), found());
        type("cases/new.yaml", "cases: []");
        assertTrue(found().contains("cases/new.yaml"), found());
        state.forget("cases/fill.yaml");
        state.forget("cases/new.yaml");
        check();
        assertEquals("", found());
        Files.write(folder.resolve("cases/latin.yaml"), new byte[] {'a', (byte) 0xE9});
        state.reread();
        check();
        assertTrue(found().startsWith("cases/latin.yaml"), found());
        Files.delete(folder.resolve("cases/latin.yaml"));
        state.reread();
        check();
        assertEquals("", found());
    }

    /** Where a table's script or a routine can't be read, what is missing may be in it. */
    @Test
    void casesOfAProjectThatCantBeReadAreLetBe() throws IOException, ProjectException {
        write(
                "cases/fill.yaml",
                "routine: fill\ncases:\n  - { case: a, pass: { most: 1 }, data: { tank: free } }\n");
        for (String file : List.of("tables/tank.sql", "routines/fill.sql")) {
            String sound = Files.readString(folder.resolve(file));
            write(file, sound.substring(0, 20) + " (;");
            state.close();
            problems.clear();
            state = state();
            check();
            assertTrue(!found().contains("cases/"), found());
            write(file, sound);
        }
        state.reread();
        check();
        assertEquals("", found());
    }

    /**
     * Names of routines, parameters, tables and columns, also when what they name goes or comes.
     */
    @Test
    void namesInCasesAreLookedAt() throws IOException, ProjectException {
        String cases =
                """
                routine: fill
                cases:
                  - case: a
                    pass: { most: 1 }
                    returns: { total: 1 }
                    data: { tank: { added: [ { code: x } ], changed: { T1: { litres: 2 } } }, others: free }
                  - case: b
                    routine: twice
                    each: [ { x: 1, returns: 2 }, { x: 2, raises.message: x } ]
                """;
        type("cases/fill.yaml", cases);
        assertEquals("", found());
        for (String[] one :
                new String[][] {
                    {"routine: twice", "routine: twise", "no routine twise"},
                    {"most: 1", "moost: 1", "fill has no parameter moost"},
                    {"total: 1", "totl: 1", "fill has no parameter totl"},
                    {"{ x: 1", "{ m: 1", "has no parameter m"},
                    {"{ tank", "{ tonk", "no table tonk"},
                    {"{ code", "{ cod", "column cod not found in tank"},
                    {"{ litres", "{ liters", "column liters not found in tank"}
                }) {
            type("cases/fill.yaml", cases.replace(one[0], one[1]));
            assertTrue(found().contains(one[2]), found());
        }
        type("cases/fill.yaml", cases);
        assertEquals("", found());
        // What is half typed in a routine is no reason to find fault with its cases.
        String other = FILL.replace("most", "upper_end");
        type("routines/fill.sql", other);
        assertEquals("", found());
        write("routines/fill.sql", other);
        state.forget("routines/fill.sql");
        check();
        assertTrue(found().contains("has no parameter most"), found());
        type("routines/fill.sql", FILL);
        assertEquals("", found());
    }

    @Test
    void aFolderOfCasesThatCantBeReadHidesNoProblemOfARoutine(@TempDir Path outside)
            throws IOException, ProjectException {
        Files.createDirectories(folder.resolve("cases"));
        Files.writeString(outside.resolve("theirs.yaml"), "cases: []");
        Files.createSymbolicLink(folder.resolve("cases/link"), outside);
        state.reread();
        state.change("routines/fill.sql", FILL.replace("twice(most);", "thrice(most);"));
        assertThrows(ProjectException.class, state::check);
        assertTrue(found().contains("thrice"), found());
    }

    @Test
    void aCheckEndsEarlyWhereSomethingIsTypedMeanwhile() throws ProjectException {
        ProjectState[] typed = new ProjectState[1];
        boolean[] once = new boolean[1];
        try (ProjectState own =
                new ProjectState(
                        ProjectReader.read(folder),
                        (file, found) -> {
                            if (!once[0]) {
                                once[0] = true;
                                typed[0].change("routines/twice.sql", TWICE + "\n");
                            }
                        })) {
            typed[0] = own;
            own.change("routines/fill.sql", FILL.replace("SET total", "SET totl"));
            assertFalse(own.check());
            assertTrue(own.check());
        }
    }

    /** Whatever is typed, what is said in the end is what the command says. */
    @Test
    void theDemoTypedKeyByKeyComesToWhatCheckSays() throws IOException, ProjectException {
        Path demo = Path.of("../demo/winery");
        Project project = ProjectReader.read(demo);
        problems.clear();
        try (ProjectState demoState =
                new ProjectState(
                        project,
                        (file, found) -> {
                            if (found.isEmpty()) {
                                problems.remove(file);
                            } else {
                                problems.put(file, found);
                            }
                        })) {
            assertTrue(demoState.check());
            String whole = found();
            try (Workspace workspace = Workspace.open(project, Optional.empty())) {
                StringBuilder said = new StringBuilder();
                workspace
                        .check()
                        .forEach(
                                p ->
                                        said.append(p.span().place())
                                                .append(' ')
                                                .append(p.message())
                                                .append('\n'));
                assertEquals(said.toString(), whole);
            }
            String file = "routines/move_wine.sql";
            String text = Files.readString(demo.resolve(file));
            for (int i = 0; i <= text.length(); i += i % 7 == 0 ? 1 : 3) {
                demoState.change(file, text.substring(0, i));
                assertTrue(demoState.check());
                String typed = text.substring(0, i);
                problems.forEach(
                        (other, list) ->
                                assertTrue(
                                        other.equals(file) || whole.contains(list.get(0).message()),
                                        () -> typed + "\n---\n" + found()));
            }
            demoState.change(file, text);
            assertTrue(demoState.check());
            assertEquals(whole, found());
        }
    }

    /**
     * Every file of the demo typed and deleted, a few keys at a time, with all questions asked that
     * an editor asks while somebody types: nothing breaks, and no other file turns red for what is
     * half typed.
     */
    @Test
    void everyFileOfTheDemoIsTypedAndDeleted() throws IOException, ProjectException {
        Path demo = Path.of("../demo/winery");
        Project project = ProjectReader.read(demo);
        Map<String, List<Problem>> told = new TreeMap<>();
        try (ProjectState demoState = new ProjectState(project, told::put)) {
            assertTrue(demoState.check());
            Map<String, String> first = messages(told);
            for (String file : List.copyOf(demoState.view().orElseThrow().files().keySet())) {
                String text = Files.readString(demo.resolve(file));
                for (int i = text.length(); i >= 0; i -= 11) {
                    typed(demoState, file, text.substring(0, i), i, told, first);
                }
                for (int i = 5; i < text.length(); i += 13) {
                    // A word in the middle is gone, and typed again.
                    String without =
                            text.substring(0, i) + text.substring(Math.min(text.length(), i + 9));
                    typed(demoState, file, without, i, told, first);
                }
                demoState.change(file, text);
                assertTrue(demoState.check());
                assertEquals(first, messages(told), file);
            }
        }
    }

    private static Map<String, String> messages(Map<String, List<Problem>> told) {
        Map<String, String> messages = new TreeMap<>();
        told.forEach(
                (file, problems) -> {
                    if (!problems.isEmpty()) {
                        messages.put(file, problems.stream().map(Problem::message).toList() + "");
                    }
                });
        return messages;
    }

    private static void typed(
            ProjectState state,
            String file,
            String text,
            int at,
            Map<String, List<Problem>> told,
            Map<String, String> first)
            throws ProjectException {
        state.change(file, text);
        assertTrue(state.check());
        ProjectView view = state.view().orElseThrow();
        boolean whole =
                view.files().get(file).faults().isEmpty()
                        && view.files().get(file).units().stream()
                                .noneMatch(dev.cantina.syntax.Unit.Step.class::isInstance);
        if (!whole) {
            Map<String, String> now = messages(told);
            now.remove(file);
            Map<String, String> then = new TreeMap<>(first);
            then.remove(file);
            assertEquals(then, now, () -> file + "\n" + text);
        }
        NameFinder finder = new NameFinder(view);
        Completion.at(view, file, text, Math.min(at, text.length()));
        CallHint.at(view, text, Math.min(at, text.length()));
        finder.at(file, at)
                .ifPresent(
                        found -> {
                            finder.definition(found);
                            finder.references(state, found);
                            Described.of(view, found.meaning());
                        });
        Folds.of(view, file, view.files().get(file).source());
        Outline.of(view.files().get(file));
        finder.all(file, view.files().get(file).source());
    }
}
