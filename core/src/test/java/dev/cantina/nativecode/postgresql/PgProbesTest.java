package dev.cantina.nativecode.postgresql;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.debugging.DebugException;
import dev.cantina.debugging.Debugger;
import dev.cantina.debugging.Resume;
import dev.cantina.hosting.HostingException;
import dev.cantina.hosting.PrivateServer;
import dev.cantina.nativecode.WatchedRoutines;
import dev.cantina.observe.Profile;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Frame;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.Probe;
import dev.cantina.runtime.ResultRows;
import dev.cantina.runtime.Session;
import dev.cantina.types.SqlType;
import dev.cantina.types.Values;
import java.io.IOException;
import java.math.BigDecimal;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.Test;

/** What is told of routines that PostgreSQL runs, and that telling changes nothing in them. */
class PgProbesTest extends WatchedRoutines {
    private static final String TABLES =
            """
            CREATE TABLE item (id int PRIMARY KEY, n int, note text);
            CREATE TABLE log (seq serial PRIMARY KEY, what text);
            INSERT INTO item VALUES (1, 10, 'a'), (2, 20, NULL), (3, 30, 'c');
            """;

    @AfterAll
    static void end() throws HostingException {
        PrivateServer.of("postgresql").stop();
    }

    private Workspace open(String routines) throws IOException, ProjectException {
        return project("postgresql", TABLES, routines);
    }

    @Override
    protected Workspace watched(String routines) throws Exception {
        return open(routines);
    }

    private static final String LOGGED =
            """
            CREATE FUNCTION logged() RETURNS trigger LANGUAGE plpgsql AS $$
            BEGIN
              INSERT INTO log (what) VALUES (TG_OP || NEW.id);
              RETURN NEW;
            END $$;
            CREATE TRIGGER logged AFTER UPDATE ON item FOR EACH ROW EXECUTE FUNCTION logged();
            """;

    @Test
    void eachActivationIsAFrameOfItsOwn() throws Exception {
        String routines =
                LOGGED
                        + """
                        CREATE FUNCTION down(k int) RETURNS int LANGUAGE plpgsql AS $$
                        BEGIN
                          IF k > 0 THEN
                            RETURN down(k - 1) + 1;
                          END IF;
                          RETURN 0;
                        END $$;
                        CREATE FUNCTION f() RETURNS int LANGUAGE plpgsql AS $$
                        DECLARE x int;
                        BEGIN
                          UPDATE item SET n = n + 1;
                          x := down(2);
                          SELECT sum(down(0)) INTO x FROM item;
                          RETURN x;
                        END $$;
                        """;
        List<String> told = record(routines, Map.of(), false);
        assertEquals(
                List.of(
                        "1 f:17",
                        "2 logged:3",
                        "2 logged:4",
                        "2 left logged",
                        "2 logged:3",
                        "2 logged:4",
                        "2 left logged",
                        "2 logged:3",
                        "2 logged:4",
                        "2 left logged",
                        "1 f:18",
                        "2 down:9",
                        "2 down:10",
                        "3 down:9",
                        "3 down:10",
                        "4 down:9",
                        "4 down:12",
                        "4 left down",
                        "3 left down",
                        "2 left down",
                        "1 f:19",
                        "2 down:9",
                        "2 down:12",
                        "2 left down",
                        "2 down:9",
                        "2 down:12",
                        "2 left down",
                        "2 down:9",
                        "2 down:12",
                        "2 left down",
                        "1 f:20",
                        "1 left f"),
                told);
    }

    @Test
    void variablesAreThoseThatAreDeclaredThere() throws Exception {
        String routines =
                """
                CREATE FUNCTION f("Odd" int, text, r item DEFAULT NULL) RETURNS void LANGUAGE plpgsql AS $$
                DECLARE
                  a numeric(8, 2) := 1.50; b text; c int[] := '{1,2}'; d date := '2031-05-06';
                  e jsonb := '{"k": [1, null]}'; "else" boolean := true; rec record;
                BEGIN
                  b := E'x\\ny''z'; SELECT * INTO r FROM item WHERE id = 2;
                  DECLARE a text := 'inner';
                  BEGIN
                    FOR i IN 1..1 LOOP
                      NULL;
                    END LOOP;
                  END;
                  a := 2;
                END $$;
                """;
        List<String> told = record(routines, Map.of("Odd", 7, "arg2", "two"), true);
        String outer =
                "Odd=7 $2=two r=%s a=%s b=%s c={1,2} d=2031-05-06 e={\"k\": [1, null]} else=TRUE"
                        + " rec=NULL";
        assertEquals("1 f:6 " + outer.formatted("NULL", "1.50", "NULL"), told.get(0));
        String row = told.get(1).replaceFirst(".* r=(.*) a=.*", "$1");
        assertTrue(row.contains("2") && row.contains("20"), row);
        assertTrue(told.get(2).contains("a=inner"), told.get(2));
        assertTrue(told.get(3).contains(" i=1"), told.get(3));
        assertTrue(told.get(4).contains("a=1.50") && !told.get(4).contains("i="), told.get(4));
    }

