package dev.cantina.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.hosting.HostingException;
import dev.cantina.hosting.PrivateServer;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** The commands on projects in a server's own language: the demo's, and new ones. */
class NativeTest {
    @TempDir Path temporary;

    @AfterAll
    static void end() throws HostingException {
        PrivateServer.of("postgresql").stop();
        PrivateServer.of("mariadb").stop();
    }

    private Cli demo(String kind) throws IOException {
        Path from = Path.of("../demo/winery-" + kind);
        Path copy = temporary.resolve("winery");
        try (Stream<Path> all = Files.walk(from)) {
            for (Path path : all.sorted().toList()) {
                Files.copy(path, copy.resolve(from.relativize(path).toString()));
            }
        }
        return new Cli(copy);
    }

    private static String move(String kind) {
        return kind.equals("postgresql")
                ? "source=T1 target=C7 litres=120"
                : "p_source=T1 p_target=C7 p_litres=120";
    }

    private static Cli.Result run(Cli cli, String input, String line) {
        return cli.typing(input, line.split(" "));
    }

    private static void inOrder(String output, List<String> expected) {
        int at = 0;
        for (String one : expected) {
            int found = output.indexOf(one, at);
            assertTrue(found >= 0, one + " is not in, in order:\n" + output);
            at = found + one.length();
        }
    }

    @ParameterizedTest
    @ValueSource(strings = {"postgresql", "mariadb"})
    void theDemoIsCheckedCalledAndTested(String kind) throws IOException {
        Cli cli = demo(kind);
        inOrder(cli.run("check").out(), List.of("all well", "9 routines, 2 triggers"));
        Cli.Result call = run(cli, "", "call move_wine " + move(kind));
        assertEquals(0, call.code());
        inOrder(
                call.out(),
                List.of("120", "'T1'", "level_l 500.0 → 380.0", "'C7'", "100.0 → 220.0"));
        Cli.Result test = cli.run("test", "--coverage");
        assertEquals(ExitCode.FAILED, test.code(), test.out());
        inOrder(
                test.out(),
                List.of(
                        "move_wine",
                        "two months in a barrel",
                        "returns.lost  6.0       8.9",
                        "1 failed"));
        assertTrue(test.out().contains(" passed, 1 failed"), test.out());
    }

    @ParameterizedTest
    @ValueSource(strings = {"postgresql", "mariadb"})
    void theDemoIsDebuggedTracedAndProfiled(String kind) throws IOException {
        Cli cli = demo(kind);
        String words = Files.readString(cli.path("month.words"));
        Cli.Result debug =
                cli.typing(words, "debug", "--case", "two months in a barrel of 200 litres");
        inOrder(
                debug.out(),
                List.of("topping_loss stopped at", "the start", "breakpoint 1", "months", "8.9"));
        Cli.Result back =
                run(
                        cli,
                        "vars\npause on write to journal\ncontinue\nvars\nback\nstack\nquit\n",
                        "debug --fresh move_wine " + move(kind));
        inOrder(
                back.out(),
                List.of(
                        kind.equals("postgresql") ? "IN character varying " : "IN varchar(8) ",
                        "it has written to journal",
                        "level_l 380.0",
                        "gone back",
                        "vessel_journal",
                        "move_wine("));
        Cli.Result trace = run(cli, "", "trace move_wine " + move(kind));
        inOrder(
                trace.out(),
                List.of(
                        "move_wine(",
                        "UPDATE vessel",
                        "trigger vessel_journal",
                        "INSERT INTO journal",
                        "1 row",
                        "INSERT INTO movement"));
        Cli.Result profile =
                run(
                        cli,
                        "",
                        "profile settle_vintage "
                                + (kind.equals("postgresql")
                                        ? "year=2031"
                                        : "p_year=2031 at_most=9"));
        inOrder(profile.out(), List.of("The hottest lines", "amount_owed", "settle_vintage"));
    }

    @ParameterizedTest
    @ValueSource(strings = {"postgresql", "mariadb"})
    void aNewProjectRuns(String kind) {
        Cli cli = new Cli(temporary);
        assertEquals(0, cli.run("new", "--dialect", kind, "cellar").code());
        Cli.Result test = cli.run("--project", "cellar", "test");
        assertEquals(0, test.code(), test.out());
        assertTrue(test.out().contains("3 passed"), test.out());
    }

    @Test
    void whatIsNotThereIsSaid() throws IOException {
        Cli cli = demo("postgresql");
        Cli.Result agree = cli.run("agree", "somewhere");
        assertEquals(ExitCode.USAGE, agree.code());
        assertTrue(
                agree.err().contains("agree begins in a project of the standard language"),
                agree.err());
        Cli.Result ship = cli.run("ship", "somewhere");
        assertEquals(ExitCode.USAGE, ship.code());
        assertTrue(ship.err().contains("the project knows no database somewhere"), ship.err());
        assertTrue(
                cli.run("new", "--dialect", "other", "x").err().contains("postgresql or mariadb"));
        assertTrue(cli.run("server", "begin").err().contains("status or stop"));
    }

    @Test
    void aTimeThatIsSetIsSeenByAllThatPostgresRuns() throws IOException {
        Cli cli = new Cli(temporary);
        assertEquals(0, cli.run("new", "--dialect", "postgresql", ".").code());
        cli.write(
                "tables/visit.sql",
                "CREATE TABLE visit (id int, at timestamptz DEFAULT now(), day date);\n"
                        + "CREATE VIEW today AS SELECT id FROM visit WHERE day = CURRENT_DATE;\n");
        cli.write(
                "routines/visit.sql",
                """
                CREATE FUNCTION stamp() RETURNS trigger LANGUAGE plpgsql AS $$
                BEGIN NEW.day := clock_timestamp(); RETURN NEW; END $$;
                CREATE TRIGGER stamp BEFORE INSERT ON visit
                  FOR EACH ROW EXECUTE FUNCTION stamp();
                CREATE FUNCTION visit(d interval) RETURNS text LANGUAGE plpgsql
                SET search_path = pg_catalog, public AS $$
                DECLARE r record;
                BEGIN
                  INSERT INTO visit (id) VALUES (1);
                  EXECUTE 'UPDATE visit SET at = at + $1 WHERE at = now()' USING d;
                  SELECT current_date, (SELECT count(*) FROM today) AS n INTO r;
                  RETURN r.current_date || ' ' || r.n;
                END $$;
                """);
        cli.write(
                "cases/visit.yaml",
                """
                clock: 2031-10-04 09:30:15.25
                cases:
                  - case: set
                    routine: visit
                    pass: { d: 1 day }
                    returns: 2031-10-04 1
                    data: { visit: { added: [ { id: 1, at: 2031-10-05 09:30:15.25 } ] } }
                    ask:
                      - { query: "SELECT CURRENT_DATE AS d, now() - INTERVAL '1 day' AS n",
                          rows: [ { d: 2031-10-04, n: 2031-10-03 09:30:15.25 } ] }
                  - case: set again
                    routine: visit
                    pass: { d: 2 days }
                    before: INSERT INTO visit (id) VALUES (2)
                    clock: 2020-02-29 00:00:00
                    returns: 2020-02-29 2
                """);
        Cli.Result test = cli.run("test", "cases/visit.yaml");
        assertEquals(0, test.code(), test.out() + test.err());
        String call = cli.run("call", "visit", "d=1 day", "--clock", "2019-01-31 10:00:00").out();
        assertTrue(call.contains("gives '2019-01-31 1'"), call);
        String trace = cli.run("trace", "visit", "d=1 day", "--clock", "2019-01-31 10:00:00").out();
        assertTrue(trace.contains("NEW.day := clock_timestamp()"), trace);
        assertFalse(trace.contains("cantina_clock"), trace);

        cli.write(
                "routines/any.sql",
                """
                CREATE FUNCTION any_of(q text) RETURNS text LANGUAGE plpgsql AS $$
                DECLARE d text;
                BEGIN
                  BEGIN EXECUTE q INTO d; EXCEPTION WHEN OTHERS THEN d := 'taken'; END;
                  RETURN d;
                END $$;
                """);
        for (String query :
                List.of("SELECT Now ( )", "SELECT Current_Date", "SELECT date 'today'")) {
            Cli.Result any =
                    cli.run("call", "any_of", "q=" + query, "--clock", "2031-10-04 09:30:15");
            assertTrue(any.out().contains("the time can't be set for a statement"), any.out());
            assertEquals(0, cli.run("call", "any_of", "q=" + query).code());
        }
        String one = cli.run("call", "any_of", "q=SELECT 1", "--clock", "2031-10-04").out();
        assertTrue(one.contains("gives '1'"), one);
        cli.write(
                "routines/today.sql",
                "CREATE FUNCTION today_is() RETURNS date LANGUAGE plpgsql AS"
                        + " $$ BEGIN RETURN 'today'; END $$;\n");
        assertEquals(0, cli.run("test", "cases/visit.yaml").code());
        cli.write(
                "cases/today.yaml",
                "cases: [ { case: today, routine: today_is, clock: 2031-10-04 09:30:15 } ]");
        String said = cli.run("test", "cases/today.yaml").out();
        assertTrue(said.contains("routines/today.sql:1:77: the time can't be set here"), said);
        Cli.Result asked = cli.run("call", "today_is", "--clock", "2031-10-04 09:30:15");
        assertTrue(asked.err().contains("the time can't be set here"), asked.err());
        assertEquals(0, cli.run("call", "today_is").code());
    }

