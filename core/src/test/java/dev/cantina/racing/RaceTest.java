package dev.cantina.racing;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.database.MariaServer;
import dev.cantina.database.PostgresServer;
import dev.cantina.programs.ProgramSettings;
import dev.cantina.project.Arguments;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.racing.RaceReport.Finding;
import dev.cantina.racing.RaceReport.Kind;
import dev.cantina.testing.CaseFiles;
import dev.cantina.testing.CaseResult;
import dev.cantina.testing.CaseRunner;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Supplier;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Nested;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.api.parallel.Execution;
import org.junit.jupiter.api.parallel.ExecutionMode;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/**
 * Calls at the same time: what no order one after the other comes to is found, and nothing is said
 * of what is right. On the servers each anomaly is found where that server's documentation says
 * that it can be, and at no other level (PostgreSQL: 13.2, Transaction Isolation; MariaDB: SET
 * TRANSACTION, Isolation Levels).
 */
class RaceTest {
    private static final String TABLES =
            """
            CREATE TABLE account (id INTEGER PRIMARY KEY, balance INTEGER NOT NULL);
            CREATE TABLE seat (id INTEGER PRIMARY KEY, sold_to VARCHAR(9));
            CREATE TABLE ticket (n INTEGER GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
              seat INTEGER NOT NULL, buyer VARCHAR(9));
            """;

    private static final String ROUTINES =
            """
            -- It reads, reckons and writes.
            CREATE PROCEDURE add_slowly (IN account INTEGER, IN amount INTEGER)
            BEGIN
              DECLARE held INTEGER;
              SET held = (SELECT a.balance FROM account a WHERE a.id = account);
              UPDATE account a SET balance = held + amount WHERE a.id = account;
            END;
            CREATE PROCEDURE add_at_once (IN account INTEGER, IN amount INTEGER)
              UPDATE account a SET balance = a.balance + amount WHERE a.id = account;
            -- The sum of both must not fall below nothing.
            CREATE PROCEDURE take (IN account INTEGER, IN amount INTEGER)
            BEGIN
              IF (SELECT SUM(a.balance) FROM account a) >= amount THEN
                UPDATE account a SET balance = a.balance - amount WHERE a.id = account;
              END IF;
            END;
            CREATE PROCEDURE sell (IN seat INTEGER, IN buyer VARCHAR(9))
            BEGIN
              IF NOT EXISTS (SELECT 1 FROM ticket t WHERE t.seat = sell.seat) THEN
                INSERT INTO ticket (seat, buyer) VALUES (sell.seat, sell.buyer);
              END IF;
            END;
            CREATE PROCEDURE move (IN source INTEGER, IN target INTEGER, IN amount INTEGER)
            BEGIN
              UPDATE account SET balance = balance - amount WHERE id = source;
              UPDATE account SET balance = balance + amount WHERE id = target;
            END;
            CREATE FUNCTION balance_of (account INTEGER) RETURNS INTEGER
              RETURN (SELECT a.balance FROM account a WHERE a.id = account);
            CREATE PROCEDURE change_and_take_back (IN account INTEGER)
            BEGIN
              UPDATE account a SET balance = 999 WHERE a.id = account;
              ROLLBACK;
            END;
            CREATE PROCEDURE read_twice (IN account INTEGER, OUT first INTEGER, OUT second INTEGER)
            BEGIN
              SET first = (SELECT a.balance FROM account a WHERE a.id = account);
              SET second = (SELECT a.balance FROM account a WHERE a.id = account);
            END;
            CREATE PROCEDURE count_twice (OUT first INTEGER, OUT second INTEGER)
            BEGIN
              SET first = (SELECT COUNT(*) FROM ticket);
              SET second = (SELECT COUNT(*) FROM ticket);
            END;
            CREATE PROCEDURE give_ticket (IN seat INTEGER)
              INSERT INTO ticket (seat, buyer) VALUES (seat, 'x');
            CREATE PROCEDURE touch_seat (IN seat INTEGER)
              UPDATE seat s SET sold_to = 'me' WHERE s.id = seat;
            -- Withdraws 10, and a penalty of 1 where the sum falls below nothing.
            CREATE PROCEDURE withdraw ()
            BEGIN
              DECLARE total INTEGER;
              SET total = (SELECT SUM(a.balance) FROM account a);
              UPDATE account SET balance = balance - CASE WHEN total < 10 THEN 11 ELSE 10 END
               WHERE id = 1;
            END;
            CREATE PROCEDURE deposit ()
              UPDATE account SET balance = balance + 20 WHERE id = 2;
            CREATE PROCEDURE look (OUT one INTEGER, OUT two INTEGER)
            BEGIN
              SET one = (SELECT a.balance FROM account a WHERE a.id = 1);
              SET two = (SELECT a.balance FROM account a WHERE a.id = 2);
            END;
            """;

