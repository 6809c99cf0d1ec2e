package dev.cantina.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The debugger as a person uses it, from a pipe, in a project of its own. */
class DebugWordsTest {
    private static final String FILL =
            """
            CREATE PROCEDURE fill (IN first INTEGER, OUT total INTEGER, OUT note VARCHAR(200))
            BEGIN
              DECLARE marks INTEGER ARRAY[4] DEFAULT ARRAY[1, 2];
              DECLARE c CURSOR FOR SELECT code, litres FROM tank ORDER BY code;
              SET note = 'a note that is long enough to be cut where it is shown, so that show is wanted';
              OPEN c;
              BEGIN
                DECLARE code VARCHAR(8);
                DECLARE litres INTEGER;
                FETCH c INTO code, litres;
                SET total = first + litres;
                START TRANSACTION;
                SAVEPOINT before_it;
                UPDATE tank SET litres = litres + 1 WHERE tank.code = fill.first;
              END;
              CLOSE c;
            END;
            """;

    @TempDir Path folder;
    private Cli cli;

    @BeforeEach
    void project() throws IOException {
        write("cantina.yaml", "project: tanks\nfixture: plain\n");
        write(
                "tables/1.sql",
                "CREATE TABLE tank (code VARCHAR(8) PRIMARY KEY, litres INTEGER NOT NULL);\n");
        write("fixtures/plain/tank.csv", "code,litres\n1,10\n2,20\n");
        write("routines/fill.sql", FILL);
        write(
                "cases/fill.yaml",
                """
                routine: fill
                cases:
                  - case: fills
                    pass: { first: 1 }
                    data: { tank: { changed: { "1": { litres: 12 } } } }
                """);
        cli = new Cli(folder);
    }

    private void write(String name, String text) throws IOException {
        Path file = folder.resolve(name);
        Files.createDirectories(file.getParent());
        Files.writeString(file, text);
    }

    private String typing(String words, String... line) {
        return cli.typing(words, line).out();
    }

    private String fill(String words) {
        return typing(words, "debug", "fill", "first=1");
    }

    private static void assertHas(String out, String... texts) {
        for (String text : texts) {
            assertTrue(out.contains(text), () -> text + " is not in\n" + out);
        }
    }

    @Test
    void backToThePauseBeforeAndTheCallBegunAgain() throws IOException {
        write(
                "routines/calls.sql",
                """
                CREATE FUNCTION twice (x INTEGER) RETURNS INTEGER
                BEGIN
                  DECLARE y INTEGER DEFAULT x;
                  RETURN y * 2;
                END;
                CREATE PROCEDURE calls (OUT r INTEGER)
                BEGIN
                  REPORT 'begins';
                  SET r = twice(1) + twice(2);
                  SET r = r + twice(3);
                END;
                """);
        String out =
                typing(
                        "pause at twice:4\ncontinue\ncontinue\nback to pause\nrestart call\nremove all\n"
                                + "to 4\nout\nback to pause\nover\ninto nothing\ninto twice 2\neval x\nquit\n",
                        "debug",
                        "calls");
        assertHas(
                out,
                "says  begins",
                "twice stopped at line 4 of routines/calls.sql: gone back to breakpoint 1",
                "twice stopped at line 3 of routines/calls.sql: gone back\n",
                "no breakpoint was reached before; this is the start",
                "this statement has no such call; it names twice, twice 2",
                "  2  INTEGER\n");
    }

    @Test
    void aPauseThatTellsDoesNotStopAndOneIsForWhatNothingHandles() throws IOException {
        write(
                "routines/fails.sql",
                """
                CREATE PROCEDURE fails (IN most INTEGER)
                BEGIN
                  DECLARE i INTEGER DEFAULT 0;
                  WHILE i < most DO
                    SET i = i + 1;
                  END WHILE;
                  SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'too far';
                END;
                """);
        String out =
                typing(
                        "pause at 5 when i > 0 tell i is {i} of {most}\npause on unhandled\npauses\n"
                                + "pause on exception tell me\npause at 5 tell {i\ncontinue\neval i\nback to pause\nquit\n",
                        "debug",
                        "fails",
                        "most=3");
        assertHas(
                out,
                "breakpoint 1 at fails:5 when i > 0 tell i is {i} of {most}",
                "breakpoint 2 on unhandled",
                "tell goes with a line",
                "a } is missing; {{ stands for a brace",
                "fails:5 i is 1 of 3\n  fails:5 i is 2 of 3\n",
                "fails stopped at line 7 of routines/fails.sql: the condition that ended it was raised",
                "  3  INTEGER\n");
        assertHas(
                typing("pauses\n", "debug", "fails", "most=1"),
                "breakpoint 1 at fails:5 when i > 0 tell i is {i} of {most}",
                "breakpoint 2 on unhandled");
    }

    @Test
    void variablesAreShownByBlockAndWholeOnDemand() {
        assertHas(
                fill(
                        "pause at 12\ncontinue\nvars\nshow note\nshow marks\nset marks[2] = 9\nshow marks\n"),
                "marks   INTEGER ARRAY[4]  [1, 2]  2 elements",
                "in block 2",
                "litres  INTEGER           10",
                "78 characters; show has all",
                "so that show is wanted'",
                "  [2]  2\n",
                "  [2]  9\n");
    }

