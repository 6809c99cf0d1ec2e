package dev.cantina.project;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.hosting.HostingException;
import dev.cantina.hosting.PrivateServer;
import dev.cantina.runtime.Limits;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.Session;
import dev.cantina.syntax.Problem;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Projects in PostgreSQL's own words, on a private server. */
class OwnWorkspaceTest {
    private static final String TABLES =
            """
            CREATE TYPE mood AS ENUM ('calm', 'cross');
            CREATE TABLE cat (id serial PRIMARY KEY, name text NOT NULL, mood mood, tags text[],
              extra jsonb, born date DEFAULT current_date);
            INSERT INTO cat (name, mood, tags, extra) VALUES ('Tom', 'calm', '{a,b}', '{"n": 1}');
            """;

    @TempDir Path folder;

    @AfterAll
    static void end() throws HostingException {
        PrivateServer.of("postgresql").stop();
    }

    @BeforeEach
    void project() throws IOException {
        write("cantina.yaml", "dialect: postgresql\ndatabase: private\n");
        write("tables/1.sql", TABLES);
    }

    private void write(String name, String text) throws IOException {
        Path file = folder.resolve(name);
        Files.createDirectories(file.getParent());
        Files.writeString(file, text);
    }

    private Outcome call(String routine, Map<String, Object> given)
            throws ProjectException, SQLException, Arguments.MisfitException {
        Project project = ProjectReader.read(folder);
        Optional<String> fixture = Optional.of(project.fixture());
        try (Workspace workspace = Workspace.open(project, fixture)) {
            assertEquals(List.of(), workspace.check());
            RoutineSymbol symbol = workspace.routine(routine, given.keySet());
            try (Session session =
                    new Session(
                            workspace.program(),
                            workspace.database(),
                            Limits.DEFAULT,
                            Clock.systemUTC(),
                            Optional.empty())) {
                Outcome outcome = session.run(symbol, Arguments.match(symbol, given));
                outcome.events();
                return outcome;
            }
        }
    }

    private List<Problem> check() throws ProjectException {
        try (Workspace workspace = Workspace.open(ProjectReader.read(folder), Optional.empty())) {
            return workspace.check();
        }
    }

    @Test
    void aFunctionGivesAValueAndSaysItsNotices() throws Exception {
        write(
                "routines/f.sql",
                """
                CREATE FUNCTION f(a int, b numeric DEFAULT 2) RETURNS numeric LANGUAGE plpgsql AS $$
                BEGIN
                  RAISE NOTICE 'a is %', a;
                  RETURN a * b;
                END $$;
                """);
        Outcome outcome = call("f", Map.of("a", 21));
        assertEquals("42", String.valueOf(outcome.returned()));
        assertEquals(List.of("a is 21"), outcome.messages());
        assertEquals("10.5", String.valueOf(call("F", Map.of("a", 21, "b", "0.5")).returned()));
    }

    @Test
    void aProcedureGivesItsOutParametersAndItsChanges() throws Exception {
        write(
                "routines/p.sql",
                """
                CREATE PROCEDURE p(INOUT n int, OUT t text, OUT j jsonb, OUT l text[])
                LANGUAGE plpgsql AS $$
                BEGIN
                  n := n + 1; t := 'x'; j := '{"a": [1]}'; l := ARRAY['b', NULL];
                  UPDATE cat SET mood = 'cross', extra = j WHERE id = 1;
                  INSERT INTO cat (name) VALUES ('Ina');
                END $$;
                """);
        Outcome outcome = call("p", Map.of("n", 1));
        assertEquals(
                "{n=2, t=x, j={\"a\": [1]}}", outcome.out().toString().replaceAll(", l=.*", "}"));
        assertEquals(2, outcome.events().size());
        assertEquals("cross", outcome.events().get(0).after()[2]);
    }

