package dev.cantina.debugging;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.runtime.Outcome;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;

/** To a breakpoint behind, to the start of a call, and to where a run came to grief. */
class BackwardsTest {
    private static final String TABLES =
            "CREATE TABLE t (id INTEGER PRIMARY KEY, v INTEGER); INSERT INTO t VALUES (1, 10);";
    private static final String ROUTINES =
            """
            CREATE PROCEDURE work (IN n INTEGER, OUT total INTEGER)
            BEGIN
              DECLARE i INTEGER DEFAULT 0;
              SET total = 0;
              WHILE i < n DO
                SET i = i + 1;
                CALL add_up(i, total);
                UPDATE t SET v = v + i WHERE id = 1;
              END WHILE;
              SET total = twice(total) + twice(1);
            END;
            CREATE PROCEDURE add_up (IN x INTEGER, INOUT total INTEGER)
            BEGIN
              SET total = total + x;
              SET total = total + 0;
            END;
            CREATE FUNCTION twice (x INTEGER) RETURNS INTEGER
            BEGIN
              DECLARE y INTEGER DEFAULT x;
              RETURN y * 2;
            END;
            CREATE PROCEDURE fails (IN n INTEGER, OUT r INTEGER)
            BEGIN
              DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' SET r = -1;
              SET r = 1 / n;
              SET r = 10;
              CALL deeper(n);
              SET r = 11;
            END;
            CREATE PROCEDURE deeper (IN n INTEGER)
            BEGIN
              DECLARE k INTEGER;
              SET k = n;
              IF n = 0 THEN
                SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'no more';
              END IF;
            END;
            """;

    private final Debugged d = new Debugged(TABLES, ROUTINES);

    @AfterEach
    void close() {
        d.close();
    }

    private void pause(String routine, int line, String... condition) throws DebugException {
        d.debugger.pauseAt(
                routine,
                line,
                condition.length == 0 ? Optional.empty() : Optional.of(condition[0]),
                0,
                1);
    }

    private void work() {
        d.run("work", Map.of("n", "3"));
    }

    @Test
    void backToTheLastBreakpointStopsWhereItWasHitBefore() throws DebugException {
        pause("add_up", 14);
        d.say(Resume.Kind.CONTINUE, Resume.Kind.CONTINUE, Resume.Kind.CONTINUE);
        d.say(
                stop -> {
                    assertEquals(3L, d.debugger.eval(stop.frame(), "x"));
                    return Resume.of(Resume.Kind.BACK_CONTINUE);
                });
        d.say(
                stop -> {
                    assertEquals(2L, d.debugger.eval(stop.frame(), "x"));
                    assertEquals(11L, d.debugger.eval(stop.frame(), "(SELECT v FROM t)"));
                    return Resume.of(Resume.Kind.BACK_CONTINUE);
                });
        d.say(Resume.Kind.BACK_CONTINUE);
        work();
        assertEquals(
                List.of(
                        "work:3 START",
                        "add_up:14 BREAKPOINT",
                        "add_up:14 BREAKPOINT",
                        "add_up:14 BREAKPOINT",
                        "add_up:14 BACK",
                        "add_up:14 BACK",
                        "work:3 BACK"),
                d.stops.subList(0, 7));
        assertEquals(
                List.of("no breakpoint was reached before; this is the start"),
                d.seen.get(6).notes());
        assertEquals(1, d.seen.get(4).breakpoint().orElseThrow().number());
        assertTrue(d.seen.get(6).breakpoint().isEmpty());
    }

    @Test
    void itMindsConditionsCountsWritesAndChanges() throws DebugException {
        pause("work", 10);
        pause("work", 7, "i = 2");
        d.debugger.pauseOnWrite("", "t", 0, 1);
        d.debugger.pauseOnChange("work", "i", 2, 1);
        d.say(
                stop -> {
                    d.debugger.change(0, Debugger.Change.DISABLE);
                    d.debugger.change(1, Debugger.Change.ENABLE);
                    return Resume.of(Resume.Kind.CONTINUE);
                });
        d.say(
                stop -> {
                    d.debugger.change(0, Debugger.Change.ENABLE);
                    return Resume.of(Resume.Kind.BACK_CONTINUE);
                });
        d.say(Resume.Kind.BACK_CONTINUE, Resume.Kind.BACK_CONTINUE, Resume.Kind.BACK_CONTINUE);
        work();
        assertEquals(
                List.of(
                        "work:3 START",
                        "work:10 BREAKPOINT",
                        "work:8 BACK",
                        "work:7 BACK",
                        "work:8 BACK",
                        "work:7 BACK"),
                d.stops.subList(0, 6));
        // The third change of i, then the write before it, then the conditional one.
        assertEquals(
                List.of(Breakpoint.Kind.WRITE, Breakpoint.Kind.CHANGE, Breakpoint.Kind.WRITE),
                d.seen.subList(2, 5).stream().map(s -> s.breakpoint().get().kind()).toList());
        assertEquals(Breakpoint.Kind.LINE, d.seen.get(5).breakpoint().get().kind());
    }

