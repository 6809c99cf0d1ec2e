package dev.cantina.laboratory;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.laboratory.MutantReport.Result;
import dev.cantina.laboratory.MutantReport.Verdict;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.testing.CaseFiles;
import dev.cantina.testing.CaseResult;
import dev.cantina.testing.CaseRunner;
import dev.cantina.testing.Fingerprints;
import dev.cantina.testing.TestCase;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Mistakes that cases do not notice are found; those that they do are not cried out. */
class MutantLabTest {
    private static final String TABLES =
            """
            CREATE TABLE account (id INTEGER PRIMARY KEY, balance INTEGER NOT NULL, kind VARCHAR(7));
            CREATE TABLE log (n INTEGER GENERATED ALWAYS AS IDENTITY PRIMARY KEY, said VARCHAR(40));
            """;

    @TempDir Path folder;
    private final AtomicInteger asked = new AtomicInteger();

    private Project project(String routines, String cases) throws Exception {
        write("cantina.yaml", "project: p\nfixture: f\n");
        write("tables/t.sql", TABLES);
        write("routines/r.sql", routines);
        write("cases/r.yaml", cases);
        write("fixtures/f/account.csv", "id,balance,kind\n1,50,saving\n2,0,current\n3,900,\n");
        return ProjectReader.read(folder);
    }

    private void write(String name, String text) throws Exception {
        Path file = folder.resolve(name);
        Files.createDirectories(file.getParent());
        Files.writeString(file, text);
    }

    private MutantReport tried(Project project, boolean changed, double seconds, String... names)
            throws Exception {
        List<TestCase> cases = CaseFiles.read(project).cases();
        MutantMemory memory = MutantMemory.of(project);
        MutantReport report =
                new MutantLab(
                                project,
                                new MutantLab.Settings(
                                        Optional.empty(),
                                        project.limits(),
                                        Clock.fixed(
                                                Instant.parse("2031-10-04T09:00:00Z"),
                                                ZoneOffset.UTC),
                                        seconds,
                                        true,
                                        2),
                                () -> asked.incrementAndGet() < 0)
                        .run(
                                cases,
                                List.of(names),
                                new Fingerprints(project).of(cases),
                                memory,
                                changed);
        memory.keep();
        return report;
    }

    private MutantReport tried(String routines, String cases) throws Exception {
        return tried(project(routines, cases), false, 60);
    }

    private static List<String> of(MutantReport report, Verdict verdict) {
        return report.results().stream()
                .filter(r -> r.verdict() == verdict)
                .map(r -> r.mutation().span().text() + " → " + r.mutation().text())
                .toList();
    }