    @Test
    void aSetOfRowsIsAResult() throws Exception {
        write(
                "routines/r.sql",
                "CREATE FUNCTION r() RETURNS SETOF cat LANGUAGE sql AS 'SELECT * FROM cat';\n"
                        + "CREATE FUNCTION o(OUT a int, OUT b text) LANGUAGE sql AS $$ SELECT 1, 'z' $$;\n"
                        + "CREATE FUNCTION n() RETURNS void LANGUAGE sql AS $$ DELETE FROM cat $$;\n"
                        + "CREATE FUNCTION c() RETURNS refcursor LANGUAGE plpgsql AS $$ DECLARE k"
                        + " CURSOR FOR SELECT id FROM cat; BEGIN OPEN k; RETURN k; END $$;\n");
        Outcome rows = call("r", Map.of());
        assertEquals(1, rows.results().get(0).rows().size());
        assertEquals("Tom", rows.results().get(0).rows().get(0)[1]);
        assertEquals("{a=1, b=z}", call("o", Map.of()).out().toString());
        assertEquals(1, call("n", Map.of()).events().size());
        assertEquals(1, call("c", Map.of()).results().get(0).rows().size());
    }

    @Test
    void aConditionHasTheServersStateAndItsPlace() throws Exception {
        write(
                "routines/e.sql",
                """
                -- a comment
                CREATE FUNCTION inner_e() RETURNS int LANGUAGE plpgsql AS $$
                BEGIN
                  RETURN 1 / 0;
                END $$;
                CREATE FUNCTION e() RETURNS int LANGUAGE plpgsql AS
                $$ BEGIN
                  RETURN inner_e();
                END $$;
                """);
        Outcome outcome = call("e", Map.of());
        assertEquals(Outcome.Kind.RAISED, outcome.kind());
        assertEquals("22012", outcome.condition().orElseThrow().sqlstate());
        assertEquals(
                List.of("inner_e 4", "e 8"),
                outcome.stack().stream().map(s -> s.routine() + " " + s.place().line()).toList());
    }

    @Test
    void whatIsMadeLaterMayBeNamedBefore() throws Exception {
        write(
                "routines/a.sql",
                "CREATE VIEW v AS SELECT w(1) AS x; CREATE FUNCTION a() RETURNS int LANGUAGE sql AS"
                        + " 'SELECT x FROM v';");
        write(
                "routines/z.sql",
                "CREATE FUNCTION w(int) RETURNS int LANGUAGE sql AS 'SELECT $1 + 1';");
        assertEquals("2", String.valueOf(call("a", Map.of()).returned()));
        assertEquals("6", String.valueOf(call("w", Map.of("arg1", 5)).returned()));
    }

    @Test
    void theServersCompilerIsHeardWithItsPlace() throws Exception {
        write(
                "routines/bad.sql",
                """
                CREATE FUNCTION ok() RETURNS int LANGUAGE sql AS 'SELECT 1';
                CREATE FUNCTION bad() RETURNS int LANGUAGE plpgsql AS $$
                BEGIN
                  RETURN 1;
                  x := 2;
                END $$;
                CREATE FUNCTION worse() RETURNS int LANGUAGE sql AS $$ SELECT nothing FROM cat $$;
                """);
        List<Problem> problems = check();
        assertEquals(2, problems.size(), problems.toString());
        assertEquals(5, problems.get(0).span().line());
        assertTrue(problems.get(0).message().contains("\"x\" is not a known variable"));
        assertEquals(7, problems.get(1).span().line());
        assertEquals("nothing", problems.get(1).span().text());
    }

    /** The changes that hints speak of, made one after the other, the last one first. */
    private String edited(String routines) throws Exception {
        write("routines/a.sql", routines);
        List<Problem> problems = new ArrayList<>(check());
        problems.sort(Comparator.comparingInt((Problem p) -> p.span().start()).reversed());
        StringBuilder text = new StringBuilder(routines);
        for (Problem problem : problems) {
            problem.edit()
                    .ifPresent(e -> text.replace(e.range().start(), e.range().end(), e.text()));
        }
        return text.toString();
    }

    @Test
    void whatAHintSaysCanBeDone() throws Exception {
        String done =
                edited(
                        """
                        CREATE FUNCTION f(a int) RETURNS int LANGUAGE plpgsql AS $$
                        DECLARE
                          nothing text := 'x';
                          made int := nextval('q');
                          used int := 1;
                        BEGIN
                          RETURN used;
                          used := 3;
                          IF used > a THEN
                            used := 2;
                          END IF;
                        EXCEPTION
                          WHEN OTHERS THEN null; -- whatever it was
                        END $$;
                        """);
        assertEquals(
                """
                CREATE FUNCTION f(a int) RETURNS int LANGUAGE plpgsql AS $$
                DECLARE
                  made int := nextval('q');
                  used int := 1;
                BEGIN
                  RETURN used;
                EXCEPTION
                  WHEN OTHERS THEN RAISE; -- whatever it was
                END $$;
                """,
                done);
        assertEquals(List.of("unused-name:3"), advice(done));
    }

