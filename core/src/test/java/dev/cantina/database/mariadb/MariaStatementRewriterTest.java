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
    @CsvSource(
            delimiter = '#',
            value = {
                "SELECT CAST(a AS TIMESTAMP) FROM t; # SELECT CAST(a AS datetime(6)) FROM t;",
                "(id INTEGER, d TIMESTAMP) ON COMMIT PRESERVE ROWS"
                        + " # (id INTEGER, d datetime(6)) ON COMMIT PRESERVE ROWS",
                "CREATE VIEW v AS SELECT a || b + 1 AS c FROM t"
                        + " # CREATE VIEW v AS SELECT a || (b + 1) AS c FROM t",
                "TABLE t # SELECT * FROM t",
                "CURRENT_TIMESTAMP(3) # CURRENT_TIMESTAMP(3)",
                "DELETE FROM t AS x WHERE x.a = 1 # DELETE x FROM t AS x WHERE x.a = 1",
                "SELECT a FROM t WHERE b IS NOT DISTINCT FROM c # SELECT a FROM t WHERE b <=> c",
                "INSERT INTO t DEFAULT VALUES # INSERT INTO t () VALUES ()",
                "SELECT CURRENT_TIMESTAMP(), LOCALTIME() # SELECT CURRENT_TIMESTAMP(6), CURRENT_TIME",
                "SELECT CAST(a AS DOUBLE(5, 2)) # SELECT CAST(a AS DOUBLE(5, 2))",
                "SELECT REPLACE(a, 'x', NULL) # SELECT IF((NULL) IS NULL, NULL, REPLACE(a, 'x', NULL))",
                // What is not known is rewritten in the parts that are.
                "REPLACE INTO t VALUES (CAST(a AS CHAR(2)), b || c + 1)"
                        + " # REPLACE INTO t VALUES (RPAD(CAST(a AS CHAR), 2, ' '), b || (c + 1))",
                "INSERT INTO t (a) VALUES (1) ON DUPLICATE KEY UPDATE a = b || c + 1, d = LOCALTIMESTAMP"
                        + " # INSERT INTO t (a) VALUES (1) ON DUPLICATE KEY UPDATE a = b || (c + 1),"
                        + " d = CURRENT_TIMESTAMP(6)",
                "CREATE TABLE t (a INTEGER, b REAL, CHECK (b = CAST(a AS CHAR(2))))"
                        + " # CREATE TABLE t (a INTEGER, b float, CHECK (b = LEFT(CAST(a AS CHAR), 2)))",
                "SELECT 2 || a + INTERVAL 1 DAY FROM t # SELECT 2 || (a + INTERVAL 1 DAY) FROM t",
                "SELECT GROUP_CONCAT(a || b + 1 ORDER BY c SEPARATOR ',') FROM t"
                        + " # SELECT GROUP_CONCAT(a || (b + 1) ORDER BY c SEPARATOR ',') FROM t",
            })
    void aStatementIsSaidInTheServersWords(String written, String said) {
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
