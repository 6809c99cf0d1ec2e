package dev.cantina.debugging;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.runtime.Limits;
import dev.cantina.runtime.Outcome;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** What can be asked of a run that stands, and what it tells of itself. */
@Timeout(value = 60, unit = TimeUnit.SECONDS)
class LookingTest {
    private static final String TABLES =
            """
            CREATE TABLE t (id INTEGER PRIMARY KEY, v INTEGER);
            INSERT INTO t VALUES (1, 10), (2, 20), (3, 30);
            """;
    private static final String ROUTINES =
            """
            CREATE PROCEDURE work (IN least INTEGER, OUT total INTEGER)
            BEGIN
              DECLARE i INTEGER DEFAULT 0;
              DECLARE v INTEGER DEFAULT 20;
              DECLARE marks INTEGER ARRAY[5] DEFAULT ARRAY[7, 8];
              DECLARE spot ROW (x INTEGER, y VARCHAR(9)) DEFAULT ROW(1, 'left');
              SET total = least;
              WHILE i < 3 DO
                SET i = i + 1;
                REPORT 'turn ', i;
                SET total = total + doubled(i);
                -- what is said here is for readers alone

              END WHILE;
              -- and this
            END;
            CREATE FUNCTION doubled (x INTEGER) RETURNS INTEGER
              RETURN x * 2;
            CREATE FUNCTION forever (x INTEGER) RETURNS INTEGER
            BEGIN
              WHILE TRUE DO
                SET x = x + 1;
              END WHILE;
              RETURN x;
            END;
            CREATE FUNCTION writes () RETURNS INTEGER MODIFIES SQL DATA
            BEGIN
              UPDATE t SET v = 0 WHERE id = 1;
              RETURN 1;
            END;
            """;

    private final Debugged d = new Debugged(TABLES, ROUTINES);

    @AfterEach
    void close() {
        d.close();
    }

    private Outcome work() {
        return d.run("work", Map.of("least", "15"));
    }

    private void at(int line, Debugged.Answer answer) throws DebugException {
        d.debugger.pauseAt("work", line, Optional.empty(), 0, 1);
        d.say(Resume.Kind.CONTINUE);
        d.say(answer);
    }

    @Test
    void anExpressionHasATypeAndARowItsFields() throws DebugException {
        at(
                7,
                stop -> {
                    List<String> types = new ArrayList<>();
                    for (String text :
                            List.of(
                                    "i + 1",
                                    "least > 3",
                                    "marks",
                                    "spot",
                                    "spot.y",
                                    "'a' || 'b'")) {
                        types.add(d.debugger.evaluate(stop.frame(), text).type().sql());
                    }
                    assertEquals("BIGINT", types.get(0));
                    assertEquals("BOOLEAN", types.get(1));
                    assertEquals("INTEGER ARRAY[5]", types.get(2));
                    assertEquals("ROW(x INTEGER, y VARCHAR(9))", types.get(3));
                    assertEquals("VARCHAR(9)", types.get(4));
                    return Resume.of(Resume.Kind.CONTINUE);
                });
        work();
    }

    @Test
    void aQueryUsesTheVariablesAsTheRoutineWould() throws DebugException {
        at(
                7,
                stop -> {
                    var rows =
                            d.debugger.query(
                                    stop.frame(),
                                    "SELECT id, least AS b, 'least' FROM t WHERE t.v > Least -- least\n;",
                                    50);
                    assertEquals(2, rows.rows().size());
                    assertEquals(15L, ((Number) rows.rows().get(0)[1]).longValue());
                    assertEquals("least", rows.rows().get(0)[2]);
                    // A column's name goes before a variable's (ISO 9075-2, 6.6).
                    assertEquals(
                            1,
                            d.debugger
                                    .query(stop.frame(), "SELECT * FROM t WHERE v = spot.x * 10", 9)
                                    .rows()
                                    .size());
                    assertEquals(
                            2,
                            d.debugger
                                    .query(stop.frame(), "VALUES (1), (marks[2])", 9)
                                    .rows()
                                    .size());
                    assertEquals(
                            1, d.debugger.query(stop.frame(), "SELECT * FROM t", 1).rows().size());
                    return Resume.of(Resume.Kind.CONTINUE);
                });
        work();
    }

