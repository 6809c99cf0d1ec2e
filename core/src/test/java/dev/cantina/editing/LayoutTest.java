package dev.cantina.editing;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.ConformanceTest;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.SqlWords;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

class LayoutTest {
    private static String laid(String text) {
        return Layout.of(Parser.parse(new Source("x.sql", text))).orElseThrow();
    }

    /** A text with all its lines at the left, laid out, is the text. */
    private static void restores(String text) {
        String flat =
                text.lines()
                        .map(l -> l.startsWith("      |") ? l : l.stripLeading())
                        .reduce("", (a, b) -> a + b + "\n");
        assertEquals(text, laid(flat));
        assertEquals(text, laid(text));
    }

    @Test
    void linesEndAsTheyDid() {
        String text = "CREATE PROCEDURE p (OUT r INTEGER)\r\nBEGIN\r\n  SET r = 1;\r\nEND;\r\n";
        assertEquals(text, laid(text.replace("  SET", "SET")));
        assertEquals(text, laid(text.replace("END;\r\n", "END;")));
        String mixed = "CREATE PROCEDURE p (OUT r INTEGER)\r\nBEGIN\n  SET r = 1;\r\nEND;\n";
        assertEquals(mixed.replace("END;\n", "END;\r\n"), laid(mixed));
    }

    @Test
    void blocksBranchesLoopsAndHandlers() {
        restores(
                """
                -- Says how much.
                CREATE PROCEDURE p (IN n INTEGER, OUT r INTEGER)
                BEGIN
                  DECLARE i INTEGER DEFAULT 0;
                  -- Whatever happens.
                  DECLARE EXIT HANDLER FOR SQLEXCEPTION
                  BEGIN
                    SET r = -1;
                    RESIGNAL;
                  END;
                  DECLARE CONTINUE HANDLER FOR NOT FOUND SET r = 0;

                  IF n IS NULL THEN
                    SET r = 0;
                  ELSEIF n < 0 THEN
                    -- Nothing.
                    SET r = -n;
                  ELSE
                    SET r = n;
                  END IF;
                  outer_one: WHILE i < n DO
                    SET i = i + 1;
                    CASE i
                      WHEN 1 THEN
                        SET r = 1;
                      WHEN 2 THEN
                        BEGIN ATOMIC
                          SET r = 2;
                        END;
                      ELSE
                        LEAVE outer_one;
                    END CASE;
                    -- and so on
                  END WHILE outer_one;
                  REPEAT
                    SET i = CASE WHEN i > 0 THEN i - 1 ELSE 0 END;
                  UNTIL i = 0
                  END REPEAT;
                  FOR x AS SELECT id FROM t DO
                    SET r = r + x.id;
                  END FOR;
                  l: LOOP
                    LEAVE l;
                  END LOOP l;
                END;
                """);
    }

    @Test
    void modulesAndTriggers() {
        restores(
                """
                CREATE MODULE cellar
                  DECLARE turns INTEGER DEFAULT 0;
                  PROCEDURE turn ()
                  BEGIN
                    SET turns = turns + 1;
                  END;
                  FUNCTION twice (x INTEGER) RETURNS INTEGER RETURN x * 2;
                END MODULE;

                CREATE TRIGGER noted AFTER UPDATE ON t FOR EACH ROW
                BEGIN
                  INSERT INTO log VALUES (1);
                END;
                """);
    }

    @Test
    void theLinesOfAStatementStandToItsFirstAsTheyDid() {
        assertEquals(
                """
                CREATE PROCEDURE p ()
                BEGIN
                    UPDATE t SET v = 1
                     WHERE id = 2
                       AND v = CASE WHEN v > 1
                                    THEN 3 END;
                    MERGE INTO t USING s ON (t.id = s.id)
                      WHEN MATCHED THEN UPDATE SET v = 2;
                    IF 1 = 1 THEN
                        DELETE FROM t;
                    END IF;
                END;
                """,
                laid(
                        """
                        CREATE PROCEDURE p ()
                        BEGIN
                            UPDATE t SET v = 1
                             WHERE id = 2
                               AND v = CASE WHEN v > 1
                                            THEN 3 END;
                         MERGE INTO t USING s ON (t.id = s.id)
                           WHEN MATCHED THEN UPDATE SET v = 2;
                          IF 1 = 1 THEN
                          DELETE FROM t;
                             END IF;
                              END;
                        """));
    }

    @Test
    void blanksAtEndsGoAndTextsInQuotesStay() {
        assertEquals(
                "CREATE PROCEDURE p ()\nBEGIN\n  REPORT 'a  \n     b  ';\n\n  REPORT 'c';\nEND;\n",
                laid("CREATE PROCEDURE p ()   \nBEGIN\n\tREPORT 'a  \n     b  ';  \n\n\n\n\tREPORT 'c';\nEND;\n\n\n")
                        .replace("    REPORT", "  REPORT"));
    }

    @Test
    void whatCantBeReadIsLeftAlone() {
        assertEquals(
                Optional.empty(),
                Layout.of(Parser.parse(new Source("x.sql", "CREATE PROCEDURE p ( BEGIN"))));
    }

    @Test
    void theDemoIsLaidOutAlready() throws IOException {
        try (Stream<Path> files = Files.walk(Path.of("../demo/winery/routines"))) {
            for (Path path : files.filter(p -> p.toString().endsWith(".sql")).toList()) {
                String text = Files.readString(path);
                assertEquals(text, laid(text), path.toString());
            }
        }
    }

    /** No word of any program is lost, and a text that is laid out stays as it is. */
    @Test
    void everyProgramOfTheSuiteKeepsItsWords() throws IOException {
        List<ConformanceTest.Section> sections = ConformanceTest.sections();
        int laid = 0;
        for (ConformanceTest.Section section : sections) {
            ParsedFile parsed = Parser.parse(new Source("x.sql", section.routines()));
            Optional<String> once = Layout.of(parsed);
            if (once.isEmpty()) {
                continue;
            }
            laid++;
            assertEquals(words(section.routines()), words(once.get()), section.behaviour());
            assertEquals(once.get(), laid(once.get()), section.behaviour());
        }
        assertTrue(laid > 900, laid + " of " + sections.size());
    }

    private static List<String> words(String text) {
        return SqlWords.of(text).all().stream().map(SqlWords.Word::text).toList();
    }
}
