package dev.cantina.advice;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.Lab;
import dev.cantina.syntax.Problem;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/**
 * Hints that are a change of the text: each is made, and what it was about is no problem any more,
 * and nothing else is one that was none.
 */
class EditsTest {
    private static final String TABLES =
            "CREATE TABLE item (id INTEGER PRIMARY KEY, name VARCHAR(20) NOT NULL, qty INTEGER, price DECIMAL(8, 2));"
                    + "CREATE TABLE log (line VARCHAR(100));";

    private static List<Problem> problems(String text) {
        try (Lab lab = new Lab(TABLES, text)) {
            return lab.check();
        }
    }

    private static String made(String text, Problem.Edit edit) {
        return text.substring(0, edit.range().start())
                + edit.text()
                + text.substring(edit.range().end());
    }

    private static Problem of(String rule, String text) {
        List<Problem> problems = problems(text);
        return problems.stream()
                .filter(p -> p.rule().equals(rule))
                .findFirst()
                .orElseThrow(() -> new AssertionError(rule + " in " + text + ": " + problems));
    }

    private static void becomes(String rule, String before, String after) {
        Problem problem = of(rule, before);
        Problem.Edit edit = problem.edit().orElseThrow(() -> new AssertionError(problem.message()));
        String text = made(before, edit);
        assertEquals(after, text);
        List<Problem> then = problems(text);
        List<Problem> was = problems(before);
        assertTrue(count(then, rule) < count(was, rule), text + " " + then);
        assertTrue(
                then.stream().filter(Problem::isError).count()
                        <= was.stream().filter(Problem::isError).count(),
                then.toString());
    }

    private static long count(List<Problem> problems, String rule) {
        return problems.stream().filter(p -> p.rule().equals(rule)).count();
    }

    private static final String HEAD =
            "CREATE PROCEDURE p (IN a INTEGER, IN qty INTEGER, IN t VARCHAR(20), OUT r INTEGER)\nBEGIN\n"
                    + "  DECLARE n INTEGER DEFAULT 1; DECLARE s VARCHAR(20);\n"
                    + "  SET n = a + n; SET s = t || qty; SET r = n; SET s = s || 'x';\n  ";