    private List<String> advice(String routines) throws Exception {
        write("routines/a.sql", routines);
        return check().stream().map(p -> p.rule() + ":" + p.span().line()).toList();
    }

    @Test
    void adviceIsGivenByStatementsAndScopes() throws Exception {
        assertEquals(
                List.of(
                        "unused-name:3",
                        "shadowed-name:8",
                        "unreachable:13",
                        "swallowed-condition:15"),
                advice(
                        """
                        CREATE FUNCTION f(a int) RETURNS int LANGUAGE plpgsql AS $$
                        DECLARE
                          nothing text; -- nothing here
                          used int := 1;
                        BEGIN
                          used := used + 1;
                          DECLARE
                            A int := 2;
                          BEGIN
                            used := a;
                          END;
                          RETURN used;
                          used := 3;
                        EXCEPTION
                          WHEN OTHERS THEN NULL;
                        END $$;
                        """));
    }

    @Test
    void sqlThatIsPutTogetherFromAParameterIsSeen() throws Exception {
        String head =
                "CREATE FUNCTION f(t text, n int) RETURNS void LANGUAGE plpgsql AS $$ BEGIN\n";
        String end = ";\nEND $$;\n";
        assertEquals(
                List.of("concatenated-sql:2"), advice(head + "EXECUTE 'DELETE FROM ' || t" + end));
        for (String open :
                List.of(
                        "EXECUTE 'DELETE FROM ' || quote_ident('a') || t",
                        "EXECUTE 'DELETE FROM ' || quote_ident(upper(t)) || lower(t)",
                        "EXECUTE format('DELETE FROM %I WHERE %s', 'a', t)",
                        "EXECUTE FORMAT ( 'DELETE FROM %1$s', t)",
                        "EXECUTE format('DELETE FROM %-10s', t) USING 1")) {
            assertEquals(List.of("concatenated-sql:2"), advice(head + open + end), open);
        }
        for (String safe :
                List.of(
                        "EXECUTE 'DELETE FROM ' || quote_ident(t)",
                        "EXECUTE 'DELETE FROM ' || quote_ident('x_' || lower(t)) || ' WHERE TRUE'",
                        "EXECUTE 'SELECT ' || quote_nullable (left(t, 2)) || quote_literal(t)",
                        "EXECUTE format('SELECT %L || ''%%s''', t)",
                        "EXECUTE format('DELETE FROM %I', t)",
                        "EXECUTE 'DELETE FROM cat WHERE id = ' || n",
                        "EXECUTE 'DELETE FROM cat WHERE name = $1' USING 'x' || t",
                        "-- advice: concatenated-sql off: a list is looked at first\nEXECUTE 'x' || t")) {
            assertEquals(List.of(), advice(head + safe + end), safe);
        }
    }

    @Test
    void whatDoesSomethingIsNotBlamed() throws Exception {
        assertEquals(
                List.of(),
                advice(
                        """
                        CREATE FUNCTION f() RETURNS int LANGUAGE plpgsql AS $$
                        DECLARE i int := 0; c CURSOR FOR SELECT 1; "Odd" int;
                        BEGIN
                          "Odd" := 1;
                          OPEN c;
                          LOOP
                            CONTINUE WHEN i = 1;
                            EXIT WHEN i > 1;
                            RAISE NOTICE 'x';
                            i := i + 2;
                          END LOOP;
                          IF i = 2 THEN RETURN 1; END IF;
                          RETURN 2;
                        EXCEPTION
                          WHEN division_by_zero THEN NULL;
                          WHEN OTHERS THEN RAISE;
                        END $$;
                        """));
    }

    @Test
    void rowsOfOtherSchemasAreSeen() throws Exception {
        write(
                "tables/2.sql",
                "CREATE SCHEMA app; CREATE TABLE app.cat (id int PRIMARY KEY, n int);"
                        + " CREATE TABLE app.\"Odd one\" (id serial);");
        write(
                "routines/n.sql",
                "CREATE FUNCTION app.n() RETURNS void LANGUAGE sql AS $$ INSERT INTO app.cat VALUES"
                        + " (1, 2); INSERT INTO app.\"Odd one\" DEFAULT VALUES $$;");
        Outcome outcome = call("app.n", Map.of());
        assertEquals(
                List.of("app.cat", "app.Odd one"),
                outcome.events().stream().map(e -> e.table().name()).toList());
    }

