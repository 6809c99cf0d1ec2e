package dev.cantina.runtime;

import static org.junit.jupiter.api.Assertions.assertEquals;

import dev.cantina.Lab;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

/** Routines too large for one method of the JVM. */
class LargeRoutineTest {
    private static final String TABLES = "CREATE TABLE item (id INTEGER PRIMARY KEY);";

    private static String repeat(int times, String statement) {
        return IntStream.range(0, times)
                .mapToObj(i -> statement.replace("#", String.valueOf(i)))
                .collect(Collectors.joining("\n"));
    }

    private static Object run(String body) {
        String routine = "CREATE PROCEDURE p (INOUT n BIGINT)\nBEGIN\n" + body + "\nEND;";
        try (Lab lab = new Lab(TABLES, routine)) {
            Outcome outcome = lab.call("p", Map.of("n", 0L));
            return outcome.condition().isPresent()
                    ? outcome.condition().get().sqlstate()
                    : outcome.out().get("n");
        }
    }

    @Test
    void thousandsOfStatementsRunInOrder() {
        assertEquals(4000L, run(repeat(4000, "IF n = # THEN SET n = n + 1; END IF;")));
    }

    @Test
    void thousandsOfVariablesKeepTheirValues() {
        assertEquals(
                2999L + 17,
                run(repeat(3000, "DECLARE v# INTEGER DEFAULT #;") + "SET n = v2999 + v17;"));
    }

    @Test
    void aLongListOfValuesIsLookedThrough() {
        String list = repeat(8000, "#,") + "-1";
        assertEquals(
                2L,
                run(
                        "IF 7999 IN ("
                                + list
                                + ") THEN SET n = n + 1; END IF; IF n + 8000 NOT IN ("
                                + list
                                + ") THEN SET n = n + 1; END IF;"));
    }

    @Test
    void jumpsLeadOutOfLongBodies() {
        String filler = repeat(300, "SET n = n + 1;");
        assertEquals(
                300L * 3 + 1000,
                run(
                        "turns: LOOP\n"
                                + filler
                                + "IF n >= 900 THEN LEAVE turns; END IF;"
                                + "ITERATE turns; SET n = -1;\nEND LOOP;\nSET n = n + 1000;"));
        assertEquals(300L, run(filler + "RETURN;" + filler));
        assertEquals(
                600L,
                run(
                        "outside: BEGIN\nWHILE TRUE DO\n"
                                + filler
                                + "IF n = 600 THEN LEAVE outside; END IF; END WHILE; END;"));
    }

    @Test
    void handlersGuardAllOfALongBlock() {
        String filler = repeat(300, "SET n = n + 1;");
        assertEquals(
                301L + 10,
                run(
                        "BEGIN DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' SET n = n + 10;\n"
                                + filler
                                + "SET n = n / 0; SET n = n + 1; END;"));
        assertEquals(
                300L + 10,
                run(
                        "BEGIN DECLARE EXIT HANDLER FOR SQLSTATE '22012' SET n = n + 10;\n"
                                + filler
                                + "SET n = n / 0; SET n = n + 1; END;"));
        assertEquals("22012", run(filler + "SET n = n / 0;"));
    }

    @Test
    void anAtomicBlockThatIsLongIsUndoneWhole() {
        String filler = repeat(300, "SET n = n + 1;");
        assertEquals(
                0L,
                run(
                        "BEGIN DECLARE EXIT HANDLER FOR SQLSTATE '45001' SET n = 0;\n"
                                + "BEGIN ATOMIC INSERT INTO item VALUES (1);"
                                + filler
                                + "INSERT INTO item VALUES (2); SIGNAL SQLSTATE '45001'; END; END;\n"
                                + "SET n = (SELECT COUNT(*) FROM item);"));
    }
}
