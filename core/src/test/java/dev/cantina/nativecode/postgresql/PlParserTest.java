package dev.cantina.nativecode.postgresql;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.nativecode.NativeStatement;
import dev.cantina.nativecode.NativeSyntaxException;
import dev.cantina.syntax.Source;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** PostgreSQL's documentation, chapter PL/pgSQL. */
class PlParserTest {
    private static NativeStatement read(String body) throws NativeSyntaxException {
        Source source = new Source("body.sql", body);
        return PlParser.parse(source.span(0, body.length()), false);
    }

    /** Each statement by its kind and its line, those inside another behind it in brackets. */
    private static String outline(NativeStatement s) {
        StringBuilder text = new StringBuilder(s.what() + ":" + s.span().line());
        for (NativeStatement.Part part : s.parts()) {
            List<String> inside = new ArrayList<>();
            part.statements().forEach(i -> inside.add(outline(i)));
            String sign =
                    switch (part.role()) {
                        case BODY -> "";
                        case OTHERWISE -> "else ";
                        case HANDLER -> "on ";
                    };
            text.append(" (").append(sign).append(String.join(", ", inside)).append(')');
        }
        return text.toString();
    }

    @Test
    void blocksNestAndHandle() throws NativeSyntaxException {
        String body =
                """
                <<outer>>
                DECLARE
                  n integer := 0;
                  c CURSOR (k integer) FOR SELECT * FROM t WHERE id = k;
                  r t%ROWTYPE;
                  m CONSTANT numeric(8, 2) NOT NULL DEFAULT 1;
                BEGIN
                  n := n + 1;
                  BEGIN
                    RAISE EXCEPTION 'x %', n;
                  EXCEPTION WHEN unique_violation OR SQLSTATE '22012' THEN
                    NULL;
                  WHEN OTHERS THEN
                    GET STACKED DIAGNOSTICS n = ROW_COUNT;
                    RAISE;
                  END;
                  RETURN;
                END outer;
                """;
        NativeStatement block = read(body);
        assertEquals(
                "BEGIN:2 (ASSIGNMENT:8, BEGIN:9 (RAISE:10) (on NULL:12) (on GET"
                        + " DIAGNOSTICS:14, RAISE:15), RETURN:17)",
                outline(block));
        assertEquals(
                List.of(
                        "n integer LOCAL",
                        "c refcursor CURSOR",
                        "r t%ROWTYPE LOCAL",
                        "m numeric(8, 2) CONSTANT"),
                block.declared().stream()
                        .map(v -> v.name() + " " + v.type() + " " + v.kind())
                        .toList());
    }

    @Test
    void choicesAndLoops() throws NativeSyntaxException {
        String body =
                """
                BEGIN
                  IF CASE WHEN a THEN b ELSE c END THEN x := 1;
                  ELSIF (SELECT CASE WHEN d THEN 1 END) = 1 THEN
                    x := 2;
                  ELSE x := 3; END IF;
                  CASE x WHEN 1, 2 THEN y := 1; ELSE y := 2; END CASE;
                  CASE WHEN x = 1 THEN NULL; END CASE;
                  <<l>> LOOP EXIT l WHEN x > 1; END LOOP l;
                  WHILE x < 9 LOOP x := x + 1; CONTINUE; END LOOP;
                  FOR i IN REVERSE 9..1 BY 2 LOOP NULL; END LOOP;
                  FOR r IN SELECT 'a;b' AS "end if" LOOP NULL; END LOOP;
                  FOR r IN EXECUTE 'SELECT 1' USING x LOOP NULL; END LOOP;
                  FOR r IN c (7) LOOP NULL; END LOOP;
                  FOREACH x SLICE 1 IN ARRAY ARRAY[[1], [2]] LOOP NULL; END LOOP;
                END
                """;
        NativeStatement block = read(body);
        assertEquals(
                "BEGIN:1 (IF:2 (ASSIGNMENT:2) (ASSIGNMENT:4) (else ASSIGNMENT:5), CASE:6"
                        + " (ASSIGNMENT:6) (else ASSIGNMENT:6), CASE:7 (NULL:7), LOOP:8 (EXIT:8),"
                        + " WHILE:9 (ASSIGNMENT:9, CONTINUE:9), FOR:10 (NULL:10), FOR:11 (NULL:11),"
                        + " FOR:12 (NULL:12), FOR:13 (NULL:13), FOREACH:14 (NULL:14))",
                outline(block));
        List<NativeStatement> loops =
                block.parts().get(0).statements().stream()
                        .filter(s -> s.kind() == NativeStatement.Kind.LOOP)
                        .toList();
        assertEquals("i", loops.get(2).declared().get(0).name());
        assertTrue(loops.get(3).declared().isEmpty());
        assertEquals("r", loops.get(5).declared().get(0).name());
    }

    @Test
    void numbersAreThoseOfTheText() throws NativeSyntaxException {
        NativeStatement block = read("BEGIN IF a THEN b := 1; END IF; c := 2; END");
        NativeStatement choice = block.parts().get(0).statements().get(0);
        assertEquals(0, choice.at());
        assertEquals(1, choice.parts().get(0).statements().get(0).at());
        assertEquals(2, block.parts().get(0).statements().get(1).at());
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "BEGIN x := $q$ ; END $q$; END",
                "BEGIN x := E'a\\'; b'; END",
                "BEGIN /* a; /* b; */ c; */ NULL; -- d;\n END",
                "BEGIN if := 1; \"begin\" := 2; END",
                "BEGIN CALL p(a => 1, b := 2); COMMIT; ROLLBACK; END",
                "BEGIN RETURN QUERY EXECUTE 'SELECT $1' USING 1; RETURN NEXT; END",
                "BEGIN INSERT INTO t VALUES (1) ON CONFLICT DO NOTHING RETURNING a INTO b; END",
                "BEGIN OPEN c FOR EXECUTE q; FETCH NEXT FROM c INTO r; MOVE c; CLOSE c; END",
                "BEGIN a[1] := 2; r.f := 3; ASSERT a > b, 'm'; END",
                "#variable_conflict use_column\nBEGIN NULL; END;",
                "DECLARE DECLARE x int; BEGIN END",
            })
    void whatTheServerTakesIsRead(String body) throws NativeSyntaxException {
        assertEquals(NativeStatement.Kind.BLOCK, read(body).kind());
    }

    @Test
    void quotesMayBeDoubled() throws NativeSyntaxException {
        String body = "BEGIN x := ''a;''''b''; RETURN; END";
        Source source = new Source("body.sql", body);
        NativeStatement block = PlParser.parse(source.span(0, body.length()), true);
        assertEquals("BEGIN:1 (ASSIGNMENT:1, RETURN:1)", outline(block));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "BEGIN",
                "BEGIN IF a THEN b := 1; END",
                "BEGIN x := 1 END",
                "BEGIN x := 'a; END",
                "BEGIN /* a END",
                "SELECT 1",
                "BEGIN END; x := 1;",
                "BEGIN LOOP END; END",
            })
    void whatHasNoEndIsSaid(String body) {
        assertThrows(NativeSyntaxException.class, () -> read(body));
    }
}
