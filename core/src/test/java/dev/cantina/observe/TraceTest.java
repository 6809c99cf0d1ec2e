package dev.cantina.observe;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.Lab;
import dev.cantina.runtime.AccessPath;
import dev.cantina.runtime.Limits;
import dev.cantina.runtime.Probe;
import dev.cantina.types.SqlType;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;

/** What a trace tells of a run, and what a profile counts. */
class TraceTest {
    private final Lab lab =
            new Lab(
                    """
                    CREATE TABLE t (id INTEGER PRIMARY KEY, v INTEGER, kind VARCHAR(5));
                    CREATE TABLE note (id INTEGER GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
                      t_id INTEGER, text VARCHAR(20));
                    INSERT INTO t VALUES (1, 10, 'a'), (2, 20, 'b'), (3, 30, 'b');
                    """,
                    """
                    CREATE PROCEDURE work (IN n INTEGER, OUT total INTEGER)
                    BEGIN
                      DECLARE i INTEGER DEFAULT 0;
                      DECLARE EXIT HANDLER FOR SQLSTATE '45000' SET total = -1;
                      SET total = 0;
                      WHILE i < n DO
                        SET i = i + 1;
                        SET total = total + twice(i);
                      END WHILE;
                      UPDATE t SET v = v + n WHERE kind = 'b';
                      CALL fails(n);
                    END;
                    CREATE FUNCTION twice (x INTEGER) RETURNS INTEGER RETURN x * 2;
                    CREATE PROCEDURE fails (IN n INTEGER)
                    BEGIN
                      IF n > 2 THEN
                        SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'too many';
                      END IF;
                    END;
                    CREATE TRIGGER noted AFTER UPDATE ON t FOR EACH ROW
                    INSERT INTO note (t_id, text) VALUES (NEW.id, 'was ' || OLD.v);
                    CREATE PROCEDURE deep (IN n INTEGER)
                    BEGIN
                      IF n > 0 THEN
                        CALL deep(n - 1);
                      END IF;
                    END;
                    CREATE PROCEDURE lists ()
                    BEGIN
                      DECLARE c CURSOR WITH RETURN FOR SELECT id FROM t WHERE id = 2;
                      DELETE FROM t WHERE v > 15;
                      EXECUTE IMMEDIATE 'INSERT INTO note (t_id, text) VALUES (9, ''x'')';
                      OPEN c;
                    END;
                    """);

    @AfterEach
    void close() {
        lab.close();
    }

    private void run(String routine, Map<String, Object> arguments, Probe probe) {
        lab.call(routine, arguments, Limits.DEFAULT, Optional.of(probe));
    }

    private List<TraceEvent> traced(int n) {
        List<TraceEvent> events = new ArrayList<>();
        run("work", Map.of("n", n), new Trace(events::add));
        return events;
    }

    private static List<TraceEvent.Statement> statements(List<TraceEvent> events, int line) {
        return events.stream()
                .filter(TraceEvent.Statement.class::isInstance)
                .map(TraceEvent.Statement.class::cast)
                .filter(s -> s.place().line() == line)
                .toList();
    }

    @Test
    void everyStatementIsToldInTheOrderInWhichItEnds() {
        List<TraceEvent> events = traced(1);
        List<Integer> lines = new ArrayList<>();
        events.forEach(
                e -> {
                    if (e instanceof TraceEvent.Statement s) {
                        lines.add(s.place().line());
                    }
                });
        // 6 twice: the loop is tested again; 13 is the function, 21 the trigger, of two rows.
        assertEquals(List.of(3, 5, 6, 7, 13, 8, 6, 21, 21, 10, 16, 11), lines);
    }

    @Test
    void aStatementThatCallsIsOpenedBeforeAndSaysSo() {
        List<TraceEvent> events = traced(1);
        TraceEvent.Statement update = statements(events, 10).get(0);
        assertTrue(update.nested());
        int opened =
                events.indexOf(
                        events.stream()
                                .filter(
                                        e ->
                                                e instanceof TraceEvent.Opened o
                                                        && o.number() == update.number())
                                .findFirst()
                                .orElseThrow());
        assertTrue(opened < events.indexOf(update));
        assertFalse(statements(events, 7).get(0).nested());
    }

    @Test
    void dataStatementsTellWhatTheySentTheirRowsAndWhatTheyWrote() {
        TraceEvent.Statement update = statements(traced(1), 10).get(0);
        assertEquals(List.of(new TraceEvent.Value("n", 1L)), update.sent());
        assertEquals(2, update.rows());
        assertEquals(2, update.writes());
        assertEquals(List.of("t"), update.tables());
        assertEquals(21L, update.written().get(0).after()[1]);
    }

    @Test
    void variablesTellTheirChange() {
        List<TraceEvent.Statement> adding = statements(traced(2), 8);
        assertEquals(
                List.of(new TraceEvent.Change("total", SqlType.INTEGER, 2L, 6L)),
                adding.get(1).variables());
    }