    // The mistake, then the body, then what a case passes and expects that does not notice, then
    // one that does.
    @ParameterizedTest
    @ValueSource(
            strings = {
                "< → <= ## SET y = CASE WHEN x < 5 THEN 1 ELSE 2 END;"
                        + " ## { x: 1 } } => { y: 1 } ## { x: 5 } } => { y: 2 }",
                ">= → < ## SET y = CASE WHEN x >= 5 THEN 1 ELSE 2 END;"
                        + " ## { x: 0 } } => { y: { any: true } } ## { x: 9 } } => { y: 1 }",
                "3 → 4 ## SET y = CASE WHEN x = 3 THEN 1 ELSE 2 END;"
                        + " ## { x: 9 } } => { y: 2 } ## { x: 3 } } => { y: 1 }",
                "+ → - ## SET y = x + 4;"
                        + " ## { x: 9 } } => { y: { any: true } } ## { x: 9 } } => { y: 13 }",
                "'a' → 'x' ## SET y = CASE WHEN CAST(x AS VARCHAR(9)) = 'a' THEN 1 ELSE POSITION('a' IN 'ba') END;"
                        + " ## { x: 1 } } => { y: { any: true } } ## { x: 1 } } => { y: 2 }",
                "x IS NULL → FALSE ## IF x IS NULL THEN SET y = 0; ELSE SET y = x; END IF;"
                        + " ## { x: 1 } } => { y: 1 } ## { x: null } } => { y: 0 }",
                "COALESCE(x, 7) → x ## SET y = COALESCE(x, 7);"
                        + " ## { x: 1 } } => { y: 1 } ## { x: null } } => { y: 7 }",
                "n = 0 → FALSE ## BEGIN DECLARE n INTEGER;"
                        + " UPDATE account SET balance = 1 WHERE id = x; GET DIAGNOSTICS n = ROW_COUNT;"
                        + " SET y = 1; IF n = 0 THEN SET y = 0; END IF; END;"
                        + " ## { x: 1 } } => { y: 1 } ## { x: 8 } } => { y: 0 }",
                "DECLARE EXIT HANDLER FOR NOT FOUND SET y = -1; →  ## BEGIN"
                        + " DECLARE EXIT HANDLER FOR NOT FOUND SET y = -1;"
                        + " SELECT balance INTO y FROM account WHERE id = x; END;"
                        + " ## { x: 1 } } => { y: 50 } ## { x: 8 } } => { y: -1 }",
                " AND kind = 'saving' →  ## SET y = (SELECT COUNT(*) FROM account"
                        + " WHERE balance > x AND kind = 'saving');"
                        + " ## { x: 1000 } } => { y: 0 } ## { x: 10 } } => { y: 1 }",
                "INSERT INTO log (said) VALUES ('done') → BEGIN END ## BEGIN SET y = 1;"
                        + " INSERT INTO log (said) VALUES ('done'); END;"
                        + " ## { x: 1 } } => { y: 1 } ## { x: 1 } } => { y: 1 }, data:"
                        + " { log: { added: 1 } }",
                "COMMIT → ROLLBACK ## BEGIN UPDATE account SET balance = x WHERE id = 1; SET y = 1;"
                        + " COMMIT; END;"
                        + " ## { x: 3 } } => { y: 1 } ## { x: 3 } } => { y: 1 }, data:"
                        + " { account: { changed: { 1: { balance: 3 } } } }",
                "x = 1 → NOT (x = 1) ## IF x = 1 THEN SET y = 1; ELSE SET y = 2; END IF;"
                        + " ## { x: 1 } } => { y: { any: true } } ## { x: 1 } } => { y: 1 }",
                "MIN → MAX ## SET y = (SELECT MIN(balance) FROM account WHERE id > x);"
                        + " ## { x: 2 } } => { y: 900 } ## { x: 0 } } => { y: 0 }",
                "balance → balance DESC ## SET y = (SELECT id FROM account WHERE id > x ORDER BY"
                        + " balance FETCH FIRST 1 ROWS ONLY);"
                        + " ## { x: 2 } } => { y: 3 } ## { x: 0 } } => { y: 2 }",
                ", kind = 'none' →  ## BEGIN UPDATE account SET balance = x, kind = 'none' WHERE"
                        + " id = 1; SET y = 1; END;"
                        + " ## { x: 3 } } => { y: 1 } ## { x: 3 } } => { y: 1 }, data:"
                        + " { account: { changed: { 1: { balance: 3, kind: none } } } }"
            })
    void aCaseNoticesItOrDoesNot(String text) throws Exception {
        String[] parts = text.split(" ?## ");
        String routine = "CREATE PROCEDURE r (IN x INTEGER, OUT y INTEGER)\n  " + parts[1] + "\n";
        String mistake = parts[0];
        MutantReport without = tried(routine, "routine: r\ncases:\n" + aCase(parts[2], "weak"));
        List<String> unnoticed = new java.util.ArrayList<>(of(without, Verdict.UNNOTICED));
        unnoticed.addAll(of(without, Verdict.UNREACHED));
        assertTrue(unnoticed.contains(mistake), unnoticed + " of " + without.results());
        MutantReport with =
                tried(
                        routine,
                        "routine: r\ncases:\n"
                                + aCase(parts[2], "weak")
                                + aCase(parts[3], "strong"));
        assertTrue(of(with, Verdict.NOTICED).contains(mistake), of(with, Verdict.NOTICED) + "");
        assertEquals(List.of(), with.leftOut());
    }

