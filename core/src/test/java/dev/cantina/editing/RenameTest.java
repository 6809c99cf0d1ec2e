package dev.cantina.editing;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.project.Workspace;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Span;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/**
 * Names are changed wherever they stand, and nowhere else. Each change is written, and the project
 * checked and its cases read as they are then.
 */
class RenameTest {
    private static final String TABLES =
            "CREATE TABLE tank (code VARCHAR(4) PRIMARY KEY, litres INTEGER, note VARCHAR(20));\n";

    private static final String BASE =
            """
            -- half of it, or what part is said
            CREATE FUNCTION share (amount INTEGER, part INTEGER DEFAULT 2) RETURNS INTEGER
              RETURN amount / part;

            CREATE PROCEDURE pour (IN litres INTEGER, IN source VARCHAR(4), OUT left_over INTEGER)
            BEGIN
              DECLARE amount INTEGER DEFAULT 0;
              /* amount is not share(amount => 1) here */
              turns: WHILE amount < litres DO
                SET amount = amount + share(part => 3, amount => pour.litres);
                IF amount > 90 THEN LEAVE turns; END IF;
                inner_one: BEGIN
                  IF amount > 50 THEN ITERATE turns; END IF;
                  LEAVE inner_one;
                END inner_one;
              END WHILE turns;
              UPDATE tank SET litres = share(amount => tank.litres, part => 2) WHERE code = source;
              SET left_over = amount;
            END;

            CREATE PROCEDURE twice (OUT left_over INTEGER)
            BEGIN
              CALL pour(source => 'T1', litres => 4, left_over => left_over);
              CALL pour(4, 'T1', left_over);
            END;
            """;

    private static final String MODULE =
            """
            CREATE MODULE press
              DECLARE turns_made INTEGER DEFAULT 0;
              DECLARE most CONSTANT INTEGER DEFAULT 9;
              PRIVATE FUNCTION capped (n INTEGER) RETURNS INTEGER
                RETURN CASE WHEN n > most THEN press.most ELSE n END;
              PROCEDURE run (IN n INTEGER, OUT made INTEGER)
              BEGIN
                SET turns_made = turns_made + capped(n => n);
                SET made = press.turns_made;
              END;
            END MODULE;

            CREATE PROCEDURE use_press (OUT made INTEGER)
              CALL press.run(3, made);
            """;

    private static final String CASES =
            """
            routine: pour
            cases:
              - case: pours
                pass: { litres: 4, source: T1 }
                returns: { left_over: 4 }
              - case: presses
                routine: press.run
                pass: { n: 3 }
                returns: { made: 3 }
            """;

    @TempDir Path folder;
    private ProjectState state;

    private void project() throws IOException, ProjectException {
        write("cantina.yaml", "project: tanks\n");
        write("tables/tank.sql", TABLES);
        write("routines/base.sql", BASE);
        write("routines/press.sql", MODULE);
        write("cases/all.yaml", CASES);
        state = new ProjectState(ProjectReader.read(folder), (file, found) -> {});
        while (!state.check()) {
            continue;
        }
    }

    @AfterEach
    void close() {
        if (state != null) {
            state.close();
        }
    }

    private void write(String name, String text) throws IOException {
        Files.createDirectories(folder.resolve(name).getParent());
        Files.writeString(folder.resolve(name), text);
    }

    private String text(String file) {
        return switch (file) {
            case "base" -> BASE;
            case "press" -> MODULE;
            default -> CASES;
        };
    }

    private Map<String, List<Span>> places(String file, String at, String name)
            throws IOException, ProjectException {
        project();
        String full = file.equals("all") ? "cases/all.yaml" : "routines/" + file + ".sql";
        int offset = text(file).indexOf(at) + at.length() - 1;
        NameFinder.Found found =
                new NameFinder(state.view().orElseThrow())
                        .at(state, full, offset)
                        .orElseThrow(() -> new IllegalStateException("nothing at " + at));
        return Rename.of(state, found, name).places();
    }

    /** How many places there are in each file; then the project is written so, and checked. */
    private Map<String, Integer> renamed(String file, String at, String name)
            throws IOException, ProjectException {
        Map<String, List<Span>> places = places(file, at, name);
        Map<String, Integer> counts = new TreeMap<>();
        for (Map.Entry<String, List<Span>> one : places.entrySet()) {
            String of = Path.of(one.getKey()).getFileName().toString().replaceAll("\\..*", "");
            counts.put(of, one.getValue().size());
            write(one.getKey(), Rename.renamed(text(of), one.getValue(), name));
        }
        try (Workspace then = Workspace.open(ProjectReader.read(folder), Optional.empty())) {
            assertEquals(List.of(), then.check().stream().filter(Problem::isError).toList(), at);
        }
        return counts;
    }

    private String refused(String file, String at, String name) {
        return assertThrows(ProjectException.class, () -> places(file, at, name)).getMessage();
    }

    @Test
    void aLabelIsRenamedWhereItIsLeftAndEnded() throws Exception {
        assertEquals(Map.of("base", 4), renamed("base", "  turns", "rounds"));
    }

    @Test
    void anInnerLabelToo() throws Exception {
        assertEquals(Map.of("base", 3), renamed("base", "LEAVE inner_one", "body"));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '"',
            value = {"pour (IN lit | 4 | 1", "CALL pour(source => 'T1', lit | 4 | 1"})
    void aParameterIsRenamedInCallsThatSayIt(String at, int base, int cases) throws Exception {
        assertEquals(Map.of("base", base, "all", cases), renamed("base", at, "volume"));
    }

    @Test
    void aFunctionsParameterIsRenamedInSqlToo() throws Exception {
        // Its head, its body, the call in a SET and the one in the UPDATE; not the variable.
        assertEquals(Map.of("base", 4), renamed("base", "share (amo", "whole"));
    }

    @Test
    void fromTheCallOutOfSql() throws Exception {
        assertEquals(Map.of("base", 4), renamed("base", "tank.litres, par", "divisor"));
    }

    @Test
    void aModuleIsRenamedWithAllThatNamesIt() throws Exception {
        assertEquals(Map.of("press", 4, "all", 1), renamed("press", "CREATE MODULE pre", "mill"));
    }

    @Test
    void aRoutineOfAModuleIsRenamed() throws Exception {
        assertEquals(Map.of("press", 2, "all", 1), renamed("press", "PROCEDURE ru", "turn"));
    }

    @Test
    void fromACaseToo() throws Exception {
        assertEquals(Map.of("press", 2, "all", 1), renamed("all", "press.ru", "turn"));
    }

    @Test
    void aPrivateRoutineAndAModulesVariables() throws Exception {
        assertEquals(Map.of("press", 2), renamed("press", "FUNCTION cap", "at_most"));
        assertEquals(Map.of("press", 4), renamed("press", "DECLARE turns_m", "count_of_turns"));
        assertEquals(Map.of("press", 3), renamed("press", "DECLARE mo", "upper_end"));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "base | CREATE PROCEDURE po | twice | there is a routine of this name",
                "base | pour (IN lit | left_over | can't be called left_over",
                "base | CREATE PROCEDURE po | share | there is a routine of this name",
                "base | share (amo | part | can't be called part",
                "press | DECLARE turns_m | most | can't be called most",
                "press | FUNCTION cap | run | there is a routine of this name",
                "base | pour (IN lit | source | can't be called source"
            })
    void whatWouldMeanSomethingElseIsRefused(String file, String at, String name, String says) {
        String why = refused(file, at, name);
        assertTrue(why.contains(says), why);
    }
}