    @Test
    void aRoutineTellsItsArgumentsAndWhatItGives() {
        List<TraceEvent> events = traced(1);
        TraceEvent.Entered entered = (TraceEvent.Entered) events.get(0);
        assertEquals(List.of(new TraceEvent.Value("n", 1L)), entered.arguments());
        TraceEvent.Left left = (TraceEvent.Left) events.get(events.size() - 1);
        assertEquals(List.of(new TraceEvent.Value("total", 2L)), left.given());
        TraceEvent.Entered trigger =
                events.stream()
                        .filter(TraceEvent.Entered.class::isInstance)
                        .map(TraceEvent.Entered.class::cast)
                        .filter(e -> e.kind().equals("trigger"))
                        .findFirst()
                        .orElseThrow();
        assertEquals("[OLD.id 2, OLD.v 20, NEW.v 21]", named(trigger.arguments()));
    }

    private static String named(List<TraceEvent.Value> values) {
        return values.stream().map(v -> v.name() + " " + v.value()).toList().toString();
    }

    @Test
    void aConditionIsToldWithItsStackAndTheArgumentsOnTheWay() {
        List<TraceEvent> events = traced(3);
        TraceEvent.Raised raised =
                events.stream()
                        .filter(TraceEvent.Raised.class::isInstance)
                        .map(TraceEvent.Raised.class::cast)
                        .findFirst()
                        .orElseThrow();
        assertEquals("too many", raised.condition().message());
        assertEquals(2, raised.stack().size());
        assertEquals(
                List.of(
                        List.of(new TraceEvent.Value("n", 3L)),
                        List.of(new TraceEvent.Value("n", 3L))),
                raised.arguments());
        TraceEvent.Left ended =
                events.stream()
                        .filter(TraceEvent.Left.class::isInstance)
                        .map(TraceEvent.Left.class::cast)
                        .filter(l -> l.routine().equals("fails"))
                        .findFirst()
                        .orElseThrow();
        assertEquals("45000", ended.condition().orElseThrow().sqlstate());
        TraceEvent.Left whole = (TraceEvent.Left) events.get(events.size() - 1);
        assertEquals(List.of(new TraceEvent.Value("total", -1L)), whole.given());
    }

    private Profile profiled(String routine, Map<String, Object> arguments) {
        Profile profile = new Profile();
        run(routine, arguments, profile);
        return profile;
    }

    private static Profile.Line line(Profile profile, int line) {
        return profile.lines().stream().filter(l -> l.line() == line).findFirst().orElseThrow();
    }

    @Test
    void aProfileCountsRunsAndRowsOfEachLine() {
        Profile profile = profiled("work", Map.of("n", 2));
        assertEquals(3, line(profile, 6).runs());
        assertEquals(2, line(profile, 8).runs());
        assertEquals(2, line(profile, 13).runs());
        assertEquals(2, line(profile, 10).written());
        assertEquals(2, line(profile, 21).runs());
        assertTrue(line(profile, 10).total() >= line(profile, 21).total());
    }

    @Test
    void aLineInsideItselfIsCountedOnce() {
        Profile profile = profiled("deep", Map.of("n", 20));
        Profile.Line call = line(profile, 25);
        assertEquals(20, call.runs());
        assertTrue(call.total() <= profile.flame().total());
    }

    @Test
    void theTimeOfTheFlameIsThatOfItsLines() {
        Profile profile = profiled("work", Map.of("n", 2));
        Profile.Flame flame = profile.flame();
        assertEquals("work", flame.children().get(0).name());
        long inner =
                flame.children().get(0).children().stream().mapToLong(Profile.Flame::total).sum();
        assertTrue(inner <= flame.total());
        long own = profile.lines().stream().mapToLong(Profile.Line::own).sum();
        assertTrue(own <= flame.total());
    }

    @Test
    void askingHowRowsAreFoundChangesNothing() throws SQLException {
        Profile profile = profiled("lists", Map.of());
        Profile.Access delete = profile.accesses().get(0);
        AccessPath path = delete.paths().get(0);
        assertEquals("t", path.table());
        assertTrue(path.wholeTable());
        assertEquals(3, path.scanned().orElseThrow());
        assertEquals(2, delete.rows());
        Profile.Access cursor = profile.accesses().get(profile.accesses().size() - 1);
        assertFalse(cursor.wholeTable());
        assertEquals("key id = 2", cursor.paths().get(0).path());
        List<String> notes = new ArrayList<>();
        try (var statement = lab.database().connection().createStatement();
                var row = statement.executeQuery("SELECT id, t_id FROM note")) {
            while (row.next()) {
                notes.add(row.getLong(1) + " of " + row.getLong(2));
            }
        }
        assertEquals(List.of("1 of 9"), notes);
    }
}
