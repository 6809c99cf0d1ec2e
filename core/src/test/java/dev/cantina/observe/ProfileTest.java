package dev.cantina.observe;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.Lab;
import dev.cantina.runtime.Limits;
import dev.cantina.runtime.Outcome;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;

/** What a profile counts where something else is true at once. */
class ProfileTest {
    private final Lab lab =
            new Lab(
                    """
                    CREATE TABLE t (id INTEGER PRIMARY KEY, v INTEGER NOT NULL, kind INTEGER);
                    CREATE INDEX by_kind ON t (kind);
                    INSERT INTO t VALUES (1, 10, 1), (2, 20, 2), (3, 30, 2);
                    """,
                    """
                    CREATE PROCEDURE crowded (OUT n INTEGER)
                    BEGIN
                      SET n = 0;
                      WHILE n < 5 DO SET n = n + 1; END WHILE;
                    END;
                    CREATE PROCEDURE failing (OUT n INTEGER)
                    BEGIN
                      DECLARE CONTINUE HANDLER FOR SQLEXCEPTION SET n = n + 1;
                      SET n = 0;
                      WHILE n < 3 DO
                        INSERT INTO t VALUES (n + 1, 1, 1);
                      END WHILE;
                    END;
                    CREATE PROCEDURE moving (IN wanted INTEGER)
                    BEGIN
                      DECLARE text VARCHAR(80);
                      SET text = 'UPDATE t SET v = v + 1 WHERE kind = ' || wanted;
                      EXECUTE IMMEDIATE text;
                      UPDATE t SET v = v + 1 WHERE kind = wanted;
                    END;
                    CREATE TRIGGER noted AFTER UPDATE ON t FOR EACH ROW
                    BEGIN
                      DECLARE seen INTEGER;
                      SET seen = NEW.v;
                    END;
                    CREATE FUNCTION doubled (x INTEGER) RETURNS INTEGER RETURN x * 2;
                    CREATE PROCEDURE shows (IN wanted INTEGER) DYNAMIC RESULT SETS 1
                    BEGIN
                      DECLARE c CURSOR WITH RETURN FOR
                        SELECT doubled(v), v + wanted, v AS "PUBLIC price", UPPER('a')
                          FROM t WHERE id = 1;
                      OPEN c;
                    END;
                    """);

    @AfterEach
    void close() {
        lab.close();
    }

    private Profile profiled(String routine, Map<String, Object> arguments) {
        Profile profile = new Profile();
        lab.call(routine, arguments, Limits.DEFAULT, Optional.of(profile));
        return profile;
    }

    private static Profile.Line line(Profile profile, String start) {
        return profile.lines().stream()
                .filter(l -> l.text().strip().startsWith(start))
                .findFirst()
                .orElseThrow();
    }

    @Test
    void aLineOfSeveralStatementsRanAsOftenAsTheOneThatRanMost() {
        assertEquals(6, line(profiled("crowded", Map.of()), "WHILE").runs());
    }

    @Test
    void aStatementThatFailsHasRunAndWroteNothing() {
        Profile profile = profiled("failing", Map.of());
        assertEquals(3, line(profile, "INSERT").runs());
        assertEquals(0, line(profile, "INSERT").written());
        assertEquals(3, line(profile, "DECLARE CONTINUE").runs());
    }

    @Test
    void dynamicStatementsAndWhatTheySetOffAreCounted() {
        Profile profile = profiled("moving", Map.of("wanted", 2));
        assertEquals(2, line(profile, "EXECUTE").written());
        assertEquals(2, line(profile, "UPDATE").written());
        assertEquals(4, line(profile, "SET seen").runs());
        assertTrue(line(profile, "EXECUTE").total() >= line(profile, "EXECUTE").own());
    }

    @Test
    void aWayByAnIndexNamesWhatItGoesByWithoutTheEnginesNumbers() {
        Profile profile = profiled("moving", Map.of("wanted", 2));
        List<String> ways =
                profile.accesses().stream()
                        .filter(a -> a.text().startsWith("UPDATE"))
                        .map(a -> a.paths().get(0).path())
                        .toList();
        assertEquals(List.of("index kind = ?"), ways);
    }

    @Test
    void columnsWithoutANameAreCalledByTheirExpressionAlone() {
        Outcome outcome = lab.call("shows", Map.of("wanted", 2));
        List<String> names =
                outcome.results().get(0).columns().stream().map(c -> c.name()).toList();
        assertEquals("DOUBLED(V)", names.get(0));
        assertEquals("V + ?", names.get(1));
        assertEquals("PUBLIC price", names.get(2));
    }
}