    @Test
    void routinesOfTheStandardLanguageBesideThemSeeItToo() throws IOException {
        Cli cli = new Cli(temporary);
        assertEquals(0, cli.run("new", "--dialect", "postgresql", ".").code());
        String settings = Files.readString(temporary.resolve("cantina.yaml"));
        cli.write("cantina.yaml", settings + "\nstandard: standard/*.sql\n");
        cli.write(
                "standard/day.sql",
                "CREATE FUNCTION its_day() RETURNS DATE NOT DETERMINISTIC RETURN CURRENT_DATE;\n");
        cli.write(
                "routines/twice.sql",
                "CREATE FUNCTION twice() RETURNS text LANGUAGE sql AS"
                        + " $$ SELECT its_day() || ' ' || current_date $$;\n");
        cli.write(
                "cases/twice.yaml",
                """
                clock: 2031-10-04 09:30:15
                cases:
                  - { case: own, routine: twice, returns: 2031-10-04 2031-10-04 }
                  - { case: standard, routine: its_day, returns: 2031-10-04 }
                """);
        Cli.Result test = cli.run("test", "cases/twice.yaml");
        assertEquals(0, test.code(), test.out() + test.err());
    }

    /**
     * Numbers of single precision and texts with a fixed length, as the server's client has them.
     */
    @ParameterizedTest
    @ValueSource(strings = {"postgresql", "mariadb"})
    void valuesHaveTheDigitsAndBlanksThatTheServerShows(String kind) throws IOException {
        boolean postgres = kind.equals("postgresql");
        Cli cli = new Cli(temporary);
        assertEquals(0, cli.run("new", "--dialect", kind, ".").code());
        String single = postgres ? "REAL" : "FLOAT";
        cli.write(
                "tables/held.sql",
                "CREATE TABLE held (id INT PRIMARY KEY, r " + single + ", c CHAR(5));\n");
        String body =
                "INSERT INTO held VALUES (1, x, 'ab'); SELECT h.r, h.c INTO r, c FROM held h;"
                        + (postgres ? " rs := ARRAY[x]; x := 1e-30;" : " SET x = 1e-30;");
        cli.write(
                "routines/hold.sql",
                postgres
                        ? "CREATE PROCEDURE hold(x REAL, OUT r REAL, OUT rs REAL[], OUT c CHAR(5))"
                                + " LANGUAGE plpgsql AS $$ DECLARE n INT; BEGIN n := 1; "
                                + body
                                + " n := 2; END $$;\n"
                        : "DELIMITER //\nCREATE PROCEDURE hold(x FLOAT, OUT r FLOAT, OUT c CHAR(5))"
                                + " BEGIN DECLARE n INT; SET n = 1; "
                                + body
                                + " SET n = 2; END //\n");
        cli.write(
                "cases/hold.yaml",
                "cases:\n  - case: held\n    routine: hold\n    pass: { x: 0.1 }\n"
                        + "    returns: { "
                        + (postgres ? "c: 'ab   ', r: 0.1, rs: [ 0.1 ]" : "c: ab")
                        + " }\n    data: { held: { added: [ { id: 1, r: 0.1, c: ab } ] } }\n"
                        + "    ask: [ { query: SELECT r AS one FROM held, rows: [ { one: 0.1 } ] } ]\n");
        Cli.Result test = cli.run("test", "cases/hold.yaml");
        assertEquals(0, test.code(), test.out() + test.err());
        String trace = cli.run("trace", "hold", "x=0.1").out();
        assertTrue(trace.contains("hold(x 0.1"), trace);
        assertTrue(trace.contains("r NULL → 0.1\n"), trace);
        assertTrue(trace.contains("x 0.1 → 1.0E-30"), trace);
        assertFalse(trace.contains("0.100000001"), trace);
        String call = cli.run("call", "hold", "x=0.1").out();
        assertTrue(call.contains(postgres ? "c 'ab   '" : "c 'ab'"), call);
    }

    /** PostgreSQL, "Polymorphic Types": what is handed in decides them, one for all of them. */
    @Test
    void polymorphicParametersTakeWhatIsHandedIn() throws IOException {
        Cli cli = new Cli(temporary.resolve("poly"));
        cli.write("cantina.yaml", "project: poly\ndialect: postgresql\ndatabase: private\n");
        cli.write(
                "routines/p.sql",
                """
                CREATE FUNCTION kind(a anyelement, b anyelement DEFAULT NULL) RETURNS text
                LANGUAGE plpgsql AS $$
                BEGIN
                  RETURN pg_typeof(a) || ' ' || COALESCE(b::text, '-');
                END $$;
                CREATE FUNCTION first_of(a anyarray) RETURNS anyelement LANGUAGE plpgsql AS $$
                BEGIN
                  RETURN a[1];
                END $$;
                CREATE FUNCTION twice(a anycompatible, OUT one anycompatible, OUT many anycompatiblearray)
                LANGUAGE plpgsql AS $$
                BEGIN
                  one := a; many := ARRAY[a, a];
                END $$;
                CREATE PROCEDURE swap(INOUT a anyelement, INOUT b anyelement)
                LANGUAGE plpgsql AS $$
                DECLARE t a%TYPE := a;
                BEGIN
                  a := b; b := t;
                END $$;
                CREATE FUNCTION empty(a anyrange) RETURNS boolean LANGUAGE plpgsql AS $$
                BEGIN
                  RETURN isempty(a);
                END $$;
                """);
        for (String[] one :
                List.of(
                        new String[] {"a=5", "integer -"},
                        new String[] {"a=5000000000", "bigint -"},
                        new String[] {"a=5000000000000000000000", "numeric -"},
                        new String[] {"a=5", "b=-0.5", "numeric -0.5"},
                        new String[] {"a=.5", "b=7", "numeric 7"},
                        new String[] {"a=True", "boolean -"},
                        new String[] {"a=true", "b=1", "text 1"},
                        new String[] {"a=NULL", "text -"},
                        new String[] {"a=5 l", "text -"})) {
            List<String> line = new java.util.ArrayList<>(List.of("call", "kind"));
            line.addAll(List.of(one).subList(0, one.length - 1));
            String out = cli.run(line.toArray(String[]::new)).out();
            assertTrue(out.contains("gives '" + one[one.length - 1] + "'\n"), line + out);
        }
        cli.write(
                "cases/p.yaml",
                """
                routine: first_of
                cases:
                  - case: numbers
                    pass: { a: [3, 4] }
                    returns: 3
                  - case: texts
                    pass: { a: [x y, null] }
                    returns: x y
                  - case: an empty one
                    pass: { a: [] }
                    returns: null
                  - case: twice
                    routine: twice
                    pass: { a: 7 }
                    returns: { one: 7, many: [7, 7] }
                  - case: swapped
                    routine: swap
                    pass: { a: 1.5, b: 2 }
                    returns: { a: 2, b: 1.5 }
                """);
        Cli.Result test = cli.run("test");
        assertEquals(0, test.code(), test.out());
        String trace = cli.run("trace", "swap", "a=1", "b=2").out();
        inOrder(
                trace,
                List.of(
                        "swap(a '1', b '2')",
                        "a := b;",
                        "b := t;",
                        "b '2' → 1",
                        "swap gives a '2', b 1"));
        assertFalse(trace.contains("'2' → 2"), trace);
        Cli.Result range = cli.run("call", "empty", "a=[1,2)");
        assertTrue(range.out().contains("42804  a parameter is of type anyrange"), range.out());
    }

