package dev.cantina.laboratory;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Unit;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** The small mistakes that can be made in a text. */
class MutationsTest {
    private static List<Mutation> of(String text) {
        Unit unit = Parser.parse(new Source("r.sql", text)).units().get(0);
        return unit instanceof Unit.Trigger trigger
                ? Mutations.of(trigger)
                : Mutations.of((Unit.Routine) unit);
    }

    private static List<String> mistakes(String body) {
        return of("CREATE PROCEDURE r (INOUT x INTEGER, IN s VARCHAR(9)) " + body).stream()
                .filter(m -> m.kind() != Mutation.Kind.STATEMENT)
                .map(m -> m.span().text() + " → " + m.text())
                .toList();
    }

    // A body, and the mistakes in it, without statements that are removed.
    @ParameterizedTest
    @ValueSource(
            strings = {
                "SET x = 5 | 5 → 6, 5 → 4",
                "SET x = 0 | 0 → 1",
                "SET x = 0.19 | 0.19 → 0.18",
                "SET x = x + 0.015 | + → -, 0.015 → 0.016",
                "SET s = 'red' | 'red' → 'rex'",
                "SET s = '' | '' → 'x'",
                "SET s = 'it''s' | 'it''s' → 'it''x'",
                "SET s = 'BOX' | 'BOX' → 'BOy'",
                "SET s = NULL | ",
                "SET x = x - /* + */ x | - → +",
                "SET x = (x + x) * x | + → -, * → /",
                "SET x = x\n  /\n  x | / → *",
                "IF x < 1 THEN SET x = x; END IF |"
                        + " x < 1 → NOT (x < 1), < → <=, < → >=, 1 → 2, 1 → 0",
                "IF x >= 9 THEN SET x = x; END IF |"
                        + " x >= 9 → NOT (x >= 9), >= → >, >= → <, 9 → 10, 9 → 8",
                "IF x <> x OR s = s THEN SET x = x; END IF |"
                        + " x <> x OR s = s → NOT (x <> x OR s = s), <> → =, OR → AND, = → <>",
                "IF s IS NULL THEN SET x = x; END IF |"
                        + " s IS NULL → NOT (s IS NULL), s IS NULL → FALSE",
                "IF s IS NOT NULL THEN SET x = x; END IF |"
                        + " s IS NOT NULL → NOT (s IS NOT NULL), s IS NOT NULL → TRUE",
                "SET x = COALESCE(x, 0) | COALESCE(x, 0) → x, 0 → 1",
                "WHILE x BETWEEN 1 AND 3 DO SET x = x; END WHILE |"
                        + " x BETWEEN 1 AND 3 → (x > 1 AND x <= 3),"
                        + " x BETWEEN 1 AND 3 → (x >= 1 AND x < 3), BETWEEN → NOT BETWEEN,"
                        + " 1 → 2, 1 → 0, 3 → 4, 3 → 2",
                "SET x = CASE WHEN s = s THEN x ELSE -x END |" + " = → <>, x ELSE -x → -x ELSE x",
                "CASE x WHEN x THEN SET s = s; ELSE SET x = x; END CASE |"
                        + " SET s = s; ELSE SET x = x → SET x = x; ELSE SET s = s",
                "COMMIT | COMMIT → ROLLBACK",
                "ROLLBACK WORK | ROLLBACK → COMMIT",
                "ROLLBACK TO SAVEPOINT a | ",
                "SIGNAL SQLSTATE '45007' SET MESSAGE_TEXT = 'no ' || 7 | '45007' → '45999'",
                "SIGNAL SQLSTATE '45999' | '45999' → '45998'",
                "REPORT 'five', 5 | ",
                "BEGIN DECLARE n INTEGER; UPDATE t SET a = x WHERE k = x;"
                        + " GET DIAGNOSTICS n = ROW_COUNT; IF n = 0 THEN SET x = x; END IF; END |"
                        + " WHERE k = x → , = → <>, n = 0 → NOT (n = 0), n = 0 → FALSE, = → <>, 0 → 1",
                "BEGIN DECLARE EXIT HANDLER FOR NOT FOUND SET x = x; SET x = x; END |"
                        + " DECLARE EXIT HANDLER FOR NOT FOUND SET x = x; → , EXIT → CONTINUE",
                "BEGIN DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' BEGIN END; SET x = x; END |"
                        + " DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' BEGIN END; → ,"
                        + " CONTINUE → EXIT",
                "DELETE FROM t WHERE a = x AND b IS NULL |"
                        + " a = x AND  → , = → <>,  AND b IS NULL → , AND → OR, b IS NULL → FALSE",
                "DELETE FROM t WHERE (a = x) AND (b = x) |"
                        + " a = x → TRUE, = → <>, AND → OR, b = x → TRUE, = → <>",
                "UPDATE t SET a = 1, b = x | a = 1,  → , 1 → 2, 1 → 0, , b = x → ",
                "SELECT MIN(a) INTO x FROM t | MIN → MAX",
                "SELECT a INTO x FROM t ORDER BY a DESC FETCH FIRST 1 ROWS ONLY |"
                        + " DESC → ASC, 1 → 2, 1 → 0",
                "SELECT a INTO x FROM t ORDER BY a | a → a DESC",
                "SELECT a INTO x FROM t JOIN u ON t.k = u.k | t.k = u.k → TRUE, = → <>",
                "INSERT INTO t VALUES (7, s) | 7 → 8, 7 → 6",
                "SET x = (SELECT COUNT(*) FROM t WHERE k = 1) |"
                        + " WHERE k = 1 → , = → <>, 1 → 2, 1 → 0"
            })
    void eachKind(String text) {
        int bar = text.lastIndexOf(" | ");
        String expected = text.substring(bar + 3).strip();
        String found = String.join(", ", mistakes(text.substring(0, bar)));
        assertEquals(expected.strip(), found.strip());
    }

