package dev.cantina.debugging;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.Lab;
import dev.cantina.runtime.Limits;
import dev.cantina.runtime.Outcome;
import java.sql.SQLException;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;

/** Going back, and the stops that are not on a line. */
class ReplayTest {
    private static final String TABLES =
            """
            CREATE TABLE t (id INTEGER PRIMARY KEY, v INTEGER);
            CREATE TABLE line (id INTEGER GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
              t_id INTEGER REFERENCES t (id) ON DELETE CASCADE, note VARCHAR(20));
            INSERT INTO t VALUES (1, 10), (2, 20);
            INSERT INTO line (t_id, note) VALUES (1, 'a'), (1, 'b');
            """;
    private static final String ROUTINES =
            """
            CREATE PROCEDURE work (IN n INTEGER, OUT total INTEGER)
            BEGIN
              DECLARE i INTEGER DEFAULT 0;
              DECLARE marks INTEGER ARRAY[5] DEFAULT ARRAY[0, 0];
              SET total = 0;
              WHILE i < n DO
                SET i = i + 1;
                UPDATE t SET v = v + i WHERE id = 1;
                SET marks[2] = i;
                CALL add_up(i, total);
              END WHILE;
            END;
            CREATE PROCEDURE add_up (IN x INTEGER, INOUT sum INTEGER)
            BEGIN
              SET sum = sum + x;
            END;
            CREATE TRIGGER noted AFTER UPDATE ON t FOR EACH ROW
            BEGIN
              INSERT INTO line (t_id, note) VALUES (NEW.id, 'was ' || OLD.v);
            END;
            CREATE PROCEDURE clears ()
            BEGIN
              DECLARE gone INTEGER;
              DELETE FROM t WHERE id = 1;
              DELETE FROM t WHERE id = 99;
              GET DIAGNOSTICS gone = ROW_COUNT;
            END;
            CREATE FUNCTION thrown () RETURNS DOUBLE PRECISION RETURN RAND();
            CREATE PROCEDURE throws (OUT a DOUBLE PRECISION, OUT b DOUBLE PRECISION)
            BEGIN
              SELECT RAND() INTO a FROM t WHERE id = 1;
              SELECT RAND() INTO b FROM t WHERE id = 1;
            END;
            CREATE PROCEDURE keeps ()
            BEGIN
              DECLARE LOCAL TEMPORARY TABLE own (n INTEGER);
              INSERT INTO own VALUES (1);
              DELETE FROM own WHERE n = 2;
            END;
            CREATE MODULE cellar
              DECLARE turns INTEGER DEFAULT 0;
              DECLARE most CONSTANT INTEGER DEFAULT 9;
              PROCEDURE turn () SET turns = turns + 1;
              PROCEDURE turn_twice (OUT n INTEGER)
              BEGIN
                CALL turn();
                CALL turn();
                SET n = turns;
              END;
            END MODULE;
            CREATE FUNCTION idles (n INTEGER) RETURNS INTEGER
            BEGIN
              DECLARE i INTEGER DEFAULT 0;
              WHILE i < n DO
                SET i = i + 1;
              END WHILE;
              RETURN i;
            END;
            """;

    /** What a person says at one stop. */
    private interface Answer {
        Resume at(Stop stop) throws DebugException;
    }

    private final Lab lab = new Lab(TABLES, ROUTINES);
    private final List<String> stops = new ArrayList<>();
    private final List<Stop> seen = new ArrayList<>();
    private final Deque<Answer> answers = new ArrayDeque<>();
    private final Debugger debugger =
            new Debugger(
                    lab.program(),
                    stop -> {
                        seen.add(stop);
                        stops.add(
                                stop.frame().routine().name()
                                        + ":"
                                        + stop.frame().place().span().line()
                                        + " "
                                        + stop.reason());
                        try {
                            return answers.isEmpty()
                                    ? Resume.of(Resume.Kind.CONTINUE)
                                    : answers.poll().at(stop);
                        } catch (DebugException e) {
                            throw new IllegalStateException(e);
                        }
                    },
                    true);

    @AfterEach
    void close() {
        lab.close();
    }

    private void say(Resume.Kind... kinds) {
        for (Resume.Kind kind : kinds) {
            answers.add(stop -> Resume.of(kind));
        }
    }

    private Outcome run(String routine, Map<String, Object> arguments) {
        try {
            lab.database().keep();
            while (true) {
                lab.database().seed(1);
                debugger.begin(lab.program(), Optional.empty());
                Outcome outcome =
                        lab.call(routine, arguments, Limits.DEFAULT, Optional.of(debugger));
                if (!debugger.isAgain()) {
                    return outcome;
                }
                lab.database().restore();
            }
        } catch (SQLException e) {
            throw new IllegalStateException(e);
        }
    }

