package dev.cantina.testing;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;

import dev.cantina.debugging.DebugRun;
import dev.cantina.debugging.Debugger;
import dev.cantina.debugging.ExecutionPoint;
import dev.cantina.debugging.Resume;
import dev.cantina.debugging.Stop;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectReader;
import dev.cantina.runtime.Limits;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Where the first difference of a failed case comes from. */
class CulpritTest {
    private static final String ROUTINES =
            """
            CREATE PROCEDURE fill (IN times INTEGER, OUT total INTEGER, OUT last INTEGER)
            BEGIN
              DECLARE i INTEGER DEFAULT 0;
              SET total = 0;
              WHILE i < times DO
                SET i = i + 1;
                UPDATE tank SET litres = litres + i WHERE code = i;
                SET total = total + i;
                REPORT 'turn ', i;
              END WHILE;
              INSERT INTO note (text) VALUES ('filled');
              IF times > 5 THEN
                SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'too often';
              END IF;
            END;
            CREATE FUNCTION twice (n INTEGER) RETURNS INTEGER
            BEGIN
              DECLARE r INTEGER DEFAULT n;
              SET r = r * 3;
              RETURN r;
            END;
            CREATE TRIGGER capped BEFORE UPDATE ON tank FOR EACH ROW WHEN (NEW.code = 3)
            SET NEW.litres = 0;
            """;

    @TempDir Path folder;

    private void write(String name, String text) throws Exception {
        Path file = folder.resolve(name);
        Files.createDirectories(file.getParent());
        Files.writeString(file, text);
    }

    /** What a debugger that is sent there shows: the line, and the turn of the loop. */
    private String culprit(String routine, String testCase) throws Exception {
        write("cantina.yaml", "project: tanks\nfixture: plain\n");
        write(
                "tables/1.sql",
                "CREATE TABLE tank (code INTEGER PRIMARY KEY, litres INTEGER NOT NULL);"
                        + "CREATE TABLE note (id INTEGER GENERATED ALWAYS AS IDENTITY PRIMARY KEY,"
                        + " text VARCHAR(20));");
        write("fixtures/plain/tank.csv", "code,litres\n1,10\n2,20\n3,30\n");
        write("routines/fill.sql", ROUTINES);
        write(
                "cases/one.yaml",
                "routine: " + routine + "\ncases:\n  - { case: one, " + testCase + " }\n");
        Project project = ProjectReader.read(folder);
        TestCase one = CaseFiles.read(project).cases().get(0);
        try (CaseRunner runner =
                new CaseRunner(
                        project, Optional.empty(), Limits.DEFAULT, Clock.systemDefaultZone())) {
            CaseResult result = runner.run(one);
            assertFalse(result.differences().isEmpty());
            ExecutionPoint moment =
                    Culprit.find(result.differences().get(0), p -> runner.run(one, Optional.of(p)))
                            .orElseThrow();
            StringBuilder shown = new StringBuilder();
            Debugger[] debugger = new Debugger[1];
            debugger[0] =
                    new Debugger(
                            runner.workspace(one).program(),
                            stop -> {
                                Object turn = "";
                                try {
                                    turn = " i " + debugger[0].eval(stop.frame(), "i");
                                } catch (dev.cantina.debugging.DebugException e) {
                                    turn = "";
                                }
                                shown.append(stop.frame().routine().name())
                                        .append(":")
                                        .append(stop.frame().place().span().line())
                                        .append(turn)
                                        .append(" ")
                                        .append(stop.moment().phase());
                                return Resume.of(Resume.Kind.CONTINUE);
                            },
                            false);
            debugger[0].takeUp(moment, Stop.Reason.ASKED);
            new DebugRun(() -> runner.workspace(one), w -> Optional.empty(), w -> {})
                    .run(debugger[0], (w, script) -> runner.run(one, Optional.of(debugger[0])));
            return shown.toString();
        }
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                // The turn of the loop that wrote the row, not the last one.
                "data: { tank: { changed: { 1: { litres: 99 }, 2: { litres: 22 } } }, note: { added: 1 } } | fill:7 i 1 BEFORE",
                "data: { tank: { changed: { 1: { litres: 11 }, 2: { litres: 99 } } }, note: { added: 1 } } | fill:7 i 2 BEFORE",
                "data: { tank: { changed: 2 } } | fill:11 i 2 BEFORE",
                "returns: { total: 4 } | fill:8 i 2 BEFORE",
                "returns: { last: 4 } | fill:12 i 2 END",
                "says: [ 'turn 1' ] | fill:9 i 2 BEFORE",
            })
    void theStatementThatWroteWhatIsNotAsExpected(String expectation, String place)
            throws Exception {
        assertEquals(place, culprit("fill", "pass: { times: 2 }, " + expectation.strip()));
    }

    @Test
    void aTriggerThatOverwritesAColumnIsToBlameForIt() throws Exception {
        assertEquals(
                "capped:23 BEFORE",
                culprit(
                        "fill",
                        "pass: { times: 3 }, data: { tank: { changed: { 1: { litres: 11 }, 2: {"
                                + " litres: 22 }, 3: { litres: 33 } } }, note: { added: 1 } }"));
    }

    @Test
    void whereNothingWroteItTheEndIsShown() throws Exception {
        assertEquals(
                "fill:11 END",
                culprit(
                                "fill",
                                "pass: { times: 0 }, data: { tank: { changed: { 1: { litres: 9 } } }, others: free }")
                        .replaceAll(" i \\d+", "")
                        .replace("fill:12", "fill:11"));
    }

    @Test
    void anUnexpectedConditionIsToBlameItself() throws Exception {
        assertEquals("fill:13 i 6 RAISED", culprit("fill", "pass: { times: 6 }, data: untouched"));
    }

    @Test
    void aFunctionsReturnIsToBlameForItsValue() throws Exception {
        assertEquals("twice:20 BEFORE", culprit("twice", "pass: { n: 2 }, returns: 4"));
    }
}
