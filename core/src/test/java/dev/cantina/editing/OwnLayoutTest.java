package dev.cantina.editing;

import static org.junit.jupiter.api.Assertions.assertEquals;

import dev.cantina.nativecode.NativeSyntaxException;
import dev.cantina.nativecode.OwnReading;
import dev.cantina.nativecode.OwnText;
import dev.cantina.nativecode.mariadb.MariaReading;
import dev.cantina.nativecode.postgresql.PgReading;
import dev.cantina.syntax.Source;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/** Routines in a server's own words, with all their lines at the left, get their shape back. */
class OwnLayoutTest {
    private static final OwnReading POSTGRESQL = new PgReading();
    private static final OwnReading MARIADB = new MariaReading();

    private static String laid(OwnReading reading, String text) {
        try {
            return Layout.of(reading.read(new Source("x.sql", text)), reading);
        } catch (NativeSyntaxException e) {
            throw new AssertionError(e);
        }
    }

    private static void restores(OwnReading reading, String text) {
        String flat = text.lines().map(l -> l.stripLeading() + "\n").reduce("", String::concat);
        assertEquals(text, laid(reading, flat));
        assertEquals(text, laid(reading, text));
    }

    @Test
    void blocksBranchesLoopsAndHandlersOfPlpgsql() {
        restores(
                POSTGRESQL,
                """
                -- Says how much.
                CREATE FUNCTION f(n int, OUT r int) LANGUAGE plpgsql AS $fn$
                #variable_conflict use_column
                <<outermost>>
                DECLARE
                  i int := 0;
                  -- Whatever it is.
                  one record;
                  c CURSOR FOR SELECT 1;
                BEGIN
                  IF n IS NULL THEN
                    r := 0;
                  ELSIF n < 0 THEN
                    /* Nothing. */
                    r := -n;
                  ELSE
                    r := n;
                  END IF;

                  <<turns>>
                  WHILE i < n LOOP
                    i := i + 1;
                    CASE i
                      WHEN 1, 2 THEN
                        r := 1;
                      WHEN 3 THEN CONTINUE turns;
                      ELSE
                        NULL;
                    END CASE;
                    EXIT WHEN i > 7;
                  END LOOP turns;
                  FOR one IN SELECT a, b FROM t WHERE a > 1
                  LOOP
                    DECLARE
                      inner_one int;
                    BEGIN
                      inner_one := one.a;
                      RAISE EXCEPTION 'this is %', inner_one;
                    EXCEPTION
                      WHEN unique_violation OR others THEN
                        GET STACKED DIAGNOSTICS r = ROW_COUNT;
                        RAISE;
                    END;
                  END LOOP;
                  FOREACH i IN ARRAY ARRAY[1, 2] LOOP PERFORM g(i); END LOOP;
                END
                $fn$;
                """);
    }

    @Test
    void blocksBranchesLoopsAndHandlersOfMariadb() {
        restores(
                MARIADB,
                """
                DELIMITER //
                -- Says how much.
                CREATE PROCEDURE p (IN n INT, OUT r INT)
                BEGIN
                  DECLARE i, k INT DEFAULT 0;
                  DECLARE EXIT HANDLER FOR SQLEXCEPTION
                  BEGIN
                    -- what failed
                    SET r = -1;
                    RESIGNAL;
                  END;
                  DECLARE CONTINUE HANDLER FOR NOT FOUND SET r = 0;

                  IF n IS NULL THEN
                    SET r = 0;
                  ELSEIF n < 0 THEN
                    # nothing
                    SET r = -n;
                  ELSE
                    SET r = n;
                  END IF;
                  turns: WHILE i < n DO
                    SET i = i + 1;
                    CASE
                      WHEN i = 1 THEN
                        SET r = 1;
                      ELSE
                        BEGIN
                          ITERATE turns;
                        END;
                    END CASE;
                  END WHILE turns;
                  REPEAT
                    SET i = i - 1;
                  UNTIL i < 1
                  END REPEAT;
                  FOR one IN (SELECT 1 AS a) DO
                    SET r = one.a;
                  END FOR;
                  LOOP
                    SET r = (SELECT COUNT(*) FROM t);
                  END LOOP;
                END //
                CREATE FUNCTION f (a INT) RETURNS INT
                RETURN a //
                DELIMITER ;
                """);
    }

