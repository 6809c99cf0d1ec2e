package dev.cantina.debugging;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.Lab;
import dev.cantina.runtime.Limits;
import dev.cantina.runtime.Outcome;
import java.math.BigDecimal;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class DebuggerTest {
    private static final String TABLES =
            "CREATE TABLE t (id INTEGER PRIMARY KEY, v INTEGER); INSERT INTO t VALUES (1, 10), (2, 20);";
    private static final String ROUTINES =
            """
            CREATE PROCEDURE outer_one (IN n INTEGER, OUT r INTEGER)
            BEGIN
              DECLARE i INTEGER DEFAULT 0;
              SET r = 0;
              WHILE i < n DO
                CALL inner_one(i, r);
                SET i = i + 1;
              END WHILE;
              UPDATE t SET v = twice(v) WHERE id = 1;
              SET r = r + 100;
            END;
            CREATE PROCEDURE inner_one (IN x INTEGER, INOUT total INTEGER)
            BEGIN
              SET total = total + x;
            END;
            CREATE FUNCTION twice (x INTEGER) RETURNS INTEGER
            BEGIN
              RETURN x * 2;
            END;
            CREATE TRIGGER watcher AFTER UPDATE ON t FOR EACH ROW
            BEGIN
              DECLARE seen INTEGER;
              SET seen = NEW.v;
            END;
            CREATE PROCEDURE fails (OUT r VARCHAR(9))
            BEGIN
              DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' SET r = 'h';
              SET r = 'x' || CAST(1 / 0 AS VARCHAR(5));
              DELETE FROM t WHERE id = 99;
            END;
            """;

    private final Lab lab = new Lab(TABLES, ROUTINES);
    private final List<String> stops = new ArrayList<>();
    private final Deque<Resume> answers = new ArrayDeque<>();
    private Consumer<Stop> look = stop -> {};

    private final StopListener listener =
            stop -> {
                stops.add(
                        stop.frame().routine().name()
                                + ":"
                                + stop.frame().place().span().line()
                                + " "
                                + stop.reason());
                look.accept(stop);
                return answers.isEmpty() ? Resume.of(Resume.Kind.CONTINUE) : answers.poll();
            };

    private final Debugger debugger = new Debugger(lab.program(), listener, true);

    @AfterEach
    void close() {
        lab.close();
    }

    private Outcome run(String routine, Map<String, Object> arguments, Resume.Kind... kinds) {
        for (Resume.Kind kind : kinds) {
            answers.add(Resume.of(kind));
        }
        return lab.call(routine, arguments, Limits.DEFAULT, Optional.of(debugger));
    }

    private Outcome outer(Resume.Kind... kinds) {
        return run("outer_one", Map.of("n", "2"), kinds);
    }

    @Test
    void theFirstStopIsTheFirstStatement() {
        outer();
        assertEquals(List.of("outer_one:3 START"), stops);
    }

    @Test
    void overStaysInTheRoutine() {
        Resume.Kind over = Resume.Kind.OVER;
        outer(over, over, over, over, over);
        assertEquals(
                List.of(
                        "outer_one:3 START",
                        "outer_one:4 STEP",
                        "outer_one:5 STEP",
                        "outer_one:6 STEP",
                        "outer_one:7 STEP",
                        "outer_one:5 STEP"),
                stops);
    }

    @Test
    void intoGoesIntoACallAndOutComesBack() {
        Resume.Kind into = Resume.Kind.INTO;
        outer(into, into, into, into, Resume.Kind.OUT);
        assertEquals("inner_one:14 STEP", stops.get(4));
        assertEquals("outer_one:7 STEP", stops.get(5));
    }

    @Test
    void intoFollowsAStatementIntoTheFunctionAndTheTriggerThatItSetsOff() throws DebugException {
        debugger.pauseAt("outer_one", 9, Optional.empty(), 0, 1);
        Resume.Kind into = Resume.Kind.INTO;
        outer(Resume.Kind.CONTINUE, into, into, into);
        assertEquals(
                List.of(
                        "outer_one:9 BREAKPOINT",
                        "twice:18 STEP",
                        "watcher:23 STEP",
                        "outer_one:10 STEP"),
                stops.subList(1, 5));
    }

    @Test
    void toRunsToALineOfThisRoutine() {
        answers.add(new Resume(Resume.Kind.TO, 10));
        outer();
        assertEquals(List.of("outer_one:3 START", "outer_one:10 STEP"), stops);
    }

    @Test
    void aBreakpointMovesToTheNextStatementAndSaysSo() throws DebugException {
        Breakpoint moved = debugger.pauseAt("outer_one", 8, Optional.empty(), 0, 1);
        assertTrue(moved.isMoved());
        assertEquals(9, moved.line());
        outer();
        assertEquals("outer_one:9 BREAKPOINT", stops.get(1));
    }

    @Test
    void aPauseWhileSqlRunsStopsAtTheNextStatement() throws Exception {
        StringBuilder rows = new StringBuilder(TABLES);
        for (int i = 1000; i < 1060; i++) {
            rows.append("INSERT INTO t (id, v) VALUES (").append(i).append(", 1);\n");
        }
        Lab slow =
                new Lab(
                        rows.toString(),
                        """
                        CREATE PROCEDURE slow (OUT n INTEGER, OUT m INTEGER)
                        BEGIN
                          SELECT COUNT(*) INTO n FROM t a, t b, t c, t d WHERE a.v + b.v + c.v + d.v > 0;
                          SET m = 1;
                          SET m = 2;
                        END;
                        """);
        List<Integer> lines = new ArrayList<>();
        Debugger own =
                new Debugger(
                        slow.program(),
                        stop -> {
                            lines.add(stop.frame().place().span().line());
                            return Resume.of(Resume.Kind.CONTINUE);
                        },
                        false);
        own.begin(slow.program(), Optional.empty());
        Thread asks =
                new Thread(
                        () -> {
                            try {
                                Thread.sleep(300);
                            } catch (InterruptedException e) {
                                return;
                            }
                            own.breakIn();
                        });
        asks.start();
        slow.call("slow", Map.of(), Limits.DEFAULT, Optional.of(own));
        asks.join();
        assertEquals(List.of(4), lines);
        slow.close();
    }

    /** Of lines in which a statement goes on, in its head, and between others inside it. */
    @ParameterizedTest
    @CsvSource({
        "3, 3", "4, 3", "5, 5", "6, 5", "7, 8", "8, 8", "9, 8", "10, 11", "11, 11", "12, 11",
        "13, 15", "14, 15", "15, 15"
    })
    void aLineBelongsToTheStatementThatGoesOnInIt(int asked, int line) throws DebugException {
        Lab other =
                new Lab(
                        TABLES,
                        """
                        CREATE PROCEDURE wide (INOUT n INTEGER)
                        BEGIN
                          SET n = n
                            + 1;
                          IF n > 1
                            AND n < 100 THEN
                            -- in between
                            SET n =
                              n * 2;
                          ELSE
                            UPDATE t SET v = 1
                             WHERE id = 1;
                          END IF;

                          SET n = n + 1;
                        END;
                        """);
        Debugger own =
                new Debugger(other.program(), stop -> Resume.of(Resume.Kind.CONTINUE), false);
        own.begin(other.program(), Optional.empty());
        Breakpoint set = own.pauseAt("wide", asked, Optional.empty(), 0, 1);
        assertEquals(line, set.line());
        other.close();
    }

    @Test
    void aBreakpointStopsOnlyWhereItsConditionIsTrue() throws DebugException {
        debugger.pauseAt("inner_one", 14, Optional.of("x = 3"), 0, 1);
        look =
                stop -> {
                    if (stop.reason() == Stop.Reason.BREAKPOINT) {
                        assertEquals(3L, eval(stop, "x"));
                    }
                };
        run("outer_one", Map.of("n", "5"));
        assertEquals(List.of("outer_one:3 START", "inner_one:14 BREAKPOINT"), stops);
    }

    /** What x is where a breakpoint stops, in so many calls of inner_one. */
    private List<Object> seenInCalls(int calls) {
        List<Object> seen = new ArrayList<>();
        look =
                stop -> {
                    if (stop.reason() == Stop.Reason.BREAKPOINT) {
                        seen.add(eval(stop, "x"));
                    }
                };
        run("outer_one", Map.of("n", String.valueOf(calls)));
        return seen;
    }

    @Test
    void aBreakpointMayPassTheFirstTimesAndStopEveryNth() throws DebugException {
        debugger.pauseAt("inner_one", 14, Optional.empty(), 2, 3);
        List<Object> seen = seenInCalls(10);
        assertEquals(List.of(4L, 7L), seen);
    }

    @Test
    void everySecondTimeIsTheSecondAndTheFourth() throws DebugException {
        debugger.pauseAt("inner_one", 14, Optional.empty(), 0, 2);
        List<Object> seen = seenInCalls(5);
        assertEquals(List.of(1L, 3L), seen);
    }

    @Test
    void everyNthCountsOnlyTheTimesThatItsConditionHeld() throws DebugException {
        debugger.pauseAt("inner_one", 14, Optional.of("MOD(x, 2) = 1"), 0, 2);
        List<Object> seen = seenInCalls(8);
        assertEquals(List.of(3L, 7L), seen);
    }

    @Test
    void anEasedBreakpointDoesNotStopAndAnArmedOneDoesAgain() throws DebugException {
        Breakpoint breakpoint = debugger.pauseAt("outer_one", 10, Optional.empty(), 0, 1);
        debugger.change(breakpoint.number(), Debugger.Change.DISABLE);
        assertFalse(debugger.breakpoints().get(0).enabled());
        outer();
        assertEquals(1, stops.size());
        debugger.change(0, Debugger.Change.REMOVE);
        assertTrue(debugger.breakpoints().isEmpty());
        assertThrows(DebugException.class, () -> debugger.change(9, Debugger.Change.ENABLE));
    }

    @Test
    void aConditionStopsWhereItIsRaisedHandledOrNot() throws DebugException {
        debugger.pauseOn("22012", 0, 1);
        Outcome outcome = run("fails", Map.of());
        assertEquals(List.of("fails:28 START", "fails:28 CONDITION"), stops);
        assertEquals("h", outcome.out().get("r"));
    }

    @Test
    void aChangedVariableChangesThePath() {
        look =
                stop -> {
                    if (stop.reason() == Stop.Reason.START) {
                        set(stop, "n", "0");
                    }
                };
        assertEquals(100L, outer().out().get("r"));
    }

    @Test
    void aValueThatDoesNotFitIsRefusedAndNothingChanges() {
        look =
                stop -> {
                    assertThrows(
                            DebugException.class, () -> debugger.set(stop.frame(), "n", "'x'"));
                    assertThrows(
                            DebugException.class,
                            () -> debugger.set(stop.frame(), "n", "3000000000"));
                    assertThrows(DebugException.class, () -> debugger.set(stop.frame(), "m", "1"));
                    assertThrows(
                            DebugException.class, () -> debugger.set(stop.frame(), "n", "1 +"));
                };
        assertEquals(101L, outer().out().get("r"));
    }

    @Test
    void anExpressionSeesVariablesFunctionsAndRows() {
        look =
                stop -> {
                    assertEquals(new BigDecimal("5.0"), eval(stop, "n * 2.5"));
                    assertEquals(14L, eval(stop, "twice(7)"));
                    assertEquals(30L, eval(stop, "(SELECT SUM(v) FROM t WHERE id <= n)"));
                    assertEquals(true, eval(stop, "r IS NULL AND n BETWEEN 1 AND 3"));
                };
        outer();
    }

    @Test
    void aStopTellsWhatChangedSinceTheLastOne() throws DebugException {
        debugger.pauseAt("outer_one", 10, Optional.empty(), 0, 1);
        look =
                stop -> {
                    if (stop.reason() == Stop.Reason.BREAKPOINT) {
                        assertEquals(
                                List.of("r", "i"),
                                stop.changed().stream().map(Stop.VariableChange::name).toList());
                        assertEquals("t", stop.rows().get(0).table().name());
                        assertEquals(20L, stop.rows().get(0).changed().get(0).after()[1]);
                    }
                };
        outer();
        assertEquals(2, stops.size());
    }

    @Test
    void quitRollsEverythingBack() throws DebugException {
        debugger.pauseAt("outer_one", 10, Optional.empty(), 0, 1);
        Outcome outcome = outer(Resume.Kind.CONTINUE, Resume.Kind.QUIT);
        assertEquals(Outcome.Kind.LIMITED, outcome.kind());
        assertTrue(outcome.events().isEmpty());
    }

    @Test
    void aConditionWithoutATruthValueIsRefusedWhenItIsSet() {
        assertThrows(
                DebugException.class,
                () -> debugger.pauseAt("inner_one", 14, Optional.of("x + 1"), 0, 1));
        assertThrows(
                DebugException.class,
                () -> debugger.pauseAt("inner_one", 14, Optional.of("y = 1"), 0, 1));
        assertThrows(
                DebugException.class,
                () -> debugger.pauseAt("inner_one", 99, Optional.empty(), 0, 1));
        assertThrows(
                DebugException.class, () -> debugger.pauseAt("no_one", 1, Optional.empty(), 0, 1));
    }

    private Object eval(Stop stop, String expression) {
        try {
            return debugger.eval(stop.frame(), expression);
        } catch (DebugException e) {
            throw new IllegalStateException(e);
        }
    }

    private void set(Stop stop, String name, String expression) {
        try {
            debugger.set(stop.frame(), name, expression);
        } catch (DebugException e) {
            throw new IllegalStateException(e);
        }
    }
}