    private Outcome work() {
        return run("work", Map.of("n", "3"));
    }

    private Object value(Stop stop, String name) throws DebugException {
        return debugger.eval(stop.frame(), name);
    }

    @Test
    void backIsTheStatementBeforeInTheSameRoutineDataIncluded() throws DebugException {
        debugger.pauseAt("work", 10, Optional.of("i = 2"), 0, 1);
        List<Object> levels = new ArrayList<>();
        Answer look =
                stop -> {
                    levels.add(value(stop, "(SELECT v FROM t WHERE id = 1)"));
                    return Resume.of(Resume.Kind.BACK);
                };
        say(Resume.Kind.CONTINUE);
        answers.addAll(List.of(look, look, look, look));
        work();
        assertEquals(
                List.of(
                        "work:3 START",
                        "work:10 BREAKPOINT",
                        "work:9 BACK",
                        "work:8 BACK",
                        "work:7 BACK",
                        "work:6 BACK"),
                stops.subList(0, 6));
        assertEquals(List.of(13L, 13L, 11L, 11L), levels);
    }

    @Test
    void backFromTheFirstStatementOfACallIsTheCall() throws DebugException {
        debugger.pauseAt("add_up", 15, Optional.empty(), 1, 1);
        say(Resume.Kind.CONTINUE, Resume.Kind.BACK);
        work();
        assertEquals("work:10 BACK", stops.get(2));
    }

    @Test
    void backIntoIsTheStatementThatWasRunLast() throws DebugException {
        debugger.pauseAt("work", 9, Optional.empty(), 0, 1);
        say(Resume.Kind.CONTINUE, Resume.Kind.BACK_INTO, Resume.Kind.BACK);
        work();
        assertEquals(List.of("noted:19 BACK", "work:8 BACK"), stops.subList(2, 4));
    }

    @Test
    void backToALineIsItsLastTimeInThisCall() throws DebugException {
        debugger.pauseAt("work", 10, Optional.of("i = 3"), 0, 1);
        List<Object> turns = new ArrayList<>();
        say(Resume.Kind.CONTINUE);
        answers.add(stop -> new Resume(Resume.Kind.BACK_TO, 8));
        answers.add(
                stop -> {
                    turns.add(value(stop, "i"));
                    return new Resume(Resume.Kind.BACK_TO, 8);
                });
        answers.add(
                stop -> {
                    turns.add(value(stop, "i"));
                    return new Resume(Resume.Kind.BACK_TO, 12);
                });
        work();
        assertEquals(List.of(3L, 2L), turns);
        assertEquals("work:8 BACK", stops.get(4));
        assertEquals(
                List.of("work:12 was not reached before, in this call; this is where you were"),
                seen.get(4).notes());
    }

    @Test
    void whatWasChangedBeforeIsDoneAgainAndWhatCameAfterIsNot() throws DebugException {
        debugger.pauseAt("work", 8, Optional.empty(), 0, 1);
        List<Object> values = new ArrayList<>();
        say(Resume.Kind.CONTINUE);
        answers.add(
                stop -> {
                    debugger.set(stop.frame(), "n", "2");
                    debugger.change(stop.frame(), "UPDATE t SET v = 100 WHERE id = 1");
                    return Resume.of(Resume.Kind.CONTINUE);
                });
        answers.add(
                stop -> {
                    debugger.set(stop.frame(), "total", "1000");
                    return Resume.of(Resume.Kind.BACK);
                });
        answers.add(
                stop -> {
                    values.add(value(stop, "n"));
                    values.add(value(stop, "total"));
                    values.add(value(stop, "(SELECT v FROM t WHERE id = 1)"));
                    return Resume.of(Resume.Kind.CONTINUE);
                });
        Outcome outcome = work();
        assertEquals(List.of(2L, 1L, 101L), values);
        assertTrue(
                seen.get(3).notes().toString().contains("is undone"),
                seen.get(3).notes()::toString);
        assertEquals(3L, outcome.out().get("total"));
        assertEquals("work:8 BREAKPOINT", stops.get(4));
    }

    @Test
    void restartIsTheStart() {
        say(Resume.Kind.OVER, Resume.Kind.OVER, Resume.Kind.RESTART);
        Outcome outcome = work();
        assertEquals("work:3 START", stops.get(3));
        assertEquals(6L, outcome.out().get("total"));
    }