    /**
     * What ends a transaction is refused in what a case asks and does: nothing is to stay of it.
     */
    @ParameterizedTest
    @ValueSource(strings = {"postgresql", "mariadb", "standard"})
    void nothingThatACaseSaysEndsItsTransaction(String kind) throws IOException {
        Cli cli = new Cli(temporary.resolve("ends"));
        boolean own = !kind.equals("standard");
        cli.write(
                "cantina.yaml",
                own
                        ? "project: ends\ndialect: " + kind + "\ndatabase: private\n"
                        : "project: ends\n");
        cli.write("tables/t.sql", "CREATE TABLE t (id INTEGER PRIMARY KEY);\n");
        cli.write(
                "routines/r.sql",
                kind.equals("postgresql")
                        ? "CREATE FUNCTION one(x int) RETURNS int LANGUAGE sql AS 'SELECT x';\n"
                        : "CREATE FUNCTION one(x INTEGER) RETURNS INTEGER RETURN x;\n");
        StringBuilder cases = new StringBuilder("routine: one\ncases:\n");
        List<String> refused =
                List.of(
                        "COMMIT",
                        "/* a comment */ commit work",
                        "INSERT INTO t VALUES (2); ROLLBACK",
                        "SAVEPOINT a; ROLLBACK TO SAVEPOINT a",
                        "START TRANSACTION");
        for (String before : refused) {
            cases.append("  - { case: ").append("c").append(cases.length());
            cases.append(", before: \"")
                    .append(before)
                    .append("\", pass: { x: 1 }, returns: 1 }\n");
        }
        for (String ask : List.of("COMMIT", "SELECT 1; COMMIT")) {
            cases.append("  - { case: ").append("c").append(cases.length());
            cases.append(", pass: { x: { ask: \"").append(ask).append("\" } }, returns: 1 }\n");
        }
        cases.append("  - case: as ever\n    before: \"INSERT INTO t VALUES (1) -- ; COMMIT\"\n");
        cases.append("    pass: { x: { ask: SELECT COUNT(*) FROM t } }\n    returns: 1\n");
        cli.write("cases/c.yaml", cases.toString());
        for (int i = 0; i < 2; i++) {
            Cli.Result test = cli.run("test", "--jobs", "1");
            assertTrue(test.out().contains("8 cases: 1 passed, 7 broken"), test.out());
        }
    }

    /** Copies with probes stand for all cases; one that replaces routines leaves nothing behind. */
    @ParameterizedTest
    @ValueSource(strings = {"postgresql", "mariadb"})
    void casesOfAllKindsGiveTheSameWatchedAndNot(String kind) throws IOException {
        boolean postgresql = kind.equals("postgresql");
        Cli cli = new Cli(temporary.resolve("kinds"));
        cli.write("cantina.yaml", "project: kinds\ndialect: " + kind + "\ndatabase: private\n");
        cli.write(
                "tables/t.sql",
                postgresql
                        ? "CREATE TABLE t (id serial PRIMARY KEY, v text);\n"
                        : "CREATE TABLE t (id INT AUTO_INCREMENT PRIMARY KEY, v VARCHAR(9));\n");
        cli.write(
                "routines/r.sql",
                postgresql
                        ? """
                        CREATE FUNCTION b(x int) RETURNS int LANGUAGE plpgsql AS $$
                        BEGIN
                          INSERT INTO t(v) VALUES ('b ' || x);
                          RETURN x + 1;
                        END $$;
                        CREATE FUNCTION a(x int) RETURNS int LANGUAGE plpgsql AS $$
                        DECLARE n int := b(x);
                        BEGIN
                          IF n > 10 THEN
                            RAISE EXCEPTION 'too much';
                          END IF;
                          RETURN n;
                        END $$;
                        CREATE FUNCTION tr() RETURNS trigger LANGUAGE plpgsql AS $$
                        BEGIN
                          NEW.v := NEW.v || '!';
                          RETURN NEW;
                        END $$;
                        CREATE TRIGGER tt BEFORE INSERT ON t FOR EACH ROW EXECUTE FUNCTION tr();
                        """
                        : """
                        DELIMITER //
                        CREATE FUNCTION b(x INT) RETURNS INT MODIFIES SQL DATA
                        BEGIN
                          INSERT INTO t(v) VALUES (CONCAT('b ', x));
                          RETURN x + 1;
                        END //
                        CREATE FUNCTION a(x INT) RETURNS INT MODIFIES SQL DATA
                        BEGIN
                          DECLARE n INT;
                          SET n = b(x);
                          IF n > 10 THEN
                            SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'too much';
                          END IF;
                          RETURN n;
                        END //
                        CREATE TRIGGER tt BEFORE INSERT ON t FOR EACH ROW
                        BEGIN
                          SET NEW.v = CONCAT(NEW.v, '!');
                        END //
                        """);
        String block =
                postgresql
                        ? "DO $$ BEGIN PERFORM b(5); PERFORM a(3); END $$; SELECT b(7)"
                        : "BEGIN NOT ATOMIC DO b(5); DO a(3); END; SELECT b(7)";
        cli.write(
                "cases/c.yaml",
                """
                routine: a
                cases:
                  - case: plain
                    pass: { x: 1 }
                    returns: 2
                    data: { t: { added: [ { id: 1, v: "b 1!" } ] } }
                  - case: one routine is replaced
                    pass: { x: 1 }
                    stand_in: { b: { returns: 9 } }
                    returns: 9
                    data: untouched
                  - case: prepared
                    before: "%s"
                    pass: { x: 2 }
                    returns: 3
                    data: { t: { added: [ { id: 4, v: "b 2!" } ] } }
                  - case: a condition
                    pass: { x: 20 }
                    raises: { message: too much }
                    data: untouched
                  - case: plain again
                    pass: { x: 1 }
                    returns: 2
                    data: { t: { added: [ { id: 1, v: "b 1!" } ] } }
                  - case: several calls
                    calls:
                      - { routine: a, pass: { x: 1 }, returns: 2 }
                      - { routine: b, pass: { x: 4 }, returns: 5 }
                      - { routine: a, pass: { x: 20 }, raises: { message: too much } }
                    data: { t: { added: [ { v: "b 1!" }, { v: "b 4!" } ] } }
                """
                        .formatted(block));
        for (String options : List.of("test", "test --coverage --jobs 1", "test --jobs 2")) {
            Cli.Result test = run(cli, "", options);
            assertEquals(0, test.code(), options + "\n" + test.out());
            assertTrue(test.out().contains("6 cases: 6 passed"), test.out());
        }
        Cli.Result debug =
                run(
                        cli,
                        "into\ninto\nback\ncontinue\nrestart\ncontinue\nquit\n",
                        "debug --fresh --case prepared");
        inOrder(
                debug.out(),
                List.of(
                        postgresql ? "tr stopped" : "tt stopped",
                        "gone back",
                        "gives 3",
                        "1 case: 1 passed",
                        "gives 3"));
    }