    @Test
    void aQueryThatIsNoneIsRefusedAndTheRunGoesOn() throws DebugException {
        at(
                7,
                stop -> {
                    for (String text :
                            List.of(
                                    "SELECT nothing FROM t WHERE id = least",
                                    "SELECT * FROM nowhere WHERE id = least",
                                    "SELECT least + FROM t",
                                    "SELECT 1 / (least - least)",
                                    "SELECT least) FROM (t")) {
                        assertThrows(
                                DebugException.class,
                                () -> d.debugger.query(stop.frame(), text, 9),
                                text);
                    }
                    return Resume.of(Resume.Kind.CONTINUE);
                });
        assertEquals(27L, work().out().get("total"));
    }

    @Test
    void aGlanceReadsNamesAndSetsNothingOff() throws DebugException {
        at(
                7,
                stop -> {
                    assertEquals(7L, glance(stop, "marks[1]"));
                    assertEquals("left", glance(stop, "SPOT . y"));
                    for (String text :
                            List.of("writes()", "i + 1", "(SELECT 1)", "least +", "", "no")) {
                        assertTrue(d.debugger.glance(stop.frame(), text).isEmpty(), text);
                    }
                    assertTrue(d.debugger.glance(stop.frame(), "marks[writes()]").isEmpty());
                    return Resume.of(Resume.Kind.CONTINUE);
                });
        assertEquals(0, work().events().size());
    }

    private Object glance(Stop stop, String text) throws DebugException {
        return d.debugger.glance(stop.frame(), text).orElseThrow().value();
    }

    @Test
    void anExpressionThatDoesNotEndIsEndedByTheLimitAndTheRunIsNot() throws DebugException {
        at(
                7,
                stop -> {
                    DebugException e =
                            assertThrows(
                                    DebugException.class,
                                    () -> d.debugger.eval(stop.frame(), "forever(1)"));
                    assertTrue(e.getMessage().startsWith("UL002"), e.getMessage());
                    assertEquals(16L, d.debugger.eval(stop.frame(), "least + 1"));
                    return Resume.of(Resume.Kind.CONTINUE);
                });
        Outcome outcome =
                d.run(
                        "work",
                        Map.of("least", "15"),
                        new Limits(
                                1_000_000_000L, 1, Limits.DEFAULT.depth(), Limits.DEFAULT.rows()));
        assertEquals(27L, outcome.out().get("total"));
    }

    @Test
    void whatIsAskedIsCalledOffAndNothingOfItStays() throws DebugException {
        at(
                7,
                stop -> {
                    Thread other =
                            new Thread(
                                    () -> {
                                        pause(300);
                                        d.debugger.callOff();
                                    });
                    other.start();
                    DebugException e =
                            assertThrows(
                                    DebugException.class,
                                    () -> d.debugger.eval(stop.frame(), "forever(1)"));
                    assertEquals("UL000 called off", e.getMessage());
                    // Where nothing is asked there is nothing to call off.
                    d.debugger.callOff();
                    assertEquals(15L, d.debugger.eval(stop.frame(), "least"));
                    return Resume.of(Resume.Kind.CONTINUE);
                });
        assertEquals(27L, d.run("work", Map.of("least", "15"), ENDLESS).out().get("total"));
    }

    private static final Limits ENDLESS =
            new Limits(Long.MAX_VALUE / 2, 50, Limits.DEFAULT.depth(), Limits.DEFAULT.rows());