    private static String aCase(String text, String name) {
        String[] parts = text.split(" } => ");
        String data = "";
        String returns = parts[1];
        if (returns.contains(", data: ")) {
            data = "    data: " + returns.substring(returns.indexOf(", data: ") + 8) + "\n";
            returns = returns.substring(0, returns.indexOf(", data: "));
        }
        return "  - case: "
                + name
                + "\n    pass: "
                + parts[0]
                + "\n    returns: "
                + returns
                + "\n"
                + data;
    }

    @Test
    void allIsAsItWasAfterwards() throws Exception {
        Project project =
                project(
                        "CREATE FUNCTION half (n INTEGER) RETURNS INTEGER RETURN n / 2;\n"
                                + "CREATE FUNCTION r (x INTEGER) RETURNS INTEGER\n"
                                + "  RETURN half(x) + half(x) * 3;\n",
                        "routine: r\ncases:\n  - case: one\n    pass: { x: 4 }\n    returns: 8\n");
        MutantReport report = tried(project, false, 60);
        assertEquals(report.all(), report.noticed(), of(report, Verdict.UNNOTICED).toString());
        assertTrue(report.all() >= 6, report.toString());
        try (CaseRunner runner =
                new CaseRunner(
                        project, Optional.empty(), project.limits(), Clock.systemDefaultZone())) {
            assertEquals(
                    CaseResult.Verdict.PASSED,
                    runner.run(CaseFiles.read(project).cases().get(0)).verdict());
        }
    }

    /** In a trigger, a private function of a module, and what calls itself. */
    @Test
    void whereverTheCasesRunMistakesAreNoticed() throws Exception {
        MutantReport report =
                tried(
                        """
                        CREATE TRIGGER kept AFTER UPDATE ON account
                        REFERENCING OLD ROW AS o NEW ROW AS n FOR EACH ROW
                        WHEN (o.balance <> n.balance)
                          INSERT INTO log (said) VALUES (n.id || ': ' || (n.balance - o.balance));
                        CREATE MODULE m
                          PRIVATE FUNCTION down (n INTEGER) RETURNS INTEGER
                            RETURN CASE WHEN n = 0 THEN 0 ELSE n + down(n - 1) END;
                          PROCEDURE up (IN account INTEGER, IN n INTEGER)
                            UPDATE account a SET balance = a.balance + down(n) WHERE a.id = account;
                        END MODULE;
                        """,
                        """
                        routine: m.up
                        cases:
                          - case: of three
                            pass: { account: 1, n: 3 }
                            data:
                              account: { changed: { 1: { balance: 56 } } }
                              log: { added: [ { said: '1: 6' } ] }
                          - case: of none
                            pass: { account: 1, n: 0 }
                            data: untouched
                        """);
        assertEquals(List.of(), report.leftOut());
        assertEquals(List.of(), of(report, Verdict.UNREACHED));
        // That of three is no more than of none; the change of nothing is one of the account.
        List<String> left = of(report, Verdict.UNNOTICED);
        assertTrue(left.size() <= 1, left.toString());
        assertTrue(report.results().stream().anyMatch(r -> r.routine().equals("kept")));
        assertTrue(report.results().stream().anyMatch(r -> r.routine().equals("m.down")));
    }

    @Test
    void whatNeverEndsIsNoticedSoon() throws Exception {
        long start = System.nanoTime();
        MutantReport report =
                tried(
                        """
                        CREATE FUNCTION r (x INTEGER) RETURNS INTEGER
                        BEGIN
                          DECLARE i INTEGER DEFAULT 0;
                          WHILE i < x DO
                            SET i = i + 1;
                          END WHILE;
                          RETURN i;
                        END;
                        """,
                        "routine: r\ncases:\n  - case: one\n    pass: { x: 4 }\n    returns: 4\n");
        assertTrue(of(report, Verdict.NOTICED).contains("SET i = i + 1 → BEGIN END"));
        assertTrue(System.nanoTime() - start < 60e9);
    }