    @Test
    void aHandlerTellsWhatItHandles() throws Exception {
        String routines =
                """
                CREATE FUNCTION g() RETURNS void LANGUAGE plpgsql AS $$
                BEGIN
                  RAISE EXCEPTION 'no' USING ERRCODE = '45001';
                END $$;
                CREATE FUNCTION f() RETURNS text LANGUAGE plpgsql AS $$
                BEGIN
                  BEGIN
                    UPDATE item SET n = 0;
                    PERFORM g();
                  EXCEPTION WHEN unique_violation THEN
                    RETURN 'unique';
                  WHEN OTHERS THEN
                    RETURN SQLSTATE;
                  END;
                END $$;
                """;
        assertEquals(
                List.of(
                        "1 f:8",
                        "1 f:9",
                        "2 g:3",
                        "2 left g",
                        "1 raised 45001",
                        "1 f:13",
                        "1 left f"),
                record(routines, Map.of(), false));
    }

    /** Bodies that look at what a probe must not touch. */
    private static final List<String> BODIES =
            List.of(
                    "BEGIN UPDATE item SET n = 1 WHERE id < 3; GET DIAGNOSTICS x = ROW_COUNT; RETURN x"
                            + " || ' ' || FOUND; END",
                    "BEGIN PERFORM 1 WHERE false; IF NOT FOUND THEN RETURN 'none'; END IF; RETURN 'some'; END",
                    "BEGIN FOR i IN 1..3 LOOP CONTINUE WHEN i = 2; x := concat(x, i); END LOOP; RETURN x ||"
                            + " FOUND; END",
                    "BEGIN x := 1 / 0; RETURN x; EXCEPTION WHEN division_by_zero THEN GET STACKED"
                            + " DIAGNOSTICS x = PG_EXCEPTION_CONTEXT; RETURN SQLSTATE || regexp_replace(x,"
                            + " '.*(line \\d+).*', '\\1'); END",
                    "BEGIN BEGIN UPDATE item SET n = 5; RAISE 'back'; EXCEPTION WHEN OTHERS THEN NULL;"
                            + " END; SELECT sum(n) INTO x FROM item; RETURN x; END",
                    "<<b>> DECLARE k int := 0; BEGIN <<l>> LOOP k := k + 1; WHILE true LOOP EXIT l WHEN k"
                            + " > 2; EXIT; END LOOP; END LOOP l; RETURN b.k; END b",
                    "DECLARE c CURSOR (p int) FOR SELECT * FROM item WHERE id > p; r item; BEGIN FOR q IN"
                            + " c (1) LOOP x := concat(x, q.id); END LOOP; OPEN c (0); FETCH c INTO r; MOVE c;"
                            + " CLOSE c; RETURN x || r.note || FOUND; END",
                    "BEGIN EXECUTE 'SELECT $1 || n FROM item WHERE id = $2' INTO x USING 'v', 2; RETURN x;"
                            + " END",
                    "BEGIN CASE WHEN x IS NULL THEN x := 'null'; ELSE x := 'else'; END CASE; RETURN x;"
                            + " END",
                    "BEGIN CASE 3 WHEN 1 THEN NULL; END CASE; RETURN 'x'; END",
                    "BEGIN ASSERT 1 = 2, 'assert'; RETURN 'x'; END",
                    "#variable_conflict use_column\nDECLARE n int := 99; BEGIN SELECT n INTO x FROM item"
                            + " WHERE id = 1; RETURN x; END",
                    "BEGIN INSERT INTO item VALUES (1, 1, 'dup'); RETURN 'x'; END",
                    "BEGIN RAISE NOTICE 'n %', 1; RAISE WARNING 'w'; RETURN 'x'; END",
                    "DECLARE r record; BEGIN FOR r IN SELECT id, note FROM item ORDER BY id LOOP x :="
                            + " concat(x, r.id, coalesce(r.note, '-')); END LOOP; RETURN x; END",
                    "DECLARE a int[] := '{3,4}'; e int; BEGIN FOREACH e IN ARRAY a LOOP x := concat(x, e);"
                            + " END LOOP; a[1] := 9; RETURN x || a[1]; END",
                    "BEGIN IF x = '' THEN NULL; ELSIF x IS NULL THEN x := 'b'; ELSE x := 'c'; END IF; RETURN"
                            + " x; END",
                    "BEGIN RETURN now() = statement_timestamp(); END");

    private static String shown(Outcome outcome) {
        return outcome.kind()
                + " "
                + Values.text(outcome.returned())
                + " "
                + outcome.condition().map(c -> c.sqlstate() + c.message()).orElse("")
                + " "
                + outcome.messages()
                + " "
                + outcome.stack().stream()
                        .map(s -> s.routine() + s.place().line())
                        .collect(Collectors.joining(","))
                + " "
                + outcome.events().stream()
                        .map(
                                e ->
                                        e.table().name()
                                                + Values.text(e.before())
                                                + Values.text(e.after()))
                        .toList();
    }

