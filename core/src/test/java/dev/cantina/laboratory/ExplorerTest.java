package dev.cantina.laboratory;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.drafting.ArgumentSearch;
import dev.cantina.drafting.SeenOutcome;
import dev.cantina.drafting.YamlText;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectReader;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Limits;
import dev.cantina.runtime.StackEntry;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import dev.cantina.testing.CaseFiles;
import dev.cantina.testing.CaseResult;
import dev.cantina.testing.CaseRunner;
import dev.cantina.testing.TestCase;
import dev.cantina.types.Condition;
import java.math.BigDecimal;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Mistakes that are planted are found, and nothing is said of routines that are right. */
class ExplorerTest {
    private static final Optional<LocalDateTime> CLOCK =
            Optional.of(LocalDateTime.of(2031, 10, 4, 9, 0));

    private static final String TABLES =
            """
            CREATE TABLE account (id INTEGER PRIMARY KEY, owner VARCHAR(20) NOT NULL,
              balance DECIMAL(8, 2) NOT NULL, kind VARCHAR(7) CHECK (kind IN ('saving', 'current')));
            CREATE TABLE booking (id INTEGER GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
              account INTEGER NOT NULL REFERENCES account (id), amount DECIMAL(8, 2) NOT NULL,
              said VARCHAR(5));
            """;

    private static final String INVARIANTS =
            """
            invariants:
              money: { same: SELECT SUM(balance) FROM account }
              debts: { none: SELECT id FROM account WHERE balance < 0 }
            """;

    @TempDir Path folder;

    private Project project(String routines, String more) throws Exception {
        write("cantina.yaml", "project: p\nfixture: f\n" + more);
        write("tables/t.sql", TABLES);
        write("routines/r.sql", routines);
        write(
                "fixtures/f/account.csv",
                "id,owner,balance,kind\n1,Ada,50.00,saving\n2,Bo,0.00,current\n3,Cy,9000.00,\n");
        return ProjectReader.read(folder);
    }

    private void write(String name, String text) throws Exception {
        Path file = folder.resolve(name);
        Files.createDirectories(file.getParent());
        Files.writeString(file, text);
    }

    private static CaseRunner runner(Project project) {
        Limits limits = ProjectReader.limit(Limits.DEFAULT, "statements", 20_000);
        return new CaseRunner(project, Optional.empty(), limits, Clock.systemDefaultZone());
    }

    private static Explorer.Report explore(Project project, boolean elsewhere) throws Exception {
        try (CaseRunner one = runner(project);
                CaseRunner second = runner(project);
                CaseRunner there = runner(project);
                Workspace workspace = Workspace.open(project, Optional.of("f"))) {
            var routine = workspace.routine("r", List.of());
            return new Explorer(
                            routine,
                            new ArgumentSearch(
                                    one,
                                    workspace,
                                    routine,
                                    CLOCK,
                                    Optional.empty(),
                                    project.invariants(),
                                    true,
                                    120),
                            second,
                            elsewhere ? Optional.of(there) : Optional.empty(),
                            CLOCK)
                    .explore();
        }
    }

    private static List<String> found(Explorer.Report report) {
        return report.findings().stream().map(Explorer.Finding::what).toList();
    }