    /** What can't be told from what is right does not count; what may be told does. */
    @Test
    void someCantBeToldFromWhatIsRight() throws Exception {
        MutantReport report =
                tried(
                        """
                        CREATE FUNCTION r (x INTEGER) RETURNS INTEGER
                        BEGIN
                          DECLARE unread, y INTEGER;
                          DECLARE z INTEGER DEFAULT 5;
                          SET unread = 7;
                          SET z = x;
                          SET y = 3;
                          RETURN z + y;
                          SET y = 8;
                        END;
                        """,
                        "routine: r\ncases:\n  - case: one\n    pass: { x: 4 }\n    returns: 7\n");
        List<String> same = of(report, Verdict.INDISTINCT);
        assertEquals(
                List.of(
                        "5 → 6",
                        "5 → 4",
                        "SET unread = 7 → BEGIN END",
                        "7 → 8",
                        "7 → 6",
                        "SET y = 8 → BEGIN END",
                        "8 → 9",
                        "8 → 7"),
                same);
        assertEquals(List.of(), of(report, Verdict.UNNOTICED));
    }

    /** A handler, a cursor, a longer value: where more could be at work nothing is claimed. */
    @ParameterizedTest
    @ValueSource(
            strings = {
                "DECLARE u INTEGER; DECLARE c CURSOR FOR SELECT id FROM account WHERE id = u;"
                        + " SET u = 7; OPEN c; CLOSE c; RETURN x;",
                "DECLARE z SMALLINT DEFAULT 9; SET z = x; RETURN z;",
                "DECLARE z INTEGER DEFAULT 5; DECLARE EXIT HANDLER FOR SQLEXCEPTION RETURN z;"
                        + " SET z = 7 / x; RETURN z;",
                "DECLARE u INTEGER; SET u = 1 / x; RETURN x;",
                "DECLARE z INTEGER DEFAULT 5; IF x > 4 THEN SET z = x; END IF; RETURN z;"
            })
    void othersMayBe(String body) throws Exception {
        MutantReport report =
                tried(
                        "CREATE FUNCTION r (x INTEGER) RETURNS INTEGER BEGIN " + body + " END;\n",
                        "routine: r\ncases:\n  - case: one\n    pass: { x: 4 }\n"
                                + "    returns: { any: true }\n");
        List<String> same = of(report, Verdict.INDISTINCT);
        assertTrue(
                same.stream().noneMatch(s -> s.startsWith("9 →") && !s.equals("9 → 8")),
                same.toString());
        if (!body.contains("SMALLINT")) {
            assertEquals(List.of(), same);
        }
    }

    @Test
    void aCallThatWouldNoticeIsFoundAndHolds() throws Exception {
        Project project =
                project(
                        """
                        CREATE PROCEDURE r (IN account INTEGER, IN amount INTEGER)
                        BEGIN
                          IF amount < 10 THEN
                            SIGNAL SQLSTATE '45001';
                          END IF;
                          UPDATE account a SET balance = a.balance - amount WHERE a.id = account;
                        END;
                        """,
                        "routine: r\ncases:\n  - case: weak\n    pass: { account: 1, amount: 20 }\n");
        MutantReport report = tried(project, false, 60);
        Result bound =
                report.results().stream()
                        .filter(r -> r.mutation().kind() == Mutation.Kind.BOUND)
                        .findFirst()
                        .orElseThrow();
        assertEquals(Verdict.UNNOTICED, bound.verdict());
        assertEquals("10", bound.draft().orElseThrow().arguments().get("amount").toString());
        assertEquals("it ends in 45001", bound.draft().get().other());
        write("cases/more.yaml", MutantCases.of(report, Optional.empty(), Optional.empty()));
        MutantReport again = tried(project, false, 60);
        assertEquals(List.of(), again.leftOut());
        assertEquals(100.0, again.percent(), of(again, Verdict.UNNOTICED).toString());
    }