    @TempDir Path folder;

    @BeforeEach
    void project() throws Exception {
        write("cantina.yaml", "project: p\nfixture: f\n");
        write("tables/t.sql", TABLES);
        write("routines/r.sql", ROUTINES);
        write("fixtures/f/account.csv", "id,balance\n1,10\n2,5\n");
        write("fixtures/f/seat.csv", "id,sold_to\n1,\n2,\n");
    }

    private void write(String name, String text) throws Exception {
        Path file = folder.resolve(name);
        Files.createDirectories(file.getParent());
        Files.writeString(file, text);
    }

    private Race race(Optional<String> server, String calls, IsolationLevel level)
            throws Exception {
        Project project = ProjectReader.read(folder);
        ProgramSettings settings =
                new ProgramSettings(
                        project,
                        server,
                        Optional.empty(),
                        project.limits(),
                        Clock.fixed(Instant.parse("2031-10-04T09:00:00Z"), ZoneOffset.UTC));
        List<RaceCall> all = Arrays.stream(calls.split(" \\+ ")).map(c -> call(c.strip())).toList();
        return new Race(settings, all, level, project.invariants(), () -> false);
    }

    private static RaceCall call(String text) {
        List<String> words = List.of(text.split(" "));
        return new RaceCall(
                text,
                workspace -> {
                    var routine = workspace.routine(words.get(0), List.of());
                    try {
                        return new RaceCall.Found(
                                routine,
                                Arguments.match(
                                        routine,
                                        Arguments.read(
                                                routine,
                                                words.subList(1, words.size()),
                                                Map.of(),
                                                workspace::ask)));
                    } catch (Arguments.MisfitException e) {
                        throw new ProjectException(e.getMessage());
                    }
                });
    }

    private static Set<Kind> kinds(RaceReport report) {
        Set<Kind> kinds = new TreeSet<>();
        report.findings().forEach(f -> kinds.add(f.kind()));
        return kinds;
    }

    private Set<Kind> found(String calls, IsolationLevel level) throws Exception {
        return kinds(race(Optional.empty(), calls, level).run());
    }

    // ------------------------------------------------------------------ here

    @Test
    void aLostUpdateIsFoundAndIsShownByTheShortestOrder() throws Exception {
        RaceReport report =
                race(
                                Optional.empty(),
                                "add_slowly account=1 amount=1 + add_slowly account=1 amount=2",
                                IsolationLevel.READ_COMMITTED)
                        .run();
        assertEquals(Set.of(Kind.LOST_UPDATE), kinds(report));
        Finding finding = report.findings().get(0);
        assertEquals(List.of(1, 2, 2, 2, 1, 1), finding.run().order());
        assertEquals(
                List.of("ID 1, BALANCE 11"),
                finding.differences().get("account").here().stream()
                        .map(r -> r.toUpperCase(java.util.Locale.ROOT))
                        .toList());
        assertEquals(List.of("completes", "completes"), finding.ends());
        assertEquals(20, report.orders());
        assertTrue(report.tried() < 20, String.valueOf(report.tried()));
        assertTrue(report.isBad());
    }

    // Calls that come to the same in every order.
    @ParameterizedTest
    @ValueSource(
            strings = {
                "add_at_once account=1 amount=1 + add_at_once account=1 amount=2",
                "add_slowly account=1 amount=1 + add_slowly account=2 amount=2",
                "add_slowly account=1 amount=1 + touch_seat seat=1",
                "balance_of account=1 + add_at_once account=1 amount=4",
                "take account=1 amount=3 + take account=2 amount=4",
                "sell seat=1 buyer=a + sell seat=2 buyer=b",
                "change_and_take_back account=1 + change_and_take_back account=2",
                "move source=1 target=2 amount=1 + move source=1 target=2 amount=2",
                "balance_of account=1 + balance_of account=1 + balance_of account=2"
            })
    void whatIsRightIsLeftAlone(String calls) throws Exception {
        assertEquals(Set.of(), found(calls, IsolationLevel.READ_COMMITTED));
    }