    @Test
    void aProbeChangesNothing() throws Exception {
        for (String body : BODIES) {
            for (boolean quoted : List.of(false, true)) {
                String written =
                        quoted ? "'" + body.replace("'", "''") + "'" : "$f$" + body + "$f$";
                String routine =
                        LOGGED
                                + "create function f(x text DEFAULT NULL) returns text\nlanguage plpgsql as\n"
                                + written
                                + ";";
                String plain;
                try (Workspace workspace = open(routine);
                        Session session = session(workspace, Optional.empty())) {
                    assertEquals(List.of(), workspace.errors(), body);
                    plain = shown(run(workspace, session, Map.of()));
                }
                for (Recorder recorder :
                        List.of(new Recorder(true, true), new Recorder(false, true))) {
                    try (Workspace workspace = open(routine);
                            Session session = session(workspace, Optional.of(recorder))) {
                        String woven = shown(run(workspace, session, Map.of()));
                        assertEquals(plain, woven, body);
                    }
                    assertFalse(recorder.lines.isEmpty(), body);
                }
            }
        }
    }

    /** Procedures that end transactions (PostgreSQL, "Transaction Management"). */
    @Test
    void aProbeChangesNothingWhereAProcedureCommits() throws Exception {
        List<String> bodies =
                List.of(
                        "UPDATE item SET n = 1 WHERE id = 1; COMMIT; UPDATE item SET n = 2 WHERE id = 2; ROLLBACK; x := 'end';",
                        "FOR i IN 1..4 LOOP UPDATE item SET n = i WHERE id = 3; IF i % 2 = 0 THEN COMMIT; ELSE ROLLBACK; END IF; END LOOP; x := (SELECT n::text FROM item WHERE id = 3);",
                        "UPDATE item SET n = 1; COMMIT; RAISE EXCEPTION 'late' USING ERRCODE = '45001';",
                        "UPDATE item SET n = 1; COMMIT AND CHAIN; x := current_setting('transaction_isolation');",
                        "BEGIN UPDATE item SET n = 1 / 0; EXCEPTION WHEN division_by_zero THEN x := SQLSTATE; END; COMMIT; UPDATE item SET n = 7 WHERE id = 1;",
                        "BEGIN COMMIT; EXCEPTION WHEN OTHERS THEN x := SQLSTATE; END; x := 'not here';",
                        "DECLARE r record; BEGIN FOR r IN SELECT id FROM item ORDER BY id LOOP UPDATE item SET n = r.id; COMMIT; x := concat(x, r.id); END LOOP; END;");
        for (String body : bodies) {
            String routine =
                    LOGGED
                            + "create procedure f(inout x text)\nlanguage plpgsql as $f$\nbegin "
                            + body
                            + " end $f$;";
            Map<String, Object> given = new java.util.HashMap<>();
            given.put("x", null);
            String plain;
            try (Workspace workspace = open(routine);
                    Session session = session(workspace, Optional.empty())) {
                assertEquals(List.of(), workspace.errors(), body);
                plain = shown(run(workspace, session, given));
            }
            for (Recorder recorder : List.of(new Recorder(true, true), new Recorder(false, true))) {
                try (Workspace workspace = open(routine);
                        Session session = session(workspace, Optional.of(recorder))) {
                    assertEquals(plain, shown(run(workspace, session, given)), body);
                }
                assertFalse(recorder.lines.isEmpty(), body);
            }
        }
    }

    @Test
    void countsAreThoseOfWhatIsTold() throws Exception {
        for (String body : BODIES) {
            String routine =
                    LOGGED
                            + "create function f(x text DEFAULT NULL) returns text\nlanguage plpgsql as\n$f$"
                            + body
                            + "$f$;";
            Map<String, Object> given = new java.util.HashMap<>();
            given.put("x", null);
            List<Map<String, Long>> counts = new ArrayList<>();
            boolean completed = false;
            for (Probe.Detail detail : List.of(Probe.Detail.ORDER, Probe.Detail.COUNTS)) {
                Counter counter = new Counter(detail);
                try (Workspace workspace = open(routine)) {
                    workspace.program().expectWatching(detail);
                    workspace.database().keep();
                    try (Session session = session(workspace, Optional.of(counter))) {
                        completed = run(workspace, session, given).kind() == Outcome.Kind.COMPLETED;
                    }
                }
                counts.add(counter.counts);
            }
            if (completed) {
                assertEquals(counts.get(0), counts.get(1), body);
            } else {
                // What a condition ends has told of each statement, and not how often.
                assertEquals(counts.get(0).keySet(), counts.get(1).keySet(), body);
            }
        }
    }

