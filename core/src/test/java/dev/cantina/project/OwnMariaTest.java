package dev.cantina.project;

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
import dev.cantina.types.Values;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.time.Clock;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Projects in MariaDB's own words, on a private server. */
class OwnMariaTest {
    private static final String TABLES =
            """
            CREATE TABLE `cat` (
              `id` INT UNSIGNED NOT NULL AUTO_INCREMENT, `name` VARCHAR(20) NOT NULL,
              `mood` ENUM('calm', 'cross'), `extra` JSON, PRIMARY KEY (`id`)
            ) ENGINE=InnoDB AUTO_INCREMENT=5;
            INSERT INTO cat (name, mood, extra) VALUES ("Tom", 'calm', '{"n": 1}');
            """;

    @TempDir Path folder;

    @AfterAll
    static void end() throws HostingException {
        PrivateServer.of("mariadb").stop();
    }

    @BeforeEach
    void project() throws IOException {
        write("cantina.yaml", "dialect: mariadb\ndatabase: private\n");
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

    @Test
    void parametersResultsAndChanges() throws Exception {
        write(
                "routines/p.sql",
                """
                DELIMITER //
                CREATE DEFINER=`nobody`@`nowhere` PROCEDURE p(IN a INT, INOUT b DECIMAL(8, 2), OUT c VARCHAR(10), OUT d TINYINT(1))
                BEGIN
                  SELECT name, mood FROM cat;
                  SELECT a AS a, b AS b;
                  SET b = b + a, c = "x", d = 1;
                  UPDATE cat SET mood = 'cross' WHERE id = 5;
                END //
                CREATE FUNCTION twice(n INT) RETURNS INT DETERMINISTIC RETURN n * 2 //
                """);
        Outcome outcome = call("p", Map.of("a", 2, "b", "1.5"));
        assertEquals("{b=3.50, c=x, d=true}", outcome.out().toString());
        assertEquals(2, outcome.results().size());
        assertEquals("Tom", outcome.results().get(0).rows().get(0)[0]);
        assertEquals("cross", outcome.events().get(0).after()[2]);
        assertEquals("14", Values.text(call("twice", Map.of("n", 7)).returned()));
    }

    @Test
    void aConditionHasTheServersState() throws Exception {
        write(
                "routines/p.sql",
                "CREATE PROCEDURE p() INSERT INTO cat (id, name) VALUES (5, 'again');");
        Outcome outcome = call("p", Map.of());
        assertEquals("23000", outcome.condition().orElseThrow().sqlstate());
        assertEquals(List.of(), outcome.events());
    }

    @Test
    void whatARoutineCommitsIsGoneAfterwards() throws Exception {
        write(
                "routines/p.sql",
                """
                CREATE PROCEDURE p(OUT n INT) BEGIN
                  INSERT INTO cat (name) VALUES ('x');
                  COMMIT;
                  SELECT COUNT(*) INTO n FROM cat;
                END;
                """);
        assertEquals("{n=2}", call("p", Map.of()).out().toString());
        assertEquals("{n=2}", call("p", Map.of()).out().toString());
    }

    @Test
    void adviceIsGivenByStatementsAndScopes() throws Exception {
        write(
                "routines/a.sql",
                """
                CREATE PROCEDURE p(IN t VARCHAR(20))
                BEGIN
                  DECLARE never, used INT DEFAULT 0;
                  DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN END;
                  l: LOOP
                    SET used = used + 1;
                    LEAVE l;
                    SET used = 2;
                  END LOOP;
                  SET @sql = CONCAT('SELECT * FROM ', t);
                  PREPARE s FROM @sql;
                  EXECUTE s;
                END;
                """);
        try (Workspace workspace = Workspace.open(ProjectReader.read(folder), Optional.empty())) {
            assertEquals(
                    List.of(
                            "unused-name:3",
                            "swallowed-condition:4",
                            "unreachable:8",
                            "concatenated-sql:10"),
                    workspace.check().stream().map(p -> p.rule() + ":" + p.span().line()).toList());
            // Of several variables in one declaration none is left out by a key.
            assertEquals(
                    List.of("[]", "[ -> RESIGNAL; ]", "[SET used = 2; -> ]", "[]"),
                    workspace.check().stream()
                            .map(
                                    p ->
                                            p
                                                    .edit()
                                                    .map(
                                                            e ->
                                                                    e.range().text().strip()
                                                                            + " -> "
                                                                            + e.text())
                                                    .stream()
                                                    .toList()
                                                    .toString())
                            .toList());
        }
    }

    @Test
    void whatALimitCutsOffIsNotCompleted() throws Exception {
        write("routines/p.sql", "CREATE PROCEDURE p() DO SLEEP(20);");
        try (Workspace workspace = Workspace.open(ProjectReader.read(folder), Optional.empty());
                Session session =
                        new Session(
                                workspace.program(),
                                workspace.database(),
                                new Limits(1000, 0.5, 10, 1000),
                                Clock.systemUTC(),
                                Optional.empty())) {
            Outcome outcome = session.run(workspace.routine("p", List.of()), List.of());
            assertEquals(Outcome.Kind.LIMITED, outcome.kind());
            assertEquals("UL002", outcome.condition().orElseThrow().sqlstate());
            assertTrue(outcome.elapsedMillis() < 10_000);
        }
    }

    /** The server itself fails where such a routine runs again after an ALTER TABLE. */
    @Test
    void aCursorIsReadAgainInTheNextRun() throws Exception {
        write(
                "routines/p.sql",
                """
                CREATE PROCEDURE p(OUT n INT) BEGIN
                  DECLARE c CURSOR FOR
                    SELECT COUNT(*) FROM cat;
                  INSERT INTO cat (name) VALUES ('x');
                  OPEN c;
                  FETCH c INTO n;
                  CLOSE c;
                END;
                """);
        try (Workspace workspace = Workspace.open(ProjectReader.read(folder), Optional.empty())) {
            workspace.database().keep();
            RoutineSymbol symbol = workspace.routine("p", List.of());
            for (int i = 0; i < 3; i++) {
                try (Session session =
                        new Session(
                                workspace.program(),
                                workspace.database(),
                                Limits.DEFAULT,
                                Clock.systemUTC(),
                                Optional.empty())) {
                    Outcome outcome = session.run(symbol, Arguments.match(symbol, Map.of()));
                    assertEquals(
                            "{n=2}", outcome.out().toString(), String.valueOf(outcome.condition()));
                }
                workspace.database().restore();
            }
        }
    }

    @Test
    void theServersCompilerIsHeardWithItsPlace() throws Exception {
        write(
                "routines/bad.sql",
                """
                CREATE FUNCTION ok() RETURNS INT RETURN 1;
                DELIMITER //
                CREATE PROCEDURE bad()
                BEGIN
                  SELECT 1;
                  UPDAT cat SET name = '';
                END //
                """);
        try (Workspace workspace = Workspace.open(ProjectReader.read(folder), Optional.empty())) {
            List<Problem> problems = workspace.check();
            assertEquals(1, problems.size(), problems.toString());
            assertEquals(6, problems.get(0).span().line());
            assertTrue(problems.get(0).message().contains("cat SET"), problems.toString());
        }
    }

    @Test
    void theProjectsSqlHasNoRightsOutside() throws Exception {
        write("routines/x.sql", "CREATE PROCEDURE p() SELECT LOAD_FILE('/etc/passwd') AS it;");
        assertEquals(null, call("p", Map.of()).results().get(0).rows().get(0)[0]);
        write("routines/x.sql", "CREATE PROCEDURE p() SELECT 1 INTO OUTFILE '/tmp/never';");
        assertTrue(
                call("p", Map.of()).condition().orElseThrow().message().contains("Access denied"));
    }

    @Test
    void valuesThatTheStandardHasNotComeAndGo() throws Exception {
        write("cantina.yaml", "dialect: mariadb\ndatabase: private\nfixture: f\n");
        write(
                "tables/1.sql",
                """
                SET @before = @@sql_mode, sql_mode = '';
                CREATE TABLE odd (id INT PRIMARY KEY, tm TIME(2), d DATE DEFAULT '0000-00-00', b BIT(9), n BOOLEAN);
                INSERT INTO odd VALUES (1, '838:59:59', '2026-02-00', b'1', 5);
                SET sql_mode = @before;
                """);
        write("fixtures/f/odd.csv", "id,tm,b,n\n2,-100:00:00.25,b'101000001',1\n");
        write(
                "routines/p.sql",
                """
                CREATE PROCEDURE p(IN n BOOLEAN, IN t TIME(2)) BEGIN
                  SELECT tm, d, b, odd.n FROM odd ORDER BY id;
                  UPDATE odd SET odd.n = n, tm = t, b = b'11' WHERE id = 1;
                END;
                CREATE FUNCTION f(n BOOLEAN) RETURNS BOOLEAN RETURN n + 1;
                """);
        Outcome outcome = call("p", Map.of("n", "7", "t", "100:00:00"));
        assertEquals(
                "[838:59:59.00, 2026-02-00, b'000000001', 5]",
                Arrays.toString(outcome.results().get(0).rows().get(0)));
        assertEquals(
                "[-100:00:00.25, 0000-00-00, b'101000001', true]",
                Arrays.toString(outcome.results().get(0).rows().get(1)));
        assertEquals(
                "[1, 100:00:00.00, 2026-02-00, b'000000011', 7]",
                Arrays.toString(outcome.events().get(0).after()));
        assertEquals("8", Values.text(call("f", Map.of("n", 7)).returned()));
        assertEquals("true", String.valueOf(call("f", Map.of("n", "false")).returned()));
    }

    @Test
    void tablesThatReferToEachOtherInACircleAreFilled() throws Exception {
        write("cantina.yaml", "dialect: mariadb\ndatabase: private\nfixture: f\n");
        write(
                "tables/1.sql",
                """
                CREATE TABLE a (id INT PRIMARY KEY, b INT, up INT, FOREIGN KEY (up) REFERENCES a (id));
                CREATE TABLE b (id INT PRIMARY KEY, a INT, CONSTRAINT to_a FOREIGN KEY (a) REFERENCES a (id));
                ALTER TABLE a ADD FOREIGN KEY (b) REFERENCES b (id);
                CREATE VIEW v AS SELECT twice(id) AS n FROM a;
                """);
        write(
                "routines/r.sql",
                """
                CREATE FUNCTION twice(n INT) RETURNS INT RETURN n * 2;
                CREATE TRIGGER t BEFORE INSERT ON a FOR EACH ROW SET NEW.b = NULL;
                CREATE FUNCTION f() RETURNS VARCHAR(40) READS SQL DATA
                RETURN (SELECT CONCAT(b, ' ', (SELECT MAX(n) FROM v)) FROM a WHERE id = 1);
                """);
        write("fixtures/f/a.csv", "id,b,up\n1,9,2\n2,9,\n");
        write("fixtures/f/b.csv", "id,a\n9,1\n");
        assertEquals("9 4", call("f", Map.of()).returned());
        write("fixtures/f/b.csv", "id,a\n9,77\n");
        String message =
                assertThrows(ProjectException.class, () -> call("f", Map.of())).getMessage();
        assertTrue(
                message.contains("a row of b refers to 77, which is not in a (foreign key to_a)"),
                message);
    }

    @Test
    void changesAreSeenWhereAColumnHasACheck() throws Exception {
        write(
                "tables/2.sql",
                "CREATE TABLE lot (id INT PRIMARY KEY, volume DOUBLE CHECK (volume >= 0), b BIT(3) CHECK (b > 0),"
                        + " t TIME(2) CHECK (t > 0), u BIGINT UNSIGNED CHECK (u > 1));");
        write(
                "routines/p.sql",
                "CREATE PROCEDURE p() INSERT INTO lot VALUES (1, 2.5, b'101', '100:00:00.25',"
                        + " 18446744073709551615);");
        assertEquals(
                "[1, 2.5, b'101', 100:00:00.25, 18446744073709551615]",
                Arrays.toString(call("p", Map.of()).events().get(0).after()));
    }
}
