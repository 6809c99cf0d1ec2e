package dev.cantina.catalog;

import static org.junit.jupiter.api.Assertions.assertEquals;

import dev.cantina.Lab;
import dev.cantina.syntax.Problem;
import java.util.Arrays;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What is left of a catalog for one run is never less than the run can set off. */
class ReachedCatalogTest {
    private static final String ROUTINES =
            """
            CREATE FUNCTION f (x INTEGER) RETURNS INTEGER RETURN x + 1;
            CREATE FUNCTION g (x INTEGER) RETURNS INTEGER RETURN F ( x ) * 2;
            CREATE FUNCTION g (x VARCHAR(5)) RETURNS INTEGER RETURN 0;
            CREATE FUNCTION "my f" (x INTEGER) RETURNS INTEGER RETURN x;
            CREATE FUNCTION unused (x INTEGER) RETURNS INTEGER RETURN x;
            CREATE FUNCTION fired (x INTEGER) RETURNS INTEGER RETURN x;
            CREATE PROCEDURE by_sql (OUT n INTEGER) SELECT MAX(g(k)) INTO n FROM t;
            CREATE PROCEDURE by_quotes (OUT n INTEGER)
              SELECT MAX(k) INTO n FROM t WHERE k > "my f"(1);
            CREATE PROCEDURE by_call (x INTEGER DEFAULT g(1)) CALL again(x);
            CREATE PROCEDURE again (x INTEGER) IF x > 0 THEN CALL by_call(x - 1); END IF;
            CREATE PROCEDURE anything (w VARCHAR(80)) EXECUTE IMMEDIATE w;
            CREATE PROCEDURE alone () BEGIN END;
            CREATE MODULE m
              PRIVATE FUNCTION own () RETURNS INTEGER RETURN f(1);
              PROCEDURE open () BEGIN END;
            END MODULE;
            CREATE TRIGGER tr BEFORE INSERT ON t REFERENCING NEW ROW AS n FOR EACH ROW
              SET n.k = fired(n.k);
            """;

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "alone | FIRED,ALONE",
                "by_sql | F,FIRED,G,G,BY_SQL",
                "BY_SQL n=1 | F,FIRED,G,G,BY_SQL",
                "by_quotes | F,FIRED,BY_QUOTES,my f",
                "by_call | F,FIRED,G,G,AGAIN,BY_CALL",
                "again | F,FIRED,G,G,AGAIN,BY_CALL",
                "m.open | F,FIRED,M.OPEN,M.OWN",
                "anything | everything",
            })
    void keepsWhatIsReached(String text, String expected) {
        Catalog whole;
        try (Lab lab = new Lab("CREATE TABLE t (k INTEGER PRIMARY KEY);", ROUTINES)) {
            assertEquals(List.of(), lab.check().stream().filter(Problem::isError).toList());
            whole = lab.program().catalog();
        }
        Catalog reached = whole.reachedFrom(text);
        List<String> keys = reached.routines().stream().map(RoutineSymbol::key).toList();
        String all = String.join(",", whole.routines().stream().map(RoutineSymbol::key).toList());
        Set<String> wanted =
                new TreeSet<>(
                        Arrays.asList((expected.equals("everything") ? all : expected).split(",")));
        assertEquals(wanted, new TreeSet<>(keys));
        assertEquals(whole.triggers(), reached.triggers());
    }
}
