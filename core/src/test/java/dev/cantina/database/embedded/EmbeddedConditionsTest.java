package dev.cantina.database.embedded;

import static org.junit.jupiter.api.Assertions.assertEquals;

import dev.cantina.Lab;
import dev.cantina.runtime.Limits;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** The standard's states where the engine has others, or none (ISO 9075-2, 6.13 and 6.30). */
class EmbeddedConditionsTest {
    private static final String ROUTINES =
            """
            CREATE PROCEDURE p (OUT st VARCHAR(5))
            BEGIN
              DECLARE d DOUBLE PRECISION;
              DECLARE EXIT HANDLER FOR SQLEXCEPTION
                GET DIAGNOSTICS CONDITION 1 st = RETURNED_SQLSTATE;
              SELECT %s INTO d FROM t;
              SET st = 'none';
            END;
            """;

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "SQRT(x) | 2201F",
                "ROUND(SQRT(x), 2) | 2201F",
                "POWER(x, 0.5) | 2201F",
                "LN(x) | 2201E",
                "LOG10(x + 4) | 2201E",
                "EXP(1000) | 22003",
                "ROUND(EXP(-250 * x), 2) | 22003",
                "CAST(250 * x AS DECIMAL(5, 2)) | 22003",
                "CAST(10000 * x AS SMALLINT) | 22003",
                "CAST('12x' AS INTEGER) | 22018",
                "SQRT(-x) | none",
                "x / 0 | 22012"
            })
    void areTheStandards(String expression, String state) {
        String table = "CREATE TABLE t (x INTEGER); INSERT INTO t VALUES (-4);";
        try (Lab lab = new Lab(table, ROUTINES.formatted(expression))) {
            assertEquals(
                    state,
                    lab.call("p", Map.of(), Limits.DEFAULT, Optional.empty()).out().get("st"));
        }
    }
}
