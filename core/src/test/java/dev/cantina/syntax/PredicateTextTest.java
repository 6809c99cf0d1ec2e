package dev.cantina.syntax;

import static org.junit.jupiter.api.Assertions.assertEquals;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class PredicateTextTest {
    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "a > 5 | true",
                "a > 5 big | true",
                "a > 5 AS \"so big\" | true",
                "(a = b) | true",
                "((a = b)) AS x | true",
                "a IS NOT NULL | true",
                "NOT done | true",
                "a IN (1, 2) | true",
                "a NOT LIKE 'x%' | true",
                "EXISTS (SELECT 1 FROM t) | true",
                "(SELECT 1) = 1 AND b | true",
                "TRUE | true",
                "UNKNOWN AS u | true",
                "CASE WHEN a = 1 THEN TRUE ELSE FALSE END | true",
                "CASE a WHEN 1 THEN b < 2 WHEN 2 THEN NULL END AS c | true",
                "CASE WHEN a THEN CASE WHEN b THEN TRUE END ELSE c = 1 END | true",
                "COALESCE(a = 1, FALSE) | true",
                "COALESCE(NULL, a = 1) | true",
                "a | false",
                "a b | false",
                "1 | false",
                "1 AS is_one | false",
                "NULL | false",
                "'a = b' | false",
                "\"a = b\" | false",
                "f(a = b) | false",
                "COUNT(*) | false",
                "SUM(CASE WHEN a = 1 THEN 1 ELSE 0 END) | false",
                "CASE WHEN a = 1 THEN 1 ELSE 0 END | false",
                "CASE WHEN a = 1 THEN 'x' WHEN TRUE THEN 'y' END | false",
                "CASE WHEN a THEN TRUE ELSE 2 END | false",
                "CASE WHEN a THEN NULL END | false",
                "COALESCE(a, FALSE) | false",
                "(SELECT COUNT(*) FROM t WHERE a = 1) | false",
                "(SELECT COUNT(*) FROM t WHERE a = 1) > 1 | true",
                "CASE WHEN a | false",
                "( | false",
                "`` | false"
            })
    void isToldFromItsWords(String item, boolean predicate) {
        assertEquals(predicate, PredicateText.isPredicate(item == null ? "" : item));
    }
}