    @Test
    void eachStatementIsRemovedButWhatHoldsOthersIsNot() {
        List<String> removed =
                of(
                                """
                                CREATE PROCEDURE r (INOUT x INTEGER)
                                BEGIN
                                  DECLARE EXIT HANDLER FOR SQLEXCEPTION
                                    RESIGNAL;
                                  one: LOOP
                                    SET x = x;
                                    IF x = x THEN
                                      LEAVE one;
                                    END IF;
                                  END LOOP;
                                  CALL r(x);
                                END;
                                """)
                        .stream()
                        .filter(m -> m.kind() == Mutation.Kind.STATEMENT)
                        .map(m -> m.span().text())
                        .toList();
        assertEquals(List.of("RESIGNAL", "SET x = x", "LEAVE one", "CALL r(x)"), removed);
    }

    /** What is planted can be read again, but for what the words around it do not allow. */
    @Test
    void whatIsPlantedIsAProgram() {
        String text =
                """
                CREATE TRIGGER j AFTER UPDATE ON t REFERENCING OLD ROW AS o NEW ROW AS n
                FOR EACH ROW WHEN (o.a <> n.a AND n.b IS NOT NULL)
                BEGIN ATOMIC
                  -- of two lines
                  INSERT INTO log (a,
                                   b) VALUES (o.a - 1, 'x');
                  DELETE FROM u WHERE k = n.a OR k = 3;
                END;
                """;
        List<Mutation> all = of(text);
        assertTrue(all.size() > 10, all.toString());
        for (Mutation one : all) {
            List<Problem> problems = Parser.parse(one.planted()).problems();
            assertEquals(List.of(), problems, one.toString());
        }
    }

    @Test
    void theLinesAreThoseOfTheMistakeAlone() {
        Mutation removed =
                of("CREATE PROCEDURE r (INOUT x INTEGER)\nBEGIN\n  SET x = x;\nEND").stream()
                        .filter(m -> m.kind() == Mutation.Kind.STATEMENT)
                        .findFirst()
                        .orElseThrow();
        assertEquals(List.of("  SET x = x;"), removed.before());
        assertEquals(List.of(), removed.after());
        Mutation term =
                of("CREATE PROCEDURE r (IN x INTEGER)\nDELETE FROM t\n WHERE a = x\n   AND b = x;")
                        .stream()
                        .filter(m -> m.kind() == Mutation.Kind.TERM)
                        .reduce((a, b) -> b)
                        .orElseThrow();
        assertEquals(List.of(" WHERE a = x", "   AND b = x;"), term.before());
        assertEquals(List.of(" WHERE a = x;"), term.after());
    }
}
