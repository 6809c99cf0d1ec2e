package dev.cantina.database.mariadb;

import static org.junit.jupiter.api.Assertions.assertEquals;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class MariaStatementRewriterTest {
    @ParameterizedTest
    @CsvSource(
            delimiter = '#',
            quoteCharacter = '^',
            value = {
                "SELECT 'a' || b + 1 FROM t # SELECT 'a' || (b + 1) FROM t",
                "SELECT a * 2 || 'x' || f(b, c) / d AS e FROM t"
                        + " # SELECT (a * 2) || 'x' || (f(b, c) / d) AS e FROM t",
                "SELECT 1 WHERE NOT 'k' || t.a - -1 = 'k3' AND b # "
                        + "SELECT 1 WHERE NOT 'k' || (t.a - -1) = 'k3' AND b",
                "SELECT CASE WHEN a THEN 1 ELSE 2 END + 1 || 'x' # "
                        + "SELECT (CASE WHEN a THEN 1 ELSE 2 END + 1) || 'x'",
                "INSERT INTO t VALUES (? || ? % 3, 'a') # INSERT INTO t VALUES (? || (? % 3), 'a')",
                "SELECT 'a' || DATE '2024-01-01' - INTERVAL '1' DAY || b # "
                        + "SELECT 'a' || (DATE '2024-01-01' - INTERVAL '1' DAY) || b",
            })
    void aSumBesideTheSignOfTextsStaysTogether(String written, String said) {
        assertEquals(said, MariaStatementRewriter.words(written));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "SELECT a || b || f(c + 1) FROM t",
                "SELECT (a + 1) || -b, c * 2 FROM t",
                "SELECT 'a || 1 + 2' FROM t -- || 3 * 4",
                "SELECT a || \"b + 1\" || \"c\" FROM t",
                "SELECT *, a || b FROM t WHERE c + 1 > 2",
            })
    void whatIsOneValueStaysAsItWasWritten(String sql) {
        assertEquals(sql, MariaStatementRewriter.words(sql));
    }
}