    @Test
    void cursorsTellWhereTheyStand() {
        String out = fill("over\ncursors\nto 7\ncursors\nto 11\ncursors\n");
        assertHas(
                out,
                "c  closed",
                "line 10, the next line with a statement",
                "c  open, before the first of 2 rows",
                "c  open, on row 1 of 2 rows");
    }

    @Test
    void theTransactionShowsItsSavepointsAndWhatIsNotCommitted() {
        assertHas(
                fill("transaction\npause on write to tank\ncontinue\ntransaction\n"),
                "no transaction is open",
                "it has written to tank (breakpoint 1)",
                "a transaction is open",
                "savepoints: BEFORE_IT",
                "'1'      litres 10 → 11");
    }

    @Test
    void watchesStayInViewAndMayHoldQueries() {
        assertHas(
                fill(
                        "watch first * 2\nwatch SELECT litres FROM tank WHERE code = '1'\nover\nwatch code\nunwatch 1\nwatch\n"),
                "watch 1  first * 2 = 2",
                "watch 2  SELECT litres FROM tank WHERE code = '1'",
                "watch 1  SELECT litres");
    }

    @Test
    void breakpointsAreKeptAndFollowTheirLine() throws IOException {
        fill("pause at 11 when total IS NULL\npause on not found\nquit\n");
        write("routines/fill.sql", "-- a line more\n-- and another\n" + FILL);
        String out = fill("pauses\ncontinue\n");
        assertHas(
                out,
                "breakpoint 1 has moved with its line, from 11 to fill:13",
                "breakpoint 1 at fill:13 when total IS NULL",
                "breakpoint 2 on not found",
                "fill stopped at line 13 of routines/fill.sql: breakpoint 1");
        assertFalse(
                typing("pauses\n", "debug", "--fresh", "fill", "first=1").contains("on not found"));
        fill("remove all\n");
        assertHas(fill("pauses\n"), "no breakpoints");
    }

    @Test
    void aBreakpointWhoseRoutineIsGoneWaitsForIt() throws IOException {
        fill("pause at 11\n");
        write(
                "routines/fill.sql",
                FILL.replace("PROCEDURE fill", "PROCEDURE other").replace("fill.first", "first"));
        assertHas(
                typing("pauses\npause at 5\n", "debug", "other", "first=1"),
                "a breakpoint that was kept is left out: there is no routine fill");
        write("routines/fill.sql", FILL);
        assertHas(fill("pauses\n"), "at fill:11");
    }

    @Test
    void afterTheEndTheRunCanBeTakenUp() {
        assertHas(
                fill("continue\nback\nset total = 5\ncontinue\nrestart\nquit\n"),
                "fill stopped at line 17 of routines/fill.sql: it is about to end",
                "gives total = 5",
                "fill stopped at line 3 of routines/fill.sql: the start");
    }

    @Test
    void wordsAreRecordedToBePlayedAgain() throws IOException {
        typing(
                "over\npause at 11\ncontinue\nback\nquit\n",
                "debug",
                "--record",
                "w",
                "fill",
                "first=1");
        String words = Files.readString(folder.resolve("w"));
        assertEquals("over\npause at 11\ncontinue\nback\nquit\n", words);
        assertHas(fill(words), "fill stopped at line 10 of routines/fill.sql: gone back");
        Cli.Result result = cli.typing("", "debug", "--record", "no/w", "fill", "first=1");
        assertEquals(2, result.code());
        assertTrue(result.err().contains("there is no such folder"), result.err());
    }

    @Test
    void aCaseStopsWhereItsDifferenceComesFrom() {
        assertHas(
                typing("vars\n", "debug", "--case", "fills", "--at-difference"),
                "data.tank.changed.1.litres",
                "fill stopped at line 14 of routines/fill.sql: where the difference comes from");
    }

    @Test
    void aScriptIsDebuggedAndStepsIntoWhatItCalls() throws IOException {
        write("s.sql", "CALL fill(1);\nDELETE FROM tank WHERE code = '2';\n");
        String out =
                typing(
                        "into\npause at s.sql:2\ncontinue\nover\nback\nrows tank\n",
                        "debug",
                        "--run",
                        "s.sql");
        assertHas(
                out,
                "s.sql stopped at line 1 of s.sql: the start",
                "fill stopped at line 3",
                "s.sql stopped at line 2 of s.sql: breakpoint 1",
                "s.sql stopped at line 2 of s.sql: it is about to end");
        assertTrue(out.lastIndexOf("2          20") > 0, out);
    }

    @Test
    void aScriptThatChangesTablesCanGoBackToo() throws IOException {
        write(
                "s.sql",
                "CREATE TABLE extra (n INTEGER);\nINSERT INTO extra VALUES (1);\nDELETE FROM tank;\n");
        assertHas(
                typing(
                        "over\nover\nback\nrestart\nsql SELECT * FROM extra\nover\nover\nrows extra\n",
                        "debug",
                        "--run",
                        "s.sql"),
                "s.sql stopped at line 2 of s.sql: gone back",
                "42S02");
    }
}