    @ParameterizedTest
    @CsvSource(
            delimiterString = " ==> ",
            value = {
                "null-comparison: IF n = NULL THEN SET r = 1; END IF; ==> IF n IS NULL THEN SET r = 1; END IF;",
                "null-comparison: IF NOT (n <> null) THEN SET r = 1; END IF; ==> IF NOT (n IS NOT NULL) THEN SET r = 1; END IF;",
                "null-comparison: IF NULL = n + 1 THEN SET r = 1; END IF; ==> IF n + 1 IS NULL THEN SET r = 1; END IF;",
                "null-comparison: IF /* of */ s /* is */ = /* no */ NULL THEN SET r = 1; END IF; ==> IF /* of */ s IS NULL THEN SET r = 1; END IF;",
                "whole-table: DELETE FROM log; ==> DELETE FROM log WHERE TRUE;",
                "whole-table: UPDATE item SET qty = n /* all */ ; ==> UPDATE item SET qty = n WHERE TRUE /* all */ ;",
                "whole-table: update item i set name = 'a' || i.name; ==> update item i set name = 'a' || i.name WHERE TRUE;",
                "shadowed-column: UPDATE item SET price = qty WHERE id = n; ==> UPDATE item SET price = p.qty WHERE id = n;",
                "swallowed-condition: BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN END; SET n = 1; END; ==> BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN RESIGNAL; END; SET n = 1; END;",
                "unreachable: BEGIN RETURN; SET r = 2; END; ==> BEGIN RETURN; END;",
                "unreachable: BEGIN RETURN; SET r = 2; WHILE n > 0 DO SET n = 0; END WHILE; END; ==> BEGIN RETURN; END;",
                "unused-name: BEGIN DECLARE v INTEGER; SET r = 1; END; ==> BEGIN SET r = 1; END;",
                "unused-name: BEGIN DECLARE v, w INTEGER; SET w = 1; END; ==> BEGIN DECLARE w INTEGER; SET w = 1; END;",
                "unused-name: BEGIN DECLARE w, v /* why */ , u INTEGER DEFAULT 3; SET w = u; END; ==> BEGIN DECLARE w, u INTEGER DEFAULT 3; SET w = u; END;",
                "unused-name: BEGIN DECLARE w, v INTEGER; SET w = 1; END; ==> BEGIN DECLARE w INTEGER; SET w = 1; END;",
                "unused-name: BEGIN DECLARE v DECIMAL(8, 2) DEFAULT 1; SET r = 1; END; ==> BEGIN SET r = 1; END;",
                "narrow-type: BEGIN DECLARE v VARCHAR(5); SELECT name INTO v FROM item WHERE id = n; IF v IS NULL THEN SET r = 0; END IF; END; ==> BEGIN DECLARE v VARCHAR(20); SELECT name INTO v FROM item WHERE id = n; IF v IS NULL THEN SET r = 0; END IF; END;",
                "syntax: IF n > 1 SET r = 1; END IF; ==> IF n > 1 THEN SET r = 1; END IF;",
                "syntax: SET r = 1 SET r = 2; ==> SET r = 1; SET r = 2;",
                "syntax: UPDTE item SET qty = 1 WHERE id = n; ==> UPDATE item SET qty = 1 WHERE id = n;",
                "syntax: WHILE n > 1 SET n = 1; END WHILE; ==> WHILE n > 1 DO SET n = 1; END WHILE;",
                "syntax: SET r = (n + 1; ==> SET r = (n + 1);",
                "syntax: one: BEGIN SET r = 1; END two; ==> one: BEGIN SET r = 1; END one;",
                "unknown-name: GET DIAGNOSTICS s = MESSAGE_TEXT; ==> GET DIAGNOSTICS CONDITION 1 s = MESSAGE_TEXT;",
                "unknown-name: SIGNAL too_much; ==> no DECLARE too_much CONDITION FOR SQLSTATE '45000';",
                "wrong-cursor: BEGIN DECLARE c CURSOR FOR SELECT id FROM item; OPEN c; FETCH LAST FROM c INTO n; CLOSE c; END; ==> BEGIN DECLARE c SCROLL CURSOR FOR SELECT id FROM item; OPEN c; FETCH LAST FROM c INTO n; CLOSE c; END;",
                "misplaced-statement: b: BEGIN ITERATE b; END; ==> b: BEGIN LEAVE b; END;",
                "wrong-sqlstate: SIGNAL SQLSTATE '00123'; ==> SIGNAL SQLSTATE '45000';",
                "wrong-declaration: BEGIN DECLARE UNDO HANDLER FOR SQLEXCEPTION SET r = 1; SET n = 2; END; ==> BEGIN ATOMIC DECLARE UNDO HANDLER FOR SQLEXCEPTION SET r = 1; SET n = 2; END;",
                "wrong-type: SET s = s + t; ==> SET s = s || t;",
                "wrong-type: SET n = n * t; ==> SET n = n * CAST(t AS DECIMAL(18, 4));"
            })
    void theChangeIsTheHint(String before, String after) {
        int colon = before.indexOf(':');
        String rule = before.substring(0, colon);
        String body = before.substring(colon + 1).strip();
        String text = HEAD + body + "\nEND;";
        if (after.startsWith("no ")) {
            // What is declared stands at the head of the body.
            String head = HEAD.replace("BEGIN\n", "BEGIN\n  " + after.substring(3) + "\n");
            becomes(rule, text, head + body + "\nEND;");
        } else {
            becomes(rule, text, HEAD + after + "\nEND;");
        }
    }

