package dev.cantina.editing;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Names of routines in a server's own words are changed where the texts say all that they mean. */
class OwnRenameTest {
    private static final String POSTGRESQL =
            """
            CREATE TABLE vat (code text PRIMARY KEY, litres int CHECK (sound(litres)), held int);

            CREATE FUNCTION sound(n int) RETURNS boolean LANGUAGE plpgsql AS $$
            BEGIN
              RETURN n >= 0; -- n is what it is
            END $$;

            CREATE FUNCTION move(source text, target text, amount int) RETURNS int LANGUAGE plpgsql AS $fn$
            <<outermost>>
            DECLARE
              total int := 0;
              one record;
              held int;
            BEGIN
              FOR one IN SELECT v.code, v.litres FROM vat v WHERE v.litres > total LOOP
                DECLARE
                  total int := one.litres;
                BEGIN
                  outermost.total := outermost.total + total;
                  <<turns>>
                  WHILE total > 0 LOOP
                    total := total - 1;
                    CONTINUE turns WHEN sound(total);
                    EXIT turns;
                  END LOOP turns;
                END;
              END LOOP;
              SELECT litres INTO STRICT amount FROM vat WHERE code = source;
              RAISE NOTICE 'total % of %', total, target;
              UPDATE vat SET litres = litres - move.amount WHERE code = source;
              RETURN sound(n => total)::int;
            END
            $fn$;

            CREATE FUNCTION keep() RETURNS trigger LANGUAGE plpgsql AS $$
            BEGIN
              NEW.litres := move(source => NEW.code, target => 'x', amount := 2);
              RETURN NEW;
            END $$;

            CREATE TRIGGER kept BEFORE INSERT ON vat FOR EACH ROW EXECUTE FUNCTION keep();
            """;

    private static final String MARIADB =
            """
            CREATE TABLE vat (code VARCHAR(4) PRIMARY KEY, litres INT);
            DELIMITER //
            CREATE PROCEDURE pour (IN vessel VARCHAR(4), IN amount INT, OUT made INT)
            BEGIN
              DECLARE i, total INT DEFAULT 0;
              DECLARE c CURSOR FOR SELECT litres FROM vat WHERE code = vessel;
              DECLARE EXIT HANDLER FOR NOT FOUND SET made = total;
              OPEN c;
              turns: LOOP
                FETCH c INTO i;
                SET total = total + i * twice(amount);
                IF total > 9 THEN LEAVE turns; END IF;
              END LOOP turns;
              CLOSE c;
            END //
            CREATE FUNCTION twice (n INT) RETURNS INT
            RETURN 2 * n //
            CREATE TRIGGER poured AFTER INSERT ON vat FOR EACH ROW
            BEGIN
              CALL pour(NEW.code, twice(1), @made);
            END //
            DELIMITER ;
            """;

    private static final String CASES =
            """
            routine: move
            cases:
              - case: move moves
                pass: { source: A, target: B, amount: 3 }
                returns: 4
              - case: another
                routine: sound
                pass: { n: 1 }
                returns: true
            """;

    @TempDir Path folder;

    private void write(String name, String text) throws IOException {
        Files.createDirectories(folder.resolve(name).getParent());
        Files.writeString(folder.resolve(name), text);
    }

    private Rename.Change change(
            String dialect, Map<String, String> files, String file, String at, String name)
            throws IOException, ProjectException {
        write(
                "cantina.yaml",
                "project: vats\ndialect: "
                        + dialect
                        + "\ndatabase: private\nroutines: code/*.sql\nstandard: standard/*.sql\n");
        for (Map.Entry<String, String> one : files.entrySet()) {
            write(one.getKey(), one.getValue());
        }
        OwnState state = new OwnState(ProjectReader.read(folder));
        OwnAskedText asked = new OwnAskedText(state, new Source(file, files.get(file)));
        return asked.rename(files.get(file).indexOf(at) + at.length() - 1, name);
    }

