package dev.cantina.nativecode.postgresql;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.runtime.Program;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class PgClockTest {
    private static String sent(String sql) {
        return PgClock.looked(sql);
    }

    private static String body(String body) {
        String head = "CREATE FUNCTION f() RETURNS void LANGUAGE plpgsql AS $$ BEGIN ";
        String sent = sent(head + body + " END $$");
        assertTrue(sent.startsWith(head), sent);
        return sent.substring(head.length(), sent.length() - " END $$".length());
    }

    /** What is said where a text is run with these scripts there. */
    private static List<String> obstacles(String run, String... scripts) {
        List<Source> sources = List.of(scripts).stream().map(s -> new Source("r.sql", s)).toList();
        PgClock clock = new PgClock(sources);
        clock.clocked(sources);
        try {
            clock.sent(run);
            return List.of();
        } catch (Program.UnsoundException e) {
            return e.problems().stream().map(Problem::message).toList();
        }
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "SELECT now()|SELECT cantina_clock.now()",
                "SELECT NOW ( )|SELECT cantina_clock.NOW ( )",
                "SELECT pg_catalog.now()|SELECT cantina_clock.now()",
                "SELECT \"now\"()|SELECT cantina_clock.\"now\"()",
                "SELECT Current_Date|SELECT cantina_clock.\"current_date\"()",
                "SELECT CURRENT_TIMESTAMP (3)|SELECT cantina_clock.\"current_timestamp\" (3)",
                "SELECT localtime, LOCALTIMESTAMP(0)"
                        + "|SELECT cantina_clock.\"localtime\"(), cantina_clock.\"localtimestamp\"(0)",
                "SELECT timeofday(), age(born)"
                        + "|SELECT cantina_clock.timeofday(), cantina_clock.age(born)",
                "SELECT a + age ((b))|SELECT a + cantina_clock.age ((b))",
                "CREATE TABLE t (at timestamptz DEFAULT now())"
                        + "|CREATE TABLE t (at timestamptz DEFAULT cantina_clock.now())"
            })
    void whatTellsTheTimeTellsTheOneThatIsSet(String sql, String sent) {
        assertEquals(sent, sent(sql));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "SELECT now FROM t",
                "SELECT t.now, t.current_date FROM t",
                "SELECT 1 AS current_date",
                "SELECT mine.now()",
                "SELECT age(a, b)",
                "SELECT 'now()', $$ current_date $$, \"current_date\"",
                "SELECT 1 -- now()",
                "SELECT /* CURRENT_DATE /* now() */ */ 1",
                "CREATE TABLE age (id int)",
                "INSERT INTO age (id) VALUES (1)",
                "CREATE INDEX ON age (id)",
                "WITH age (id) AS (SELECT 1) SELECT * FROM age",
                "DROP FUNCTION now()",
                "COMMENT ON TABLE t IS 'today'"
            })
    void whatDoesNotStaysAsItIs(String sql) {
        assertEquals(sql, sent(sql));
        assertEquals(List.of(), obstacles(sql));
    }

    @Test
    void bodiesInAnyQuotesAreRead() {
        assertEquals("x := cantina_clock.now();", body("x := now();"));
        assertEquals(
                "CREATE FUNCTION f() RETURNS text LANGUAGE sql AS"
                        + " 'SELECT ''now()'' || cantina_clock.now()'",
                sent(
                        "CREATE FUNCTION f() RETURNS text LANGUAGE sql AS"
                                + " 'SELECT ''now()'' || now()'"));
        assertEquals(
                "CREATE FUNCTION f(d date DEFAULT cantina_clock.\"current_date\"()) RETURNS date"
                        + " BEGIN ATOMIC SELECT d - cantina_clock.\"current_date\"(); END",
                sent(
                        "CREATE FUNCTION f(d date DEFAULT current_date) RETURNS date"
                                + " BEGIN ATOMIC SELECT d - current_date; END"));
        assertEquals(
                "DO $$ BEGIN PERFORM cantina_clock.now(); END $$",
                sent("DO $$ BEGIN PERFORM now(); END $$"));
    }

    @Test
    void aTextThatIsExecutedIsReadToo() {
        assertEquals(
                "EXECUTE 'SELECT cantina_clock.now(), ''now()''' INTO x USING 'now()';",
                body("EXECUTE 'SELECT now(), ''now()''' INTO x USING 'now()';"));
        assertEquals(
                "FOR r IN EXECUTE cantina_clock.checked((format('SELECT cantina_clock.\"current_date\"(),"
                        + " %L', y))::pg_catalog.text) LOOP",
                body("FOR r IN EXECUTE format('SELECT current_date, %L', y) LOOP"));
        assertEquals(
                "EXECUTE $x$ SELECT cantina_clock.now() $x$;",
                body("EXECUTE $x$ SELECT now() $x$;"));
        assertEquals(
                "q := 'SELECT now()'; EXECUTE cantina_clock.checked((q || f(1, 2))::pg_catalog.text)"
                        + " INTO x USING q;",
                body("q := 'SELECT now()'; EXECUTE q || f(1, 2) INTO x USING q;"));
    }

    @Test
    void aMessageMaySayWhatItWants() {
        String routine =
                "CREATE FUNCTION f() RETURNS void LANGUAGE plpgsql AS $$ BEGIN"
                        + " RAISE NOTICE 'now() is %, not today', 'now'; EXECUTE 'SELECT 1'; END $$";
        assertEquals(List.of(), obstacles("SELECT f()", routine));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "d := 'today';",
                "d := date 'Tomorrow';",
                "d := ' now '::timestamptz;",
                "d := 'yesterday 10:00'::timestamp;",
                "d := $q$ today $q$;",
                "d := E'tod\\141y';",
                "d := U&'tod\\0061y';",
                "EXECUTE 'SELECT ''today''::date' INTO d;",
                "EXECUTE E'SELECT now()';",
                "RESET ALL;",
                "DISCARD ALL;"
            })
    void whatMayAskTheServerAllTheSameIsAnObstacle(String body) {
        List<String> said =
                obstacles(
                        "SELECT f()",
                        "CREATE FUNCTION f() RETURNS void LANGUAGE plpgsql AS $$ BEGIN "
                                + body
                                + " END $$");
        assertEquals(1, said.size(), said.toString());
        assertTrue(said.get(0).contains("the time can't be set here"), said.get(0));
    }

    @Test
    void aFunctionOfTheSameNameIsAnObstacleWhereItIsCalled() {
        String own = "CREATE FUNCTION age(n int) RETURNS int LANGUAGE sql AS 'SELECT n'";
        assertEquals(List.of(), obstacles("SELECT 1", own));
        String view = "CREATE VIEW v AS SELECT age(1)";
        assertEquals(1, obstacles("TABLE v", own, view).size());
        assertEquals(List.of(), obstacles("SELECT f(1)", own, view));
    }

    @Test
    void whatIsWrittenInAnotherLanguageIsAnObstacleWhereItMayAsk() {
        assertEquals(
                1,
                obstacles(
                                "SELECT f()",
                                "CREATE FUNCTION f() RETURNS text LANGUAGE plother AS"
                                        + " $$ run('SELECT now()') $$")
                        .size());
        assertEquals(
                List.of(),
                obstacles(
                        "SELECT f()",
                        "CREATE FUNCTION f() RETURNS text LANGUAGE plother AS $$ 1 $$"));
    }

    private static final String TODAY =
            "CREATE FUNCTION f() RETURNS date LANGUAGE plpgsql AS $$ BEGIN RETURN 'today'; END $$";

    private static String calling(String name, String body) {
        return "CREATE FUNCTION "
                + name
                + "() RETURNS trigger LANGUAGE plpgsql AS 'BEGIN "
                + body.replace("'", "''")
                + " END'";
    }

    @Test
    void whatIsNotSetOffIsNoObstacle() {
        String other = calling("g", "PERFORM 1;");
        assertEquals(List.of(), obstacles("SELECT g()", TODAY, other));
        assertEquals(List.of(), obstacles("SELECT 'f()' -- f()", TODAY, other));
        assertEquals(1, obstacles("SELECT g(), \"f\"()", TODAY, other).size());
    }

    @Test
    void whatIsSetOffInTurnIsOne() {
        String table = "CREATE TABLE a (id int)";
        String g = calling("g", "PERFORM h();");
        String h = calling("h", "INSERT INTO Public.A VALUES (1);");
        String trigger = "CREATE TRIGGER t BEFORE INSERT ON a EXECUTE FUNCTION k()";
        String k = calling("k", "NEW.d := f();");
        assertEquals(1, obstacles("SELECT g()", table, g, h, trigger, k, TODAY).size());
        assertEquals(List.of(), obstacles("SELECT g()", table, g, h, k, TODAY));
        String cascade = "CREATE TABLE b (a int REFERENCES a ON DELETE CASCADE)";
        String far = "CREATE TRIGGER t AFTER DELETE ON b EXECUTE FUNCTION k()";
        assertEquals(1, obstacles("DELETE FROM a", table, cascade, far, k, TODAY).size());
        String view = "CREATE VIEW v AS SELECT f() AS d";
        assertEquals(1, obstacles("TABLE v", view, TODAY).size());
        String executes = calling("x", "EXECUTE q;");
        assertEquals(1, obstacles("SELECT x()", executes, TODAY).size());
        String plain =
                "CREATE FUNCTION x() RETURNS int LANGUAGE plpgsql AS"
                        + " $$ BEGIN EXECUTE 'SELECT g(''f()'')' USING f; END $$";
        assertEquals(0, obstacles("SELECT x()", plain, h, TODAY.replace(" f()", " e()")).size());
        String names = calling("x", "EXECUTE 'SELECT f()' INTO x;");
        assertEquals(1, obstacles("SELECT x()", names, TODAY).size());
        String operator = "CREATE OPERATOR ## (FUNCTION = f, RIGHTARG = int)";
        assertEquals(1, obstacles("SELECT ## 1", operator, TODAY).size());
    }

    @Test
    void whatIsTypedMayAskToo() {
        assertEquals(1, obstacles("SELECT date 'today'").size());
        assertEquals("SELECT date 'today'", PgClock.looked("SELECT date 'today'"));
    }
}