    @Test
    void theAuthorsStepStays() {
        String text =
                """
                CREATE FUNCTION f() RETURNS int LANGUAGE plpgsql AS $$
                BEGIN
                    IF true THEN
                        PERFORM g(1,
                                  2);
                    END IF;
                    EXECUTE 'SELECT 1
                   FROM t';
                    RETURN 2;
                END $$;
                """;
        assertEquals(text, laid(POSTGRESQL, text));
        // What goes on from line to line moves with its first, and a text stays.
        assertEquals(
                text,
                laid(
                        POSTGRESQL,
                        text.replace("        PERFORM", "PERFORM")
                                .replace("                  2)", "          2)")
                                .replace("    EXECUTE", " EXECUTE")));
    }

    @Test
    void whatIsNoRoutineStaysAsItIs() {
        String text =
                """
                   CREATE TABLE t (
                a int,
                        b text);


                INSERT INTO t VALUES (1, 'x

                   y');
                CREATE FUNCTION s() RETURNS int LANGUAGE sql AS $$
                      SELECT 1 $$;
                CREATE FUNCTION q() RETURNS text LANGUAGE plpgsql AS '
                      BEGIN
                    RETURN ''x'';
                      END';
                CREATE FUNCTION broken() RETURNS int LANGUAGE plpgsql AS $$
                      BEGIN
                    IF THEN
                      END $$;
                """;
        assertEquals(text, laid(POSTGRESQL, text));
    }

    @Test
    void blanksAtTheEndsOfLinesGoAndTextsKeepTheirs() {
        assertEquals(
                "CREATE FUNCTION f() RETURNS text LANGUAGE plpgsql AS $$\nBEGIN\n\n  RETURN 'a  \n   b';\nEND $$;\n",
                laid(
                        POSTGRESQL,
                        "CREATE FUNCTION f() RETURNS text LANGUAGE plpgsql AS $$   \nBEGIN  \n\n\n RETURN 'a  \n   b';   \n  END $$;\n"));
    }

    @Test
    void textsThatAreHalfTypedKeepTheirWords() throws IOException {
        for (String demo : List.of("winery-postgresql", "winery-mariadb")) {
            OwnReading reading = demo.endsWith("mariadb") ? MARIADB : POSTGRESQL;
            List<Path> files;
            try (Stream<Path> found = Files.walk(Path.of("../demo", demo))) {
                files = found.filter(f -> f.toString().endsWith(".sql")).toList();
            }
            for (Path file : files) {
                String text = Files.readString(file);
                assertEquals(text, laid(reading, text), file.toString());
                for (int end = 0; end < text.length(); end += 7) {
                    String cut = text.substring(0, end);
                    try {
                        String laid = Layout.of(reading.read(new Source("x.sql", cut)), reading);
                        assertEquals(cut.replaceAll("\\s", ""), laid.replaceAll("\\s", ""), cut);
                    } catch (NativeSyntaxException e) {
                        // What has no end is not laid out.
                        continue;
                    }
                }
            }
        }
    }

    @Test
    void argumentsAreForParameters() {
        assertEquals(
                "a:1 b:x + 2 | c:3 | b:5",
                hints(
                        """
                        CREATE FUNCTION g(a int, OUT r int, b int, c int DEFAULT 0) LANGUAGE plpgsql AS $$
                        BEGIN r := a; END $$;
                        CREATE PROCEDURE q(OUT c int, INOUT b int) LANGUAGE plpgsql AS $$
                        BEGIN c := b; END $$;
                        CREATE FUNCTION h(x int) RETURNS int LANGUAGE plpgsql AS $$
                        DECLARE b int; c int;
                        BEGIN
                          x := g(1, x + 2);
                          PERFORM g(a, b, 3), lower(f(1));
                          CALL q(c, 5);
                          RETURN g(a => 1, b => 2);
                        END $$;
                        """));
    }

    /** By lines of the text. */
    private static String hints(String text) {
        try {
            OwnText read = POSTGRESQL.read(new Source("x.sql", text));
            OwnView view = new OwnView(POSTGRESQL, Map.of("x.sql", read), Map.of());
            Map<Integer, String> lines = new TreeMap<>();
            for (ArgumentHints.Hint hint : ArgumentHints.of(new OwnNames(view, read), read)) {
                String rest = text.substring(hint.offset());
                String said = hint.parameter() + ":" + rest.split("[,)]")[0];
                lines.merge(read.source().lineOf(hint.offset()), said, (a, b) -> a + " " + b);
            }
            return String.join(" | ", lines.values());
        } catch (NativeSyntaxException e) {
            throw new AssertionError(e);
        }
    }
}
