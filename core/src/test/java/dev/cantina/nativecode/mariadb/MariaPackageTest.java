package dev.cantina.nativecode.mariadb;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.nativecode.NativeSyntaxException;
import dev.cantina.nativecode.NativeVariable;
import dev.cantina.syntax.Source;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;

/** Packages as MariaDB 11.4 takes them in its usual mode, read from its documentation. */
class MariaPackageTest {
    private static Optional<MariaPackage> read(String text, String modes)
            throws NativeSyntaxException {
        List<MariaScript.Statement> all =
                MariaScript.of(new Source("p.sql", "DELIMITER //\n" + text + "//\n"));
        assertEquals(1, all.size());
        return MariaPackage.of(all.get(0), modes);
    }

    private static MariaPackage read(String text) throws NativeSyntaxException {
        return read(text, "").orElseThrow();
    }

    @Test
    void aHeadPromisesRoutines() throws NativeSyntaxException {
        MariaPackage head =
                read(
                        "CREATE OR REPLACE PACKAGE IF NOT EXISTS cellar.Tally COMMENT 'FUNCTION x' SQL SECURITY"
                                + " INVOKER\n  PROCEDURE Note(IN x INT, OUT y ENUM('a,b', 'c)'));\n"
                                + "  FUNCTION `next one`() RETURNS DECIMAL(8, 2) DETERMINISTIC; END");
        assertEquals("Tally", head.name());
        assertEquals(Set.of("note", "next one"), head.promised());
        assertTrue(head.routines().isEmpty());
    }

    @Test
    void aBodyHoldsVariablesAnnouncementsRoutinesAndABeginning() throws NativeSyntaxException {
        MariaPackage body =
                read(
                        """
                        CREATE PACKAGE BODY tally COMMENT 'y; z'
                          DECLARE n INT DEFAULT f(1, 2);
                          DECLARE a, `b c` VARCHAR(10) CHARSET utf8mb4 := 'q;';
                          PROCEDURE later(IN x INT);
                          PROCEDURE note(IN x INT, INOUT y ENUM('a,b', 'c'), z DECIMAL(8, 2))
                            COMMENT 'BEGIN' READS SQL DATA
                          BEGIN
                            IF x > 1 THEN BEGIN SET n = 1; END; END IF;
                            CASE x WHEN 1 THEN SET n = 2; ELSE BEGIN END; END CASE;
                          END;
                          FUNCTION one() RETURNS VARCHAR(5) CHARACTER SET latin1 NOT DETERMINISTIC RETURN 'PROCEDURE';
                          PROCEDURE later(IN x INT) INSERT INTO t VALUES (x);
                          SET n = 7;
                        END""");
        assertEquals(
                List.of("n", "a", "`b c`"),
                body.variables().stream().map(NativeVariable::name).toList());
        assertEquals("VARCHAR(10) CHARSET utf8mb4", body.variables().get(2).type());
        assertEquals(
                List.of("tally.note", "tally.one", "tally.later"),
                body.routines().stream().map(m -> m.routine().name()).toList());
        MariaPackage.Member note = body.routines().get(0);
        assertEquals(
                List.of("IN x INT", "INOUT y ENUM('a,b', 'c')", "IN z DECIMAL(8, 2)"),
                note.parameters().stream()
                        .map(p -> p.mode() + " " + p.name() + " " + p.type())
                        .toList());
        assertEquals("`tally`.`note`", note.routine().callee());
        assertTrue(note.routine().span().text().endsWith("END CASE;\n  END"));
        MariaPackage.Member one = body.routines().get(1);
        assertEquals(Optional.of("VARCHAR(5) CHARACTER SET latin1"), one.returns());
        assertEquals("RETURN 'PROCEDURE'", MariaParser.parse(one.routine()).span().text());
        assertEquals(
                "INSERT INTO t VALUES (x)",
                MariaParser.parse(body.routines().get(2).routine()).span().text());
    }

    @Test
    void otherModesAndOtherStatementsAreLeftAlone() throws NativeSyntaxException {
        MariaPackage oracle =
                read(
                                "CREATE PACKAGE BODY p AS n INT := 0; FUNCTION f RETURN INT AS BEGIN RETURN 1; END; END",
                                "PIPES_AS_CONCAT,ORACLE")
                        .orElseThrow();
        assertTrue(oracle.speaksOtherwise());
        assertTrue(oracle.routines().isEmpty());
        assertTrue(read("CREATE TABLE package (procedure_ INT)", "").isEmpty());
        assertTrue(read("CREATE PROCEDURE p() SELECT 'package body'", "").isEmpty());
    }

    @Test
    void whatEndsTooSoonIsSaid() {
        assertThrows(
                NativeSyntaxException.class,
                () -> read("CREATE PACKAGE BODY p PROCEDURE q(IN x INT"));
        assertThrows(NativeSyntaxException.class, () -> read("CREATE PACKAGE BODY p DECLARE n"));
        assertThrows(
                NativeSyntaxException.class,
                () ->
                        read(
                                "CREATE PACKAGE BODY p PROCEDURE a() SELECT 1; AGGREGATE FUNCTION"
                                        + " b(x INT) RETURNS INT RETURN 1; END"));
    }
}