    @Test
    void whatIsLookedAtInAStopIsTakenOffTheRunsTimeOnce() throws DebugException {
        answers.add(
                stop -> {
                    assertEquals(3000000L, value(stop, "idles(3000000)"));
                    return Resume.of(Resume.Kind.CONTINUE);
                });
        double millis = work().elapsedMillis();
        assertTrue(millis >= 0, () -> "a run took " + millis + " ms");
    }

    @Test
    void identityNumbersAndRandomNumbersComeAgain() throws DebugException {
        List<Object> numbers = new ArrayList<>();
        debugger.pauseAtEnd("throws", 0, 1);
        say(Resume.Kind.CONTINUE);
        answers.add(
                stop -> {
                    numbers.add(value(stop, "a"));
                    return Resume.of(Resume.Kind.RESTART);
                });
        say(Resume.Kind.CONTINUE);
        answers.add(
                stop -> {
                    numbers.add(value(stop, "a"));
                    return Resume.of(Resume.Kind.CONTINUE);
                });
        run("throws", Map.of());
        assertEquals(2, numbers.size());
        assertEquals(numbers.get(0), numbers.get(1));
    }

    @Test
    void skipCountsCountTheSameWhenTheRunIsRepeated() throws DebugException {
        debugger.pauseAt("work", 7, Optional.empty(), 1, 2);
        say(Resume.Kind.CONTINUE, Resume.Kind.BACK, Resume.Kind.CONTINUE);
        work();
        assertEquals(
                List.of("work:3 START", "work:7 BREAKPOINT", "work:6 BACK", "work:7 BREAKPOINT"),
                stops.subList(0, 4));
        assertEquals(4, stops.size());
    }

    @Test
    void aChangeOfAVariableStopsAtTheNextStatementAndNamesTheLine() throws DebugException {
        debugger.pauseOnChange("work", "total", 0, 1);
        work();
        assertEquals(
                List.of("work:3 START", "work:6 CHANGE", "work:6 CHANGE", "work:6 CHANGE"),
                stops.subList(0, 4));
        Stop.VariableChange change = seen.get(2).changed().get(0);
        assertEquals(10, change.line());
        assertEquals(List.of(0L, 1L), List.of(change.before(), change.after()));
    }

    @Test
    void aChangeByTheVeryStatementThatWasGoneBackToIsSeen() throws DebugException {
        debugger.pauseOnChange("work", "i", 0, 1);
        say(Resume.Kind.CONTINUE, Resume.Kind.CONTINUE, Resume.Kind.BACK, Resume.Kind.CONTINUE);
        work();
        assertEquals(
                List.of(
                        "work:3 START",
                        "work:4 CHANGE",
                        "work:8 CHANGE",
                        "work:7 BACK",
                        "work:8 CHANGE"),
                stops.subList(0, 5));
    }

    @Test
    void skipCountsOfChangesCountTheSameToo() throws DebugException {
        debugger.pauseOnChange("work", "i", 2, 1);
        say(Resume.Kind.CONTINUE, Resume.Kind.BACK, Resume.Kind.CONTINUE, Resume.Kind.CONTINUE);
        work();
        assertEquals(
                List.of(
                        "work:3 START",
                        "work:8 CHANGE",
                        "work:7 BACK",
                        "work:8 CHANGE",
                        "work:8 CHANGE"),
                stops);
    }

    @Test
    void aChangeOfAnElementIsAChange() throws DebugException {
        debugger.pauseOnChange("work", "marks[2]", 0, 1);
        work();
        assertEquals(List.of("work:5 CHANGE", "work:10 CHANGE"), stops.subList(1, 3));
        assertEquals(9, seen.get(2).changed().get(0).line());
    }

    @Test
    void aWriteStopsWhoeverWrites() throws DebugException {
        debugger.pauseOnWrite("", "line", 0, 1);
        work();
        assertEquals(
                List.of("work:3 START", "noted:19 WRITE", "noted:19 WRITE"), stops.subList(0, 3));
        assertEquals("line", seen.get(1).rows().get(1).table().name());
    }

    @Test
    void aCascadeIsAWriteOfTheStatementThatSetItOff() throws DebugException {
        debugger.pauseOnWrite("", "line", 0, 1);
        run("clears", Map.of());
        assertEquals(List.of("clears:24 START", "clears:24 WRITE"), stops);
    }

    @Test
    void aTableOfABlockIsWrittenToAsWell() throws DebugException {
        debugger.pauseOnWrite("keeps", "own", 0, 1);
        run("keeps", Map.of());
        assertEquals(List.of("keeps:37 START", "keeps:37 WRITE"), stops);
    }

