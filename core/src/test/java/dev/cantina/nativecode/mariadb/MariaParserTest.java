package dev.cantina.nativecode.mariadb;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.nativecode.NativeStatement;
import dev.cantina.nativecode.NativeSyntaxException;
import dev.cantina.syntax.Source;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** MariaDB's documentation, Programmatic and Compound Statements, and its clients' scripts. */
class MariaParserTest {
    private static List<MariaScript.Statement> script(String text) throws NativeSyntaxException {
        return MariaScript.of(new Source("script.sql", text));
    }

    private static MariaRoutine routine(String text) throws NativeSyntaxException {
        List<MariaScript.Statement> all = script(text);
        assertEquals(1, all.size(), text);
        return MariaRoutine.of(all.get(0), "").orElseThrow();
    }

    private static String outline(NativeStatement s) {
        StringBuilder text = new StringBuilder(s.what());
        for (NativeStatement.Part part : s.parts()) {
            List<String> inside = new ArrayList<>();
            part.statements().forEach(i -> inside.add(outline(i)));
            String sign =
                    switch (part.role()) {
                        case BODY -> "";
                        case OTHERWISE -> "else ";
                        case HANDLER -> "on ";
                    };
            text.append(" (").append(sign).append(String.join(", ", inside)).append(')');
        }
        return text.toString();
    }

    @Test
    void aBlockThatIsNoPartOfARoutineIsOneStatement() throws NativeSyntaxException {
        String text =
                """
                BEGIN NOT ATOMIC
                  DECLARE i INT DEFAULT 1;
                  IF i = 1 THEN SELECT CASE i WHEN 1 THEN 'a;' END; END IF;
                  BEGIN SELECT 2; END;
                END;
                BEGIN;
                SELECT 6;
                """;
        List<String> found = script(text).stream().map(s -> s.span().text()).toList();
        assertEquals(3, found.size(), found::toString);
        assertEquals("BEGIN", found.get(1));
        assertEquals("SELECT 6", found.get(2));
    }

    @Test
    void statementsEndAtTheDelimiterThatWasSaid() throws NativeSyntaxException {
        String text =
                """
                SELECT 1; # a ; comment
                DELIMITER $$
                CREATE PROCEDURE p() BEGIN SELECT ';$'; END$$
                CREATE TRIGGER t BEFORE INSERT ON x FOR EACH ROW SET NEW.a = 1$$
                delimiter ;
                -- another ; one
                SELECT "a;b", `c;d`;
                """;
        List<String> found = script(text).stream().map(s -> s.span().text()).toList();
        assertEquals(
                List.of(
                        "SELECT 1",
                        "CREATE PROCEDURE p() BEGIN SELECT ';$'; END",
                        "CREATE TRIGGER t BEFORE INSERT ON x FOR EACH ROW SET NEW.a = 1",
                        "SELECT \"a;b\", `c;d`"),
                found);
    }

    @Test
    void aParameterMayBeCalledLikeTheWordsOfTheLanguage() throws NativeSyntaxException {
        String text =
                """
                DELIMITER //
                CREATE PROCEDURE w(start INT, end INT) BEGIN
                  DECLARE i INT DEFAULT start;
                  WHILE i <= end DO SET i = CASE i WHEN 1 THEN 2 ELSE i + 1 END; END WHILE;
                  IF end > 1 THEN SELECT end; END IF;
                END //
                """;
        assertEquals("BEGIN (WHILE (SET), IF (SELECT))", outline(MariaParser.parse(routine(text))));
    }

    @Test
    void withoutADelimiterARoutineEndsWithItsBody() throws NativeSyntaxException {
        String text =
                """
                CREATE FUNCTION f() RETURNS INT RETURN CASE WHEN 1 THEN 2 END;
                CREATE PROCEDURE p() BEGIN
                  IF a THEN CASE b WHEN 1 THEN SET c = CASE d WHEN 1 THEN 2 END; END CASE; END IF;
                  WHILE x DO BEGIN END; END WHILE;
                END;
                SELECT 1;
                """;
        assertEquals(3, script(text).size());
    }