    /** What can set off no other routine is counted, and told between others; nothing is lost. */
    @Test
    void aProfileCountsWhatIsNotToldOneByOne() throws Exception {
        String routines =
                """
                CREATE FUNCTION inside(k int) RETURNS int LANGUAGE plpgsql AS $$
                DECLARE s int := 0;
                BEGIN
                  FOR i IN 1..k LOOP
                    s := s + 1;
                  END LOOP;
                  RETURN s;
                END $$;
                CREATE FUNCTION f(k int) RETURNS int LANGUAGE plpgsql AS $$
                DECLARE n int := 0;
                BEGIN
                  FOR i IN 1..k LOOP
                    n := n + 1;
                    IF i % 100 = 0 THEN
                      n := n + inside(50) * 0;
                    END IF;
                    BEGIN
                      n := n + 0 / (i % 50);
                    EXCEPTION WHEN division_by_zero THEN
                      n := n + 1;
                    END;
                    CONTINUE WHEN i < 2000;
                    UPDATE item SET n = 7 WHERE id = 1;
                  END LOOP;
                  RETURN n;
                END $$;
                """;
        Map<Integer, Long> runs = profiled(routines, 3000).runs();
        assertEquals(3000, runs.get(13));
        assertEquals(3000, runs.get(14));
        assertEquals(30, runs.get(15));
        assertEquals(3000, runs.get(18));
        assertEquals(60, runs.get(20));
        assertEquals(3000, runs.get(22));
        assertEquals(1001, runs.get(23));
        assertEquals(1, runs.get(25));
        assertEquals(1500, runs.get(5));
        assertEquals(30, runs.get(7));
    }

    /** Changes that can fire nothing are counted with their rows; all others are told. */
    @Test
    void aProfileKnowsWhoWroteWhichRows() throws Exception {
        String routines =
                """
                CREATE TABLE pile (id int PRIMARY KEY, n int, k int REFERENCES item (id) ON DELETE CASCADE);
                CREATE TABLE loud (id int, n int);
                CREATE VIEW seen AS SELECT id, n FROM pile;
                CREATE FUNCTION logged() RETURNS trigger LANGUAGE plpgsql AS $$
                BEGIN
                  INSERT INTO log (what) VALUES ('x');
                  RETURN NEW;
                END $$;
                CREATE TRIGGER logged AFTER INSERT ON loud FOR EACH ROW EXECUTE FUNCTION logged();
                CREATE FUNCTION f(k int) RETURNS int LANGUAGE plpgsql AS $$
                BEGIN
                  FOR i IN 1..k LOOP
                    INSERT INTO pile (id, n, k) VALUES (i, 0, 2), (-i, 0, 3);
                    UPDATE pile SET n = n + 1 WHERE id IN (i, -i, i - 1);
                    UPDATE pile SET n = n WHERE false;
                    BEGIN
                      DELETE FROM pile WHERE id = -i;
                      INSERT INTO pile (id, n) VALUES (i, 1 / (i % 2));
                    EXCEPTION WHEN division_by_zero OR unique_violation THEN
                      DELETE FROM pile WHERE id = i - 2;
                    END;
                    INSERT INTO loud VALUES (i, i);
                    UPDATE seen SET n = 5 WHERE id = i;
                  END LOOP;
                  DELETE FROM item WHERE id = 3;
                  RETURN 1;
                END $$;
                """;
        Map<Integer, Long> written = new TreeMap<>();
        Map<Integer, Long> runs = new TreeMap<>();
        Profile profile = new Profile();
        try (Workspace workspace = open(routines);
                Session session = session(workspace, Optional.of(profile))) {
            assertEquals(List.of(), workspace.errors());
            assertEquals(Outcome.Kind.COMPLETED, run(workspace, session, Map.of("k", 100)).kind());
        }
        profile.lines().forEach(l -> runs.put(l.line(), l.runs()));
        profile.lines().forEach(l -> written.put(l.line(), l.written()));
        assertEquals(100, runs.get(13));
        assertEquals(200, written.get(13));
        assertEquals(100, runs.get(14));
        assertEquals(100, runs.get(17));
        assertEquals(0, written.get(15));
        assertEquals(100, runs.get(22));
        assertEquals(100, written.get(22));
        assertEquals(100, written.get(6));
        // -1 went in the handler; a view has a rule, and what a foreign key passes on is not in the
        // count of its statement.
        assertEquals(100, runs.get(23));
        assertEquals(100, written.get(23));
        assertEquals(100, written.get(25));
    }

    /** What an operator, a domain or a cast may set off is told one by one. */
    @Test
    void aProfileTellsWhatMaySetOffAnother() throws Exception {
        String routines =
                """
                CREATE FUNCTION sound(v int) RETURNS boolean LANGUAGE plpgsql AS $$
                BEGIN
                  RETURN v >= 0;
                END $$;
                CREATE DOMAIN level AS int CHECK (sound(VALUE));
                CREATE FUNCTION f(k int) RETURNS int LANGUAGE plpgsql AS $$
                DECLARE n level := 0;
                BEGIN
                  FOR i IN 1..k LOOP
                    n := n + 1;
                  END LOOP;
                  RETURN n;
                END $$;
                """;
        Profiled profiled = profiled(routines, 100);
        assertEquals(100, profiled.runs().get(10));
        assertTrue(profiled.runs().get(3) >= 100, profiled.runs().toString());
        // What is called stands below what calls it.
        assertEquals(
                List.of("sound"),
                profiled.below().getOrDefault("f:10", List.of()),
                profiled.below().toString());
    }