    /** "Triggers on Data Changes": one function may be that of many tables, whose rows differ. */
    @Test
    void aTriggerFunctionOfSeveralTablesIsLookedInto() throws IOException {
        Cli cli = new Cli(temporary.resolve("triggers"));
        cli.write("cantina.yaml", "project: triggers\ndialect: postgresql\ndatabase: private\n");
        cli.write(
                "tables/t.sql",
                """
                CREATE TABLE tank (id int PRIMARY KEY, litres numeric, full_ boolean);
                CREATE TABLE hand (code text PRIMARY KEY, "Name" text);
                CREATE TABLE log (said text);
                """);
        cli.write(
                "routines/r.sql",
                """
                CREATE FUNCTION note() RETURNS trigger LANGUAGE plpgsql AS $$
                DECLARE row_ record;
                BEGIN
                  row_ := CASE TG_OP WHEN 'DELETE' THEN OLD ELSE NEW END;
                  INSERT INTO log VALUES (row_::text || TG_ARGV[0]);
                  RETURN NEW;
                END $$;
                CREATE TRIGGER of_tank BEFORE INSERT OR UPDATE ON tank
                  FOR EACH ROW EXECUTE FUNCTION note('!');
                CREATE TRIGGER of_hand BEFORE INSERT OR DELETE ON hand
                  FOR EACH ROW EXECUTE FUNCTION note('?');
                """);
        cli.write(
                "s.sql",
                """
                INSERT INTO tank VALUES (1, 2.50, true);
                UPDATE tank SET litres = 3;
                INSERT INTO hand VALUES ('a', 'An A');
                """);
        Cli.Result trace = cli.run("trace", "--run", "s.sql");
        inOrder(
                trace.out(),
                List.of(
                        "trigger note(new.id '1', new.litres '2.50', new.full_ 'true')",
                        "trigger note(old.litres '2.50', new.litres '3')",
                        "trigger note(new.code 'a', new.Name 'An A')"));
        Cli.Result debug =
                run(
                        cli,
                        """
                        pause at note:5
                        continue
                        vars
                        set new.litres = row_.litres * 2
                        set row_.full_ = NULL
                        set row_.id = new.id + 41
                        set new.code = 'b'
                        eval new.litres + row_.id
                        continue
                        continue
                        eval tg_name || ' of ' || tg_table_name
                        set new."Name" = 'it''s {b}'
                        remove 1
                        continue
                        quit
                        """,
                        "debug --fresh --plain --run s.sql");
        inOrder(
                debug.out(),
                List.of(
                        "tg_table_name  name    'tank'",
                        "new.litres is now '5.00'",
                        "row_.full_ is now NULL",
                        "row_.id is now '42'",
                        "42703 there is no field code",
                        "47.00",
                        "'of_hand of hand'",
                        "new.\"Name\" is now 'it's {b}'",
                        "(42,2.50,)!",
                        "id 1, litres 3, full_ TRUE",
                        "code 'a', Name 'it's {b}'"));
    }

    /** What a drafted case expects holds tomorrow too, with a time that is set or without. */
    @Test
    void draftedCasesDoNotExpectToday() throws IOException {
        Cli cli = new Cli(temporary.resolve("drafted"));
        cli.write("cantina.yaml", "project: drafted\ndialect: postgresql\ndatabase: private\n");
        cli.write(
                "tables/t.sql",
                """
                CREATE TABLE seen (
                  id int PRIMARY KEY, d date DEFAULT current_date, t timestamptz DEFAULT now());
                """);
        cli.write(
                "routines/r.sql",
                """
                CREATE FUNCTION note(a int) RETURNS timestamp LANGUAGE plpgsql AS $$
                BEGIN
                  INSERT INTO seen(id) VALUES (a);
                  RETURN localtimestamp + interval '1 day';
                END $$;
                CREATE FUNCTION other(a int) RETURNS date LANGUAGE plpgsql AS $$
                BEGIN
                  INSERT INTO seen(id) VALUES (a);
                  RETURN 'today'::date;
                END $$;
                """);
        assertEquals(0, cli.run("draft", "cases", "note", "--seconds", "3").code());
        String note = Files.readString(cli.path("cases/note.yaml"));
        String day = note.lines().filter(l -> l.startsWith("clock: ")).findFirst().orElseThrow();
        day = day.substring(7, 17);
        assertTrue(note.contains("d: \"" + day + "\", t: \"" + day + " 09:00:00+00:00\""), note);
        Cli.Result other = cli.run("draft", "cases", "other", "--seconds", "3");
        assertTrue(other.err().contains("no time is set in the cases: "), other.err());
        String cases = Files.readString(cli.path("cases/other.yaml"));
        assertFalse(cases.contains("clock: "), cases);
        assertTrue(cases.contains("returns: { any: true }"), cases);
        assertTrue(cases.contains("d: { any: true }, t: { any: true }"), cases);
        Cli.Result test = cli.run("test", "--coverage");
        assertEquals(0, test.code(), test.out());
    }

    @Test
    void aScriptRunsInTheServersOwnWords() throws IOException {
        Cli cli = demo("postgresql");
        Cli.Result run = cli.run("run", "scripts/october.sql");
        assertEquals(0, run.code(), run.out());
        inOrder(run.out(), List.of("in the journal: 2", "moved", "120", "intake  1 added"));
        Cli.Result failed =
                cli.typing("SELECT 1;\n\nSELECT move_wine('T1', 'C7', -1);\n", "run", "-");
        assertEquals(ExitCode.RAISED, failed.code());
        inOrder(failed.out(), List.of("45000", "move_wine", "standard input:3:1"));
    }

    @Test
    void theServersAreShown() throws IOException {
        Cli cli = demo("postgresql");
        cli.run("check");
        Cli.Result status = cli.run("server", "status", "postgresql", "--json");
        assertTrue(status.out().contains("\"running\":true"), status.out());
        assertTrue(cli.run("server", "stop", "postgresql").out().contains("its data is gone"));
        assertTrue(cli.run("server", "status", "postgresql").out().contains("is not running"));
    }

    @ParameterizedTest
    @ValueSource(strings = {"postgresql", "mariadb"})
    void bytesBitsArraysAndLongNumbersGoThroughAStandIn(String kind) throws IOException {
        Cli cli = new Cli(temporary);
        assertEquals(0, cli.run("new", "--dialect", kind, "p").code());
        boolean maria = kind.equals("mariadb");
        Files.writeString(
                cli.path("p/routines/s.sql"),
                maria
                        ? """
                        DELIMITER //
                        CREATE FUNCTION inner_f(raw VARBINARY(10), b BIT(8), u BIGINT UNSIGNED)
                        RETURNS VARBINARY(10) DETERMINISTIC BEGIN RETURN raw; END //
                        CREATE FUNCTION inner_b(x POINT) RETURNS BIT(8) NO SQL BEGIN RETURN 1; END //
                        CREATE PROCEDURE outer_p(OUT o VARCHAR(40), OUT raw VARBINARY(10), OUT b INT)
                        BEGIN
                          SET raw = inner_f(x'80ff', b'1010', 18446744073709551615);
                          SET o = HEX(raw), b = inner_b(POINT(1, 2)) + 0;
                        END //
                        """
                        : """
                        CREATE FUNCTION inner_f(raw bytea, b bit, u numeric) RETURNS bytea
                        LANGUAGE plpgsql AS $$ BEGIN RETURN raw; END $$;
                        CREATE FUNCTION inner_t(x text[]) RETURNS TABLE (tags text[], "r w" bytea)
                        LANGUAGE plpgsql AS $$ BEGIN RETURN NEXT; END $$;
                        CREATE PROCEDURE outer_p(OUT o text, OUT raw bytea, OUT b text)
                        LANGUAGE plpgsql AS $$ BEGIN
                          raw := inner_f('\\x80ff', b'1010', 18446744073709551615);
                          o := encode(raw, 'hex');
                          b := (SELECT string_agg(t::text, ' ') FROM inner_t('{a,NULL}') t);
                        END $$;
                        """);
        String plain = maria ? "{ o: 80FF, raw: 80ff, b: 1 }" : "{ o: 80ff, raw: 80FF, b: '(,)' }";
        String second =
                maria
                        ? "      inner_b: { returns: 200 }\n"
                        : "      inner_t: { rows: [ { tags: ['a\"b', null], 'r w': 00ff }, {} ] }\n";
        String given = maria ? "200" : "'(\"{\"\"a\\\\\"\"b\"\",NULL}\",\"\\\\x00ff\") (,)'";
        Files.writeString(
                cli.path("p/cases/s.yaml"),
                "routine: outer_p\ncases:\n  - case: as it is\n    returns: "
                        + plain
                        + "\n  - case: stood in\n    stand_in:\n"
                        + "      inner_f: { returns: '61FE' }\n"
                        + second
                        + "    returns: { o: '61"
                        + (maria ? "FE" : "fe")
                        + "', raw: 61fe, b: "
                        + given
                        + " }\n    asked:\n      inner_f: [ { raw: 80FF, b: "
                        + (maria ? "10" : "'1010'")
                        + ", u: 18446744073709551615 } ]\n"
                        + (maria
                                ? "      inner_b: [ { x: POINT(1 2) } ]\n"
                                : "      inner_t: [ { x: [a, null] } ]\n"));
        Cli.Result test = new Cli(temporary.resolve("p")).run("test", "cases/s.yaml");
        assertEquals(0, test.code(), test.out());
    }