    @Test
    void eachAnomalyHasItsName() throws Exception {
        IsolationLevel level = IsolationLevel.READ_COMMITTED;
        assertEquals(
                Set.of(Kind.WRITE_SKEW),
                found("take account=1 amount=10 + take account=2 amount=8", level));
        assertEquals(
                Set.of(Kind.WRITE_SKEW), found("sell seat=1 buyer=a + sell seat=1 buyer=b", level));
        assertEquals(
                Set.of(Kind.DEADLOCK),
                found("move source=1 target=2 amount=1 + move source=2 target=1 amount=2", level));
        assertEquals(
                Set.of(Kind.ANOMALY),
                found("read_twice account=1 + add_at_once account=1 amount=7", level));
        assertEquals(Set.of(Kind.ANOMALY), found("count_twice + give_ticket seat=2", level));
        assertEquals(
                Set.of(Kind.ANOMALY),
                found(
                        "balance_of account=1 + change_and_take_back account=1",
                        IsolationLevel.READ_UNCOMMITTED));
        assertEquals(
                Set.of(), found("balance_of account=1 + change_and_take_back account=1", level));
    }

    /** What touches nothing in common is made in one order; the count of all is said. */
    @Test
    void whatMeetsNothingIsMadeOnce() throws Exception {
        RaceReport report =
                race(
                                Optional.empty(),
                                "add_slowly account=1 amount=1 + touch_seat seat=1",
                                IsolationLevel.READ_COMMITTED)
                        .run();
        assertEquals(1, report.tried());
        assertEquals(10, report.orders());
    }

    @Test
    void anInvariantIsLookedAt() throws Exception {
        write(
                "cantina.yaml",
                "project: p\nfixture: f\ninvariants:\n"
                        + "  no debts: { none: SELECT id FROM account WHERE balance < 0 }\n"
                        + "  one ticket a seat:\n"
                        + "    none: SELECT seat FROM ticket GROUP BY seat HAVING COUNT(*) > 1\n");
        RaceReport report =
                race(
                                Optional.empty(),
                                "sell seat=1 buyer=a + sell seat=1 buyer=b",
                                IsolationLevel.READ_COMMITTED)
                        .run();
        assertEquals(Set.of(Kind.INVARIANT), kinds(report));
        assertEquals(List.of("one ticket a seat"), report.findings().get(0).run().broken());
        write(
                "cantina.yaml",
                "project: p\nfixture: f\ninvariants:\n"
                        + "  none at all: { none: SELECT id FROM account }\n");
        ProjectException wrong =
                assertThrows(
                        ProjectException.class,
                        () ->
                                found(
                                        "sell seat=1 buyer=a + balance_of account=1",
                                        IsolationLevel.OWN));
        assertTrue(
                wrong.problems().get(0).message().contains("does not hold before"),
                wrong.toString());
    }

    @Test
    void itEndsInTime() throws Exception {
        Project project = ProjectReader.read(folder);
        RaceReport report =
                new Race(
                                new ProgramSettings(
                                        project,
                                        Optional.empty(),
                                        Optional.empty(),
                                        project.limits(),
                                        Clock.systemUTC()),
                                List.of(call("deposit"), call("deposit")),
                                IsolationLevel.OWN,
                                List.of(),
                                () -> true)
                        .run();
        assertEquals(0, report.tried());
        assertTrue(report.isCutShort());
    }

    /** Two bodies, each of a procedure with an OUT parameter got. */
    private Set<Kind> foundIn(String text) throws Exception {
        String[] bodies = text.split(" \\+\\+ ");
        String other = bodies.length > 1 ? bodies[1] : bodies[0];
        write(
                "routines/s.sql",
                "CREATE PROCEDURE a (OUT got INTEGER) BEGIN DECLARE h, n INTEGER; "
                        + bodies[0]
                        + " END;\nCREATE PROCEDURE b (OUT got INTEGER) BEGIN DECLARE h, n INTEGER; "
                        + other
                        + " END;\n");
        return found("a + b", IsolationLevel.READ_COMMITTED);
    }