    /** The lines in which there are places, and how many in each. */
    private String lines(String dialect, String at, String name) throws Exception {
        boolean postgresql = dialect.equals("postgresql");
        Map<String, String> files =
                Map.of(
                        "code/a.sql",
                        postgresql ? POSTGRESQL : MARIADB,
                        "cases/a.yaml",
                        postgresql ? CASES : "routine: pour\ncases: []\n");
        Rename.Change change = change(dialect, files, "code/a.sql", at, name);
        StringBuilder all = new StringBuilder();
        for (String file : new TreeMap<>(change.places()).keySet()) {
            List<Span> spans = change.places().get(file);
            spans = spans.stream().sorted(Comparator.comparingInt(Span::start)).toList();
            all.append(all.isEmpty() ? "" : "; ").append(file).append(':');
            for (Span span : spans) {
                assertTrue(files.get(file).startsWith(span.text(), span.start()));
                all.append(' ').append(span.line());
            }
        }
        return all.toString();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                // The outer one, not the one that hides it; in a qualified name too.
                "postgresql | DECLARE~  tot | sum_of_all | code/a.sql: 11 15 19 19 29 31",
                "postgresql | DECLARE~      tot | rest | code/a.sql: 17 19 21 22 22 23",
                "postgresql | record;~  he | kept_here | code/a.sql: 13",
                "postgresql |   on | each_vat | code/a.sql: 12 15 17",
                "postgresql | <<tu | rounds | code/a.sql: 20 23 24 25",
                "postgresql | <<outer | whole | code/a.sql: 9 19 19",
                "postgresql | move(source text, target text, amo | volume | cases/a.yaml: 4; code/a.sql: 8 28 30 37",
                "postgresql | move(source text, tar | goal | cases/a.yaml: 4; code/a.sql: 8 29 37",
                "postgresql | FUNCTION sou | is_sound | cases/a.yaml: 7; code/a.sql: 1 3 23 31",
                "postgresql | FUNCTION mo | shift | cases/a.yaml: 1; code/a.sql: 8 30 37",
                "postgresql | FUNCTION ke | keep_it | code/a.sql: 35 41",
                "postgresql | TRIGGER ke | keeping | code/a.sql: 41",
                "mariadb | DECLARE i, tot | sum_of_all | code/a.sql: 5 7 11 11 12",
                "mariadb | IN ves | vat_code | code/a.sql: 3 6",
                "mariadb | tur | rounds | code/a.sql: 9 12 13",
                "mariadb | FUNCTION twi | doubled | code/a.sql: 11 16 20",
                "mariadb | PROCEDURE po | fill | cases/a.yaml: 1; code/a.sql: 3 20"
            })
    void everyPlaceAndNoOther(String dialect, String at, String name, String lines)
            throws Exception {
        assertEquals(lines, lines(dialect, at.replace('~', '\n'), name));
    }

    /** What stands in double quotes is a name or a text, as sql_mode has it ("SQL_MODE"). */
    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "ANSI_QUOTES | code/a.sql: 3 3; 1@0",
                "ANSI | code/a.sql: 3 3; 1@0",
                "NO_BACKSLASH_ESCAPES | nothing is named here that could have another name; 1@0"
            })
    void aNameInTheQuotesOfATextFollowsTheMode(String mode, String expected) throws Exception {
        String code =
                """
                SET sql_mode = '%s';
                DELIMITER //
                CREATE PROCEDURE "pour" ("amo" INT, IN b INT) BEGIN SET @x = "amo" + b; END //
                CREATE PROCEDURE twice (IN "amo" INT)
                BEGIN CALL "pour"("amo", '"amo"'); END //
                """
                        .formatted(mode);
        Map<String, String> files = Map.of("code/a.sql", code);
        String found;
        try {
            Rename.Change change = change("mariadb", files, "code/a.sql", "(\"a", "litres");
            found =
                    change.places().get("code/a.sql").stream()
                            .sorted(Comparator.comparingInt(Span::start))
                            .map(span -> " " + span.line())
                            .reduce("code/a.sql:", String::concat);
        } catch (ProjectException e) {
            found = e.getMessage();
        }
        OwnState state = new OwnState(ProjectReader.read(folder));
        OwnAskedText asked = new OwnAskedText(state, new Source("code/a.sql", code));
        String call =
                asked.call(code.indexOf(", '"))
                        .map(c -> c.signatures().size() + "@" + c.argument())
                        .orElse("");
        assertEquals(expected == null ? "" : expected.strip(), (found + "; " + call).strip());
    }

    private String refused(Map<String, String> files, String at, String name) {
        return assertThrows(
                        ProjectException.class,
                        () -> change("postgresql", files, "code/a.sql", at, name))
                .getMessage();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "DECLARE~  tot | held | this name stands there already, code/a.sql:13:3",
                "DECLARE~  tot | litres | this name stands there already",
                "DECLARE~  tot | select | can't be a name without quotes",
                "DECLARE~  tot | a b | can't be a name without quotes",
                "DECLARE~  tot | TOTAL | it is called so already",
                "FUNCTION sou | keep | this name stands there already",
                "CREATE TABLE va | tank | they are not renamed here",
                "NEW.lit | level | they are not renamed here",
                "RETURN NE | x | is given by the language",
                "RAISE NOT | x | nothing is named here"
            })
    void whatWouldMeanSomethingElseIsRefused(String at, String name, String says) {
        String why = refused(Map.of("code/a.sql", POSTGRESQL), at.replace('~', '\n'), name);
        assertTrue(why.contains(says), why);
    }

    /** A variable called like a column of a query is neither to be told. */
    @Test
    void whatTheTextsDoNotSayIsRefused() {
        String code =
                """
                CREATE TABLE vat (code text, litres int);
                CREATE FUNCTION f() RETURNS int LANGUAGE plpgsql AS $$
                DECLARE litres int;
                BEGIN
                  litres := 1;
                  SELECT litres INTO litres FROM vat;
                  RETURN litres;
                END $$;
                """;
        String why = refused(Map.of("code/a.sql", code), "DECLARE lit", "level");
        assertTrue(why.contains("do not say what is meant by code/a.sql:6:10"), why);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "code/b.sql | CREATE FUNCTION d() RETURNS void LANGUAGE plpgsql AS $$ BEGIN EXECUTE 'SELECT sound(1)'; END $$; | code/b.sql:1:79 may name it, in a text",
                "code/b.sql | SELECT 'sound(int)'::regprocedure; | code/b.sql:1:9 may name it, in a text",
                "code/b.sql | CREATE FUNCTION s() RETURNS boolean LANGUAGE plpython3u AS 'plpy.execute(sound(1))'; | may name it, in a body",
                "standard/s.sql | CREATE PROCEDURE p (OUT r BOOLEAN) SET r = sound(1); | standard/s.sql:1:44 may name it",
                "cases/b.yaml | { routine: move, cases: [ { case: x, before: SELECT sound(1), pass: {} } ] } | cases/b.yaml:1:53 may name it",
                "code/b.sql | CREATE FUNCTION sound(t text) RETURNS boolean LANGUAGE sql AS $$ SELECT true $$; | 2 routines share the name"
            })
    void whatIsNotLookedIntoIsSaid(String file, String text, String says) {
        String why =
                refused(Map.of("code/a.sql", POSTGRESQL, file, text), "FUNCTION sou", "is_sound");
        assertTrue(why.contains(says), why);
    }

    @Test
    void bodiesInSqlAndBetweenSingleQuotesAreRead() throws Exception {
        String code =
                """
                CREATE FUNCTION s(a text) RETURNS boolean LANGUAGE sql AS 'SELECT a = ''x'' AND sound(1)';
                CREATE FUNCTION t() RETURNS boolean LANGUAGE plpgsql AS '
                BEGIN
                  RETURN ''sound(''::text IS NULL OR sound(n => 2);
                END';
                """;
        Map<String, String> files = Map.of("code/a.sql", POSTGRESQL, "code/b.sql", code);
        assertThrows(
                ProjectException.class,
                () -> change("postgresql", files, "code/a.sql", "FUNCTION sou", "is_sound"));
        Map<String, String> mended =
                Map.of("code/a.sql", POSTGRESQL, "code/b.sql", code.replace("''sound(''", "''x''"));
        List<Span> places =
                change("postgresql", mended, "code/a.sql", "FUNCTION sou", "is_sound")
                        .places()
                        .get("code/b.sql");
        assertEquals(
                code.replace("''sound(''", "''x''").replace("sound(", "is_sound("),
                Rename.renamed(mended.get("code/b.sql"), places, "is_sound"));
    }

    @Test
    void otherFilesThatHaveTheNameAreTold() throws Exception {
        write("night.words", "pause at sound:end\n");
        Rename.Change change =
                change(
                        "postgresql",
                        Map.of("code/a.sql", POSTGRESQL),
                        "code/a.sql",
                        "FUNCTION sou",
                        "is_sound");
        assertEquals(List.of("night.words"), change.alsoNamed());
    }
}