    @Test
    void aCaseRunsWithTheRightsOfARole() throws Exception {
        Cli cli = new Cli(temporary);
        cli.write("cantina.yaml", "dialect: postgresql\ndatabase: private\n");
        cli.write(
                "tables/a.sql",
                """
                CREATE ROLE seller LOGIN PASSWORD 'x';
                CREATE ROLE "Chief" NOINHERIT BYPASSRLS;
                CREATE ROLE helper IN ROLE seller;
                GRANT seller TO "Chief";
                CREATE TABLE sale (id int PRIMARY KEY, who text DEFAULT current_user, n int);
                CREATE TABLE secret (id int PRIMARY KEY);
                INSERT INTO sale VALUES (1, 'helper', 1), (2, 'seller', 2);
                GRANT SELECT, INSERT ON sale TO seller;
                ALTER TABLE sale ENABLE ROW LEVEL SECURITY;
                CREATE POLICY own ON sale TO seller USING (who = current_user) WITH CHECK (true);
                """);
        cli.write(
                "routines/r.sql",
                """
                CREATE FUNCTION seen() RETURNS text LANGUAGE plpgsql AS $$
                DECLARE s text;
                BEGIN
                  SELECT string_agg(id::text, ',' ORDER BY id) INTO s FROM sale;
                  INSERT INTO sale (id, n) VALUES (9, 9);
                  RETURN current_user || ' ' || s;
                END $$;
                CREATE FUNCTION peek() RETURNS bigint LANGUAGE plpgsql AS $$
                BEGIN RETURN (SELECT count(*) FROM secret); END $$;
                CREATE FUNCTION lent() RETURNS bigint LANGUAGE plpgsql SECURITY DEFINER AS $$
                BEGIN RETURN peek(); END $$;
                """);
        cli.write(
                "cases/a.yaml",
                """
                routine: seen
                cases:
                  - { case: seller, as: seller, returns: seller 2, data: { sale: { added: [ { id: 9, who: seller, n: 9 } ] } } }
                  - { case: helper, as: helper, returns: helper 1 }
                  - { case: chief, as: Chief, raises: { sqlstate: "42501" } }
                  - { case: owner, returns: "cantina 1,2" }
                  - { case: peek, routine: peek, as: seller, raises: { sqlstate: "42501", message: { like: "%secret%" } } }
                  - { case: lent, routine: lent, as: seller, returns: 0 }
                  - { case: stood, routine: lent, as: seller, stand_in: { peek: { returns: 7 } }, returns: 7 }
                  - { case: nobody, as: nobody, returns: x }
                """);
        for (String line : List.of("test", "test --coverage", "test --jobs 2")) {
            Cli.Result result = run(cli, "", line);
            assertTrue(result.out().contains("7 passed, 1 broken"), result.out());
            assertTrue(result.out().contains("there is no role nobody"), result.out());
        }
        Cli.Result check = cli.run("check");
        assertTrue(check.out().contains("no role of a project is bypassrls"), check.out());
        Cli.Result debug =
                cli.typing("eval current_user\nrows sale\ncontinue\n", "debug", "--case", "helper");
        inOrder(debug.out(), List.of("'helper'", "helper   1", "gives 'helper 1'"));

        // Who is a member of what is what the project says now.
        cli.write(
                "tables/a.sql",
                Files.readString(cli.path("tables/a.sql")).replace(" IN ROLE seller", ""));
        Cli.Result without = cli.run("test");
        assertTrue(without.out().contains("permission denied for table sale"), without.out());
        for (String wrong :
                List.of(
                        "CREATE ROLE x LOGN",
                        "CREATE ROLE x IN ROLE",
                        "CREATE ROLE y; GRANT y TO y OR z")) {
            cli.write("tables/a.sql", wrong + ";\n");
            assertTrue(cli.run("check").err().contains("syntax error at or near"), wrong);
        }
        cli.write("tables/a.sql", "CREATE ROLE administrator;\n");
        assertTrue(
                cli.run("check").err().contains("is one of the server's own"), "the server's own");
    }

    /** The demo in the standard language, beside the same in a server's own. */
    @ParameterizedTest
    @ValueSource(strings = {"postgresql", "mariadb"})
    void bothWorldsAgree(String kind) throws IOException {
        demo(kind);
        Cli standard = Cli.winery(Files.createDirectories(temporary.resolve("both")));
        String other = temporary.resolve("winery").toAbsolutePath().toString();
        Cli.Result agree = standard.run("agree", "--with", other);
        assertEquals(0, agree.code(), agree.out() + agree.err());
        assertTrue(
                agree.out().contains("agree in 2 ways: embedded, winery in " + kind), agree.out());
        Cli.Result more =
                standard.run("agree", "--with", other, "--more", "20", "--cases", "topping_loss");
        assertEquals(1, more.code(), more.out());
        inOrder(
                more.out(),
                List.of(
                        "topping_loss: vessel null",
                        "raises",
                        "embedded",
                        "22004",
                        "winery in",
                        "45000"));
        assertTrue(more.out().contains("agree in 2 ways"), more.out());
    }