    @Test
    void whatADumpHidesFromOthersIsRead() throws NativeSyntaxException {
        String text =
                """
                DELIMITER ;;
                /*!50003 CREATE*/ /*!50017 DEFINER=`a`@`b`*/ /*!50003 TRIGGER t AFTER UPDATE ON v
                FOR EACH ROW BEGIN INSERT INTO j VALUES (1); END */;;
                DELIMITER ;
                """;
        MariaRoutine one = routine(text);
        assertEquals("t", one.name());
        assertEquals("v", one.table().orElseThrow());
        assertEquals("BEGIN (INSERT INTO)", outline(MariaParser.parse(one)));
    }

    @Test
    void blocksHandlersAndLoopsNest() throws NativeSyntaxException {
        String text =
                """
                CREATE OR REPLACE DEFINER = CURRENT_USER PROCEDURE IF NOT EXISTS db.`my proc` (IN a INT, OUT b INT)
                COMMENT 'does' NOT DETERMINISTIC MODIFIES SQL DATA SQL SECURITY INVOKER
                top: BEGIN NOT ATOMIC
                  DECLARE x, y DECIMAL(8, 2) DEFAULT 0;
                  DECLARE c CURSOR FOR SELECT 1;
                  DECLARE gone CONDITION FOR SQLSTATE '02000';
                  DECLARE CONTINUE HANDLER FOR NOT FOUND, 1062, SQLSTATE VALUE '45000' SET y = 1;
                  DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN ROLLBACK; RESIGNAL; END;
                  IF a = 1 THEN SET x = 1; ELSEIF a = 2 THEN SET x = 2; ELSE SET x = 3; END IF;
                  l: LOOP LEAVE l; END LOOP l;
                  REPEAT SET x = x + 1; UNTIL x > 9 END REPEAT;
                  FOR i IN 1 .. 3 DO SELECT i; END FOR;
                  FOR r IN (SELECT 1 AS k) DO SELECT r.k; END FOR;
                END top
                """;
        MariaRoutine one = routine(text);
        assertEquals("my proc", one.name());
        NativeStatement block = MariaParser.parse(one);
        assertEquals(
                "BEGIN (IF (SET) (SET) (else SET), LOOP (LEAVE), REPEAT (SET), FOR (SELECT), FOR"
                        + " (SELECT)) (on SET) (on BEGIN (ROLLBACK, RESIGNAL))",
                outline(block));
        assertEquals(
                List.of("x DECIMAL(8, 2)", "y DECIMAL(8, 2)", "c cursor"),
                block.declared().stream().map(v -> v.name() + " " + v.type()).toList());
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "CREATE FUNCTION f() RETURNS VARCHAR(64) CHARSET utf8mb4 COLLATE utf8mb4_bin RETURN ''",
                "CREATE FUNCTION f() RETURNS INT UNSIGNED DETERMINISTIC RETURN 1",
                "CREATE FUNCTION f(a ENUM('x', 'y')) RETURNS TEXT CHARACTER SET ucs2 RETURN a",
                "CREATE TRIGGER t BEFORE UPDATE ON d.x FOR EACH ROW FOLLOWS u SET NEW.a = 1",
                "CREATE PROCEDURE p() SELECT 1",
                "CREATE PROCEDURE p() IF 1 THEN SELECT 2; END IF",
            })
    void aBodyIsFoundBehindItsHead(String text) throws NativeSyntaxException {
        MariaRoutine one = routine("DELIMITER //\n" + text + " //");
        assertTrue(one.body() > 0);
        MariaParser.parse(one);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "CREATE PROCEDURE p() BEGIN IF a THEN SELECT 1; END //",
                "CREATE PROCEDURE p() BEGIN SELECT 1; //",
                "CREATE PROCEDURE p() BEGIN ELSE SELECT 1; END //",
            })
    void whatHasNoEndIsSaid(String text) throws NativeSyntaxException {
        MariaRoutine one = routine("DELIMITER //\n" + text);
        assertThrows(NativeSyntaxException.class, () -> MariaParser.parse(one));
    }

    @Test
    void aTextOrADelimiterWithoutAnEndIsSaid() {
        assertThrows(NativeSyntaxException.class, () -> script("SELECT 'a"));
        assertThrows(NativeSyntaxException.class, () -> script("/* a"));
        assertThrows(NativeSyntaxException.class, () -> script("DELIMITER\nSELECT 1;"));
    }
}