    @Test
    void aCallIsBegunAgainFromItsFirstStatement() throws DebugException {
        pause("add_up", 15, "x = 2");
        d.say(Resume.Kind.CONTINUE, Resume.Kind.RESTART_FRAME);
        d.say(
                stop -> {
                    assertEquals(2L, d.debugger.eval(stop.frame(), "x"));
                    assertEquals(1L, d.debugger.eval(stop.frame(), "total"));
                    return new Resume(Resume.Kind.RESTART_FRAME, 1);
                });
        work();
        assertEquals(
                List.of("work:3 START", "add_up:15 BREAKPOINT", "add_up:14 BACK", "work:3 BACK"),
                d.stops.subList(0, 4));
    }

    @Test
    void ofTwoCallsInOneStatementTheOneThatStandsIsBegunAgain() throws DebugException {
        pause("twice", 20, "x = 1");
        d.say(Resume.Kind.CONTINUE, Resume.Kind.RESTART_FRAME);
        d.say(
                stop -> {
                    assertEquals(1L, d.debugger.eval(stop.frame(), "x"));
                    return Resume.of(Resume.Kind.CONTINUE);
                });
        work();
        assertEquals("twice:19 BACK", d.stops.get(2));
    }

    @Test
    void whatIsSetLaterStopsAlsoAfterGoingBackBeforeThat() throws DebugException {
        pause("work", 10);
        d.say(Resume.Kind.CONTINUE);
        d.say(
                stop -> {
                    pause("add_up", 14);
                    d.debugger.pauseAt("work", 8, Optional.empty(), 1, 1);
                    return Resume.of(Resume.Kind.RESTART);
                });
        work();
        assertEquals(
                List.of(
                        "work:3 START",
                        "add_up:14 BREAKPOINT",
                        "add_up:14 BREAKPOINT",
                        "work:8 BREAKPOINT",
                        "add_up:14 BREAKPOINT",
                        "work:8 BREAKPOINT",
                        "work:10 BREAKPOINT"),
                d.stops.subList(2, 9));
    }

    @Test
    void intoOneCallOfALinePassesTheOthers() throws DebugException {
        pause("work", 10);
        d.say(Resume.Kind.CONTINUE);
        d.say(
                stop -> {
                    assertEquals(
                            List.of(new CallTarget("twice", 1), new CallTarget("twice", 2)),
                            d.debugger.calls(stop.frame()));
                    return new Resume(Resume.Kind.INTO_CALL, 2, "TWICE");
                });
        d.say(
                stop -> {
                    assertEquals(1L, d.debugger.eval(stop.frame(), "x"));
                    return Resume.of(Resume.Kind.OUT);
                });
        work();
        assertEquals("twice:19 STEP", d.stops.get(2));
        assertEquals("work:11 END", d.stops.get(3));
    }

    @Test
    void aCallThatDoesNotComeIsPassedOver() throws DebugException {
        pause("work", 7);
        d.say(Resume.Kind.CONTINUE);
        d.say(stop -> new Resume(Resume.Kind.INTO_CALL, 1, "twice"));
        work();
        assertEquals("work:8 STEP", d.stops.get(2));
    }

    @Test
    void theConditionThatNobodyHandlesIsStoppedAtWhereItWasRaised() throws DebugException {
        d.debugger.pauseOn("Unhandled", 0, 1);
        d.say(Resume.Kind.CONTINUE);
        d.say(
                stop -> {
                    assertEquals(0L, d.debugger.eval(stop.frame(), "k"));
                    return Resume.of(Resume.Kind.BACK);
                });
        Outcome outcome = d.run("fails", Map.of("n", "0"));
        assertEquals(
                List.of(
                        "fails:25 START",
                        "deeper:35 CONDITION",
                        "deeper:35 BACK",
                        "deeper:35 CONDITION"),
                d.stops);
        assertEquals("45000", outcome.condition().orElseThrow().sqlstate());
    }

    @Test
    void whatAHandlerTakesIsNoneOfThem() throws DebugException {
        d.debugger.pauseOn("unhandled", 0, 1);
        d.say(Resume.Kind.CONTINUE);
        d.run("fails", Map.of("n", "1"));
        assertEquals(1, d.stops.size());
    }
}
