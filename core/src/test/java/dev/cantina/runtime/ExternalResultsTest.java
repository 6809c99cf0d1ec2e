package dev.cantina.runtime;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.Lab;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** Java procedures that use their caller's connection and hand out rows (ISO/IEC 9075-13). */
class ExternalResultsTest {
    private static final String TABLES =
            "CREATE TABLE item (id INTEGER PRIMARY KEY, name VARCHAR(9)); INSERT INTO item VALUES (1, 'cork'), (2, 'lees');";
    private static final String OWN = ExternalResultsTest.class.getName();

    /** The rows from a number on, and how many there are in all. */
    public static void from(int least, long[] all, ResultSet[] first, ResultSet[] second)
            throws SQLException {
        try (Connection connection = DriverManager.getConnection("jdbc:default:connection")) {
            first[0] =
                    connection
                            .createStatement()
                            .executeQuery("SELECT name FROM item WHERE id >= " + least);
            try (ResultSet row =
                    connection.createStatement().executeQuery("SELECT COUNT(*) FROM item")) {
                row.next();
                all[0] = row.getLong(1);
            }
        }
    }

    public static void add(int id) throws SQLException {
        try (Connection connection = DriverManager.getConnection("jdbc:default:connection")) {
            connection.createStatement().executeUpdate("INSERT INTO item VALUES (" + id + ", 'x')");
        }
    }

    public static void commits() throws SQLException {
        try (Connection connection = DriverManager.getConnection("jdbc:default:connection")) {
            connection.commit();
        }
    }

    private static Lab lab() {
        return new Lab(
                TABLES,
                "CREATE PROCEDURE from_on (IN least INTEGER, OUT n BIGINT) LANGUAGE JAVA PARAMETER STYLE JAVA"
                        + " DYNAMIC RESULT SETS 2 EXTERNAL NAME '"
                        + OWN
                        + ".from';"
                        + "CREATE PROCEDURE put (IN id INTEGER) LANGUAGE JAVA PARAMETER STYLE JAVA EXTERNAL NAME '"
                        + OWN
                        + ".add';"
                        + "CREATE PROCEDURE commits () LANGUAGE JAVA PARAMETER STYLE JAVA EXTERNAL NAME '"
                        + OWN
                        + ".commits';"
                        + "CREATE PROCEDURE p (OUT n BIGINT) BEGIN CALL put(7); CALL from_on(2, n); END;");
    }

    @Test
    void resultSetsAreHandedOut() {
        try (Lab lab = lab()) {
            assertTrue(lab.check().isEmpty(), lab.check().toString());
            Outcome outcome = lab.call("from_on", Map.of("least", 2));
            assertEquals(2L, outcome.out().get("n"));
            assertEquals(1, outcome.results().size());
            assertEquals("lees", outcome.results().get(0).rows().get(0)[0]);
        }
    }

    @Test
    void whatJavaChangesIsPartOfTheRun() {
        try (Lab lab = lab()) {
            Outcome outcome = lab.call("p", Map.of());
            assertEquals(3L, outcome.out().get("n"));
            assertEquals(2, outcome.results().get(0).rows().size());
            assertEquals(1, TableChanges.of(outcome.events()).get(0).added().size());
        }
    }

    @Test
    void theTransactionIsNotJavasToEnd() {
        try (Lab lab = lab()) {
            assertEquals("2D000", lab.call("commits", Map.of()).condition().get().sqlstate());
        }
    }

    /** A class that does something as soon as it is made ready. */
    public static final class Eager {
        static {
            System.setProperty("cantina.test.eager", "yes");
        }

        private Eager() {}

        public static int same(int n) {
            return n;
        }
    }

    @Test
    void checkingRunsNothingOfAClass() {
        try (Lab lab =
                new Lab(
                        "",
                        "CREATE FUNCTION same (n INTEGER) RETURNS INTEGER LANGUAGE JAVA PARAMETER"
                                + " STYLE JAVA NO SQL EXTERNAL NAME '"
                                + OWN
                                + "$Eager.same';")) {
            assertEquals(List.of(), lab.check());
            assertEquals(null, System.getProperty("cantina.test.eager"));
            assertEquals(4L, lab.call("same", Map.of("n", 4L)).returned());
            assertEquals("yes", System.getProperty("cantina.test.eager"));
        } finally {
            System.clearProperty("cantina.test.eager");
        }
    }

    @Test
    void noClassOfJavasOwnIsARoutine() {
        for (String name : List.of("java.lang.System.getenv", "java.lang.Integer.parseInt")) {
            try (Lab lab =
                    new Lab(
                            "",
                            "CREATE FUNCTION f (s VARCHAR(20)) RETURNS VARCHAR(99) LANGUAGE JAVA"
                                    + " PARAMETER STYLE JAVA NO SQL EXTERNAL NAME '"
                                    + name
                                    + "';")) {
                assertEquals("unknown-external", lab.check().get(0).rule(), name);
            }
        }
    }
}