    // One body is raced with itself.
    @ParameterizedTest
    @ValueSource(
            strings = {
                "SELECT balance INTO h FROM account WHERE id = 1; UPDATE account SET balance = h - 1"
                        + " WHERE id = 1;",
                "FOR r AS SELECT id, balance FROM account DO UPDATE account SET balance = r.balance"
                        + " + 1 WHERE id = r.id; END FOR;",
                "SET h = (SELECT MAX(balance) FROM account); UPDATE account SET balance = h + 1"
                        + " WHERE id = 1;",
                "IF (SELECT COUNT(*) FROM ticket WHERE seat = 1) = 0 THEN INSERT INTO ticket (seat)"
                        + " VALUES (1); END IF;",
                "IF (SELECT sold_to FROM seat WHERE id = 1) IS NULL THEN UPDATE seat SET sold_to ="
                        + " 'a' WHERE id = 1; SET got = 1; END IF;",
                "SET n = (SELECT COUNT(*) FROM ticket); INSERT INTO ticket (seat) VALUES (n + 1);",
                "IF NOT EXISTS (SELECT 1 FROM account WHERE id = 7) THEN INSERT INTO account VALUES"
                        + " (7, 0); END IF;",
                "SET h = (SELECT balance FROM account WHERE id = 1); UPDATE account SET balance ="
                        + " balance + 1 WHERE id = 1; INSERT INTO ticket (seat) VALUES (h);",
                "UPDATE account SET balance = balance + 1 WHERE id = 1; UPDATE account SET balance ="
                        + " balance + 1 WHERE id = 2; ++ UPDATE account SET balance = balance - 1"
                        + " WHERE id = 2; UPDATE account SET balance = balance - 1 WHERE id = 1;",
                "SET h = (SELECT balance FROM account WHERE id = 1); SET got = h + (SELECT balance"
                        + " FROM account WHERE id = 2); ++ UPDATE account SET balance = balance - 3"
                        + " WHERE id = 1; UPDATE account SET balance = balance + 3 WHERE id = 2;",
                "SET got = (SELECT SUM(balance) FROM account); ++ UPDATE account SET balance ="
                        + " balance - 3 WHERE id = 1; COMMIT; UPDATE account SET balance = balance + 3"
                        + " WHERE id = 2;",
                "SET h = (SELECT balance FROM account WHERE id = 1); EXECUTE IMMEDIATE 'UPDATE"
                        + " account SET balance = ' || (h + 1) || ' WHERE id = 1';",
                "IF EXISTS (SELECT 1 FROM seat WHERE sold_to IS NULL) THEN SET h = (SELECT MIN(id)"
                        + " FROM seat WHERE sold_to IS NULL); UPDATE seat SET sold_to = 'x' WHERE id ="
                        + " h; SET got = h; END IF;"
            })
    void plantedMistakesAreFound(String text) throws Exception {
        assertFalse(foundIn(text).isEmpty());
    }