    private static void pause(long millis) {
        try {
            Thread.sleep(millis);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    @Test
    void aBreakpointThatTellsDoesNotStopNorEndAStepOverTheCall() throws DebugException {
        d.debugger.pauseAt(
                "doubled", 18, Optional.of("x > 1"), 0, 1, Optional.of("x {x}, {{x} {no}"));
        d.debugger.pauseAt("work", 11, Optional.of("i = 2"), 0, 1);
        d.say(Resume.Kind.CONTINUE, Resume.Kind.OVER);
        work();
        assertEquals(
                List.of("work:3 START", "work:11 BREAKPOINT", "work:8 STEP"),
                d.stops.subList(0, 3));
        assertEquals("x 2, {x} {no: ", d.told.get(2).substring(0, 14));
        assertEquals(List.of("says turn 1", "says turn 2"), d.told.subList(0, 2));
        assertThrows(
                DebugException.class,
                () -> d.debugger.pauseAt("work", 9, Optional.empty(), 0, 1, Optional.of("{i")));
    }

    @Test
    void messagesComeWhenTheyAreSaidAndOnce() throws DebugException {
        at(
                11,
                stop -> {
                    assertEquals(List.of("says turn 1"), d.told);
                    return Resume.of(Resume.Kind.BACK);
                });
        work();
        assertEquals(List.of("says turn 1", "says turn 1", "says turn 2", "says turn 3"), d.told);
    }

    @Test
    void aLineWithoutAStatementIsTheNextOneAndBehindTheLastItIsTheEnd() throws DebugException {
        Breakpoint comment = d.debugger.pauseAt("work", 12, Optional.empty(), 0, 1);
        assertEquals(Breakpoint.Kind.END, comment.kind());
        assertEquals(16, comment.line());
        assertEquals(
                comment.number(), d.debugger.pauseAt("work", 16, Optional.empty(), 0, 1).number());
        d.say(Resume.Kind.CONTINUE);
        work();
        assertEquals(List.of("work:3 START", "work:16 END"), d.stops);
    }

    @Test
    void anEndMayHaveACondition() throws DebugException {
        d.debugger.pauseAt("work", 16, Optional.of("total > 100"), 0, 1);
        d.say(Resume.Kind.CONTINUE);
        work();
        assertEquals(1, d.stops.size());
    }

    @Test
    void aBreakpointIsSetWhileTheRunGoesOn() throws Exception {
        try (Debugged other =
                new Debugged(
                        TABLES,
                        ROUTINES.replace("i < 3", "i < 300000000")
                                .replace("total + doubled(i)", "total")
                                .replace("REPORT 'turn ', i;", ""),
                        false)) {
            Thread setter =
                    new Thread(
                            () -> {
                                pause(500);
                                other.debugger.meanwhile(
                                        () -> {
                                            try {
                                                other.debugger.pauseAt(
                                                        "work", 9, Optional.empty(), 0, 1);
                                            } catch (DebugException e) {
                                                throw new IllegalStateException(e);
                                            }
                                        });
                            });
            other.say(Resume.Kind.QUIT);
            setter.start();
            other.run("work", Map.of("least", "1"), ENDLESS);
            setter.join();
            assertEquals(List.of("work:9 BREAKPOINT"), other.stops);
        }
    }

    @Test
    void aRunIsEndedFromOutside() throws Exception {
        try (Debugged other =
                new Debugged(
                        TABLES,
                        ROUTINES.replace("i < 3", "TRUE")
                                .replace("total + doubled(i)", "total")
                                .replace("REPORT 'turn ', i;", ""),
                        false)) {
            Thread ender =
                    new Thread(
                            () -> {
                                pause(500);
                                other.debugger.stopRun();
                            });
            ender.start();
            Outcome outcome = other.run("work", Map.of("least", "1"), ENDLESS);
            ender.join();
            assertEquals("UL000", outcome.condition().orElseThrow().sqlstate());
            assertTrue(other.stops.isEmpty());
        }
    }
}
