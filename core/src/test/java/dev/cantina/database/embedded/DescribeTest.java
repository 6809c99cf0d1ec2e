package dev.cantina.database.embedded;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertInstanceOf;

import dev.cantina.catalog.Describer.Answer;
import dev.cantina.syntax.Source;
import dev.cantina.types.SqlType;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What the engine is asked once for statements that look alike, and what it is asked again. */
class DescribeTest {
    private EmbeddedDatabase database;

    @BeforeEach
    void open() throws Exception {
        database = EmbeddedDatabase.open();
        database.create(
                new Source("t.sql", "CREATE TABLE t (id INTEGER PRIMARY KEY, name VARCHAR(20));"));
    }

    @AfterEach
    void close() throws Exception {
        database.close();
    }

    private SqlType first(String sql) {
        Answer answer = database.describe(List.of(sql), List.of());
        return assertInstanceOf(Answer.Taken.class, answer).columns().get(0).type();
    }

    @Test
    void aLengthIsNotAnotherNumber() {
        assertEquals("VARCHAR(5)", first("SELECT CAST(name AS VARCHAR(5)) FROM t").sql());
        assertEquals("VARCHAR(9)", first("SELECT CAST(name AS VARCHAR(9)) FROM t").sql());
        assertEquals(SqlType.INTEGER, first("SELECT 1000000000 FROM t WHERE id = 1"));
        assertEquals(SqlType.BIGINT, first("SELECT 3000000000 FROM t WHERE id = 1"));
    }

    @Test
    void whatIsComparedWithChangesNothing() {
        assertEquals(SqlType.INTEGER, first("SELECT id FROM t WHERE id > 15 AND id <= 20"));
        assertEquals(SqlType.INTEGER, first("SELECT id FROM t WHERE id > 16 AND id <= 29"));
    }

    @Test
    void aColumnThatIsMadeLaterIsSeen() throws Exception {
        assertInstanceOf(
                Answer.Refused.class, database.describe(List.of("SELECT v FROM t"), List.of()));
        database.create(new Source("t.sql", "ALTER TABLE t ADD COLUMN v INTEGER;"));
        database.schemaChanged();
        assertEquals(SqlType.INTEGER, first("SELECT v FROM t"));
    }
}