    @Test
    void whatIsAsBeforeIsNotTriedAgain() throws Exception {
        String routines =
                "CREATE FUNCTION r (x INTEGER) RETURNS INTEGER RETURN x + 1;\n"
                        + "CREATE FUNCTION s (x INTEGER) RETURNS INTEGER RETURN x + 2;\n";
        String cases = "cases:\n  - case: a\n    routine: r\n    pass: { x: 4 }\n    returns: 5\n";
        String others =
                "cases:\n  - case: b\n    routine: s\n    pass: { x: 4 }\n    returns: { any: true }\n";
        write("cases/s.yaml", others);
        MutantReport first = tried(project(routines, cases), true, 60);
        assertEquals(0, first.kept().size());
        MutantReport second = tried(project(routines, cases), true, 60);
        assertEquals(2, second.kept().size());
        assertEquals(0, second.results().size());
        assertEquals(first.percent(), second.percent());
        Project project = project(routines.replace("+ 1", "+ 3 - 2"), cases);
        MutantReport third = tried(project, true, 60);
        assertEquals(List.of("s"), third.kept().stream().map(k -> k.routine()).toList());
        write("cases/s.yaml", others.replace("{ any: true }", "6"));
        MutantReport fourth = tried(project, true, 60);
        assertEquals(List.of("r"), fourth.kept().stream().map(k -> k.routine()).toList());
        assertEquals(100.0, fourth.percent());
    }

    @Test
    void itEndsInTimeAndSaysSo() throws Exception {
        MutantReport report =
                tried(
                        project(
                                "CREATE FUNCTION r (x INTEGER) RETURNS INTEGER RETURN x + 1;\n",
                                "routine: r\ncases:\n  - case: a\n    pass: { x: 1 }\n    returns: 2\n"),
                        false,
                        1e-6);
        assertEquals(0, report.results().size());
        assertTrue(report.untried() >= 3, report.toString());
    }

    @Test
    void casesThatFailTellNothing() throws Exception {
        MutantReport report =
                tried(
                        "CREATE FUNCTION r (x INTEGER) RETURNS INTEGER RETURN x + 1;\n",
                        "routine: r\ncases:\n  - case: wrong\n    pass: { x: 1 }\n    returns: 9\n");
        assertEquals(List.of("wrong"), report.leftOut());
        assertEquals(0, report.noticed());
        assertTrue(of(report, Verdict.NOTICED).isEmpty());
    }

    @Test
    void namesChooseAndANameThatIsNoneIsSaid() throws Exception {
        Project project =
                project(
                        "CREATE FUNCTION r (x INTEGER) RETURNS INTEGER RETURN x + 1;\n"
                                + "CREATE FUNCTION s (x INTEGER) RETURNS INTEGER RETURN x + 2;\n",
                        "routine: r\ncases:\n  - case: a\n    pass: { x: 1 }\n    returns: 2\n");
        MutantReport report = tried(project, false, 60, "R");
        assertTrue(report.results().stream().allMatch(r -> r.routine().equals("r")));
        ProjectException none =
                assertThrows(ProjectException.class, () -> tried(project, false, 60, "rr"));
        assertTrue(none.getMessage().contains("did you mean r?"), none.getMessage());
    }

    /** A case that alters the tables gives its database away; the next has the mistake too. */
    @Test
    void aCaseThatAltersTablesChangesNothingForOthers() throws Exception {
        MutantReport report =
                tried(
                        "CREATE PROCEDURE r (IN x INTEGER, OUT y INTEGER)\nBEGIN\n"
                                + "  EXECUTE IMMEDIATE 'DROP TABLE log';\n  SET y = x + 1;\nEND;\n",
                        "routine: r\ncases:\n"
                                + "  - case: weak\n    pass: { x: 1 }\n    returns: { y: { any: true } }\n"
                                + "  - case: weak too\n    pass: { x: 1 }\n    returns: { y: { any: true } }\n"
                                + "  - case: strong\n    pass: { x: 1 }\n    returns: { y: 2 }\n");
        assertTrue(of(report, Verdict.NOTICED).contains("+ → -"), report.toString());
    }
}