    @Test
    void routinesOfTwoWorldsAreDeclaredToBeTheSame() throws IOException {
        Cli cli = new Cli(temporary);
        cli.write(
                "here/cantina.yaml",
                "project: here\nfixture: f\nagree: { add_up: app.total, wrong: total }\n");
        cli.write(
                "here/tables/t.sql", "CREATE TABLE t (id INTEGER PRIMARY KEY, n DECIMAL(8, 2));\n");
        cli.write("here/fixtures/f/t.csv", "id,n\n1,1.50\n2,2.50\n");
        cli.write(
                "here/routines/a.sql",
                """
                CREATE PROCEDURE add_up(IN least INTEGER, OUT total DECIMAL(8, 2))
                BEGIN
                  SET total = (SELECT SUM(n) FROM t WHERE id >= least);
                  UPDATE t SET n = 0 WHERE id = least;
                END;
                CREATE PROCEDURE wrong(IN least INTEGER) BEGIN END;
                CREATE PROCEDURE alone(IN least INTEGER) BEGIN END;
                """);
        cli.write(
                "here/cases/c.yaml",
                """
                cases:
                  - { case: one, routine: add_up, pass: { least: 1 } }
                  - { case: two, routine: add_up, pass: { least: 2 } }
                  - { case: clumsy, routine: wrong, pass: { least: 2 } }
                  - { case: alone, routine: alone, pass: { least: 2 } }
                """);
        cli.write("there/cantina.yaml", "project: there\ndialect: postgresql\ndatabase: private\n");
        cli.write(
                "there/tables/t.sql",
                "CREATE SCHEMA app; CREATE TABLE t (id int PRIMARY KEY, n numeric(8, 2));\n");
        cli.write(
                "there/routines/a.sql",
                """
                CREATE PROCEDURE app.total(p_least int, INOUT p_total numeric) LANGUAGE plpgsql AS $$
                BEGIN
                  SELECT sum(n) INTO p_total FROM t WHERE id >= p_least;
                  UPDATE t SET n = CASE id WHEN 2 THEN 7 ELSE 0 END WHERE id = p_least;
                END $$;
                """);
        Cli.Result agree = cli.run("--project", "here", "agree", "--with", "there");
        assertEquals(1, agree.code(), agree.err());
        inOrder(
                agree.out(),
                List.of(
                        "one",
                        "completed",
                        "completed",
                        "two",
                        "completed",
                        "completed",
                        "data.t",
                        "embedded",
                        "(2, 0)",
                        "there",
                        "(2, 7)",
                        "not on there: there has no routine total with 1 parameters",
                        "not on there: agree: of cantina.yaml does not name alone",
                        "1 differs",
                        "1 agrees"));
        cli.write("here/cantina.yaml", "project: here\nfixture: f\nagree: { ad_up: app.total }\n");
        Cli.Result misnamed = cli.run("--project", "here", "agree", "--with", "there");
        assertTrue(
                misnamed.err().contains("names ad_up, and there is no such routine"),
                misnamed.err());
        assertTrue(
                cli.run("--project", "here", "agree", "--with", "here")
                        .err()
                        .contains("is in the standard language too"));
        assertEquals(2, cli.run("--project", "here", "agree", "--with", "nowhere").code());
        assertEquals(
                2, cli.run("--project", "here", "agree", "--with", "there", "--more", "x").code());
    }

    private static final String EVENING_PG =
            "CREATE PROCEDURE evening(vessel varchar, OUT total numeric) LANGUAGE plpgsql AS $$\n"
                    + "DECLARE n integer;\nBEGIN\n  CALL rack_off(vessel, total, n);\n"
                    + "  total := total + smaller(n, 7);\nEND $$;\n";
    private static final String EVENING_MARIA =
            "DELIMITER //\nCREATE PROCEDURE evening(vessel varchar(8), OUT total decimal(8, 1))\n"
                    + "BEGIN\n  DECLARE n integer;\n  CALL rack_off(vessel, total, n);\n"
                    + "  SET total = total + smaller(n, 7);\nEND //\nDELIMITER ;\n";

    /** The demo with a routine of the server's own that calls those of the standard language. */
    private Cli mixed(String kind) throws IOException {
        Cli cli = demo(kind);
        boolean postgres = kind.equals("postgresql");
        cli.write(
                postgres ? "db/functions/evening.sql" : "routines/evening.sql",
                postgres ? EVENING_PG : EVENING_MARIA);
        return cli;
    }

    @ParameterizedTest
    @ValueSource(strings = {"postgresql", "mariadb"})
    void bothLanguagesCallEachOther(String kind) throws IOException {
        Cli cli = mixed(kind);
        inOrder(cli.run("check").out(), List.of("all well"));
        inOrder(
                run(cli, "", "call evening vessel=T1").out(),
                List.of("total = 151.0", "'T1'", "500.0 → 350.0", "'C7'", "100.0 → 250.0"));
        Cli.Result raised = run(cli, "", "call evening vessel=X9");
        assertEquals(ExitCode.RAISED, raised.code());
        inOrder(raised.out() + raised.err(), List.of("45000", "there is no such vessel"));
        if (kind.equals("postgresql")) {
            inOrder(
                    raised.out() + raised.err(),
                    List.of(
                            "in   rack_off  standard/rack_off.sql:11:5",
                            "from evening   db/functions/evening.sql:4:3"));
        }
        inOrder(
                run(cli, "", "trace evening vessel=T1").out(),
                List.of(
                        "evening(vessel 'T1')",
                        "rack_off(emptied 'T1')",
                        "smaller(a 500.0, b 150.0)",
                        "smaller gives 150.0",
                        "move_wine(",
                        "trigger vessel_journal",
                        "move_wine gives " + (kind.equals("postgresql") ? "150.0" : "moved 150.0"),
                        "rack_off gives moved 150.0, moves 1",
                        "smaller gives 1.0",
                        "evening gives total 151.0"));
        inOrder(
                run(cli, "", "test rack_off --coverage").out(),
                List.of("rack_off", "smaller", "2 passed"));
        cli.write(
                "cases/stood.yaml",
                "routine: evening\ncases:\n"
                        + "  - case: both stood in for\n    pass: { vessel: T1 }\n"
                        + "    stand_in: { smaller: { returns: 5 } }\n"
                        + "    returns: { total: 10 }\n"
                        + "  - case: the move\n    pass: { vessel: T1 }\n"
                        + "    stand_in: { move_wine: { returns: "
                        + (kind.equals("postgresql") ? "5" : "{ moved: 5 }")
                        + " } }\n    returns: { total: 6 }\n    data: untouched\n");
        Cli.Result stood = run(cli, "", "test cases/stood.yaml");
        assertEquals(0, stood.code(), stood.out());
    }

    @ParameterizedTest
    @ValueSource(strings = {"postgresql", "mariadb"})
    void bothLanguagesAreDebuggedInOneSession(String kind) throws IOException {
        Cli cli = mixed(kind);
        String words =
                "pause at rack_off:20 when smaller(rest, 400) = 400\npause at smaller:end\ncontinue\n"
                        + "stack\nvars\neval rest + cask.room\neval (SELECT COUNT(*) FROM movement)\n"
                        + "eval move_wine('T1', 'C7', 1)\nset rest = 40\ncontinue\nvars\n"
                        + "remove all\ninto\ninto\nstack\nback\nback\nvars\ncontinue\n";
        inOrder(
                run(cli, words, "debug --fresh evening vessel=T1").out(),
                List.of(
                        "rack_off stopped at line 20 of standard/rack_off.sql: breakpoint 1",
                        "▸ 0  rack_off(emptied 'T1')",
                        "1  evening(vessel 'T1')",
                        "OUT DECIMAL(8, 1)  0.0",
                        "650.0",
                        "2",
                        kind.equals("postgresql")
                                ? "can be asked for move_wine by a query alone"
                                : "move_wine",
                        "rest is now 40",
                        "smaller stopped at",
                        "it is about to end",
                        "gives 40.0",
                        "a  IN DECIMAL(8, 1)  40.0",
                        "move_wine stopped at",
                        "▸ 0  move_wine(",
                        "1  rack_off(emptied 'T1')",
                        "2  evening(vessel 'T1')",
                        "gone back",
                        "the end"));
    }

    @ParameterizedTest
    @ValueSource(strings = {"postgresql", "mariadb"})
    void whatCannotStandBesideTheServersOwnIsSaid(String kind) throws IOException {
        Cli cli = mixed(kind);
        cli.write("standard/wrong.sql", "CREATE PROCEDURE wrong()\nBEGIN\n  SET x = 1;\nEND;\n");
        Cli.Result check = cli.run("check");
        assertEquals(ExitCode.FAILED, check.code(), check.out());
        inOrder(check.out(), List.of("standard/wrong.sql:3:7", "x"));
        inOrder(run(cli, "", "call evening vessel=T1").out(), List.of("total = 151.0"));
        cli.write("standard/wrong.sql", "CREATE PROCEDURE Move_Wine()\nBEGIN\nEND;\n");
        inOrder(
                cli.run("check").out(),
                List.of(
                        "standard/wrong.sql:1:18",
                        "is a routine in the server's own language too"));
        cli.write(
                "standard/wrong.sql",
                "CREATE FUNCTION far(a INTEGER) RETURNS INTEGER\n"
                        + "  LANGUAGE JAVA EXTERNAL NAME 'x.Y.z' PARAMETER STYLE JAVA;\n"
                        + "CREATE PROCEDURE uses_far(OUT b INTEGER) SET b = far(1);\n");
        Cli.Result java = cli.run("check");
        assertEquals(ExitCode.FAILED, java.code(), java.out());
        inOrder(
                java.out(),
                List.of(
                        "standard/wrong.sql:1:17",
                        "standard/wrong.sql:3:50",
                        "which can't be taken"));
    }

