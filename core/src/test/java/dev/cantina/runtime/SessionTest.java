package dev.cantina.runtime;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.Lab;
import dev.cantina.types.Condition;
import dev.cantina.types.SqlType;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;

class SessionTest {
    private final Lab lab =
            new Lab(
                    "CREATE TABLE t (id INTEGER PRIMARY KEY, v INTEGER); INSERT INTO t VALUES (1, 10), (2, 20), (3, 30);",
                    """
                    CREATE PROCEDURE spin ()
                    BEGIN
                      DECLARE i INTEGER DEFAULT 0;
                      WHILE TRUE DO
                        SET i = i + 1;
                      END WHILE;
                    END;
                    CREATE PROCEDURE down (IN n INTEGER) BEGIN IF n > 0 THEN CALL down(n - 1); END IF; END;
                    CREATE PROCEDURE many () SELECT a.id FROM t a, t b, t c, t d;
                    CREATE PROCEDURE moves ()
                    BEGIN
                      UPDATE t SET v = v + 1;
                      UPDATE t SET v = v - 1 WHERE id = 2;
                      DELETE FROM t WHERE id = 3;
                      INSERT INTO t VALUES (3, 31), (4, 40);
                      DELETE FROM t WHERE id = 4;
                      UPDATE t SET id = 9 WHERE id = 1;
                    END;
                    CREATE TRIGGER ripple AFTER UPDATE ON t FOR EACH ROW
                    BEGIN
                      IF NEW.id = 1 AND NEW.v = 100 THEN UPDATE t SET v = 200 WHERE id = 2; END IF;
                    END;
                    CREATE PROCEDURE ripples () UPDATE t SET v = 100 WHERE id < 3;
                    CREATE PROCEDURE slow ()
                    BEGIN
                      DECLARE n BIGINT;
                      SELECT COUNT(*) INTO n
                        FROM SYSTEM_RANGE(1, 100000) a, SYSTEM_RANGE(1, 100000) b, SYSTEM_RANGE(1, 100000) c;
                    END;
                    CREATE PROCEDURE fails () BEGIN CALL deeper(); END;
                    CREATE PROCEDURE deeper () BEGIN SIGNAL SQLSTATE '45001'; END;
                    """);

    @AfterEach
    void close() {
        lab.close();
    }

    private Outcome limited(String routine, Map<String, Object> arguments, Limits limits) {
        return lab.call(routine, arguments, limits, Optional.empty());
    }

    @Test
    void eachLimitEndsTheRunWithItsOwnCondition() {
        Limits few = new Limits(5000, 60, 200, 1000);
        assertEquals("UL001", limited("spin", Map.of(), few).condition().orElseThrow().sqlstate());
        Limits brief = new Limits(Long.MAX_VALUE - 1, 0.05, 200, 1000);
        assertEquals(
                "UL002", limited("spin", Map.of(), brief).condition().orElseThrow().sqlstate());
        Limits shallow = new Limits(5000, 60, 10, 1000);
        assertEquals(
                "UL003",
                limited("down", Map.of("n", "50"), shallow).condition().orElseThrow().sqlstate());
        Limits narrow = new Limits(5000, 60, 200, 50);
        Outcome rows = limited("many", Map.of(), narrow);
        assertEquals("UL004", rows.condition().orElseThrow().sqlstate());
        assertEquals(Outcome.Kind.LIMITED, rows.kind());
    }

    @Test
    void aStatementOfTheDatabaseThatOutlastsTheLimitIsEnded() {
        Limits brief = new Limits(Long.MAX_VALUE - 1, 0.5, 200, 1000);
        Outcome outcome = limited("slow", Map.of(), brief);
        assertEquals("UL002", outcome.condition().orElseThrow().sqlstate());
        assertTrue(outcome.elapsedMillis() < 20_000);
    }

    @Test
    void deepCallsWithinTheLimitAreFine() {
        Limits deep = new Limits(1_000_000, 60, 1000, 1000);
        assertEquals(Outcome.Kind.COMPLETED, limited("down", Map.of("n", "900"), deep).kind());
    }

    @Test
    void changesAreTheNetOfEverythingThatHappened() {
        List<TableChanges> changes = TableChanges.of(lab.call("moves", Map.of()).events());
        assertEquals(1, changes.size());
        TableChanges t = changes.get(0);
        assertEquals(1, t.changed().size());
        assertEquals(3L, t.changed().get(0).before()[0]);
        assertEquals(31L, t.changed().get(0).after()[1]);
        assertEquals(1L, t.removed().get(0).row()[0]);
        assertEquals(9L, t.added().get(0).row()[0]);
        assertEquals(11L, t.added().get(0).row()[1]);
    }

    @Test
    void aRowThatATriggerChangesAgainEndsWithTheTriggersValue() {
        TableChanges t = TableChanges.of(lab.call("ripples", Map.of()).events()).get(0);
        assertEquals(2, t.changed().size());
        TableChanges.Changed second =
                t.changed().stream().filter(c -> c.after()[0].equals(2L)).findFirst().orElseThrow();
        assertEquals(20L, second.before()[1]);
        assertEquals(200L, second.after()[1]);
    }

    @Test
    void theProbeIsToldOfFramesAndConditionsInOrder() {
        List<String> told = new ArrayList<>();
        Probe probe =
                new Probe() {
                    @Override
                    public void entered(Frame frame) {
                        told.add("in " + frame.routine().name());
                    }

                    @Override
                    public void left(Frame frame, Condition condition) {
                        told.add("out " + frame.routine().name() + " " + condition.sqlstate());
                    }

                    @Override
                    public void raised(Frame frame, Condition condition) {
                        told.add("raised " + condition.sqlstate());
                    }
                };
        Outcome outcome = lab.call("fails", Map.of(), Limits.DEFAULT, Optional.of(probe));
        assertEquals(
                List.of(
                        "in fails",
                        "in deeper",
                        "raised 45001",
                        "out deeper 45001",
                        "out fails 45001"),
                told);
        assertEquals(
                List.of("deeper", "fails"),
                outcome.stack().stream().map(StackEntry::routine).toList());
    }

    @Test
    void theStatementsAreCountedOneByOne() {
        assertEquals(1, lab.call("ripples", Map.of()).statements() - triggered());
        assertTrue(lab.call("moves", Map.of()).statements() >= 6);
    }

    /**
     * What the trigger adds: an IF for each of the two rows, the update, and an IF for that row.
     */
    private static long triggered() {
        return 4;
    }

    @Test
    void theColumnsOfATemporaryTableAreNamedAsTheyAreWritten() {
        try (Lab lab =
                new Lab(
                        "CREATE TABLE t (Code INTEGER PRIMARY KEY);",
                        """
                        CREATE PROCEDURE p ()
                        BEGIN
                          DECLARE LOCAL TEMPORARY TABLE picks (code INTEGER, Amount_kg INTEGER);
                          SELECT * FROM picks;
                        END;
                        """)) {
            Outcome outcome = lab.call("p", Map.of());
            assertEquals(
                    List.of("Code", "Amount_kg"),
                    outcome.results().get(0).columns().stream().map(SqlType.Field::name).toList());
        }
    }
}