    /** What a condition keeps from being told is said to be missing. */
    @Test
    void aProfileSaysWhereRunsAreMissing() throws Exception {
        String routines =
                """
                CREATE FUNCTION f(k int, d int) RETURNS int LANGUAGE plpgsql AS $$
                DECLARE n int := 0;
                BEGIN
                  FOR i IN 1..k LOOP
                    n := n + 10 / (d - i);
                  END LOOP;
                  RETURN n;
                END $$;
                """;
        for (int d : List.of(5, 100, 1000)) {
            Profile profile = new Profile();
            try (Workspace workspace = open(routines);
                    Session session = session(workspace, Optional.of(profile))) {
                run(workspace, session, Map.of("k", 200, "d", d));
            }
            assertEquals(d == 100 ? List.of("f") : List.of(), profile.cutShort(), "" + d);
        }
    }

    private record Profiled(Map<Integer, Long> runs, Map<String, List<String>> below) {}

    private Profiled profiled(String routines, int k) throws Exception {
        Profile profile = new Profile();
        try (Workspace workspace = open(routines);
                Session session = session(workspace, Optional.of(profile))) {
            assertEquals(List.of(), workspace.errors());
            assertEquals(Outcome.Kind.COMPLETED, run(workspace, session, Map.of("k", k)).kind());
        }
        Map<Integer, Long> runs = new java.util.TreeMap<>();
        profile.lines().forEach(l -> runs.put(l.line(), l.runs()));
        Map<String, List<String>> below = new java.util.TreeMap<>();
        below(profile.flame(), below);
        return new Profiled(runs, below);
    }

    private static void below(Profile.Flame flame, Map<String, List<String>> all) {
        all.merge(
                flame.name(),
                flame.children().stream().map(Profile.Flame::name).toList(),
                (a, b) -> a.isEmpty() ? b : a);
        flame.children().forEach(c -> below(c, all));
    }

    private static final String LOOP =
            LOGGED
                    + """
                    CREATE FUNCTION f(k int) RETURNS int LANGUAGE plpgsql AS $$
                    DECLARE s int := 0; it item;
                    BEGIN
                      FOR i IN 1..k LOOP
                        s := s + i;
                      END LOOP;
                      SELECT * INTO it FROM item WHERE id = 3;
                      UPDATE item SET n = s WHERE id = it.id;
                      RETURN s;
                    END $$;
                    """;

    @Test
    void aStopLooksAndChanges() throws Exception {
        Script script = new Script();
        List<Object> found = new ArrayList<>();
        script.act =
                (stop, debugger) -> {
                    Frame frame = stop.frame();
                    try {
                        if (frame.place().span().line() == 11) {
                            found.add(debugger.eval(frame, "i * 10 + s"));
                            found.add(debugger.eval(frame, "(SELECT count(*) FROM item) > k"));
                            found.add(debugger.set(frame, "s", "s + 100"));
                        } else if (frame.place().span().line() == 14) {
                            found.add(debugger.eval(frame, "it.note || it.n"));
                            found.add(
                                    frame.session
                                            .questions()
                                            .inspect("SELECT id FROM item ORDER BY 1", 9)
                                            .rows()
                                            .size());
                            found.add(
                                    debugger.change(
                                            frame, "UPDATE item SET note = 'seen' WHERE id = 1"));
                            found.add(debugger.set(frame, "it", "ROW(2, 5, 'z')::item"));
                        } else if (frame.routine().name().equals("logged")) {
                            found.add(debugger.eval(frame, "OLD.n || '>' || NEW.n || TG_OP"));
                            found.add(value(frame.caller(), "s"));
                        }
                    } catch (DebugException | SQLException e) {
                        found.add(e.getMessage());
                    }
                    return Resume.of(Resume.Kind.CONTINUE);
                };
        try (Workspace workspace = open(LOOP)) {
            Debugger debugger = debugger(workspace, script, false);
            debugger.pauseAt("f", 11, Optional.of("i = 2"), 0, 1);
            debugger.pauseAt("f", 14, Optional.empty(), 0, 1);
            debugger.pauseAt("logged", 3, Optional.of("NEW.n::int > 100"), 0, 1);
            debugger.begin(workspace.program(), Optional.empty());
            try (Session session = session(workspace, Optional.of(debugger))) {
                Outcome outcome = run(workspace, session, Map.of("k", 3));
                assertEquals("106", Values.text(outcome.returned()));
                assertEquals(List.of("f:11", "f:14", "logged:3"), script.seen);
                assertEquals(
                        "[21, false, 101, c30, 3, 1]",
                        found.subList(0, 6).stream()
                                .map(Values::text)
                                .toList()
                                .toString()
                                .toLowerCase());
                assertEquals("20>106UPDATE", found.get(7));
                assertEquals("106", Values.text(found.get(8)));
                assertEquals(4, outcome.events().size());
            }
        }
    }