    /** A module is a schema or a package there, whose variables are the server's. */
    @ParameterizedTest
    @ValueSource(strings = {"postgresql", "mariadb"})
    void modulesBesideTheServersOwnAreLookedInto(String kind) throws IOException {
        Cli cli = new Cli(temporary);
        assertEquals(0, cli.run("new", "--dialect", kind, ".").code());
        String settings = Files.readString(temporary.resolve("cantina.yaml"));
        cli.write("cantina.yaml", settings + "\nstandard: standard/*.sql\n");
        cli.write("tables/t.sql", "CREATE TABLE t (id INT PRIMARY KEY, n INT);\n");
        cli.write(
                "routines/twice.sql",
                kind.equals("postgresql")
                        ? "CREATE FUNCTION twice(x INT) RETURNS INT LANGUAGE plpgsql AS"
                                + " $$ BEGIN RETURN x * 2; END $$;\n"
                        : "CREATE FUNCTION twice(x INT) RETURNS INT RETURN x * 2;\n");
        cli.write(
                "standard/tally.sql",
                """
                CREATE MODULE tally
                  DECLARE n INTEGER DEFAULT 5;
                  FUNCTION bump(x INTEGER) RETURNS INTEGER
                  BEGIN
                    SET n = n + x;
                    RETURN n;
                  END;
                  PROCEDURE note(IN x INTEGER, OUT y INTEGER)
                  BEGIN
                    INSERT INTO t VALUES (x, n);
                    SET y = tally.bump(x);
                  END;
                END MODULE;
                CREATE PROCEDURE both(OUT z INTEGER)
                BEGIN
                  CALL tally.note(4, z);
                  SET z = z + twice(tally.bump(1));
                END;
                """);
        cli.write(
                "cases/both.yaml",
                """
                cases:
                  - case: one
                    routine: both
                    returns: { z: 29 }
                    data: { t: { added: [ { id: 4, n: 5 } ] } }
                  - { case: two, routine: tally.note, pass: { x: 1 }, returns: { y: 6 } }
                """);
        Cli.Result test = cli.run("test", "--coverage");
        assertEquals(0, test.code(), test.out() + test.err());
        inOrder(test.out(), List.of("tally.bump        2 of 2", "tally.note        2 of 2"));
        inOrder(
                cli.run("trace", "both").out(),
                List.of(
                        "CALL tally.note(4, z)",
                        "tally.note(x 4)",
                        "INSERT INTO t",
                        "1 row",
                        "tally.bump(x 4)",
                        "tally.bump gives 9",
                        "tally.note gives y 9",
                        "tally.bump gives 10",
                        "twice(x 10)",
                        "both gives z 29"));
        Cli.Result debug =
                run(
                        cli,
                        "into\ninto\ninto\ninto\neval n\nset n = 3\neval tally.bump(1)\n"
                                + "set x = 60\neval x\ncontinue\n",
                        "debug both");
        inOrder(
                debug.out(),
                List.of(
                        "tally.note stopped at line 10",
                        "tally.bump stopped at line 6",
                        "n is a module's, whose variables the server holds",
                        "n is a module's, whose variables the server holds",
                        "tally.bump is a module's",
                        "x is now 60",
                        "60  ",
                        "gives z = 29"));
    }

    @Test
    void theExamplesOfBothLanguagesDoWhatThePageSays() throws IOException {
        DocsTest.run(demo("postgresql"), "native.md", "mixed");
    }

    /** The connection's own variables, and those of packages, are those of one case. */
    @Test
    void aCaseSeesNothingOfTheOneBefore() throws IOException {
        Cli cli = new Cli(temporary);
        cli.write("cantina.yaml", "project: counting\ndialect: mariadb\ndatabase: private\n");
        cli.write("tables/t.sql", "CREATE TABLE t (a INT);\n");
        cli.write(
                "routines/bump.sql",
                """
                SET sql_mode=ORACLE;
                DELIMITER //
                CREATE PACKAGE counter AS
                  FUNCTION next_one RETURN INT;
                END//
                CREATE PACKAGE BODY counter AS
                  n INT := 0;
                  FUNCTION next_one RETURN INT AS
                  BEGIN
                    n := n + 1;
                    RETURN n;
                  END;
                END//
                SET sql_mode=DEFAULT//
                CREATE FUNCTION bump() RETURNS INT
                BEGIN
                  SET @calls = COALESCE(@calls, 0) + 1;
                  RETURN counter.next_one() * 10 + @calls;
                END//
                """);
        cli.write(
                "cases/bump.yaml",
                """
                routine: bump
                cases:
                  - case: one
                    returns: 11
                  - case: two
                    returns: 11
                  - case: twice
                    calls: [ { returns: 11 }, { returns: 22 } ]
                """);
        Cli.Result test = cli.run("test", "--jobs", "1");
        assertEquals(0, test.code(), test.out());
    }

    private static final String PACKAGE =
            """
            DELIMITER //
            CREATE PACKAGE tally
              PROCEDURE note(IN x INT, OUT y VARCHAR(20));
              FUNCTION next_one() RETURNS INT;
            END//
            CREATE PACKAGE BODY tally COMMENT 'counts; and tells'
              DECLARE n INT DEFAULT 5;
              PROCEDURE hidden(IN x INT);
              PROCEDURE note(IN x INT, OUT y VARCHAR(20))
              BEGIN
                DECLARE k INT DEFAULT 2;
                SET n = n + x * k;
                CALL hidden(n);
                SET y = CONCAT('n is ', n);
              END;
              FUNCTION next_one() RETURNS INT
              BEGIN
                SET n = n + 1;
                RETURN n;
              END;
              PROCEDURE hidden(IN x INT)
                INSERT INTO t VALUES (x);
              SET n = n + 1;
            END//
            CREATE PROCEDURE outside(OUT s VARCHAR(40))
            BEGIN
              CALL tally.note(3, s);
              SET s = CONCAT(s, '/', tally.next_one());
            END//
            DELIMITER ;
            """;

    @Test
    void packagesAreCalledTestedAndLookedInto() throws IOException {
        Cli cli = new Cli(temporary);
        cli.write("cantina.yaml", "project: tally\ndialect: mariadb\ndatabase: private\n");
        cli.write("tables/t.sql", "CREATE TABLE t (a INT);\n");
        cli.write("routines/tally.sql", PACKAGE);
        inOrder(cli.run("check").out(), List.of("all well", "3 routines"));
        inOrder(run(cli, "", "call tally.note x=1").out(), List.of("y = 'n is 8'", "a 8"));
        inOrder(run(cli, "", "call tally.next_one").out(), List.of("7"));
        Cli.Result hidden = run(cli, "", "call tally.hidden x=1");
        assertEquals(ExitCode.USAGE, hidden.code());
        inOrder(
                run(cli, "", "trace outside").out(),
                List.of(
                        "outside()",
                        "tally.note(x 3)",
                        "12  SET n = n + x * k;",
                        "n 6 → 12",
                        "tally.hidden(x 12)",
                        "22  INSERT INTO t VALUES (x)",
                        "tally.note gives y 'n is 12'",
                        "tally.next_one gives 13",
                        "outside gives s 'n is 12/13'"));
        inOrder(
                run(
                                cli,
                                "pause at tally.note:13 when n > 11\npause at tally.next_one:end\ncontinue\n"
                                        + "vars\nset n = 40\neval n + k\ninto\nstack\ncontinue\nvars\nback\n"
                                        + "continue\ncontinue\n",
                                "debug --fresh outside")
                        .out(),
                List.of(
                        "tally.note stopped at line 13 of routines/tally.sql: breakpoint 1",
                        "n",
                        "12",
                        "n is now 40",
                        "42",
                        "▸ 0  tally.hidden(x 40)",
                        "1  tally.note(x 3)",
                        "2  outside()",
                        "tally.next_one stopped",
                        "gives 41",
                        "gone back",
                        "the end"));
        cli.write(
                "cases/tally.yaml",
                "routine: outside\ncases:\n  - case: itself\n    returns: { s: n is 12/13 }\n"
                        + "  - case: again\n    returns: { s: n is 12/13 }\n"
                        + "  - case: replaced\n    stand_in: { tally.next_one: { returns: 99 } }\n"
                        + "    returns: { s: n is 12/99 }\n");
        Cli.Result test = cli.run("test", "--coverage");
        assertEquals(0, test.code(), test.out());
        inOrder(test.out(), List.of("tally.note", "3 of 3", "tally.hidden", "1 of 1"));
    }