    /** However a routine reads, the read is a step of its own, and one that is too old is found. */
    @ParameterizedTest
    @ValueSource(
            strings = {
                "BEGIN DECLARE c CURSOR FOR SELECT balance FROM account WHERE id = 1; OPEN c; FETCH c"
                        + " INTO h; CLOSE c; UPDATE account SET balance = h + 1 WHERE id = 1; END;",
                "BEGIN DECLARE d INTEGER DEFAULT (SELECT balance FROM account WHERE id = 1); UPDATE"
                        + " account SET balance = d + 1 WHERE id = 1; END;",
                "BEGIN PREPARE p FROM 'SELECT balance FROM account WHERE id = 1'; EXECUTE p INTO h;"
                        + " UPDATE account SET balance = h + 1 WHERE id = 1; END;",
                "SET h = balance_of(1); UPDATE account SET balance = h + 1 WHERE id = 1;",
                "CASE (SELECT balance FROM account WHERE id = 1) WHEN 10 THEN UPDATE account SET"
                        + " balance = 11 WHERE id = 1; ELSE UPDATE account SET balance = 12 WHERE id ="
                        + " 1; END CASE;",
                "CALL read_twice(1, h, n); UPDATE account SET balance = h + 1 WHERE id = 1;",
                "WHILE (SELECT balance FROM account WHERE id = 1) < 11 DO CALL add_at_once(1, 1); END"
                        + " WHILE; SET got = (SELECT balance FROM account WHERE id = 1);",
                "BEGIN DECLARE EXIT HANDLER FOR SQLSTATE '45009' UPDATE account SET balance = h + 1"
                        + " WHERE id = 1; SELECT balance INTO h FROM account WHERE id = 1; SIGNAL"
                        + " SQLSTATE '45009'; END;",
                "SET (h, n) = (SELECT balance, id FROM account WHERE id = 1); UPDATE account SET"
                        + " balance = h + 1 WHERE id = n;",
                "FOR r AS SELECT b FROM TABLE (all_balances()) t DO UPDATE account SET balance = r.b +"
                        + " 1 WHERE id = 1; END FOR;"
            })
    void eachWayToReadIsAStep(String text) throws Exception {
        write(
                "routines/t.sql",
                "CREATE FUNCTION all_balances () RETURNS TABLE (b INTEGER) RETURN TABLE (SELECT"
                        + " balance FROM account WHERE id = 1);\n");
        assertFalse(foundIn(text).isEmpty());
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "UPDATE account SET balance = balance - 1 WHERE id = 1;",
                "UPDATE account SET balance = balance - 6 WHERE id = 1 AND balance >= 6; GET"
                        + " DIAGNOSTICS n = ROW_COUNT; SET got = n;",
                "UPDATE account SET balance = balance + 1;",
                "INSERT INTO ticket (seat) VALUES (1);",
                "UPDATE seat SET sold_to = 'a' WHERE id = 1 AND sold_to IS NULL; GET DIAGNOSTICS got"
                        + " = ROW_COUNT;",
                "SET got = (SELECT SUM(balance) FROM account); ++ BEGIN ATOMIC UPDATE account SET"
                        + " balance = balance - 3 WHERE id = 1; UPDATE account SET balance = balance +"
                        + " 3 WHERE id = 2; END;",
                "SET got = (SELECT COUNT(*) FROM seat); ++ INSERT INTO ticket (seat) VALUES (1);",
                "UPDATE account SET balance = balance + 1 WHERE id = 1; UPDATE account SET balance ="
                        + " balance - 1 WHERE id = 2;",
                "DELETE FROM account WHERE id = 2; GET DIAGNOSTICS n = ROW_COUNT; SET got = n;",
                "BEGIN DECLARE EXIT HANDLER FOR SQLSTATE '23505' SET got = 0; SET got = 1; INSERT"
                        + " INTO account VALUES (7, 0); END;",
                "UPDATE account SET balance = 0 WHERE id = 1; ROLLBACK; ++ SET got = (SELECT balance"
                        + " FROM account WHERE id = 1);",
                "SET h = 3; WHILE h > 0 DO UPDATE account SET balance = balance + h WHERE id = 1; SET"
                        + " h = h - 1; END WHILE;",
                "UPDATE account SET balance = balance + 1 WHERE id = 1; COMMIT; UPDATE account SET"
                        + " balance = balance + 1 WHERE id = 1;"
            })
    void nothingIsCriedOfWhatIsRight(String text) throws Exception {
        assertEquals(Set.of(), foundIn(text));
    }

    /** Numbers that the database gives are others in each order, and mean nothing by that. */
    @Test
    void numbersThatAreGivenDoNotCount() throws Exception {
        write(
                "tables/u.sql",
                """
                CREATE TABLE wish (n INTEGER GENERATED ALWAYS AS IDENTITY PRIMARY KEY, by VARCHAR(9));
                CREATE TABLE part (wish INTEGER NOT NULL REFERENCES wish (n), what VARCHAR(9));
                CREATE TABLE dream ("of" INTEGER REFERENCES wish (n), what VARCHAR(9));
                """
                        .replace(" by ", " who "));
        write(
                "routines/s.sql",
                """
                CREATE PROCEDURE wish_twice (IN who VARCHAR(9), OUT last INTEGER)
                BEGIN
                  SET last = (SELECT n FROM FINAL TABLE (INSERT INTO wish (who) VALUES (who)));
                  INSERT INTO part VALUES (last, who);
                  SET last = (SELECT n FROM FINAL TABLE (INSERT INTO wish (who) VALUES (who)));
                  INSERT INTO part VALUES (last, who);
                  INSERT INTO dream VALUES (NULL, who), (last, 'NULL'), (last, NULL);
                END;
                -- What it gives is no number of a row.
                CREATE PROCEDURE how_many (OUT many INTEGER)
                BEGIN
                  SET many = (SELECT COUNT(*) FROM wish);
                  SET many = many * 10 + (SELECT COUNT(*) FROM wish);
                END;
                """);
        assertEquals(
                Set.of(),
                found("wish_twice who=a + wish_twice who=b", IsolationLevel.READ_COMMITTED));
        assertEquals(
                Set.of(Kind.ANOMALY),
                found("how_many + wish_twice who=b", IsolationLevel.READ_COMMITTED));
    }

    // Calls that can't be raced, and what is said of them.
    @ParameterizedTest
    @ValueSource(
            strings = {
                "for_ever + deposit | more than 1000 steps that touch data, the last in for_ever",
                "deposit + nothing_like_it | nothing_like_it",
                "deposit + in_java | in_java is in Java and may touch data, and nothing can stand",
                "deposit + calls_java | in_java is in Java and may touch data",
                "by_chance + deposit | come to something else each time, without anybody beside"
                        + " them, in account",
                "deposit + add_slowly account=1 | amount"
            })
    void whatCantBeRacedIsSaid(String text) throws Exception {
        write(
                "routines/s.sql",
                "CREATE PROCEDURE for_ever () WHILE TRUE DO UPDATE account SET balance = 1 WHERE id ="
                        + " 1; END WHILE;\nCREATE PROCEDURE by_chance () UPDATE account SET balance ="
                        + " CAST(RAND() * 1000000 AS INTEGER) WHERE id = 1;\nCREATE PROCEDURE in_java ()"
                        + " LANGUAGE JAVA MODIFIES SQL DATA PARAMETER STYLE JAVA EXTERNAL NAME"
                        + " 'x:Y.z';\nCREATE PROCEDURE calls_java () CALL in_java();\n");
        String[] parts = text.split(" \\| ");
        ProjectException said =
                assertThrows(
                        ProjectException.class,
                        () -> found(parts[0], IsolationLevel.READ_COMMITTED));
        assertTrue(said.getMessage().contains(parts[1]), said.getMessage());
    }

    /** One that runs into a limit, or ends in a condition of its own, is one like any other. */
    @Test
    void conditionsAreEndsLikeOthers() throws Exception {
        write(
                "routines/s.sql",
                """
                CREATE PROCEDURE refuse (IN account INTEGER)
                BEGIN
                  DECLARE held INTEGER;
                  SET held = (SELECT a.balance FROM account a WHERE a.id = account);
                  IF held > 10 THEN
                    SIGNAL SQLSTATE '45001' SET MESSAGE_TEXT = 'too much';
                  END IF;
                END;
                CREATE PROCEDURE round_and_round ()
                  WHILE TRUE DO BEGIN END; END WHILE;
                """);
        write("cantina.yaml", "project: p\nfixture: f\nlimits: { statements: 500 }\n");
        assertEquals(
                Set.of(),
                found("refuse account=1 + add_at_once account=1 amount=5", IsolationLevel.OWN));
        assertEquals(Set.of(), found("round_and_round + deposit", IsolationLevel.OWN));
    }

    /** A case with calls at the same time: a given order, or all of them. */
    @Test
    void aCaseMakesThemToo() throws Exception {
        write(
                "cases/r.yaml",
                """
                cases:
                  - case: this order loses one
                    calls:
                      - { routine: add_slowly, pass: { account: 1, amount: 1 } }
                      - { routine: add_slowly, pass: { account: 1, amount: 2 } }
                    at_once: { order: [1, 2, 2, 2, 1, 1], isolation: read committed }
                  - case: this one does not
                    calls:
                      - { routine: add_slowly, pass: { account: 1, amount: 1 } }
                      - { routine: add_slowly, pass: { account: 1, amount: 2 } }
                    at_once: { order: [1, 1, 1, 2, 2, 2] }
                  - case: some order loses one
                    calls:
                      - { routine: add_slowly, pass: { account: 1, amount: 1 } }
                      - { routine: add_slowly, pass: { account: 1, amount: 2 } }
                    at_once: { isolation: READ COMMITTED }
                  - case: no order loses any
                    calls:
                      - { routine: add_at_once, pass: { account: 1, amount: 1 } }
                      - { routine: add_at_once, pass: { account: 1, amount: 2 } }
                    at_once: {}
                """);
        Project project = ProjectReader.read(folder);
        CaseFiles.Found found = CaseFiles.read(project);
        assertEquals(List.of(), found.broken());
        try (CaseRunner runner =
                new CaseRunner(project, Optional.empty(), project.limits(), Clock.systemUTC())) {
            List<CaseResult.Verdict> verdicts =
                    found.cases().stream().map(c -> runner.run(c).verdict()).toList();
            assertEquals(
                    List.of(
                            CaseResult.Verdict.FAILED,
                            CaseResult.Verdict.PASSED,
                            CaseResult.Verdict.FAILED,
                            CaseResult.Verdict.PASSED),
                    verdicts);
        }
    }

    // What stands in the case, and what is said of it.
    @ParameterizedTest
    @ValueSource(
            strings = {
                "at_once: { order: [3] } | order holds the numbers of calls, from 1 to 2",
                "at_once: { order: [a] } | order holds the numbers of calls, from 1 to 2",
                "at_once: { isolation: loose } | isolation is READ UNCOMMITTED",
                "at_once: { more: 1 } | more",
                "at_once: {}\n    data: untouched | data can't stand in a case with at_once",
                "at_once: {}\n    before: DELETE FROM seat | before can't stand in a case with",
                "at_once: {}\n    as: clerk | as can't stand in a case with at_once"
            })
    void whatACaseCantSayIsRefused(String text) throws Exception {
        String[] parts = text.split(" \\| ");
        write(
                "cases/r.yaml",
                "cases:\n  - case: a\n    calls:\n      - { routine: deposit }\n"
                        + "      - { routine: deposit }\n    "
                        + parts[0]
                        + "\n");
        CaseFiles.Found found = CaseFiles.read(ProjectReader.read(folder));
        assertEquals(List.of(), found.cases());
        String said = found.broken().get(0).problem().orElseThrow().message();
        assertTrue(said.contains(parts[1]), said);
    }

    // ------------------------------------------------------------------ on the servers

    /** Each anomaly, at the levels that allow it and at those that don't. */
    abstract class Known {
        private final Supplier<String> url;

        Known(Supplier<String> url) {
            this.url = url;
        }

        @BeforeEach
        void server() throws Exception {
            write(
                    "cantina.yaml",
                    "project: p\nfixture: f\ndatabases:\n  there: { url: \""
                            + url.get()
                            + "\" }\n");
        }

        Optional<Kind> there(String calls, IsolationLevel level, int... order) throws Exception {
            List<Integer> steps = new ArrayList<>();
            for (int session : order) {
                // Where all is seen as it is when a call begins, that is a step of its own.
                boolean begins =
                        !steps.contains(session)
                                && level.compareTo(IsolationLevel.READ_COMMITTED) > 0;
                if (begins) {
                    steps.add(session);
                }
                steps.add(session);
            }
            return race(Optional.of("there"), calls, level).once(steps).map(Finding::kind);
        }

        /**
         * At which levels it is found.
         *
         * @param expected yes or no for each level, the weakest first
         * @param order that shows it
         */
        void levels(String expected, String calls, int... order) throws Exception {
            String[] wanted = expected.split(" ");
            for (int i = 0; i < wanted.length; i++) {
                boolean atEdge =
                        i + 1 < wanted.length && !wanted[i].equals(wanted[i + 1])
                                || i > 0 && !wanted[i].equals(wanted[i - 1]);
                boolean isSame = !expected.contains("yes") && i == 0;
                IsolationLevel level = IsolationLevel.all().get(i);
                boolean all = Boolean.getBoolean("cantina.all");
                if (!all && !atEdge && !isSame) {
                    continue;
                }
                Set<Kind> found =
                        all
                                ? kinds(race(Optional.of("there"), calls, level).run())
                                : new TreeSet<>(there(calls, level, order).stream().toList());
                found.removeAll(Set.of(Kind.DEADLOCK, Kind.REFUSED));
                assertEquals(wanted[i].equals("yes"), !found.isEmpty(), level + ": " + found);
            }
        }
    }

    @Nested
    @Execution(ExecutionMode.CONCURRENT)
    class OnPostgres extends Known {
        OnPostgres() {
            super(() -> PostgresServer.url());
        }

        @Execution(ExecutionMode.SAME_THREAD)
        @Test
        void dirtyReadsAreAtNoLevel() throws Exception {
            levels(
                    "no no no no",
                    "balance_of account=1 + change_and_take_back account=1",
                    2,
                    1,
                    2,
                    2,
                    1);
        }

        @Execution(ExecutionMode.SAME_THREAD)
        @Test
        void readsThatDifferAreAtTheFirstTwo() throws Exception {
            levels(
                    "yes yes no no",
                    "read_twice account=1 + add_at_once account=1 amount=7",
                    1,
                    2,
                    2,
                    1,
                    1);
        }

        @Execution(ExecutionMode.SAME_THREAD)
        @Test
        void phantomsAreAtTheFirstTwo() throws Exception {
            levels("yes yes no no", "count_twice + give_ticket seat=2", 1, 2, 2, 1, 1);
        }

        @Execution(ExecutionMode.SAME_THREAD)
        @Test
        void updatesAreLostAtTheFirstTwo() throws Exception {
            levels(
                    "yes yes no no",
                    "add_slowly account=1 amount=1 + add_slowly account=1 amount=2",
                    1,
                    2,
                    2,
                    2,
                    1,
                    1);
            assertEquals(
                    Optional.of(Kind.REFUSED),
                    there(
                            "add_slowly account=1 amount=1 + add_slowly account=1 amount=2",
                            IsolationLevel.REPEATABLE_READ,
                            1,
                            2,
                            2,
                            2,
                            1,
                            1));
        }

        @Execution(ExecutionMode.SAME_THREAD)
        @Test
        void writesAreSkewedBelowSerializable() throws Exception {
            levels(
                    "yes yes yes no",
                    "take account=1 amount=10 + take account=2 amount=8",
                    1,
                    2,
                    2,
                    2,
                    1,
                    1);
        }

        /** A transaction that only reads sees what no order allows (13.2.3). */
        @Execution(ExecutionMode.SAME_THREAD)
        @Test
        void aReaderSeesTooMuchBelowSerializable() throws Exception {
            write("fixtures/f/account.csv", "id,balance\n1,0\n2,0\n");
            String calls = "withdraw + deposit + look";
            // The first begins and reads; the second does all; the third; the first ends.
            List<Integer> order = List.of(1, 1, 2, 2, 2, 3, 3, 3, 3, 1, 1);
            Optional<Finding> at =
                    race(Optional.of("there"), calls, IsolationLevel.REPEATABLE_READ).once(order);
            assertEquals(Kind.ANOMALY, at.map(Finding::kind).orElse(null));
            Optional<Finding> not =
                    race(Optional.of("there"), calls, IsolationLevel.SERIALIZABLE).once(order);
            assertEquals(Kind.REFUSED, not.map(Finding::kind).orElse(null));
        }

        @Execution(ExecutionMode.SAME_THREAD)
        @Test
        void deadlocksAreFound() throws Exception {
            assertEquals(
                    Optional.of(Kind.DEADLOCK),
                    there(
                            "move source=1 target=2 amount=1 + move source=2 target=1 amount=2",
                            IsolationLevel.READ_COMMITTED,
                            1,
                            2,
                            1,
                            2,
                            1,
                            2));
        }

        /** Nothing stays on a server. */
        @Execution(ExecutionMode.SAME_THREAD)
        @Test
        void nothingIsLeftThere() throws Exception {
            race(Optional.of("there"), "deposit + withdraw", IsolationLevel.READ_COMMITTED).run();
            try (var connection = java.sql.DriverManager.getConnection(PostgresServer.url());
                    var statement = connection.createStatement();
                    var row =
                            statement.executeQuery(
                                    "SELECT COUNT(*) FROM pg_namespace"
                                            + " WHERE nspname LIKE 'cantina\\_program%'")) {
                row.next();
                assertEquals(0, row.getInt(1));
            }
        }
    }

    @Nested
    @Execution(ExecutionMode.CONCURRENT)
    class OnMaria extends Known {
        OnMaria() {
            super(() -> MariaServer.url());
        }

        @Execution(ExecutionMode.SAME_THREAD)
        @Test
        void dirtyReadsAreAtTheFirstAlone() throws Exception {
            levels(
                    "yes no no no",
                    "balance_of account=1 + change_and_take_back account=1",
                    2,
                    1,
                    2,
                    2,
                    1);
        }

        @Execution(ExecutionMode.SAME_THREAD)
        @Test
        void readsThatDifferAreAtTheFirstTwo() throws Exception {
            levels(
                    "yes yes no no",
                    "read_twice account=1 + add_at_once account=1 amount=7",
                    1,
                    2,
                    2,
                    1,
                    1);
        }

        @Execution(ExecutionMode.SAME_THREAD)
        @Test
        void phantomsAreAtTheFirstTwo() throws Exception {
            levels("yes yes no no", "count_twice + give_ticket seat=2", 1, 2, 2, 1, 1);
        }

        @Execution(ExecutionMode.SAME_THREAD)
        @Test
        void updatesAreLostBelowSerializable() throws Exception {
            levels(
                    "yes yes yes no",
                    "add_slowly account=1 amount=1 + add_slowly account=1 amount=2",
                    1,
                    2,
                    2,
                    2,
                    1,
                    1);
        }

        @Execution(ExecutionMode.SAME_THREAD)
        @Test
        void writesAreSkewedBelowSerializable() throws Exception {
            levels(
                    "yes yes yes no",
                    "take account=1 amount=10 + take account=2 amount=8",
                    1,
                    2,
                    2,
                    2,
                    1,
                    1);
        }

        @Execution(ExecutionMode.SAME_THREAD)
        @Test
        void deadlocksAreFound() throws Exception {
            assertEquals(
                    Optional.of(Kind.DEADLOCK),
                    there(
                            "move source=1 target=2 amount=1 + move source=2 target=1 amount=2",
                            IsolationLevel.READ_COMMITTED,
                            1,
                            2,
                            1,
                            2,
                            1,
                            2));
        }
    }
}
