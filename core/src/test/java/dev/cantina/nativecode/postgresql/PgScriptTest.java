package dev.cantina.nativecode.postgresql;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.nativecode.NativeSyntaxException;
import dev.cantina.syntax.Source;
import java.util.List;
import org.junit.jupiter.api.Test;

/** PostgreSQL's documentation, 4.1, and what its own dumps hold. */
class PgScriptTest {
    private static List<PgScript.Statement> read(String text) throws NativeSyntaxException {
        return PgScript.of(new Source("script.sql", text));
    }

    private static List<String> texts(String text) throws NativeSyntaxException {
        return read(text).stream().map(s -> s.span().text()).toList();
    }

    @Test
    void aSemicolonInsideEndsNothing() throws NativeSyntaxException {
        assertEquals(
                List.of(
                        "SELECT 'a;b', \"c;d\"",
                        "DO $x$ BEGIN NULL; END $x$",
                        "CREATE RULE r AS ON INSERT TO t DO (SELECT 1; SELECT 2)",
                        "SELECT 3"),
                texts(
                        "SELECT 'a;b', \"c;d\"; DO $x$ BEGIN NULL; END $x$;\n"
                                + "CREATE RULE r AS ON INSERT TO t DO (SELECT 1; SELECT 2);;\n"
                                + "-- d;\nSELECT 3"));
    }

    @Test
    void aBodyThatIsWrittenOutIsOneStatement() throws NativeSyntaxException {
        List<String> all =
                texts(
                        "CREATE FUNCTION f() RETURNS int BEGIN ATOMIC SELECT CASE WHEN true THEN 1"
                                + " END; SELECT 2; END; SELECT 3;");
        assertEquals(2, all.size());
        assertEquals("SELECT 3", all.get(1));
    }

    @Test
    void theRowsOfACopyGoWithIt() throws NativeSyntaxException {
        List<PgScript.Statement> all =
                read("COPY t (a, b) FROM stdin;\n1\tx;y\n2\t\\N\n\\.\n\nSELECT 1;\n");
        assertEquals("1\tx;y\n2\t\\N\n", all.get(0).data().orElseThrow());
        assertEquals("SELECT 1", all.get(1).span().text());
    }

    @Test
    void linesForTheClientAreSaid() throws NativeSyntaxException {
        assertEquals(List.of("SELECT 1"), texts("\\restrict abc\n\\set x 1\nSELECT 1;"));
        NativeSyntaxException e =
                assertThrows(NativeSyntaxException.class, () -> read("\\connect other\nSELECT 1;"));
        assertTrue(e.getMessage().startsWith("\\connect is for a client"), e.getMessage());
    }

    @Test
    void aTextWithoutAnEndIsSaid() {
        NativeSyntaxException e =
                assertThrows(NativeSyntaxException.class, () -> read("SELECT 1;\nDO $a$ x $b$;"));
        assertEquals(2, e.span().line());
    }

    @Test
    void theHeadOfARoutineIsRead() throws NativeSyntaxException {
        PgRoutine one =
                PgRoutine.of(
                                read("CREATE OR REPLACE FUNCTION app.\"Move\"(a int DEFAULT f(1))\n"
                                                + "RETURNS int AS $b$\nBEGIN END\n$b$"
                                                + " LANGUAGE 'plpgsql'")
                                        .get(0))
                        .orElseThrow();
        assertEquals("app", one.schema().orElseThrow());
        assertEquals("Move", one.name());
        assertEquals("plpgsql", one.language());
        assertEquals("\nBEGIN END\n", one.text());
        PgRoutine quoted =
                PgRoutine.of(
                                read("create procedure p() language plpgsql as 'begin x := ''a''; end'")
                                        .get(0))
                        .orElseThrow();
        assertEquals("begin x := 'a'; end", quoted.text());
        assertTrue(PgRoutine.of(read("CREATE TABLE t (a int)").get(0)).isEmpty());
    }
}
