package dev.cantina.database;

import static org.junit.jupiter.api.Assertions.assertEquals;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class PostgresWordsTest {
    private static String largest(String values) {
        return "(SELECT CASE WHEN count(v) = count(*) THEN max(v) END FROM (VALUES "
                + values
                + ") AS among (v))";
    }

    @Test
    void anExtremeIsNullWhereAValueIs() {
        assertEquals(
                "UPDATE t SET a = " + largest("(b - ?), (0)") + " WHERE c = 1",
                PostgresWords.of("UPDATE t SET a = GREATEST(b - ?, 0) WHERE c = 1"));
    }

    @Test
    void extremesInsideEachOtherToo() {
        assertEquals(
                "SELECT "
                        + largest("(" + largest("(1), (2)").replace("max", "min") + "), (f(3, 4))"),
                PostgresWords.of("SELECT greatest(LEAST(1, 2), f(3, 4))"));
    }

    @Test
    void aCommaInATextParts() {
        assertEquals(
                "SELECT " + largest("('a,)'), (b)"), PostgresWords.of("SELECT GREATEST('a,)', b)"));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "SELECT GREATEST(COUNT(*), 1) FROM t",
                "SELECT 'GREATEST(1, 2)' FROM t",
                "SELECT a -- GREATEST(1, 2)\nFROM t",
                "SELECT s.greatest(1, 2), greatest_of(1, 2) FROM t",
                "SELECT GREATEST(1, 2 FROM t",
                "SELECT \"GREATEST(\" FROM t",
            })
    void whatIsNoneStaysAsItWasWritten(String sql) {
        assertEquals(sql, PostgresWords.of(sql));
    }
}