    /**
     * "PL/pgSQL", 43.2: a label qualifies the names of its block; the routine's that of parameters.
     */
    @Test
    void whatIsHiddenIsSeenByItsLabel() throws Exception {
        String routines =
                """
                CREATE FUNCTION f(p int, q int) RETURNS int LANGUAGE plpgsql AS $$
                << Main >>
                DECLARE p int := f.p + 1;
                BEGIN
                  q := q + p;
                  <<sub>> DECLARE q int := 7;
                  BEGIN
                    q := q + main.p;
                    p := f.q;
                    <<main>> FOR p IN 3..3 LOOP
                      q := p;
                    END LOOP;
                  END;
                  RETURN p + q;
                END $$;
                """;
        Script script = new Script();
        List<String> found = new ArrayList<>();
        script.act =
                (stop, debugger) -> {
                    int line = stop.frame().place().span().line();
                    for (String one :
                            List.of("f.p", "F.q", "main.p", "\"sub\".q", "p + q", "f.p + sub.q")) {
                        try {
                            found.add(line + " " + one + "=" + debugger.eval(stop.frame(), one));
                        } catch (DebugException e) {
                            found.add(line + " " + one + "=?");
                        }
                    }
                    return Resume.of(Resume.Kind.CONTINUE);
                };
        try (Workspace workspace = open(routines)) {
            Debugger debugger = debugger(workspace, script, false);
            for (int line : List.of(5, 8, 11, 14)) {
                debugger.pauseAt("f", line, Optional.empty(), 0, 1);
            }
            debugger.begin(workspace.program(), Optional.empty());
            try (Session session = session(workspace, Optional.of(debugger))) {
                Outcome outcome = run(workspace, session, Map.of("p", 5, "q", 6));
                assertEquals("24", Values.text(outcome.returned()));
            }
        }
        assertEquals(
                """
                5 f.p=5, 5 F.q=6, 5 main.p=6, 5 "sub".q=?, 5 p + q=12, 5 f.p + sub.q=?, \
                8 f.p=5, 8 F.q=12, 8 main.p=6, 8 "sub".q=7, 8 p + q=13, 8 f.p + sub.q=12, \
                11 f.p=5, 11 F.q=12, 11 main.p=3, 11 "sub".q=13, 11 p + q=16, 11 f.p + sub.q=18, \
                14 f.p=5, 14 F.q=12, 14 main.p=12, 14 "sub".q=?, 14 p + q=24, 14 f.p + sub.q=?""",
                String.join(", ", found));
    }

    /** What another hides is changed by its label, and nothing else with it. */
    @Test
    void whatIsHiddenIsChangedByItsLabel() throws Exception {
        String routines =
                """
                CREATE FUNCTION f(p int, q int) RETURNS text LANGUAGE plpgsql AS $$
                <<main>>
                DECLARE p int := f.p + 1; t text; c CONSTANT int := 4;
                BEGIN
                  <<"Sub">> DECLARE p int := 70; c int := 9;
                  BEGIN
                    t := p || ' ' || main.p || ' ' || f.p || ' ' || q || ' ' || c || main.c;
                  END;
                  RETURN t || ' ' || p || ' ' || f.p;
                END $$;
                """;
        Script script = new Script();
        List<String> found = new ArrayList<>();
        script.act =
                (stop, debugger) -> {
                    for (String one :
                            List.of(
                                    "MAIN . p = p + 1",
                                    "f.p = main.p + 1000",
                                    "\"Sub\".p = 5",
                                    "f.Q = 8",
                                    "sub.p = 1",
                                    "main.c = 1",
                                    "main.nothing = 1",
                                    "main = 1")) {
                        String[] both = one.split(" = ");
                        try {
                            found.add(both[0] + "=" + debugger.set(stop.frame(), both[0], both[1]));
                        } catch (DebugException e) {
                            found.add(both[0] + ": " + e.getMessage().split(";")[0]);
                        }
                    }
                    return Resume.of(Resume.Kind.CONTINUE);
                };
        try (Workspace workspace = open(routines)) {
            Debugger debugger = debugger(workspace, script, false);
            debugger.pauseAt("f", 7, Optional.empty(), 0, 1);
            debugger.begin(workspace.program(), Optional.empty());
            try (Session session = session(workspace, Optional.of(debugger))) {
                Outcome outcome = run(workspace, session, Map.of("p", 5, "q", 6));
                assertEquals("5 71 1071 8 94 71 1071", Values.text(outcome.returned()));
            }
        }
        assertEquals(
                """
                MAIN . p=71, f.p=1071, "Sub".p=5, f.Q=8, sub.p: there is no variable sub here, \
                main.c: main.c is a constant and can't be changed, \
                main.nothing: there is no variable main here, \
                main: there is no variable main here""",
                String.join(", ", found));
    }