    private static final String STANDARD =
            """
            CREATE PROCEDURE report (IN lo INTEGER DEFAULT 5) DYNAMIC RESULT SETS 1
            BEGIN
              DECLARE c CURSOR WITH RETURN FOR SELECT id, name FROM item WHERE qty >= lo ORDER BY id;
              OPEN c;
            END;
            CREATE FUNCTION label_of (k INTEGER) RETURNS VARCHAR(30)
            BEGIN
              DECLARE s CHAR(10);
              SET s = (SELECT name FROM item WHERE id = k);
              RETURN s || '|' || CAST(total() AS VARCHAR(10));
            END;
            CREATE TRIGGER log_it AFTER UPDATE ON item FOR EACH ROW
            BEGIN ATOMIC
              INSERT INTO log (line) VALUES (NEW.name || ' ' || CAST(NEW.qty AS VARCHAR(10)));
              CALL noted('from trigger');
            END;
            CREATE PROCEDURE change (IN n INTEGER, OUT r VARCHAR(60))
            BEGIN
              DECLARE EXIT HANDLER FOR SQLSTATE '45001' GET DIAGNOSTICS CONDITION 1 r = MESSAGE_TEXT;
              UPDATE item SET qty = n WHERE id = 1;
              SET r = label_of(1);
              CALL fails(n);
            END;
            CREATE PROCEDURE sums (OUT n INTEGER)
              SELECT MAX(CHAR_LENGTH(label_of(id))) INTO n FROM item;
            CREATE MODULE shelf
              DECLARE seen INTEGER DEFAULT 0;
              PROCEDURE look (OUT r INTEGER)
              BEGIN
                SET seen = seen + 1;
                SET r = seen;
              END;
            END MODULE;
            CREATE FUNCTION broken (a INTEGER) RETURNS INTEGER RETURN zz(a);
            """;

    /** What else routines of the standard language have, beside the server's own. */
    @ParameterizedTest
    @ValueSource(strings = {"postgresql", "mariadb"})
    void triggersModulesRowsAndDefaultsStandBesideTheServersOwn(String kind) throws IOException {
        boolean postgres = kind.equals("postgresql");
        Cli cli = new Cli(temporary);
        cli.write(
                "cantina.yaml",
                "project: beside\ndialect: " + kind + "\ndatabase: private\nstandard: s/*.sql\n");
        cli.write(
                "tables/t.sql",
                "CREATE TABLE item (id INT PRIMARY KEY, name VARCHAR(20), qty INT);\n"
                        + "INSERT INTO item VALUES (1, 'cork', 10), (2, 'label', 20);\n"
                        + "CREATE TABLE log (line VARCHAR(100));\n");
        cli.write(
                "routines/n.sql",
                postgres
                        ? """
                        CREATE PROCEDURE noted(t text) LANGUAGE plpgsql AS $$
                        BEGIN INSERT INTO log VALUES (t); END $$;
                        CREATE PROCEDURE fails(n int) LANGUAGE plpgsql AS $$
                        BEGIN IF n > 11 THEN RAISE EXCEPTION 'too much' USING ERRCODE = '45001'; END IF; END $$;
                        CREATE FUNCTION total() RETURNS bigint LANGUAGE sql AS $$ SELECT sum(qty) FROM item $$;
                        CREATE PROCEDURE asks(OUT r int) LANGUAGE plpgsql AS $$ BEGIN r := broken(1); END $$;
                        """
                        : """
                        DELIMITER //
                        CREATE PROCEDURE noted(t TEXT) BEGIN INSERT INTO log VALUES (t); END //
                        CREATE PROCEDURE fails(n INT)
                        BEGIN IF n > 11 THEN SIGNAL SQLSTATE '45001' SET MESSAGE_TEXT = 'too much'; END IF; END //
                        CREATE FUNCTION total() RETURNS BIGINT RETURN (SELECT SUM(qty) FROM item) //
                        CREATE PROCEDURE asks(OUT r INT) BEGIN SET r = broken(1); END //
                        """);
        cli.write("s/s.sql", STANDARD);
        inOrder(cli.run("check").out(), List.of("s/s.sql", "no function zz here", "1 error"));
        inOrder(run(cli, "", "call report").out(), List.of("cork", "label"));
        Cli.Result some = run(cli, "", "call report lo=15");
        assertTrue(some.out().contains("label") && !some.out().contains("cork"), some.out());
        inOrder(run(cli, "", "call label_of k=1").out(), List.of("'cork      |30'"));
        inOrder(
                run(cli, "", "call change n=11").out(),
                List.of("r = 'cork      |31'", "10 → 11", "'cork 11'", "'from trigger'"));
        inOrder(run(cli, "", "call change n=12").out(), List.of("r = 'too much'", "10 → 12"));
        inOrder(run(cli, "", "call sums").out(), List.of("n = 13"));
        inOrder(run(cli, "", "call shelf.look").out(), List.of("r = 1"));
        inOrder(
                run(cli, "", "trace change n=11").out(),
                List.of(
                        "trigger log_it",
                        "noted(t 'from trigger')",
                        "label_of gives",
                        "fails(n 11)"));
        // One that has errors does not answer with nothing.
        Cli.Result asks = run(cli, "", "call asks");
        assertEquals(ExitCode.RAISED, asks.code());
        inOrder(asks.out() + asks.err(), List.of("broken"));
    }

    @ParameterizedTest
    @ValueSource(strings = {"postgresql", "mariadb"})
    void theConsoleIsOpenInTheServersOwnWords(String kind) throws IOException {
        Cli cli = demo(kind);
        String call =
                kind.equals("postgresql")
                        ? "SELECT move_wine('T1', 'C7', 5);"
                        : "CALL move_wine('T1', 'C7', 5, @moved);";
        Cli.Result out =
                cli.typing(
                        "SELECT code\n  FROM vessel WHERE code = 'T1';\n"
                                + call
                                + "\nUPDATE vessel SET level_l = 1 WHERE code = 'B1';\nundo\n"
                                + "SELECT nosuch FROM vessel;\nSTART TRANSACTION;\n"
                                + "DELETE FROM movement;\nROLLBACK;\nchanges\n"
                                + call.replace("5", "99999")
                                + "\nSELECT 'half",
                        "console");
        inOrder(
                out.out(),
                List.of(
                        "T1",
                        "level_l 500.0 → 495.0",
                        "level_l 200.0 → 1.0",
                        "taken back: UPDATE vessel",
                        "nosuch",
                        "what it did itself is taken back",
                        "removed",
                        "sql> ROLLBACK;",
                        "sql> changes",
                        "level_l 500.0 → 495.0",
                        "1 added",
                        "T1 does not hold 99999"));
        String after = out.out().substring(out.out().indexOf("sql> changes"));
        assertTrue(!after.contains("removed"), after);
        assertTrue(out.err().contains("has no end, and was not run: SELECT 'half"), out.err());
        assertEquals(ExitCode.FAILED, out.code());
        cli.write("r.sql", "DELETE FROM movement;\nROLLBACK;\nSELECT 1;\n");
        Cli.Result script = cli.run("run", "r.sql");
        assertTrue(
                kind.equals("mariadb")
                        ? script.code() == 0
                        : script.out().contains("leave ROLLBACK out"),
                script.out() + script.err());
    }
}