    @Test
    void aProcedureMayCommitAndTheNextRunKnowsNothingOfIt() throws Exception {
        write(
                "routines/p.sql",
                """
                CREATE PROCEDURE inner_one(k int) LANGUAGE plpgsql AS $$
                BEGIN
                  INSERT INTO cat (name) VALUES ('in');
                  IF k = 1 THEN COMMIT; ELSE
                    ROLLBACK; END IF;
                END $$;
                CREATE PROCEDURE p(k int, INOUT n bigint) LANGUAGE plpgsql AS $$
                BEGIN
                  -- COMMIT;
                  INSERT INTO cat (name) VALUES ('out');
                  CALL public . inner_one(k);
                  SELECT count(*) INTO n FROM cat;
                  INSERT INTO cat (name) VALUES ('last');
                  IF n = 1 THEN RAISE EXCEPTION 'lost' USING ERRCODE = '45000'; END IF;
                END $$;
                CREATE FUNCTION f() RETURNS int LANGUAGE plpgsql AS $$ BEGIN CALL inner_one(1); RETURN 1; END $$;
                """);
        for (int i = 0; i < 2; i++) {
            Outcome kept = call("p", Map.of("k", 1, "n", 0));
            assertEquals("{n=3}", kept.out().toString());
            assertEquals(3, kept.events().size());
            Outcome lost = call("p", Map.of("k", 2, "n", 0));
            assertEquals("45000", lost.condition().orElseThrow().sqlstate());
            assertEquals(List.of(), lost.events());
        }
        Outcome inside = call("f", Map.of());
        assertEquals("2D000", inside.condition().orElseThrow().sqlstate());
        assertTrue(inside.condition().get().message().contains("called by itself"));
    }

    @Test
    void aDumpIsRead() throws Exception {
        write(
                "tables/1.sql",
                """
                SET statement_timeout = 0;
                SELECT pg_catalog.set_config('search_path', '', false);
                CREATE TABLE public.t (a integer NOT NULL, b text);
                ALTER TABLE public.t OWNER TO somebody;
                COPY public.t (a, b) FROM stdin;
                1\tone;
                2\t\\N
                \\.

                ALTER TABLE ONLY public.t ADD CONSTRAINT t_pkey PRIMARY KEY (a);
                """);
        write(
                "routines/n.sql",
                "CREATE FUNCTION n() RETURNS bigint LANGUAGE sql AS 'SELECT count(*) FROM t';");
        try (Workspace workspace = Workspace.open(ProjectReader.read(folder), Optional.empty())) {
            assertEquals(
                    List.of("left-out"), workspace.check().stream().map(Problem::rule).toList());
            assertEquals(2L, workspace.ask("SELECT n()"));
        }
    }

    @Test
    void noRunSeesAnother() throws Exception {
        write(
                "routines/n.sql",
                "CREATE FUNCTION n() RETURNS int LANGUAGE sql AS $$ INSERT INTO cat (name) VALUES"
                        + " ('x') RETURNING id $$;");
        assertEquals("2", String.valueOf(call("n", Map.of()).returned()));
        assertEquals("2", String.valueOf(call("n", Map.of()).returned()));
    }

    @Test
    void theProjectsSqlHasNoRightsOutside() throws Exception {
        write("routines/x.sql", "COPY cat TO PROGRAM 'cat > /tmp/never';");
        List<Problem> problems = check();
        assertEquals(1, problems.size());
        assertTrue(problems.get(0).message().contains("permission denied"), problems.toString());
        write(
                "routines/x.sql",
                "CREATE FUNCTION f() RETURNS text LANGUAGE sql AS $$ SELECT pg_read_file('/etc/passwd') $$;");
        Outcome outcome = call("f", Map.of());
        assertEquals("42501", outcome.condition().orElseThrow().sqlstate());
    }

    @Test
    void keysThatDoNotFitAreSaid() throws Exception {
        write("cantina.yaml", "database: private\n");
        assertThrows(ProjectException.class, () -> ProjectReader.read(folder));
        write("cantina.yaml", "tables: a.sql\n");
        assertThrows(ProjectException.class, () -> ProjectReader.read(folder));
        write("cantina.yaml", "dialect: postgresql\ndatabase: private\ntables: ../*.sql\n");
        ProjectException e =
                assertThrows(
                        ProjectException.class,
                        () -> Workspace.open(ProjectReader.read(folder), Optional.empty()));
        assertTrue(e.getMessage().contains("leads out of the project"), e.getMessage());
    }

