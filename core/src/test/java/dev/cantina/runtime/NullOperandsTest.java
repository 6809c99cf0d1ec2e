package dev.cantina.runtime;

import static org.junit.jupiter.api.Assertions.assertEquals;

import dev.cantina.Lab;
import dev.cantina.types.Condition;
import java.util.Collections;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/**
 * What stands beside a NULL is worked out all the same, so that its error is not hidden. MariaDB
 * leaves some of it out, so this is not in the conformance programs.
 */
class NullOperandsTest {
    private static String state(String expression, String type) {
        String routines =
                "CREATE FUNCTION loud (x INTEGER) RETURNS INTEGER BEGIN SIGNAL SQLSTATE '45009';"
                        + " RETURN x; END;"
                        + "CREATE FUNCTION words (x INTEGER) RETURNS VARCHAR(5) BEGIN SIGNAL SQLSTATE"
                        + " '45009'; RETURN 'x'; END;"
                        + "CREATE PROCEDURE p (IN n INTEGER, OUT r "
                        + type
                        + ")\nBEGIN\n"
                        + "  DECLARE big INTEGER DEFAULT 2147483647;\n"
                        + "  DECLARE t VARCHAR(5);\n"
                        + "  DECLARE d DECIMAL(8, 2);\n"
                        + "  DECLARE b BOOLEAN;\n"
                        + "  SET r = "
                        + expression
                        + ";\nEND;";
        try (Lab lab = new Lab("", routines)) {
            return lab.call("p", Collections.singletonMap("n", null))
                    .condition()
                    .map(Condition::sqlstate)
                    .orElse("none");
        }
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource(
            delimiterString = " | ",
            value = {
                "n + loud(1) | INTEGER | 45009",
                "n - loud(1) * 2 | INTEGER | 45009",
                "n / loud(1) | INTEGER | 45009",
                "MOD(n, loud(1)) | INTEGER | 45009",
                "d + loud(1) | DECIMAL(8, 2) | 45009",
                "d + CAST(big AS DECIMAL(8, 2)) | DECIMAL(8, 2) | 22003",
                "(d + d) + (ROUND(d, 1) - CAST(big AS DECIMAL(8, 2))) | DECIMAL(8, 2) | 22003",
                "n + 1 / (big - big) | INTEGER | 22012",
                "n > loud(1) | BOOLEAN | 45009",
                "t || words(1) | VARCHAR(9) | 45009",
                "t = words(1) | BOOLEAN | 45009",
                "t || CAST('a' AS INTEGER) | VARCHAR(9) | 22018",
                "n BETWEEN 1 AND loud(1) | BOOLEAN | 45009",
                "n + 1 | INTEGER | none",
                "n + big | INTEGER | none",
                "d * big | DECIMAL(8, 2) | none",
                "FALSE AND loud(1) = 1 | BOOLEAN | none",
                "TRUE OR loud(1) = 1 | BOOLEAN | none",
                "COALESCE(1, loud(1)) | INTEGER | none",
                "CASE WHEN n = 1 THEN loud(1) ELSE 2 END | INTEGER | none",
            })
    void isWorkedOut(String expression, String type, String state) {
        assertEquals(state, state(expression, type));
    }
}
