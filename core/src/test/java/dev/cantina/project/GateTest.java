package dev.cantina.project;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.runtime.Limits;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.Program;
import dev.cantina.runtime.Session;
import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.time.Clock;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** What has an error does not run, nor does what can reach it. */
class GateTest {
    private static final String WRITES = "CREATE PROCEDURE p () INSERT INTO t VALUES ('b', -1);\n";
    private static final String READS = "CREATE PROCEDURE p () SELECT code FROM t;\n";

    @TempDir Path folder;

    @BeforeEach
    void project() throws Exception {
        Files.createDirectories(folder.resolve("routines"));
        Files.createDirectories(folder.resolve("fixtures/some"));
        Files.createDirectories(folder.resolve("tables"));
        Files.writeString(folder.resolve("cantina.yaml"), "project: gate\nfixture: some\n");
        Files.writeString(
                folder.resolve("tables/t.sql"),
                """
                CREATE TABLE t (code VARCHAR(5) PRIMARY KEY, price INTEGER);
                CREATE TABLE u (code VARCHAR(5) PRIMARY KEY);
                CREATE TABLE part (id INTEGER PRIMARY KEY,
                  code VARCHAR(5) REFERENCES t (code) ON DELETE CASCADE);
                CREATE VIEW cheap AS SELECT code, price FROM t WHERE price < 5;
                """);
    }

    private Workspace open(String... files) throws Exception {
        for (int i = 0; i < files.length; i++) {
            Files.writeString(folder.resolve("routines/" + (char) ('a' + i) + ".sql"), files[i]);
        }
        return Workspace.open(ProjectReader.read(folder), Optional.of("some"));
    }

    private static Session session(Workspace workspace) throws SQLException {
        return new Session(
                workspace.program(),
                workspace.database(),
                Limits.DEFAULT,
                Clock.systemUTC(),
                Optional.empty());
    }

    private static Outcome call(Workspace workspace, String routine) throws Exception {
        RoutineSymbol symbol = workspace.routine(routine, List.of());
        try (Session session = session(workspace)) {
            return session.run(symbol, Arguments.match(symbol, Map.of()));
        }
    }

    /** Running the routine p is refused, with the place of an error in the last file. */
    private void refused(String... files) throws Exception {
        try (Workspace workspace = open(files)) {
            List<Problem> problems = problems(workspace);
            String last = "routines/" + (char) ('a' + files.length - 1) + ".sql";
            assertTrue(
                    problems.stream().anyMatch(p -> p.span().source().name().equals(last)),
                    problems.toString());
            assertEquals(Optional.empty(), rows(workspace, "SELECT 1 FROM t WHERE code = 'b'"));
        }
    }

    /** What is said of a run that does not begin. */
    private static List<Problem> problems(Workspace workspace) throws Exception {
        try {
            call(workspace, "p");
            return List.of();
        } catch (Program.UnsoundException e) {
            return e.problems();
        } catch (ProjectException e) {
            return e.problems();
        }
    }

    private static Optional<Object> rows(Workspace workspace, String query) throws Exception {
        try (var statement = workspace.database().connection().createStatement();
                var result = statement.executeQuery(query)) {
            return result.next() ? Optional.of(result.getObject(1)) : Optional.empty();
        }
    }