    @Test
    void aVariableOfAModuleIsWatchedAndSetByItsName() throws DebugException {
        debugger.pauseOnChange("cellar.turn_twice", "turns", 0, 1);
        say(Resume.Kind.CONTINUE);
        answers.add(
                stop -> {
                    assertEquals(1L, value(stop, "turns"));
                    assertEquals(9L, value(stop, "cellar.most"));
                    debugger.set(stop.frame(), "turns", "40");
                    assertThrows(
                            DebugException.class, () -> debugger.set(stop.frame(), "most", "1"));
                    return Resume.of(Resume.Kind.CONTINUE);
                });
        assertEquals(41L, run("cellar.turn_twice", Map.of()).out().get("n"));
        assertEquals("CHANGE", stops.get(1).split(" ")[1]);
    }

    @Test
    void notFoundStopsThoughNothingHandlesIt() throws DebugException {
        debugger.pauseOn("not found", 0, 1);
        run("clears", Map.of());
        assertEquals("clears:25 CONDITION", stops.get(1));
        assertEquals("02000", seen.get(1).condition().get().sqlstate());
    }

    @Test
    void beforeTheEndWhatIsGivenCanBeChanged() throws DebugException {
        debugger.pauseAtEnd("work", 0, 1);
        say(Resume.Kind.CONTINUE);
        answers.add(
                stop -> {
                    assertEquals(ExecutionPoint.Phase.END, stop.moment().phase());
                    debugger.set(stop.frame(), "total", "42");
                    return Resume.of(Resume.Kind.CONTINUE);
                });
        assertEquals(42L, work().out().get("total"));
    }

    @Test
    void steppingStopsBeforeTheEndOfTheRoutineThatWasStarted() {
        say(Resume.Kind.OVER, Resume.Kind.OVER, Resume.Kind.OVER, Resume.Kind.OUT);
        work();
        assertEquals("work:6 END", stops.get(stops.size() - 1));
    }

    @Test
    void elementsAreSetByTheRulesOfTheirType() throws DebugException {
        debugger.pauseAt("work", 10, Optional.empty(), 0, 1);
        say(Resume.Kind.CONTINUE);
        answers.add(
                stop -> {
                    debugger.set(stop.frame(), "marks[4]", "7");
                    assertEquals(7L, value(stop, "marks[4]"));
                    assertThrows(
                            DebugException.class,
                            () -> debugger.set(stop.frame(), "marks[6]", "7"));
                    assertThrows(
                            DebugException.class,
                            () -> debugger.set(stop.frame(), "marks[1]", "'x'"));
                    assertThrows(
                            DebugException.class, () -> debugger.set(stop.frame(), "i + 1", "1"));
                    return Resume.of(Resume.Kind.CONTINUE);
                });
        work();
        assertTrue(answers.isEmpty());
    }

    @Test
    void whatWouldEndTheTransactionIsNoChange() {
        answers.add(
                stop -> {
                    for (String sql : List.of("COMMIT", "DROP TABLE line", "SELECT 1", "")) {
                        assertThrows(
                                DebugException.class, () -> debugger.change(stop.frame(), sql));
                    }
                    return Resume.of(Resume.Kind.CONTINUE);
                });
        assertEquals(6L, work().out().get("total"));
    }

    @Test
    void lookingLeavesNoTraceInTheCountOfStatements() throws DebugException {
        Outcome plain = lab.call("work", Map.of("n", "3"), Limits.DEFAULT, Optional.empty());
        debugger.pauseAt("work", 10, Optional.of("thrown() >= 0"), 0, 1);
        Outcome watched = work();
        assertEquals(plain.statements(), watched.statements());
        assertEquals(4, stops.size());
    }

    @Test
    void aRunCanBeTakenUpAfterItsEnd() throws SQLException {
        say(Resume.Kind.CONTINUE);
        work();
        ExecutionPoint end = debugger.end().orElseThrow();
        lab.database().restore();
        debugger.takeUp(end, Stop.Reason.END);
        assertTrue(debugger.isAgain());
        Outcome outcome = work();
        assertEquals("work:6 END", stops.get(1));
        assertEquals(6L, outcome.out().get("total"));
        assertFalse(debugger.isStrayed());
    }

    @Test
    void unknownTablesAndVariablesAreRefusedWithTheNearest() {
        DebugException table =
                assertThrows(DebugException.class, () -> debugger.pauseOnWrite("", "lime", 0, 1));
        assertTrue(table.getMessage().contains("line"), table.getMessage());
        assertThrows(DebugException.class, () -> debugger.pauseOnChange("work", "nothing", 0, 1));
        assertThrows(DebugException.class, () -> debugger.pauseAtEnd("nobody", 0, 1));
        assertThrows(DebugException.class, () -> debugger.pauseOn("sometimes", 0, 1));
    }
}