    // What is expected stands before the bar, the routine behind it.
    @ParameterizedTest
    @ValueSource(
            strings = {
                "22012|CREATE FUNCTION r (a INTEGER, b INTEGER) RETURNS INTEGER RETURN a / b",
                "22012|CREATE FUNCTION r (a INTEGER) RETURNS INTEGER RETURN 100 / (a - 41)",
                "22003|CREATE FUNCTION r (a INTEGER) RETURNS INTEGER RETURN a * 2",
                "22003|CREATE FUNCTION r (a INTEGER) RETURNS SMALLINT RETURN a + 1",
                "22003|CREATE FUNCTION r (a DECIMAL(5, 2)) RETURNS DECIMAL(3, 2) RETURN a",
                "22001|CREATE FUNCTION r (a VARCHAR(9)) RETURNS VARCHAR(3) RETURN a",
                "22018|CREATE FUNCTION r (a VARCHAR(9)) RETURNS INTEGER RETURN CAST(a AS INTEGER)",
                "22011|CREATE FUNCTION r (a VARCHAR(9), n INTEGER) RETURNS VARCHAR(9)"
                        + " RETURN SUBSTRING(a FROM 1 FOR n)",
                "22004|CREATE PROCEDURE r (a VARCHAR(9)) IF a IS NULL OR a = 'x' THEN"
                        + " SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'not ' || a; END IF",
                "20000|CREATE FUNCTION r (a INTEGER) RETURNS INTEGER BEGIN"
                        + " CASE a WHEN 1 THEN RETURN 5; WHEN 7 THEN RETURN 6; END CASE; END",
                "21000|CREATE PROCEDURE r (k VARCHAR(20), OUT i INTEGER)"
                        + " SELECT id INTO i FROM account WHERE owner > k",
                "2F005|CREATE FUNCTION r (a INTEGER) RETURNS INTEGER BEGIN"
                        + " IF a > 12 THEN RETURN 1; END IF; END",
                "42|CREATE PROCEDURE r (t VARCHAR(20), OUT n INTEGER) BEGIN"
                        + " PREPARE p FROM 'SELECT COUNT(*) FROM ' || t; EXECUTE p INTO n; END",
                "UL001|CREATE PROCEDURE r (a INTEGER) WHILE a <> 0 DO SET a = a - 1; END WHILE",
                "UL|CREATE FUNCTION r (a INTEGER) RETURNS INTEGER BEGIN"
                        + " IF a = 0 THEN RETURN 0; END IF; RETURN r(a - 1); END",
                "22012|CREATE PROCEDURE r (a INTEGER) BEGIN"
                        + " DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN ROLLBACK; RESIGNAL; END;"
                        + " UPDATE account SET balance = 10 / a WHERE id = 1; END",
                "22003|CREATE PROCEDURE r (i INTEGER, n DECIMAL(8, 2))"
                        + " UPDATE account SET balance = balance + n WHERE id = i",
                "22001|CREATE PROCEDURE r (i INTEGER, s VARCHAR(20))"
                        + " INSERT INTO booking (account, amount, said) VALUES (i, 1, s)",
                "2D000|CREATE PROCEDURE r (a INTEGER) BEGIN ATOMIC"
                        + " IF a = 10 THEN CALL c(); END IF; END;"
                        + " CREATE PROCEDURE c () COMMIT",
                "says DETERMINISTIC|CREATE FUNCTION r (a INTEGER) RETURNS INTEGER DETERMINISTIC"
                        + " RETURN a * 0 + EXTRACT(MONTH FROM CURRENT_DATE)",
                "says DETERMINISTIC|CREATE FUNCTION r () RETURNS TIME DETERMINISTIC"
                        + " RETURN CAST(LOCALTIMESTAMP AS TIME)",
                "breaks 'money'|CREATE PROCEDURE r (a INTEGER, b INTEGER, n DECIMAL(8, 2)) BEGIN"
                        + " UPDATE account SET balance = balance - n WHERE id = a AND balance >= n"
                        + "   AND n > 0;"
                        + " UPDATE account SET balance = balance + n WHERE id = b AND n > 0; END",
                "breaks 'debts'|CREATE PROCEDURE r (a INTEGER, b INTEGER, n DECIMAL(6, 2))"
                        + " IF EXISTS (SELECT 1 FROM account WHERE id = b) AND"
                        + "   EXISTS (SELECT 1 FROM account WHERE id = a) THEN"
                        + " UPDATE account SET balance = balance - n WHERE id = a;"
                        + " UPDATE account SET balance = balance + n WHERE id = b; END IF",
            })
    void aMistakeIsFound(String planted) throws Exception {
        String[] parts = planted.split("\\|", 2);
        Explorer.Report report = explore(project(parts[1] + ";", INVARIANTS), false);
        assertTrue(
                found(report).stream().anyMatch(w -> w.startsWith(parts[0])),
                found(report).toString());
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "CREATE FUNCTION r (a INTEGER, b INTEGER) RETURNS INTEGER"
                        + " RETURN CAST(a AS DECIMAL(20, 0)) / NULLIF(b, 0) * 0",
                "CREATE FUNCTION r (a INTEGER) RETURNS BIGINT RETURN CAST(a AS BIGINT) * 2",
                "CREATE FUNCTION r (a VARCHAR(9)) RETURNS VARCHAR(3) RETURN SUBSTRING(a FROM 1 FOR 3)",
                "CREATE FUNCTION r (a VARCHAR(9)) RETURNS INTEGER RETURN CHAR_LENGTH(a)",
                "CREATE FUNCTION r (a VARCHAR(9)) RETURNS INTEGER BEGIN"
                        + " DECLARE EXIT HANDLER FOR SQLSTATE '22018' RETURN NULL;"
                        + " RETURN CAST(a AS INTEGER); END",
                "CREATE PROCEDURE r (a VARCHAR(9)) IF a IS NULL OR a = 'x' THEN"
                        + " SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'not ' || COALESCE(a, '?'); END IF",
                "CREATE FUNCTION r (a INTEGER) RETURNS INTEGER BEGIN"
                        + " CASE a WHEN 1 THEN RETURN 5; ELSE RETURN 6; END CASE; END",
                "CREATE PROCEDURE r (k INTEGER, OUT i VARCHAR(20))"
                        + " SELECT owner INTO i FROM account WHERE id = k",
                "CREATE PROCEDURE r (a INTEGER) SIGNAL SQLSTATE '22023' SET MESSAGE_TEXT = 'no'",
                "CREATE PROCEDURE r (a INTEGER) BEGIN"
                        + " DECLARE odd CONDITION FOR SQLSTATE '22023';"
                        + " IF a = 1 THEN SIGNAL odd; END IF; END",
                "CREATE PROCEDURE r (a INTEGER) BEGIN"
                        + " DECLARE EXIT HANDLER FOR SQLSTATE '22012' RESIGNAL SQLSTATE '22023'"
                        + "   SET MESSAGE_TEXT = 'not 0'; SET a = 1 / a; END",
                "CREATE PROCEDURE r (i INTEGER, s VARCHAR(5))"
                        + " INSERT INTO booking (account, amount, said) VALUES (i, 1, s)",
                "CREATE PROCEDURE r (i INTEGER) INSERT INTO account VALUES (i, 'x', 0, 'odd')",
                "CREATE FUNCTION r (a INTEGER) RETURNS INTEGER DETERMINISTIC"
                        + " RETURN (SELECT COUNT(*) FROM account WHERE id > a)",
                "CREATE FUNCTION r () RETURNS DATE NOT DETERMINISTIC RETURN CURRENT_DATE",
                "CREATE FUNCTION r () RETURNS DATE RETURN CURRENT_DATE",
                "CREATE PROCEDURE r (a INTEGER) BEGIN"
                        + " DECLARE i INTEGER DEFAULT 0; WHILE i < 10 DO SET i = i + 1; END WHILE; END",
                "CREATE PROCEDURE r (a INTEGER, b INTEGER, n DECIMAL(5, 2)) BEGIN ATOMIC"
                        + " DECLARE did INTEGER;"
                        + " IF n <= 0 OR n IS NULL THEN"
                        + "   SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'n'; END IF;"
                        + " UPDATE account SET balance = balance - n WHERE id = a AND balance >= n;"
                        + " GET DIAGNOSTICS did = ROW_COUNT;"
                        + " IF did = 0 THEN SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'a'; END IF;"
                        + " UPDATE account SET balance = balance + n WHERE id = b;"
                        + " GET DIAGNOSTICS did = ROW_COUNT;"
                        + " IF did = 0 THEN SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'b'; END IF;"
                        + " END",
            })
    void nothingIsSaidOfWhatIsRight(String routine) throws Exception {
        Explorer.Report report = explore(project(routine + ";", INVARIANTS), true);
        assertEquals(List.of(), found(report), routine);
        assertTrue(report.runs() > 0 && report.elsewhere() > 0);
    }

    @Test
    void aFindingHasTheUsualArgumentsButForOne() throws Exception {
        Explorer.Report report =
                explore(
                        project(
                                "CREATE PROCEDURE r (w VARCHAR(9), x INTEGER, a INTEGER, d DATE)"
                                        + " IF x = 76 THEN SET a = 1 / (a - 12); END IF;",
                                ""),
                        false);
        assertEquals(1, report.findings().size(), found(report).toString());
        Map<String, Object> arguments = report.findings().get(0).run().arguments();
        assertEquals("76", arguments.get("x").toString());
        assertEquals("12", arguments.get("a").toString());
        assertEquals(report.base().get("w"), arguments.get("w"));
        assertEquals(report.base().get("d"), arguments.get("d"));
    }

    @Test
    void theSameIsFoundTwice() throws Exception {
        Project project =
                project(
                        "CREATE FUNCTION r (a INTEGER, b VARCHAR(5)) RETURNS INTEGER"
                                + " RETURN CAST(b AS INTEGER) / a * 7;",
                        "");
        Explorer.Report one = explore(project, false);
        Explorer.Report other = explore(project, false);
        assertEquals(found(one), found(other));
        assertEquals(one.runs(), other.runs());
        assertEquals(
                one.findings().stream().map(f -> YamlText.of(f.run().arguments())).toList(),
                other.findings().stream().map(f -> YamlText.of(f.run().arguments())).toList());
    }

    @Test
    void findingsAreCasesThatFailUntilItIsMended() throws Exception {
        String mended =
                "CREATE FUNCTION r (a INTEGER) RETURNS INTEGER DETERMINISTIC"
                        + " RETURN 7 / NULLIF(a, 0) * 0 + 10;";
        Project project =
                project(
                        "CREATE FUNCTION r (a INTEGER) RETURNS INTEGER DETERMINISTIC"
                                + " RETURN 7 / a * 0 + EXTRACT(MONTH FROM CURRENT_DATE);",
                        "");
        String text = FoundCases.of(explore(project, false), Optional.empty(), CLOCK);
        List<CaseResult> before = run(project, text);
        assertEquals(2, before.size(), text);
        assertTrue(before.stream().noneMatch(ExplorerTest::isPassed), text);
        assertTrue(text.contains("  # 22012 division by zero\n  - case: a 0\n"), text);
        write("routines/r.sql", mended);
        assertTrue(run(project, text).stream().allMatch(ExplorerTest::isPassed), text);
    }

    private static boolean isPassed(CaseResult result) {
        return result.verdict() == CaseResult.Verdict.PASSED;
    }

    private static List<CaseResult> run(Project project, String text) {
        CaseFiles.Found found = CaseFiles.read(project, new Source("cases/c.yaml", text));
        assertTrue(found.broken().isEmpty(), text);
        List<CaseResult> results = new ArrayList<>();
        try (CaseRunner runner = runner(project)) {
            for (TestCase testCase : found.cases()) {
                results.add(runner.run(testCase));
            }
        }
        return results;
    }

    // SQLSTATE, whether it was meant, and the statement that raised it.
    @ParameterizedTest
    @ValueSource(
            strings = {
                "22012|no|SET a = 1 / b",
                "22012|yes|SIGNAL SQLSTATE '22012'",
                "22012|yes|signal /* odd */ SQLSTATE VALUE '22012' SET MESSAGE_TEXT = 'x'",
                "22012|no|SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 1 / b",
                "22004|no|SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = a",
                "22023|yes|SIGNAL odd",
                "22004|no|SIGNAL odd SET MESSAGE_TEXT = a",
                "22012|no|RESIGNAL",
                "22023|yes|RESIGNAL SQLSTATE '22023'",
                "22012|no|RESIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 1 / b",
                "45000|yes|RESIGNAL",
                "P0001|yes|RAISE EXCEPTION 'no %', a",
                "22023|yes|RAISE EXCEPTION 'no' USING ERRCODE = 'invalid_parameter_value'",
                "22023|yes|RAISE SQLSTATE '22023'",
                "P0003|no|SELECT id INTO STRICT i FROM t",
                "23505|yes|INSERT INTO t VALUES (1)",
                "42P01|no|EXECUTE 'SELECT 1 FROM ' || t",
                "XX000|no|PERFORM odd()",
                "UL000|yes|SET a = 1",
                "UL001|no|SET a = 1",
            })
    void whatAStatementMeansToRaiseIsNoFinding(String line) {
        String[] parts = line.split("\\|", 3);
        Source source = new Source("r.sql", parts[2]);
        StackEntry where = new StackEntry("r", new Span(source, 0, parts[2].length()));
        assertEquals(
                parts[1].equals("yes"),
                Explorer.isMeant(new Condition(parts[0], "x"), where),
                line);
    }

    @Test
    void disagreementsAreToldByTheirPlace() {
        Map<String, Object> one =
                Map.of("returns", Map.of("n", new BigDecimal("1.0"), "at", YamlText.ANY));
        assertEquals(
                Optional.empty(),
                SeenOutcome.firstOther(
                        one, Map.of("returns", Map.of("n", new BigDecimal("1.0"), "at", "noon"))));
        assertEquals(
                Optional.of("returns.n is 2, not 1.0"),
                SeenOutcome.firstOther(
                        one, Map.of("returns", Map.of("n", new BigDecimal("2"), "at", "noon"))));
        assertEquals(
                Optional.empty(),
                SeenOutcome.firstOther(
                        Map.of("results", List.of("a", "b")),
                        Map.of("results", List.of("b", "a"))));
        assertEquals(
                Optional.of("data is untouched, not nothing"),
                SeenOutcome.firstOther(Map.of(), Map.of("data", "untouched")));
    }
}