    /** A name in quotes is exact; one without is in small letters ("Identifiers and Key Words"). */
    @Test
    void aVariableIsSetByItsNameInQuotesToo() throws Exception {
        String routines =
                """
                CREATE FUNCTION f() RETURNS text LANGUAGE plpgsql AS $$
                DECLARE "Odd" int := 1; odd int := 2; "a. ""b" int := 3; it item;
                BEGIN
                  it := NULL;
                  RETURN concat_ws(' ', "Odd", odd, "a. ""b", it.note);
                END $$;
                """;
        Script script = new Script();
        List<String> failed = new ArrayList<>();
        script.act =
                (stop, debugger) -> {
                    for (String name :
                            List.of("\"Odd\"", "ODD", "\"a. \"\"b\"", "\"it\".\"note\"")) {
                        try {
                            debugger.set(stop.frame(), name, "coalesce(" + name + "::int, 1) * 10");
                        } catch (DebugException e) {
                            failed.add(e.getMessage());
                        }
                    }
                    return Resume.of(Resume.Kind.CONTINUE);
                };
        try (Workspace workspace = open(routines)) {
            Debugger debugger = debugger(workspace, script, false);
            debugger.pauseAt("f", 5, Optional.empty(), 0, 1);
            debugger.begin(workspace.program(), Optional.empty());
            try (Session session = session(workspace, Optional.of(debugger))) {
                Outcome outcome = run(workspace, session, Map.of());
                assertEquals(List.of(), failed);
                assertEquals("10 20 30 10", Values.text(outcome.returned()));
            }
        }
    }

    @Test
    void whatIsAskedMayTakeAQueryWithVariablesAndIsCalledOff() throws Exception {
        Script script = new Script();
        List<Object> found = new ArrayList<>();
        script.act =
                (stop, debugger) -> {
                    Frame frame = stop.frame();
                    try {
                        if (frame.routine().name().equals("logged")) {
                            found.add(
                                    debugger.query(
                                                    frame,
                                                    "SELECT id FROM item WHERE id = NEW.id",
                                                    9)
                                            .rows()
                                            .size());
                            return Resume.of(Resume.Kind.CONTINUE);
                        }
                        found.add(debugger.evaluate(frame, "i + 1").type().sql());
                        found.add(
                                debugger.query(
                                                frame,
                                                "SELECT id, s AS \"sum\" FROM item WHERE id < K -- k\n",
                                                9)
                                        .rows()
                                        .size());
                        found.add(debugger.glance(frame, "s").orElseThrow().value());
                        found.add(debugger.glance(frame, "s + 1").isPresent());
                        Thread other = new Thread(() -> callOff(debugger));
                        other.start();
                        try {
                            debugger.eval(frame, "pg_sleep(40)");
                        } catch (DebugException e) {
                            found.add(e.getMessage());
                        }
                        found.add(debugger.eval(frame, "s"));
                    } catch (DebugException e) {
                        found.add(e.getMessage());
                    }
                    return Resume.of(Resume.Kind.CONTINUE);
                };
        try (Workspace workspace = open(LOOP)) {
            Debugger debugger = debugger(workspace, script, false);
            debugger.pauseAt("f", 11, Optional.of("i = 2"), 0, 1);
            debugger.pauseAt("logged", 3, Optional.empty(), 0, 1);
            debugger.begin(workspace.program(), Optional.empty());
            try (Session session = session(workspace, Optional.of(debugger))) {
                Outcome outcome = run(workspace, session, Map.of("k", 3));
                assertEquals(Outcome.Kind.COMPLETED, outcome.kind());
                assertEquals(
                        "[INTEGER, 2, 1, FALSE, UL000 called off, 1, 1]",
                        found.stream().map(Values::text).toList().toString());
            }
        }
    }

