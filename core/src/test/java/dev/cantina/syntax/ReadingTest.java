package dev.cantina.syntax;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** What a project says of how its files are read, and what comments are to the reader. */
class ReadingTest {
    private static final Reading MARIADB = new Reading(true, Optional.empty());

    private static ParsedFile parse(String text, Reading reading) {
        return Parser.parse(new Source("it.sql", text), reading);
    }

    @Test
    void backticksAndHashesAreOfMariadbAlone() {
        String text =
                "# a comment; with 'quotes\nCREATE PROCEDURE `my p` (OUT `a` INTEGER) SET `A` = 1; # end";
        ParsedFile read = parse(text, MARIADB);
        assertEquals(List.of(), read.problems());
        Unit.Routine routine = (Unit.Routine) read.units().get(0);
        assertEquals("my p", routine.name().key());
        assertEquals("A", routine.parameters().get(0).name().key());
        assertFalse(parse(text, Reading.STANDARD).problems().isEmpty());
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "SET a : = 1",
                "SET a :== 1",
                "SET a = 1, b : = 2",
                "FOR i IN 1...3 DO SET a = i; END FOR",
                "FOR i IN REVERSE 1 ...b DO SET a = i; END FOR",
                "FOR i IN 1..3 BY 2 DO SET a = i; END FOR",
            })
    void whatLooksLikeASignOfOursIsNotTakenForIt(String statement) {
        String text = "CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER) " + statement + ";";
        assertFalse(parse(text, Reading.STANDARD).problems().isEmpty());
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "SET a:=1, b := 2",
                "FOR i IN 1 .. .5 DO SET a = i; END FOR",
                "FOR i IN 1..b DO SET a = i; END FOR",
            })
    void theSignsThemselvesAreTaken(String statement) {
        String text = "CREATE PROCEDURE p (OUT a INTEGER, OUT b INTEGER) " + statement + ";";
        assertEquals(List.of(), parse(text, Reading.STANDARD).problems());
    }

    @Test
    void aStatementIsSentWithTheStandardsQuotes() {
        ParsedFile read =
                parse("CREATE PROCEDURE p () UPDATE `tag` SET `order` = 1 # why\n;", MARIADB);
        assertEquals(List.of(), read.problems());
        Unit.Routine routine = (Unit.Routine) read.units().get(0);
        assertEquals("UPDATE  tag  SET \"order\" = 1", routine.body().orElseThrow().span().text());
    }

    @Test
    void theSchemaThatTheProjectSaysIsTakenOff() {
        ParsedFile read =
                parse(
                        "CREATE PROCEDURE p () CALL depot.q();",
                        new Reading(false, Optional.of("DEPOT")));
        assertEquals(List.of(), read.problems());
        assertEquals(Optional.of("DEPOT"), read.schema());
        Unit.Routine routine = (Unit.Routine) read.units().get(0);
        assertEquals(1, ((Statement.Call) routine.body().orElseThrow()).name().size());
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "UPDATE t SET a = 1 -- it's dearer\n WHERE b = 2",
                "UPDATE t /* it's; (a */ SET a = 1 WHERE b = 2",
                "SET a = /* CASE 'x */ CASE WHEN b = 1 THEN -- c;\n 2 ELSE /* ( */ 3 END",
                "IF a = 1 /* THEN */ THEN SET a = 2; END /* ' */ IF",
            })
    void aCommentInAStatementIsNotPartOfItsText(String statement) {
        ParsedFile read =
                parse(
                        "CREATE PROCEDURE p (IN b INTEGER, INOUT a INTEGER) " + statement + ";",
                        Reading.STANDARD);
        assertEquals(List.of(), read.problems());
        Unit.Routine routine = (Unit.Routine) read.units().get(0);
        String text = routine.body().orElseThrow().span().text();
        assertFalse(text.contains("--") || text.contains("/*") || text.contains("'"), text);
        assertEquals(statement.length(), text.length());
        assertTrue(read.source().written().contains(statement));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "BEGIN -- one\n SET a = 1; -- two\n /* three */ SET a = 2; END",
                "BEGIN IF a = 1 THEN -- one\n SET a = 1; /* two */ ELSE -- three\n SET a = 2; END IF; END",
                "BEGIN l: LOOP -- one\n LEAVE l; /* two */ END LOOP; -- three\n END",
            })
    void aCommentBetweenStatementsStays(String body) {
        ParsedFile read =
                parse("CREATE PROCEDURE p (INOUT a INTEGER) " + body + ";", Reading.STANDARD);
        assertEquals(List.of(), read.problems());
        Unit.Routine routine = (Unit.Routine) read.units().get(0);
        assertEquals(body, routine.body().orElseThrow().span().text());
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "DROP PROCEDURE IF EXISTS p; | 1",
                "drop /* it's */ Procedure  if EXISTS depot.P (INTEGER) ; | 1",
                "DROP PROCEDURE IF EXISTS \"p\"; | 2",
                "DROP PROCEDURE p; | 2",
                "DROP FUNCTION IF EXISTS p; | 2",
                "DROP PROCEDURE IF EXISTS q; | 2",
                "DROP PROCEDURE IF EXISTS p CASCADE; | 2",
                "DROP PROCEDURE IF EXISTS p ON t; | 2",
                "DROP PROCEDURE IF EXISTS p (a = ?); | 2",
                "DROP PROCEDURE IF EXISTS p (; | 2",
                "DROP PROCEDURE IF EXISTS; | 2",
            })
    void aDropIsLeftOutOnlyWhereTheSameIsMadeFurtherDown(String drop, int units) {
        String create = "CREATE PROCEDURE p (OUT n INTEGER) SET n = 1;";
        assertEquals(units, Parser.parse(new Source("a.sql", drop + create)).units().size());
        assertEquals(2, Parser.parse(new Source("a.sql", create + drop)).units().size());
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "DROP TRIGGER IF EXISTS tr ON depot.t; | 1",
                "DROP TRIGGER IF EXISTS TR; | 1",
                "DROP TRIGGER IF EXISTS tr ON t FROB 1; | 2",
                "DROP TRIGGER IF EXISTS tr ON; | 2",
            })
    void theTableOfADroppedTriggerMayBeNamedAndNothingElse(String drop, int units) {
        String create = "CREATE TRIGGER tr BEFORE UPDATE ON t FOR EACH ROW SET NEW.a = 1;";
        assertEquals(units, Parser.parse(new Source("a.sql", drop + create)).units().size());
    }
}