    private void runs(String... files) throws Exception {
        try (Workspace workspace = open(files)) {
            assertEquals(Outcome.Kind.COMPLETED, call(workspace, "p").kind());
        }
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "CREATE PROCEDURE p (OUT r INTEGER) SET r = 1 + 2 ? 3;",
                "CREATE PROCEDURE p () BEGIN FROBNICATE x y z; END;",
                "CREATE PROCEDURE p () BEGIN DECLARE a INTEGER DEFAULT 1; IF a = 1 THN SET a = 2; END IF; END;",
                "CREATE PROCEDURE p () BEGIN DECLARE a VARCHAR(9); SET a = 'open; END;",
                "CREATE PROCEDURE p () BEGIN /* open ; END;",
                "CREATE PROCEDURE p () BEGIN DECLARE a INTEGER; SET a = 1 END;",
                "CREATE PROCEDURE p () BEGIN DECLARE a INTEGER; SET b = 1; END;",
                "CREATE PROCEDURE p () BEGIN DECLARE a NOTYPE; END;",
                "CREATE PROCEDURE p () BEGIN DECLARE a INTEGER; DECLARE 5 INTEGER; END;",
                "CREATE PROCEDURE p () BEGIN END garbage;",
                "CREATE PROCEDURE p () BEGIN CALL q(); END; CREATE PROCEDURE q () SET nowhere = 1;",
                "CREATE PROCEDURE p () CALL q(); CREATE PROCEDURE q () CALL r(); CREATE PROCEDURE r () BEGIN ?; END;",
                "CREATE PROCEDURE p () SELECT f(price) FROM t; CREATE FUNCTION f (a INTEGER) RETURNS INTEGER BEGIN RETURN a +; END;",
                "CREATE PROCEDURE p () SELECT * FROM TABLE (g()); CREATE FUNCTION g () RETURNS TABLE (a INTEGER) BEGIN ?; RETURN TABLE (VALUES (1)); END;",
                "CREATE PROCEDURE p (a INTEGER DEFAULT f(1)) SELECT code FROM t; CREATE FUNCTION f (a INTEGER) RETURNS INTEGER BEGIN ?; RETURN a; END;",
                "CREATE MODULE m PROCEDURE q () BEGIN ?; END; END MODULE; CREATE PROCEDURE p () CALL m.q();",
                "CREATE MODULE m DECLARE v INTEGER DEFAULT 1 ? 2; PROCEDURE q () BEGIN END; END MODULE; CREATE PROCEDURE p () CALL m.q();",
            })
    void aRoutineWithAnErrorWithinReachDoesNotRun(String text) throws Exception {
        refused(text);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "CREATE TRIGGER g BEFORE INSERT ON t FOR EACH ROW IF NEW.price < 0 THN SIGNAL SQLSTATE '45000'; END IF;",
                "CREATE TRIGGER g BEFORE INSERT ON T FOR EACH ROW BEGIN SIGNAL SQLSTATE '45000; END;",
                "CREATE TRIGGER g BEFORE INSERT ON t FOR EVERY ROW SIGNAL SQLSTATE '45000';",
                "CREATE TRIGGER g BEFOR INSERT ON t FOR EACH ROW SIGNAL SQLSTATE '45000';",
                "CREATE TRIGER g BEFORE INSERT ON t FOR EACH ROW SIGNAL SQLSTATE '45000';",
                "CRATE TRIGGER g BEFORE INSERT ON t FOR EACH ROW SIGNAL SQLSTATE '45000';",
                "CREATE TRIGGER g BEFORE INSERT ON tt FOR EACH ROW SIGNAL SQLSTATE '45000';",
                "CREATE TRIGGER g INSTEAD OF INSERT ON t FOR EACH ROW SIGNAL SQLSTATE '45000';",
                "CREATE TRIGGER h AFTER INSERT ON u FOR EACH ROW BEGIN DECLARE a VARCHAR(9); SET a = 'x; END;\n"
                        + "CREATE TRIGGER g BEFORE INSERT ON t FOR EACH ROW SIGNAL SQLSTATE '45000';",
                "/* open CREATE TRIGGER g BEFORE INSERT ON t FOR EACH ROW SIGNAL SQLSTATE '45000';",
                "CREATE TRIGGER g BEFORE INSERT ON t FOR EACH ROW CALL q(); CREATE PROCEDURE q () BEGIN ?; END;",
                "'CREATE TRIGGER g BEFORE INSERT ON t FOR EACH ROW SIGNAL SQLSTATE ''45000'';",
            })
    void nothingChangesATableWhoseTriggerCantBeRead(String trigger) throws Exception {
        refused(WRITES, trigger);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "CREATE TRIGGER g BEFORE INSERT ON t FOR EACH ROW IF NEW.price < 0 THN SIGNAL SQLSTATE '45000'; END IF;",
                "CREATE TRIGER g BEFORE INSERT ON t FOR EACH ROW SIGNAL SQLSTATE '45000';",
                "/* open",
                "CREATE PROCEDURE other () BEGIN ?; END;",
            })
    void aRoutineThatReachesNoErrorRuns(String other) throws Exception {
        runs(READS, other);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "EXECUTE IMMEDIATE 'INSERT INTO t VALUES (''b'', 1)'",
                "BEGIN PREPARE s FROM 'INSERT INTO t VALUES (''b'', 1)'; EXECUTE s; END",
                "MERGE INTO t USING (VALUES ('b', 1)) AS n (c, p) ON t.code = n.c WHEN NOT MATCHED THEN INSERT VALUES (n.c, n.p)",
                "INSERT INTO cheap VALUES ('b', 1)",
                "SELECT code FROM FINAL TABLE (INSERT INTO t VALUES ('b', 1))",
            })
    void whatMayChangeTheTableCountsAsReachingItsTrigger(String statement) throws Exception {
        refused(
                "CREATE PROCEDURE p () " + statement + ";",
                "CREATE TRIGGER g BEFORE INSERT ON t FOR EACH ROW BEGIN ?; END;");
    }

    @Test
    void aForeignKeyMayChangeTheTriggersTable() throws Exception {
        refused(
                "CREATE PROCEDURE p () DELETE FROM t;",
                "CREATE TRIGGER g AFTER DELETE ON part FOR EACH ROW BEGIN ?; END;");
    }

    @Test
    void aTriggerOnATableThatIsNotChangedHindersNobody() throws Exception {
        runs(WRITES, "CREATE TRIGGER g BEFORE INSERT ON u FOR EACH ROW BEGIN ?; END;");
    }

    @Test
    void anOverloadThatCouldNotBeReadMayBeTheOneThatIsMeant() throws Exception {
        refused(
                "CREATE PROCEDURE p () BEGIN DECLARE a INTEGER; SET a = f(1); END;"
                        + "CREATE FUNCTION f (a VARCHAR(9)) RETURNS INTEGER RETURN 1;",
                "CREATE FUNCTION f (a INTEGER RETURNS INTEGER RETURN 1;");
    }

    @Test
    void aFileInAnotherEncodingMayHoldAnything() throws Exception {
        Files.write(
                folder.resolve("routines/b.sql"),
                "-- Größe\nCREATE TRIGGER g BEFORE INSERT ON t FOR EACH ROW SIGNAL SQLSTATE '45000';"
                        .getBytes(StandardCharsets.ISO_8859_1));
        try (Workspace workspace = open(WRITES)) {
            assertThrows(Program.UnsoundException.class, () -> call(workspace, "p"));
        }
    }

    @Test
    void aScriptReachesWhatItChanges() throws Exception {
        ParsedFile script = Parser.parse(new Source("it.sql", "INSERT INTO t VALUES ('b', 1);"));
        Files.writeString(
                folder.resolve("routines/a.sql"),
                "CREATE TRIGGER g BEFORE INSERT ON t FOR EACH ROW BEGIN ?; END;");
        try (Workspace workspace =
                        Workspace.open(
                                ProjectReader.read(folder),
                                Optional.of("some"),
                                Optional.of(script));
                Session session = session(workspace)) {
            var bound = workspace.script(script);
            assertThrows(Program.UnsoundException.class, () -> session.runScript(bound));
        }
    }

    @Test
    void aStatementOfAPersonReachesItToo() throws Exception {
        try (Workspace workspace =
                        open("CREATE TRIGGER g BEFORE INSERT ON t FOR EACH ROW BEGIN ?; END;");
                Session session = session(workspace)) {
            for (String sql :
                    Arrays.asList(
                            "INSERT INTO t VALUES ('b', 1)",
                            "insert /* it */ into T values ('b', 1)")) {
                assertThrows(Program.UnsoundException.class, () -> session.questions().change(sql));
            }
            assertEquals(1, session.questions().change("INSERT INTO u VALUES ('b')"));
        }
    }

    @Test
    void aFixtureWhoseRowsFireTriggersIsNotLoadedPastOneThatCantBeRead() throws Exception {
        Files.writeString(folder.resolve("fixtures/some/fixture.yaml"), "triggers: fire\n");
        Files.writeString(folder.resolve("fixtures/some/t.csv"), "code,price\nb,-1\n");
        assertThrows(
                ProjectException.class,
                () -> open("CREATE TRIGGER g BEFORE INSERT ON t FOR EACH ROW BEGIN ?; END;"));
    }
}