    private static void callOff(Debugger debugger) {
        try {
            Thread.sleep(500);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
        debugger.callOff();
    }

    @Test
    void longValuesAreSeenAndTooLongOnesAreRefused() throws Exception {
        String routine =
                """
                CREATE FUNCTION f() RETURNS text LANGUAGE plpgsql AS $$
                DECLARE t text := repeat('*/ '' é', 100000); u text := 'u';
                BEGIN
                  u := u || length(t);
                  RETURN u || length(t);
                END $$;
                """;
        Script script = new Script();
        List<Object> found = new ArrayList<>();
        script.act =
                (stop, debugger) -> {
                    Frame frame = stop.frame();
                    try {
                        found.add(((String) value(frame, "t")).length());
                        found.add(debugger.eval(frame, "u || '/*'"));
                        found.add(debugger.set(frame, "u", "repeat('*/', 5)"));
                        found.add(debugger.eval(frame, "length(t)"));
                    } catch (DebugException e) {
                        found.add(e.getMessage().substring(0, 5));
                    }
                    return Resume.of(Resume.Kind.CONTINUE);
                };
        try (Workspace workspace = open(routine)) {
            Debugger debugger = debugger(workspace, script, false);
            debugger.pauseAt("f", 4, Optional.empty(), 0, 1);
            debugger.begin(workspace.program(), Optional.empty());
            try (Session session = session(workspace, Optional.of(debugger))) {
                Outcome outcome = run(workspace, session, Map.of());
                assertEquals("[600000, u/*, */*/*/*/*/, 54000]", found.toString());
                assertEquals("*/*/*/*/*/600000600000", outcome.returned());
            }
        }
    }

    @Test
    void columnsOfOneNameAreAllSeenInTheirOrder() throws Exception {
        String routine =
                """
                CREATE FUNCTION f() RETURNS text LANGUAGE plpgsql AS $$
                DECLARE r record;
                BEGIN
                  SELECT 1 AS zz, NULL AS b, 'x' AS zz INTO r;
                  RETURN r.zz;
                END $$;
                """;
        String query =
                "SELECT a.n, b.n, true, 1.50, 'a,\"b\\c', ARRAY['x', NULL], ''::text, NULL AS n,"
                        + " '\\x00ff'::bytea, ROW(1, '()'), '2026-01-02'::timestamp AS q"
                        + " FROM (VALUES (1), (2)) a (n) JOIN (VALUES (2), (3)) b (n)"
                        + " ON a.n < b.n ORDER BY a.n, b.n -- the last";
        Script script = new Script();
        List<Object> found = new ArrayList<>();
        script.act =
                (stop, debugger) -> {
                    Frame frame = stop.frame();
                    try {
                        found.add(value(frame, "r"));
                        found.add(debugger.eval(frame, "r.zz + 1"));
                        for (String one : List.of(query, "SELECT 1 AS q WHERE false;")) {
                            found.add(
                                    rows(
                                            frame.session
                                                    .questions()
                                                    .aside(
                                                            () ->
                                                                    frame.session
                                                                            .questions()
                                                                            .inspect(one, 2))));
                        }
                    } catch (DebugException | SQLException e) {
                        found.add(e.getMessage());
                    }
                    return Resume.of(Resume.Kind.CONTINUE);
                };
        try (Workspace workspace = open(routine)) {
            Debugger debugger = debugger(workspace, script, false);
            debugger.pauseAt("f", 5, Optional.empty(), 0, 1);
            debugger.begin(workspace.program(), Optional.empty());
            try (Session session = session(workspace, Optional.of(debugger))) {
                assertEquals("1", run(workspace, session, Map.of()).returned());
            }
        }
        String row =
                ", true, 1.50, a,\"b\\c, {x,NULL}, , null, \\x00ff, (1,\"()\"), 2026-01-02 00:00:00]";
        assertEquals(
                List.of(
                        "{\"zz\":1,\"b\":null,\"zz\":\"x\"}",
                        new BigDecimal("2"),
                        "[n, n, ?column?, ?column?, ?column?, array, text, n, bytea, row, q]"
                                + "[1, 2"
                                + row
                                + "[1, 3"
                                + row,
                        "[]"),
                found);
    }

    private static String rows(ResultRows rows) {
        StringBuilder text = new StringBuilder();
        text.append(rows.columns().stream().map(SqlType.Field::name).toList());
        rows.rows().forEach(r -> text.append(java.util.Arrays.toString(r)));
        return text.toString();
    }

    @Test
    void whatEndsARunLeavesNothing() throws Exception {
        Script script = new Script();
        script.act = (stop, debugger) -> Resume.of(Resume.Kind.QUIT);
        try (Workspace workspace = open(LOOP)) {
            Debugger debugger = debugger(workspace, script, true);
            debugger.begin(workspace.program(), Optional.empty());
            try (Session session = session(workspace, Optional.of(debugger))) {
                Outcome outcome = run(workspace, session, Map.of("k", 3));
                assertEquals("UL000", outcome.condition().orElseThrow().sqlstate());
                assertEquals(List.of(), outcome.events());
            }
            try (Session session = session(workspace, Optional.empty())) {
                assertEquals("6", Values.text(run(workspace, session, Map.of("k", 3)).returned()));
            }
        }
    }

    /** 20,000 stops, with a core that is busy. */
    @Test
    void manyStopsComeInTheirTurn() throws Exception {
        String routine =
                """
                CREATE FUNCTION f() RETURNS int LANGUAGE plpgsql AS $$
                DECLARE s int := 0;
                BEGIN
                  FOR i IN 1..10000 LOOP
                    s := i;
                    s := s + 0;
                  END LOOP;
                  RETURN s;
                END $$;
                """;
        try (Workspace workspace = open(routine)) {
            List<Object> seen = new ArrayList<>();
            Probe probe =
                    new Probe() {
                        @Override
                        public void entered(Frame frame) {
                            frame.session.watchAll(true);
                            java.util.Arrays.fill(frame.watch, (byte) 1);
                        }

                        @Override
                        public void reached(Frame frame) {
                            if (frame.place().span().line() == 6) {
                                seen.add(value(frame, "s"));
                            }
                        }
                    };
            try (Busy busy = new Busy();
                    Session session = patient(workspace, probe)) {
                run(workspace, session, Map.of());
                assertTrue(busy.isGoing());
            }
            assertEquals(10_000, seen.size());
            for (int i = 0; i < seen.size(); i++) {
                assertEquals((long) i + 1, seen.get(i));
            }
        }
    }
}
