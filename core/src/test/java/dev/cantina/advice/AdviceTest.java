package dev.cantina.advice;

import static org.junit.jupiter.api.Assertions.assertEquals;

import dev.cantina.Lab;
import dev.cantina.syntax.Problem;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class AdviceTest {
    private static final String TABLES =
            "CREATE TABLE item (id INTEGER PRIMARY KEY, name VARCHAR(20) NOT NULL, qty INTEGER, price DECIMAL(8, 2));"
                    + "CREATE TABLE log (line VARCHAR(100));";

    private static List<String> rules(String routine) {
        return problems(routine).stream().map(Problem::rule).distinct().toList();
    }

    private static List<Problem> problems(String routine) {
        try (Lab lab = new Lab(TABLES, routine)) {
            List<Problem> problems = lab.check();
            assertEquals(List.of(), problems.stream().filter(Problem::isError).toList());
            return problems;
        }
    }

    /** A body in a procedure with a few parameters and variables, all of them used. */
    private static List<String> rulesOf(String body) {
        String routine =
                "CREATE PROCEDURE p (IN a INTEGER, IN t VARCHAR(20), OUT r INTEGER)\nBEGIN\n"
                        + "DECLARE n INTEGER; DECLARE s VARCHAR(20); DECLARE d DECIMAL(8, 2); DECLARE k SMALLINT;\n"
                        + "SET n = a; SET s = t; SET d = n; SET k = d; SET s = s || k; SET r = n;\n"
                        + body
                        + "\nEND;";
        return rules(routine);
    }

    @ParameterizedTest
    @CsvSource(
            delimiterString = " | ",
            value = {
                "null-comparison | IF n = NULL THEN SET r = 1; END IF;",
                "null-comparison | IF s = NULL THEN SET r = 1; END IF;",
                "null-comparison | IF NULL <> CURRENT_DATE THEN SET r = 1; END IF;",
                "null-comparison | SET r = CASE WHEN n <> NULL THEN 1 END;",
                "whole-table | DELETE FROM log;",
                "whole-table | UPDATE item SET qty = n;",
                "maybe-no-row | SELECT name INTO s FROM item WHERE id = n;",
                "maybe-no-row | SELECT name INTO s FROM FINAL TABLE (INSERT INTO item (id, name) SELECT id + 9, name FROM item WHERE id = n) AS t FETCH FIRST ROW ONLY;",
                "maybe-many-rows | SELECT name INTO s FROM FINAL TABLE (INSERT INTO item (id, name) VALUES (9, 'x'), (10, 'y')) AS t;",
                "maybe-many-rows | SELECT id INTO n FROM item WHERE name = s; IF n IS NULL THEN SET r = 0; END IF;",
                "swallowed-condition | BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN END; INSERT INTO log VALUES ('x'); END;",
                "unchecked-write | UPDATE item SET qty = 1 WHERE id = n; COMMIT;",
                "loop-invariant-query | WHILE n > 0 DO SELECT COUNT(*) INTO r FROM item WHERE qty > a; SET n = n - 1; END WHILE;",
                "unreachable | RETURN; SET r = 2;",
                "unreachable | SIGNAL SQLSTATE '45000'; SET r = 2;",
                "unreachable | BEGIN DECLARE CONTINUE HANDLER FOR SQLSTATE '45002' SET r = 1; SIGNAL SQLSTATE '45001'; SET r = 2; END;",
                "unreachable | BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION SET r = 1; SIGNAL SQLSTATE '45001'; SET r = 2; END;",
                "open-transaction | START TRANSACTION; INSERT INTO log VALUES (s);",
                "concatenated-sql | EXECUTE IMMEDIATE 'DELETE FROM ' || t || ' WHERE 1 = 1';",
                "concatenated-sql | SET s = 'DELETE FROM ' || t; PREPARE q FROM s;",
                "open-cursor | BEGIN DECLARE c CURSOR FOR SELECT id FROM item; OPEN c; FETCH c INTO n; END;",
                "wide-not-found | BEGIN DECLARE c CURSOR FOR SELECT id FROM item; DECLARE CONTINUE HANDLER FOR NOT FOUND SET n = 0; OPEN c; FETCH c INTO r; IF n > 0 THEN UPDATE item SET qty = 1 WHERE id = r; END IF; CLOSE c; END;",
                "narrow-type | BEGIN DECLARE v VARCHAR(5); SELECT name INTO v FROM item WHERE id = n; IF v IS NULL THEN SET r = 0; END IF; END;",
                "unused-name | BEGIN DECLARE v INTEGER; SET r = 1; END;",
                "unchecked-parameter | INSERT INTO item (id, name) VALUES (a, 'x');",
                "unchecked-parameter | INSERT INTO item VALUES (1, t, n, d);",
                "unchecked-parameter | UPDATE item SET name = t WHERE id = n;",
                "unchecked-parameter | UPDATE item SET qty = 5 WHERE item.id = a;",
                "unchecked-parameter | DELETE FROM item WHERE id = a AND qty > 3;",
                "unchecked-parameter | DELETE FROM item WHERE ID=a;",
                "unchecked-parameter | UPDATE item SET name = t, qty = 5 WHERE id = n;",
                "maybe-many-rows | SELECT qty INTO n FROM item WHERE qty > id AND name = s; IF n IS NULL THEN SET r = 0; END IF;",
                "stale-fetch | BEGIN DECLARE c CURSOR FOR SELECT id FROM item; OPEN c; FETCH c INTO n; SET r = n; CLOSE c; END;",
                "stale-fetch | BEGIN DECLARE done BOOLEAN DEFAULT FALSE; DECLARE c CURSOR FOR SELECT qty FROM item; DECLARE CONTINUE HANDLER FOR NOT FOUND SET done = TRUE; OPEN c; WHILE NOT done DO FETCH c INTO n; SET r = r + n; END WHILE; CLOSE c; END;",
                "stale-fetch | BEGIN DECLARE done BOOLEAN DEFAULT FALSE; DECLARE c CURSOR FOR SELECT qty FROM item; DECLARE CONTINUE HANDLER FOR NOT FOUND SET done = TRUE; OPEN c; REPEAT FETCH c INTO n; IF n > 3 THEN SET r = r + 1; END IF; UNTIL done END REPEAT; CLOSE c; END;",
                "bound-to-one-database | SET s = (SELECT LISTAGG(name, ',') FROM item);",
                "bound-to-one-database | MERGE INTO item (id, name) KEY (id) VALUES (1, 'x');",
                "narrow-type | BEGIN DECLARE v VARCHAR(50) DEFAULT 'x'; UPDATE item SET name = v WHERE id = 1; END;",
            })
    void aRuleSees(String rule, String body) {
        assertEquals(List.of(rule), rulesOf(body));
    }

    @ParameterizedTest
    @CsvSource(
            delimiterString = " | ",
            value = {
                "null-comparison | IF n IS NULL OR n IS NOT DISTINCT FROM NULL THEN SET r = 1; END IF;",
                "whole-table | DELETE FROM log WHERE TRUE;",
                "maybe-no-row | SELECT COUNT(*) INTO n FROM item;",
                "maybe-no-row | SELECT name INTO s FROM FINAL TABLE (INSERT INTO item (id, name) VALUES (9, 'x')) AS t;",
                "maybe-no-row | SELECT name INTO s FROM item WHERE id = n; IF s IS NULL THEN SET r = 0; END IF;",
                "maybe-no-row | BEGIN DECLARE EXIT HANDLER FOR NOT FOUND SET r = 0; SELECT name INTO s FROM item WHERE id = n; END;",
                "maybe-many-rows | SELECT id INTO n FROM item WHERE name = s ORDER BY id FETCH FIRST ROW ONLY; IF n IS NULL THEN SET r = 0; END IF;",
                "swallowed-condition | BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION SET r = -1; INSERT INTO log VALUES ('x'); END;",
                "swallowed-condition | BEGIN DECLARE EXIT HANDLER FOR SQLSTATE '23505' BEGIN END; INSERT INTO log VALUES ('x'); END;",
                "unchecked-write | UPDATE item SET qty = 1 WHERE id = n; GET DIAGNOSTICS r = ROW_COUNT; COMMIT;",
                "unchecked-write | INSERT INTO log VALUES (s); COMMIT;",
                "loop-invariant-query | WHILE n > 0 DO SELECT COUNT(*) INTO r FROM item WHERE qty > n; SET n = n - 1; END WHILE;",
                "loop-invariant-query | WHILE n > 0 DO SELECT COUNT(*) INTO n FROM log; INSERT INTO log VALUES (s); END WHILE;",
                "unreachable | IF n = 1 THEN RETURN; END IF; SET r = 2;",
                "unreachable | SIGNAL SQLSTATE '01H01'; SET r = 2;",
                "unreachable | BEGIN DECLARE CONTINUE HANDLER FOR SQLSTATE '45001' SET r = 1; SIGNAL SQLSTATE '45001'; SET r = 2; END;",
                "unreachable | BEGIN DECLARE CONTINUE HANDLER FOR SQLEXCEPTION SET r = 1; BEGIN SIGNAL SQLSTATE '45001'; SET r = 2; END; END;",
                "unreachable | BEGIN DECLARE bad CONDITION; DECLARE CONTINUE HANDLER FOR bad SET r = 1; SIGNAL bad; SET r = 2; END;",
                "open-transaction | START TRANSACTION; INSERT INTO log VALUES (s); COMMIT;",
                "concatenated-sql | PREPARE q FROM 'DELETE FROM log WHERE line = ?'; EXECUTE q USING t;",
                "open-cursor | BEGIN DECLARE c CURSOR FOR SELECT id FROM item; OPEN c; FETCH c INTO n; CLOSE c; END;",
                "wide-not-found | BEGIN DECLARE c CURSOR FOR SELECT id FROM item; DECLARE CONTINUE HANDLER FOR NOT FOUND SET n = 0; OPEN c; FETCH c INTO r; INSERT INTO log VALUES (s); CLOSE c; END;",
                "unchecked-parameter | IF a IS NULL THEN SIGNAL SQLSTATE '45000'; END IF; INSERT INTO item (id, name) VALUES (a, 'x');",
                "unchecked-parameter | INSERT INTO item (id, name) VALUES (COALESCE(a, 0), 'x');",
                "unchecked-parameter | INSERT INTO item (id, name, qty) VALUES (n, s, a);",
                "unchecked-parameter | BEGIN DECLARE EXIT HANDLER FOR SQLSTATE '23502' SET r = 0; INSERT INTO item (id, name) VALUES (a, 'x'); END;",
                "unchecked-parameter | UPDATE item SET qty = 5 WHERE id = a; GET DIAGNOSTICS r = ROW_COUNT;",
                "unchecked-parameter | UPDATE item SET qty = 5 WHERE qty = a;",
                "unchecked-parameter | UPDATE item SET qty = 5 WHERE id = a + 1;",
                "unchecked-parameter | UPDATE item SET qty = 5 WHERE id >= a;",
                "maybe-many-rows | SELECT qty INTO n FROM item WHERE item.ID  =  a; IF n IS NULL THEN SET r = 0; END IF;",
                "maybe-many-rows | SELECT qty INTO n FROM item WHERE id IN (a); IF n IS NULL THEN SET r = 0; END IF;",
                "unchecked-parameter | SELECT COUNT(*) INTO n FROM item WHERE id = a; IF n = 0 THEN INSERT INTO item (id, name) VALUES (a, 'x'); END IF;",
                "stale-fetch | BEGIN DECLARE c CURSOR FOR SELECT id FROM item; DECLARE EXIT HANDLER FOR NOT FOUND SET r = 0; OPEN c; FETCH c INTO n; SET r = n; CLOSE c; END;",
                "stale-fetch | BEGIN DECLARE done BOOLEAN DEFAULT FALSE; DECLARE c CURSOR FOR SELECT qty FROM item; DECLARE CONTINUE HANDLER FOR NOT FOUND SET done = TRUE; OPEN c; FETCH c INTO n; WHILE NOT done DO SET r = r + n; FETCH c INTO n; END WHILE; CLOSE c; END;",
                "stale-fetch | BEGIN DECLARE done BOOLEAN DEFAULT FALSE; DECLARE c CURSOR FOR SELECT qty FROM item; DECLARE CONTINUE HANDLER FOR NOT FOUND SET done = TRUE; OPEN c; turns: LOOP FETCH c INTO n; IF done THEN LEAVE turns; END IF; SET r = r + n; END LOOP; CLOSE c; END;",
                "stale-fetch | BEGIN DECLARE c CURSOR FOR SELECT qty FROM item; OPEN c; SET n = NULL; FETCH c INTO n; IF n IS NOT NULL THEN SET r = n; END IF; CLOSE c; END;",
                "bound-to-one-database | SET s = 'LISTAGG(x)'; SELECT COUNT(*) INTO n FROM item WHERE name = 'QUALIFY';",
                "narrow-type | SELECT SUM(price) INTO d FROM item;",
                "narrow-type | BEGIN DECLARE v LIKE item.name; SELECT name INTO v FROM item WHERE id = n; IF v IS NULL THEN SET r = 0; END IF; END;",
            })
    void aRuleKeepsQuiet(String rule, String body) {
        assertEquals(List.of(), rulesOf(body), rule);
    }

    @Test
    void aVariableThatAColumnHidesIsSeenAndInFullItIsNot() {
        String head =
                "CREATE PROCEDURE p (IN id INTEGER, OUT r INTEGER) SELECT COUNT(*) INTO r FROM item i WHERE i.id = ";
        assertEquals(List.of("shadowed-column", "unused-name"), rules(head + "id;"));
        assertEquals(List.of(), rules(head + "p.id;"));
    }

    @ParameterizedTest
    @CsvSource(
            delimiterString = " | ",
            value = {
                "unset-out | IF a = 1 THEN SET b = 1; END IF;",
                "unset-out | WHILE a > 0 DO SET b = a; SET a = a - 1; END WHILE;",
                "unset-out | IF a = 1 THEN RETURN; END IF; SET b = 2;",
                "none | IF a = 1 THEN SET b = 1; ELSE SET b = 2; END IF;",
                "none | CASE a WHEN 1 THEN SET b = 1; ELSE SIGNAL SQLSTATE '45000'; END CASE;",
                "none | SET b = 0; WHILE a > 0 DO SET b = a; SET a = a - 1; END WHILE;",
            })
    void anOutParameterIsSetOnEveryPathOrSeen(String rule, String body) {
        List<String> expected = rule.equals("none") ? List.of() : List.of(rule);
        assertEquals(
                expected,
                rules("CREATE PROCEDURE p (IN a INTEGER, OUT b INTEGER) BEGIN " + body + " END;"));
    }

    @ParameterizedTest
    @CsvSource(
            delimiterString = " | ",
            value = {
                "missing-return | IF a = 1 THEN RETURN 1; END IF;",
                "missing-return | WHILE a > 0 DO RETURN a; END WHILE;",
                "missing-return | one: LOOP IF a = 1 THEN LEAVE one; END IF; RETURN 2; END LOOP;",
                "none | IF a = 1 THEN RETURN 1; ELSE RETURN 2; END IF;",
                "none | LOOP SET a = a + 1; IF a > 9 THEN RETURN a; END IF; END LOOP;",
                "none | CASE a WHEN 1 THEN RETURN 1; WHEN 2 THEN RETURN 3; END CASE;",
                "none | IF a = 1 THEN RETURN 1; END IF; SIGNAL SQLSTATE '45000';",
            })
    void aFunctionReturnsOnEveryPathOrSeen(String rule, String body) {
        List<String> expected = rule.equals("none") ? List.of() : List.of(rule);
        assertEquals(
                expected,
                rules("CREATE FUNCTION f (a INTEGER) RETURNS INTEGER BEGIN " + body + " END;"));
    }

    @Test
    void aStaleFetchIsShownAtTheFetch() {
        Problem advice =
                problems(
                                "CREATE PROCEDURE p (OUT r INTEGER) BEGIN DECLARE n INTEGER; DECLARE c"
                                        + " CURSOR FOR SELECT id FROM item; OPEN c; FETCH c INTO n;"
                                        + " SET r = n; CLOSE c; END;")
                        .get(0);
        assertEquals("FETCH c INTO n", advice.span().text());
    }

    @Test
    void theMissingReturnIsShownAtTheName() {
        Problem advice =
                problems(
                                "CREATE OR REPLACE FUNCTION \"a name\" (a INTEGER) RETURNS INTEGER"
                                        + " BEGIN IF a = 1 THEN RETURN 1; END IF; END;")
                        .get(0);
        assertEquals("\"a name\"", advice.span().text());
    }

    @Test
    void triggersThatFireEachOtherAreSeen() {
        String toLog =
                "CREATE PROCEDURE note (IN t VARCHAR(20)) INSERT INTO log VALUES (t);"
                        + "CREATE TRIGGER a AFTER UPDATE ON item FOR EACH ROW CALL note(NEW.name);";
        String back =
                "CREATE TRIGGER b AFTER INSERT ON log FOR EACH ROW UPDATE item SET qty = 1 WHERE id = 1;";
        String guarded = back.replace("ROW UPDATE", "ROW WHEN (NEW.line = 'x') UPDATE");
        assertEquals(List.of(), rules(toLog));
        assertEquals(List.of("trigger-cycle"), rules(toLog + back));
        assertEquals(List.of(), rules(toLog + guarded));
        assertEquals(
                List.of("trigger-cycle"),
                rules(
                        "CREATE TRIGGER c AFTER INSERT ON log FOR EACH ROW INSERT INTO log VALUES ('y');"));
    }

    @Test
    void deterministicThatReadsIsSeen() {
        String reads =
                " RETURNS BIGINT DETERMINISTIC RETURN (SELECT COUNT(*) FROM item WHERE id > 0);";
        assertEquals(List.of("false-deterministic"), rules("CREATE FUNCTION f ()" + reads));
        String clock = " RETURNS DATE DETERMINISTIC RETURN CURRENT_DATE;";
        assertEquals(List.of("false-deterministic"), rules("CREATE FUNCTION f ()" + clock));
        assertEquals(
                List.of(),
                rules("CREATE FUNCTION f (x INTEGER) RETURNS INTEGER DETERMINISTIC RETURN x + 1;"));
    }

    @Test
    void aCommentWithAReasonSilencesARuleAndOneWithoutDoesNot() {
        assertEquals(
                List.of(),
                rulesOf("-- advice: whole-table off: it is emptied every night\nDELETE FROM log;"));
        assertEquals(
                List.of("whole-table"), rulesOf("-- advice: whole-table off:\nDELETE FROM log;"));
        assertEquals(
                List.of("whole-table"),
                rulesOf("-- advice: unused-name off: why not\nDELETE FROM log;"));
    }
}