    @Test
    void aPatternThatMeansNoFileIsRefused() throws Exception {
        for (String pattern : List.of("nothere/*.sql", "[tables/*.sql, nothere/*.sql]")) {
            write(
                    "cantina.yaml",
                    "dialect: postgresql\ndatabase: private\nroutines: " + pattern + "\n");
            ProjectException refused = assertThrows(ProjectException.class, this::check);
            assertTrue(
                    refused.getMessage().endsWith("meant by the pattern nothere/*.sql"),
                    refused.getMessage());
        }
    }

    @Test
    void tablesMayCallRoutinesAndReferInACircle() throws Exception {
        write("cantina.yaml", "dialect: postgresql\ndatabase: private\nfixture: f\n");
        write(
                "tables/1.sql",
                """
                CREATE SCHEMA app;
                CREATE TABLE app.a (id int GENERATED ALWAYS AS IDENTITY PRIMARY KEY, up int REFERENCES app.a,
                  b int CHECK (odd(b)), d date, n numeric, tastes text[], pic bytea);
                CREATE TABLE b (id int PRIMARY KEY, a int NOT NULL REFERENCES app.a);
                ALTER TABLE app.a ADD FOREIGN KEY (b) REFERENCES b;
                """);
        write(
                "routines/r.sql",
                """
                CREATE FUNCTION odd(n int) RETURNS boolean LANGUAGE sql IMMUTABLE AS 'SELECT n % 2 = 1';
                CREATE FUNCTION t() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN NEW.b := NULL; RETURN NEW; END $$;
                CREATE TRIGGER t BEFORE INSERT ON app.a FOR EACH ROW EXECUTE FUNCTION t();
                CREATE FUNCTION f(more date, big numeric) RETURNS SETOF app.a LANGUAGE plpgsql AS $$
                BEGIN
                  INSERT INTO app.a (d, n) VALUES (more, big);
                  RETURN QUERY SELECT * FROM app.a ORDER BY id;
                END $$;
                """);
        write(
                "fixtures/f/app.a.csv",
                "id,up,b,d,n,tastes,pic\n7,8,9,infinity,NaN,\"{a,\"\"b c\"\"}\",\\x00ff\n8,,9,,,,\n");
        write("fixtures/f/b.csv", "id,a\n9,7\n");
        Outcome outcome = call("f", Map.of("more", "-infinity", "big", "Infinity"));
        List<Object[]> rows = outcome.results().get(0).rows();
        assertEquals("[7, 8, 9, infinity, NaN]", Arrays.toString(Arrays.copyOf(rows.get(0), 5)));
        assertEquals("[a, b c]", Arrays.toString((Object[]) rows.get(0)[5]));
        assertArrayEquals(new byte[] {0, -1}, (byte[]) rows.get(0)[6]);
        assertEquals(
                "[9, null, null, -infinity, Infinity]",
                Arrays.toString(Arrays.copyOf(rows.get(2), 5)));
        write("fixtures/f/b.csv", "id,a\n9,5\n");
        String message =
                assertThrows(
                                ProjectException.class,
                                () -> call("f", Map.of("more", "today", "big", 1)))
                        .getMessage();
        assertTrue(message.contains("violates foreign key constraint"), message);
    }

    @Test
    void aCommitWhoseRowsNobodyLookedAtIsSeen() throws Exception {
        assertEquals(
                List.of("unchecked-write:3", "unchecked-write:9"),
                advice(
                        """
                        CREATE PROCEDURE p(k int) LANGUAGE plpgsql AS $$
                        BEGIN
                          UPDATE cat SET name = 'x' WHERE id = k;
                          RAISE NOTICE 'done';
                          Commit;
                          UPDATE cat SET name = 'y' WHERE id = k;
                          IF NOT FOUND THEN RAISE EXCEPTION 'none'; END IF;
                          COMMIT;
                          DELETE FROM cat WHERE id = k; -- found
                          COMMIT;
                          INSERT INTO cat (name) VALUES ('found');
                          COMMIT;
                        END $$;
                        """));
    }
}