    @ParameterizedTest
    @CsvSource(
            delimiterString = " ==> ",
            value = {
                "false-deterministic: CREATE FUNCTION f () RETURNS INTEGER DETERMINISTIC READS SQL DATA RETURN (SELECT COUNT(*) FROM item); ==> CREATE FUNCTION f () RETURNS INTEGER NOT DETERMINISTIC READS SQL DATA RETURN (SELECT COUNT(*) FROM item);",
                "false-deterministic: create function f () returns date /* DETERMINISTIC */ deterministic return current_date; ==> create function f () returns date /* DETERMINISTIC */ NOT DETERMINISTIC return current_date;",
                "wrong-access: CREATE PROCEDURE f () READS SQL DATA DELETE FROM item WHERE id = 1; ==> CREATE PROCEDURE f () MODIFIES SQL DATA DELETE FROM item WHERE id = 1;",
                "wrong-access: CREATE PROCEDURE f () /* NO SQL */ NO  SQL DELETE FROM item WHERE id = 1; ==> CREATE PROCEDURE f () /* NO SQL */ MODIFIES SQL DATA DELETE FROM item WHERE id = 1;",
                "wrong-access: CREATE FUNCTION f () RETURNS INTEGER CONTAINS SQL RETURN (SELECT COUNT(*) FROM item); ==> CREATE FUNCTION f () RETURNS INTEGER READS SQL DATA RETURN (SELECT COUNT(*) FROM item);",
                "unknown-name: CREATE PROCEDURE f (OUT x INTEGER) SET x = (SELECT COUNT(*) FROM itme); ==> CREATE PROCEDURE f (OUT x INTEGER) SET x = (SELECT COUNT(*) FROM item);",
                "wrong-declaration: CREATE TRIGGER g BEFORE UPDATE ON item REFERENCING NEW TABLE AS fresh FOR EACH STATEMENT INSERT INTO log VALUES ('x'); ==> CREATE TRIGGER g AFTER UPDATE ON item REFERENCING NEW TABLE AS fresh FOR EACH STATEMENT INSERT INTO log VALUES ('x');"
            })
    void inHeadsToo(String before, String after) {
        int colon = before.indexOf(':');
        becomes(before.substring(0, colon), before.substring(colon + 1).strip(), after);
    }

    @Test
    void aLineThatHoldsNothingElseGoesWhole() {
        becomes(
                "unused-name",
                "CREATE PROCEDURE p (OUT r INTEGER)\nBEGIN\n  DECLARE v INTEGER;\n  SET r = 1;\nEND;",
                "CREATE PROCEDURE p (OUT r INTEGER)\nBEGIN\n  SET r = 1;\nEND;");
        becomes(
                "unreachable",
                "CREATE PROCEDURE p (OUT r INTEGER)\nBEGIN\n  SET r = 1;\n  RETURN;\n  SET r = 2;\n  SET r = 3;\nEND;",
                "CREATE PROCEDURE p (OUT r INTEGER)\nBEGIN\n  SET r = 1;\n  RETURN;\nEND;");
    }

    @Test
    void aHandlerOfSeveralLinesKeepsThem() {
        becomes(
                "swallowed-condition",
                "CREATE PROCEDURE p (OUT r INTEGER)\nBEGIN\n  DECLARE EXIT HANDLER FOR SQLEXCEPTION\n    BEGIN\n      -- nothing\n    END;\n  SET r = 1;\nEND;",
                "CREATE PROCEDURE p (OUT r INTEGER)\nBEGIN\n  DECLARE EXIT HANDLER FOR SQLEXCEPTION\n    BEGIN\n      -- nothing\n      RESIGNAL;\n    END;\n  SET r = 1;\nEND;");
    }

    /** Where a hint says two things, or what goes would do something, nothing is offered. */
    @ParameterizedTest
    @CsvSource(
            delimiterString = " | ",
            value = {
                "null-comparison | IF n < NULL THEN SET r = 1; END IF;",
                "unused-name | BEGIN DECLARE v INTEGER DEFAULT f(2); SET r = 1; END;",
                "maybe-no-row | SELECT name INTO s FROM item WHERE id = n;",
                "shadowed-column | BEGIN DECLARE price INTEGER; SET price = 1; UPDATE item SET qty = price WHERE id = n; SET r = price; END;",
                "syntax | IF n > THEN SET r = 1; END IF;"
            })
    void wordsAlone(String rule, String body) {
        String f = "CREATE FUNCTION f (x INTEGER) RETURNS INTEGER RETURN x;\n";
        Problem problem = of(rule, f + HEAD + body + "\nEND;");
        assertEquals(Optional.empty(), problem.edit());
    }
}
