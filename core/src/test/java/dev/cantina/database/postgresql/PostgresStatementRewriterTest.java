package dev.cantina.database.postgresql;

import static org.junit.jupiter.api.Assertions.assertEquals;

import dev.cantina.catalog.Column;
import dev.cantina.catalog.Table;
import dev.cantina.types.SqlType;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class PostgresStatementRewriterTest {
    private static final Table TABLE =
            new Table(
                    "t",
                    "T",
                    List.of(
                            new Column(
                                    "id",
                                    "ID",
                                    SqlType.INTEGER,
                                    false,
                                    Optional.empty(),
                                    false,
                                    false),
                            new Column(
                                    "a",
                                    "A",
                                    SqlType.INTEGER,
                                    true,
                                    Optional.empty(),
                                    false,
                                    false)),
                    List.of(0),
                    List.of(),
                    false,
                    false);

    private static String of(String sql) {
        return PostgresStatementRewriter.of(sql, List.of(TABLE));
    }

    private static String largest(String values) {
        return "(SELECT CASE WHEN count(v) = count(*) THEN max(v) END FROM (VALUES "
                + values
                + ") AS among (v))";
    }

    @Test
    void anExtremeIsNullWhereAValueIs() {
        assertEquals(
                "UPDATE t SET a = " + largest("(b - ?), (0)") + " WHERE c = 1",
                of("UPDATE t SET a = GREATEST(b - ?, 0) WHERE c = 1"));
    }

    @Test
    void extremesInsideEachOtherToo() {
        assertEquals(
                "SELECT "
                        + largest("(" + largest("(1), (2)").replace("max", "min") + "), (f(3, 4))"),
                of("SELECT greatest(LEAST(1, 2), f(3, 4))"));
    }

    @Test
    void aCommaInATextParts() {
        assertEquals("SELECT " + largest("('a,)'), (b)"), of("SELECT GREATEST('a,)', b)"));
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
        assertEquals(sql, of(sql));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "SELECT a FROM t ORDER BY a | SELECT a FROM t ORDER BY a NULLS FIRST",
                "SELECT a FROM t ORDER BY a DESC, b LIMIT 1"
                        + " | SELECT a FROM t ORDER BY a DESC NULLS LAST, b NULLS FIRST LIMIT 1",
                "SELECT a FROM t order /* , */ by f(a, b) asc, id"
                        + " | SELECT a FROM t order /* , */ by f(a, b) asc NULLS FIRST, id",
                "SELECT a FROM t ORDER BY t.id DESC, t.a FOR UPDATE"
                        + " | SELECT a FROM t ORDER BY t.id DESC, t.a NULLS FIRST FOR UPDATE",
                "SELECT id FROM t LEFT JOIN u ON TRUE ORDER BY id"
                        + " | SELECT id FROM t LEFT JOIN u ON TRUE ORDER BY id NULLS FIRST",
                "SELECT a AS id FROM t ORDER BY id | SELECT a AS id FROM t ORDER BY id NULLS FIRST",
                "SELECT (SELECT b FROM u ORDER BY b) FROM t"
                        + " | SELECT (SELECT b FROM u ORDER BY b NULLS FIRST) FROM t",
                "SELECT RANK() OVER (ORDER BY a ROWS 1 PRECEDING) FROM t"
                        + " | SELECT RANK() OVER (ORDER BY a NULLS FIRST ROWS 1 PRECEDING) FROM t",
                "SELECT a FROM t ORDER BY a NULLS LAST | SELECT a FROM t ORDER BY a NULLS LAST",
            })
    void nullComesBeforeEveryValue(String written, String said) {
        assertEquals(said, of(written));
    }
}
