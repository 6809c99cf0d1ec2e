package dev.cantina.syntax;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTimeoutPreemptively;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.MethodSource;

class ParserTest {
    private static ParsedFile parse(String text) {
        return Parser.parse(new Source("x.sql", text));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "SET a = ; | x.sql:1:9 expected a value, found ';'",
                "SETT a = 1; | x.sql:1:1 no statement begins with SETT",
                "IF a = 1 SET b = 2; END IF; | x.sql:1:10 expected THEN after the condition of IF, found SET",
                "SET a = 'open; | x.sql:1:9 this text never ends",
                "SET a = 1 | ",
                "SET a = (1; | x.sql:1:11 expected ')' to close the bracket, found ';'",
                "BEGIN SET a = 1; END IF; | x.sql:1:22 expected ';' at the end, found IF",
                "SIGNAL SQLSTATE '123'; | x.sql:1:17 an SQLSTATE has five digits or letters, and '123' has not",
                "BEGIN SET a = 1; DECLARE b INTEGER; END; | x.sql:1:18 a declaration belongs at the head of a block, before its statements",
                "CREATE FUNCTION f (OUT a INTEGER) RETURNS INTEGER RETURN 1; | x.sql:1:20 a function has only IN parameters",
                "CREATE PROCEDURE p (IN a NUMBR) SET a = 1; | x.sql:1:26 expected a type, found NUMBR",
                "SET a = 1 § 2; | x.sql:1:11 unexpected character '§'",
                // A digit of another script is no digit of SQL.
                "SET a = 1 + \u0663; | x.sql:1:13 unexpected character '\u0663'",
            })
    void aProblemHasItsPlaceAndSaysWhatWasExpected(String text, String problem) {
        List<String> found =
                parse(text).problems().stream()
                        .map(p -> p.span().place() + " " + p.message())
                        .toList();
        assertEquals(
                problem == null ? List.of() : problem.strip(),
                problem == null ? found : found.get(0));
    }

    @Test
    void oneFileGivesAllItsProblems() {
        ParsedFile file =
                parse(
                        """
                        CREATE PROCEDURE a () SET x = ;
                        CREATE PROCEDURE b ()
                        BEGIN
                          SET x = 1 +;
                          WHILE x DO SET y = ; END WHILE;
                          SET z = 3;
                        END;
                        CREATE PROCEDURE c () SET x = 1;
                        """);
        assertEquals(List.of(1, 4, 5), file.problems().stream().map(p -> p.span().line()).toList());
        assertEquals(2, file.units().size());
    }

    @Test
    void keywordsMayNameThingsWhereTheGrammarDoesNotNeedThem() {
        assertEquals(
                List.of(),
                parse(
                                "CREATE PROCEDURE p (IN year INTEGER, IN value INTEGER) SET year = value + first;")
                        .problems());
    }

    @Test
    void commentsNestAndIdentifiersKeepTheirSpelling() {
        ParsedFile file =
                parse(
                        "/* a /* b */ c */ CREATE PROCEDURE MixedCase () -- end\n SET \"Exact one\" = 1;");
        assertEquals(List.of(), file.problems());
        assertEquals("MixedCase", ((Unit.Routine) file.units().get(0)).name().text());
    }

    private static SqlText sql(String text) {
        Unit.Step step = (Unit.Step) parse(text + ";").units().get(0);
        return ((Statement.Data) step.statement()).sql();
    }

    private static void names(SqlText.Scope scope, List<String> into) {
        scope.names().stream()
                .filter(n -> n.use() == SqlText.Use.VALUE)
                .forEach(n -> into.add(n.span().text()));
        scope.children().forEach(child -> names(child, into));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "SELECT a.b, c AS d, CAST(e AS DOUBLE PRECISION) f FROM t a WHERE g = 1 | a.b c e g",
                "SELECT x FROM t JOIN u ON t.i = u.j LEFT JOIN v USING (k) ORDER BY l | x t.i u.j l",
                "SELECT COUNT(*) FILTER (WHERE p > 1) OVER (PARTITION BY q) FROM t | p q",
                "UPDATE t SET a = b + 1, (c, d) = (SELECT e, f FROM u) WHERE g IN (h, 2) | b g h e f",
                "INSERT INTO t (a, b) VALUES (c, DATE '2031-01-01' + d) | c d",
                "DELETE FROM t WHERE EXISTS (SELECT 1 FROM u WHERE u.x = y) | u.x y",
                "WITH w (m) AS (SELECT n FROM t) SELECT m FROM w UNION ALL SELECT o FROM u | n m o",
                "SELECT CASE WHEN a THEN b ELSE c END FROM (SELECT d FROM t) s | a b c d",
                "SELECT EXTRACT(YEAR FROM a), TIMESTAMP '2031-01-01 00:00:00' FROM t | a",
                "MERGE INTO t USING u ON t.a = u.b WHEN MATCHED AND c > 1 THEN UPDATE SET d = e WHEN NOT MATCHED THEN INSERT (f) VALUES (g) | t.a u.b c e g",
            })
    void theReaderFindsTheNamesOfAStatement(String text, String expected) {
        List<String> found = new ArrayList<>();
        names(sql(text).scope(), found);
        assertEquals(expected.strip(), String.join(" ", found));
    }

    static Stream<String> monsters() {
        return Stream.of(
                "(".repeat(1_000_000),
                "BEGIN ".repeat(10_000),
                "CREATE PROCEDURE p () SET a = " + "NOT ".repeat(100_000) + "1;",
                "CREATE PROCEDURE p () SET a = 1" + " + 1".repeat(100_000) + ";",
                "CREATE PROCEDURE p () SET a = " + "CASE WHEN 1 = 1 THEN ".repeat(5_000),
                "'" + "x".repeat(1_000_000),
                "/*".repeat(500_000),
                "SELECT " + "(SELECT ".repeat(20_000),
                "\u0000\uffff\ud800".repeat(10_000),
                "lorem ipsum dolor ".repeat(10_000));
    }

    @ParameterizedTest
    @MethodSource("monsters")
    void whateverTheTextIsThereAreProblemsAndAnEnd(String text) {
        ParsedFile file = assertTimeoutPreemptively(Duration.ofSeconds(20), () -> parse(text));
        assertTrue(!file.problems().isEmpty());
    }

    @Test
    void spansCountLinesAndColumnsFromOne() {
        Source source = new Source("x.sql", "ab\r\ncd\n");
        assertEquals("x.sql:2:2", source.span(5, 6).place());
        assertEquals("ab", source.line(1));
        assertEquals("", source.line(9));
        assertEquals(3, source.lines());
    }

    @Test
    void theNearestNameIsOneThatASlipOfTheHandWouldGive() {
        List<String> known = List.of("move_wine", "grade_for", "blend");
        assertEquals("move_wine", Nearest.to("mvoe_wine", known).orElse(""));
        assertEquals("", Nearest.to("payment", known).orElse(""));
        assertEquals("blend", Nearest.to("BLND", known).orElse(""));
    }
}
