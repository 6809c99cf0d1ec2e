package dev.cantina.database.embedded;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.Lab;
import dev.cantina.database.DatabaseException;
import dev.cantina.runtime.Outcome;
import dev.cantina.syntax.Source;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** A project's own text changes tables and rows of its database, and reaches nothing outside. */
class EmbeddedRightsTest {
    private static final String REASON = "nothing in a project may do";

    @TempDir Path folder;

    /** Every statement and function of the engine that touches the world outside its tables. */
    static List<String> outside() {
        return List.of(
                "CREATE ALIAS x AS 'String f() { return System.getenv(\"HOME\"); }'",
                "CREATE ALIAS x FOR 'java.lang.System.getenv'",
                "CREATE AGGREGATE x FOR 'java.lang.String'",
                "CREATE TRIGGER x BEFORE INSERT ON t FOR EACH ROW CALL 'java.lang.String'",
                "CREATE TRIGGER x BEFORE INSERT ON t AS 'org.h2.api.Trigger f() { return null; }'",
                "CREATE LINKED TABLE x ('', 'jdbc:h2:mem:other', '', '', 'T')",
                "CREATE TABLE x AS SELECT * FROM CSVREAD('PATH')",
                "CREATE VIEW x AS SELECT * FROM CSVREAD('PATH')",
                "INSERT INTO t (a) SELECT * FROM CSVREAD('PATH')",
                "CREATE TABLE x (a INTEGER) AS SELECT CSVWRITE('PATH', 'SELECT 1')",
                "INSERT INTO t (a) VALUES (LENGTH(FILE_READ('PATH')))",
                "INSERT INTO t (a) VALUES (FILE_WRITE(X'00', 'PATH'))",
                "CREATE TABLE x AS SELECT * FROM LINK_SCHEMA('A', '', 'jdbc:h2:mem:o', '', '', 'P')",
                "SCRIPT",
                "SCRIPT TO 'PATH'",
                "RUNSCRIPT FROM 'PATH'",
                "BACKUP TO 'PATH'",
                "SHUTDOWN",
                "SHUTDOWN IMMEDIATELY",
                "DROP ALL OBJECTS",
                "DROP ALL OBJECTS DELETE FILES",
                "CREATE USER u PASSWORD 'x' ADMIN",
                "ALTER USER \"\" ADMIN TRUE",
                "CREATE ROLE r",
                "GRANT ALTER ANY SCHEMA TO PUBLIC",
                "CHECKPOINT SYNC",
                "CALL CANCEL_SESSION(1)",
                "CALL ABORT_SESSION(1)",
                "CALL MEMORY_USED()");
    }

    /** What would change how the engine works, whatever the rights. */
    static List<String> settings() {
        return List.of(
                "SET THROTTLE 1000",
                "set /* now */ LOCK_TIMEOUT 1",
                "SET QUERY_TIMEOUT 1",
                "SET NON_KEYWORDS VALUE",
                "SET MODE MySQL",
                "SET TRACE_LEVEL_FILE 3",
                "SET REFERENTIAL_INTEGRITY FALSE",
                "SET DATABASE_EVENT_LISTENER 'java.lang.String'",
                "SET PASSWORD 'x'",
                "SET @x = 1",
                "HELP",
                "PREPARE COMMIT x");
    }

    @ParameterizedTest
    @MethodSource("outside")
    void aTableScriptReachesNothingOutside(String statement) throws Exception {
        Path file = Files.writeString(folder.resolve("a.csv"), "1\n");
        try (EmbeddedDatabase database = EmbeddedDatabase.open()) {
            database.create(new Source("tables/a.sql", "CREATE TABLE t (a INTEGER);"));
            String sql = statement.replace("PATH", file.toString());
            DatabaseException refused =
                    assertThrows(
                            DatabaseException.class,
                            () -> {
                                database.create(new Source("tables/b.sql", sql + ";"));
                                // A view is judged when it is read.
                                database.create(new Source("c", "INSERT INTO t SELECT 1 FROM x;"));
                            });
            assertTrue(
                    refused.problem().message().contains(REASON)
                            || refused.problem().message().contains("no administrator"),
                    refused.problem().message());
            assertEquals("1\n", Files.readString(file));
        }
        assertEquals(List.of(file), Files.list(folder).toList());
    }

    @ParameterizedTest
    @MethodSource("outside")
    void aRoutineReachesNothingOutside(String statement) throws Exception {
        Path file = Files.writeString(folder.resolve("a.csv"), "1\n");
        String sql = statement.replace("PATH", file.toString());
        try (Lab lab =
                new Lab(
                        "CREATE TABLE t (a INTEGER);",
                        "CREATE PROCEDURE p (IN s VARCHAR(500), OUT n INTEGER) BEGIN EXECUTE"
                                + " IMMEDIATE s; SELECT COUNT(*) INTO n FROM t; END;")) {
            Outcome outcome = lab.call("p", Map.of("s", sql));
            boolean view = sql.startsWith("CREATE VIEW");
            assertTrue(view || outcome.kind() == Outcome.Kind.RAISED, outcome.toString());
            // The database is still there, for this run and for others.
            Outcome after = lab.call("p", Map.of("s", "INSERT INTO t (a) VALUES (1)"));
            assertEquals(Outcome.Kind.COMPLETED, after.kind(), sql);
        }
        assertEquals("1\n", Files.readString(file));
        assertEquals(List.of(file), Files.list(folder).toList());
    }

    @ParameterizedTest
    @MethodSource("settings")
    void settingsStayAsTheyAre(String statement) throws Exception {
        try (EmbeddedDatabase database = EmbeddedDatabase.open()) {
            DatabaseException refused =
                    assertThrows(
                            DatabaseException.class,
                            () -> database.create(new Source("tables/a.sql", statement + ";")));
            assertTrue(
                    refused.problem().message().contains("settings"), refused.problem().message());
        }
    }

    @Test
    void whatAProjectNeedsItMayDo() throws Exception {
        try (EmbeddedDatabase database = EmbeddedDatabase.open()) {
            database.create(
                    new Source(
                            "tables/a.sql",
                            "CREATE SCHEMA s; CREATE TABLE s.b (a INTEGER); SET SCHEMA PUBLIC;"
                                    + " CREATE DOMAIN d AS INTEGER CHECK (VALUE > 0);"
                                    + " CREATE TABLE t (a d PRIMARY KEY, b INTEGER DEFAULT 1);"
                                    + " CREATE INDEX i ON t (b); CREATE SEQUENCE q;"
                                    + " CREATE VIEW v AS SELECT a FROM t;"
                                    + " ALTER TABLE t ADD c INTEGER; COMMENT ON TABLE t IS 'x';"
                                    + " INSERT INTO t (a) VALUES (NEXT VALUE FOR q);"
                                    + " TRUNCATE TABLE s.b; DROP TABLE s.b;"));
            assertFalse(database.tables().isEmpty());
        }
    }
}
