package dev.cantina.editing;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.project.Project;
import dev.cantina.project.ProjectReader;
import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What an editor asks of texts in a server's own words. A place is the one behind {@code ^}. */
class OwnAskedTextTest {
    private static final String PG_TABLES =
            """
            -- What holds wine.
            CREATE TABLE vessel (
              code      varchar(8) PRIMARY KEY,
              level_l   numeric(8, 1) NOT NULL DEFAULT 0,
              "Keeper"  text,
              CONSTRAINT not_empty CHECK (level_l >= 0)
            );
            CREATE TABLE IF NOT EXISTS cellar.movement (
              id serial PRIMARY KEY, source varchar(8) REFERENCES vessel (code), litres numeric
            );
            ALTER TABLE vessel ADD COLUMN capacity_l double precision NOT NULL;
            CREATE VIEW full_ones AS SELECT code FROM vessel WHERE level_l > 0;
            """;
    private static final String PG_ROUTINES =
            """
            -- Takes wine away.
            CREATE OR REPLACE FUNCTION take (p_code varchar, INOUT p_litres numeric DEFAULT 1)
            LANGUAGE plpgsql AS $body$
            DECLARE
              seen   vessel%ROWTYPE;
              rest   CONSTANT integer := 3;
              hand   CURSOR FOR SELECT code FROM vessel v WHERE v.level_l > 0;
              i      text;
            BEGIN
              <<rounds>>
              FOR i IN 1..rest LOOP
                UPDATE vessel SET level_l = level_l - i WHERE code = p_code;
                EXIT rounds WHEN i > 2;
              END LOOP;
              SELECT * INTO seen FROM vessel WHERE vessel.code = p_code;
              i := seen.level_l;
              INSERT INTO movement (source, litres) VALUES (p_code, p_litres)
                ON CONFLICT (id) DO UPDATE SET litres = excluded.litres;
              PERFORM note(p_code, much => 2);
              DECLARE
                rest text := 'inner';
              BEGIN
                p_litres := length(rest);
              EXCEPTION WHEN OTHERS THEN
                RAISE NOTICE '% rest', sqlerrm;
              END;
            END;
            $body$;

            CREATE FUNCTION note (who text, much integer) RETURNS void LANGUAGE sql AS $$
              INSERT INTO movement (source, litres) SELECT code, much FROM vessel v
               WHERE v.code = who AND EXISTS (SELECT 1 FROM movement WHERE source = v.code)
            $$;
            CREATE FUNCTION note (who text) RETURNS void LANGUAGE sql AS 'SELECT note(who, 1)';

            CREATE FUNCTION guard () RETURNS trigger LANGUAGE plpgsql AS $$
            BEGIN
              NEW.level_l := OLD.level_l + 1;
              RETURN NEW;
            END $$;
            CREATE TRIGGER guards BEFORE UPDATE ON vessel FOR EACH ROW EXECUTE FUNCTION guard();
            """;
    private static final String MARIA =
            """
            CREATE TABLE vessel (
              code VARCHAR(8) NOT NULL, level_l DECIMAL(8,1) DEFAULT 0, kind ENUM('a','b'),
              PRIMARY KEY (code), KEY by_kind (kind)
            ) ENGINE=InnoDB;
            DELIMITER //
            -- Fills it.
            CREATE OR REPLACE PROCEDURE fill (IN p_code VARCHAR(8), OUT total DECIMAL(8,1))
            MODIFIES SQL DATA
            BEGIN
              DECLARE code, other VARCHAR(8);
              DECLARE c CURSOR FOR SELECT v.code FROM vessel v;
              DECLARE CONTINUE HANDLER FOR NOT FOUND SET other = 'x';
              rounds: LOOP
                IF total > 3 THEN LEAVE rounds; END IF;
                UPDATE vessel SET level_l = level_l + 1 WHERE code = p_code;
                SET total = twice(total), code = p_code;
              END LOOP;
              INSERT INTO `vessel` (code, level_l) VALUES (code, 1)
                ON DUPLICATE KEY UPDATE level_l = 2;
            END //
            CREATE FUNCTION twice (x DECIMAL(8,1)) RETURNS DECIMAL(8,1) DETERMINISTIC
              RETURN x * 2 //
            CREATE TRIGGER watch BEFORE INSERT ON vessel FOR EACH ROW
              SET NEW.level_l = twice(NEW.level_l) //
            DELIMITER ;
            """;

    @TempDir Path folder;

    private OwnState open(String dialect, String tables, String routines) throws Exception {
        Files.createDirectories(folder.resolve("tables"));
        Files.createDirectories(folder.resolve("routines"));
        Files.createDirectories(folder.resolve("cases"));
        Files.writeString(
                folder.resolve("cantina.yaml"),
                "project: p\ndialect: " + dialect + "\ndatabase: private\n");
        Files.writeString(folder.resolve("tables/t.sql"), tables);
        Files.writeString(folder.resolve("routines/r.sql"), routines);
        Project project = ProjectReader.read(folder);
        return new OwnState(project);
    }

    private OwnState pg() throws Exception {
        return open("postgresql", PG_TABLES, PG_ROUTINES);
    }

    private OwnState maria() throws Exception {
        return open("mariadb", MARIA, "");
    }

    /** The text of a file, asked about. */
    private static OwnAskedText asked(OwnState state, String file) {
        return new OwnAskedText(state, new Source(file, state.text(file).orElseThrow()));
    }

    /** The offset behind the mark in a piece of a text that stands in it once. */
    private static int offset(OwnAskedText text, String marked) {
        int mark = marked.indexOf('^');
        String piece = marked.replace("^", "");
        String written = text.source().written();
        int at = written.indexOf(piece);
        assertTrue(at >= 0, () -> piece + " is not there");
        assertEquals(-1, written.indexOf(piece, at + 1), () -> piece + " stands there twice");
        return at + mark;
    }

    private static String hover(OwnAskedText text, String marked) {
        return text.hover(offset(text, marked)).map(h -> h.described().code()).orElse("nothing");
    }

    private static String line(Span span) {
        return span.source().name() + ":" + span.line() + " " + span.text();
    }

    private static List<String> definitions(OwnAskedText text, String marked) {
        return text.definitions(offset(text, marked)).stream().map(OwnAskedTextTest::line).toList();
    }

    private static List<String> references(OwnAskedText text, String marked) {
        return text.references(offset(text, marked)).stream()
                .map(OwnAskedTextTest::line)
                .sorted()
                .toList();
    }

    private static Set<String> offers(OwnAskedText text, int offset) {
        return text.completion(offset).stream()
                .map(Completion.Offer::name)
                .collect(Collectors.toSet());
    }

    /** What is offered where something is typed in the place of the mark. */
    private static Set<String> typed(OwnState state, String file, String old, String marked) {
        String before = state.text(file).orElseThrow();
        String now = before.replace(old, marked.replace("^", ""));
        int offset = before.indexOf(old) + marked.indexOf('^');
        state.change(file, now);
        Set<String> offers = offers(asked(state, file), offset);
        state.change(file, before);
        return offers;
    }

    // ------------------------------------------------------------------ PostgreSQL

    @Test
    void namesOfPostgresMeanWhatTheyMeanThere() throws Exception {
        OwnAskedText text = asked(pg(), "routines/r.sql");
        assertEquals("level_l numeric(8, 1)", hover(text, "SET level^_l = level_l - i"));
        assertEquals("level_l numeric(8, 1)", hover(text, "= level^_l - i"));
        assertEquals("i integer", hover(text, "level_l - i^ WHERE"));
        assertEquals("i text", hover(text, "i^ := seen"));
        assertEquals("level_l numeric(8, 1)", hover(text, "seen.lev^el_l"));
        assertEquals("IN p_code varchar", hover(text, "VALUES (p_c^ode, p_litres)"));
        assertEquals("INOUT p_litres numeric", hover(text, "(p_code, p_lit^res)"));
        assertEquals("source varchar(8)", hover(text, "movement (sour^ce, litres) VALUES"));
        assertEquals("litres numeric", hover(text, "SET lit^res = excluded"));
        assertEquals("litres numeric", hover(text, "excluded.lit^res"));
        assertEquals("seen vessel%ROWTYPE", hover(text, "INTO se^en FROM"));
        assertEquals("rest integer", hover(text, "1..re^st LOOP"));
        assertEquals("rest text", hover(text, "length(re^st)"));
        assertEquals("code varchar(8)", hover(text, "vessel.co^de = p_code"));
        assertEquals("level_l numeric(8, 1)", hover(text, "v.level^_l > 0"));
        assertEquals("level_l numeric(8, 1)", hover(text, "NEW.level^_l :="));
        assertEquals("IN much integer", hover(text, "mu^ch => 2"));
        assertEquals("rounds", hover(text, "EXIT rou^nds"));
        assertEquals("IN much integer", hover(text, "code, mu^ch FROM"));
        assertEquals("code varchar(8)", hover(text, "v.co^de)"));
        assertEquals("source varchar(8)", hover(text, "WHERE sour^ce = v"));
        assertEquals(
                "FUNCTION guard() RETURNS trigger",
                hover(text, "FUNCTION gu^ard()").replace(" (", "("));
    }

    @Test
    void whatCanNotBeToldIsNotSaid() throws Exception {
        OwnState state =
                open(
                        "postgresql",
                        PG_TABLES,
                        """
                        CREATE FUNCTION f (code text, n integer) RETURNS integer
                        LANGUAGE plpgsql AS $$
                        DECLARE r record;
                        BEGIN
                          -- either the column or the parameter: the server refuses it
                          PERFORM 1 FROM vessel WHERE code = 'x';
                          FOR r IN SELECT v.code AS level_l FROM vessel v LOOP
                            n := r.level_l;
                          END LOOP;
                          PERFORM s.level_l, level_l FROM (SELECT 1 AS level_l) s;
                          WITH vessel AS (SELECT 1 AS capacity_l) SELECT capacity_l INTO n FROM vessel;
                          PERFORM 'take(level_l)', "Keeper" FROM vessel; -- take(n)
                          EXECUTE 'SELECT level_l';
                          PERFORM extract(year FROM capacity_l) FROM vessel v, movement;
                          RETURN n;
                        END $$;
                        """);
        OwnAskedText text = asked(state, "routines/r.sql");
        assertEquals("nothing", hover(text, "WHERE co^de = 'x'"));
        assertEquals("nothing", hover(text, "r.level^_l"));
        assertEquals("nothing", hover(text, "s.level^_l,"));
        assertEquals("nothing", hover(text, ", level^_l FROM (SELECT"));
        assertEquals("nothing", hover(text, "SELECT capa^city_l INTO"));
        assertEquals("nothing", hover(text, "'take(level^_l)'"));
        assertEquals("Keeper text", hover(text, "\"Kee^per\" FROM"));
        assertEquals("nothing", hover(text, "-- ta^ke"));
        assertEquals("nothing", hover(text, "'SELECT level^_l'"));
        assertEquals("capacity_l double precision", hover(text, "FROM capa^city_l)"));
        assertEquals("nothing", hover(text, "AS level^_l FROM vessel v LOOP"));
    }

    @Test
    void declarationsAndReferencesAreFoundAcrossFiles() throws Exception {
        OwnState state = pg();
        OwnAskedText text = asked(state, "routines/r.sql");
        assertEquals(List.of("tables/t.sql:4 level_l"), definitions(text, "NEW.level^_l :="));
        assertEquals(List.of("tables/t.sql:2 vessel"), definitions(text, "UPDATE ves^sel SET"));
        assertEquals(
                List.of("routines/r.sql:30 note", "routines/r.sql:34 note"),
                definitions(text, "PERFORM no^te"));
        assertEquals(
                List.of("tables/t.sql:11 capacity_l"),
                definitions(asked(state, "tables/t.sql"), "capac^ity_l"));
        assertEquals(
                List.of("routines/r.sql:11 rest", "routines/r.sql:6 rest"),
                references(text, "re^st   CONSTANT"));
        assertEquals(
                List.of("routines/r.sql:11 i", "routines/r.sql:12 i", "routines/r.sql:13 i"),
                references(text, "FOR i^ IN"));
        assertEquals(
                List.of(
                        "routines/r.sql:12 level_l",
                        "routines/r.sql:12 level_l",
                        "routines/r.sql:16 level_l",
                        "routines/r.sql:38 level_l",
                        "routines/r.sql:38 level_l",
                        "routines/r.sql:7 level_l",
                        "tables/t.sql:12 level_l",
                        "tables/t.sql:4 level_l",
                        "tables/t.sql:6 level_l"),
                references(asked(state, "tables/t.sql"), "level^_l   numeric"));
        assertEquals(
                List.of("routines/r.sql:36 guard", "routines/r.sql:41 guard"),
                references(text, "FUNCTION gu^ard ()"));
    }

    @Test
    void whatMayBeTypedInPostgresIsOffered() throws Exception {
        OwnState state = pg();
        String file = "routines/r.sql";
        assertTrue(
                typed(state, file, "EXIT rounds WHEN i > 2;", "^")
                        .containsAll(Set.of("RAISE NOTICE", "i", "seen", "hand")));
        assertEquals(
                Set.of("code", "level_l", "Keeper", "capacity_l"),
                typed(state, file, "vessel.code = p_code", "vessel.^"));
        assertEquals(
                Set.of("code", "level_l", "Keeper", "capacity_l"),
                typed(state, file, "seen.level_l;", "seen.^"));
        assertEquals(
                Set.of("code", "level_l", "Keeper", "capacity_l"),
                typed(state, file, "NEW.level_l := OLD.level_l + 1;", "NEW.^"));
        assertEquals(
                Set.of("id", "source", "litres"),
                typed(state, file, "(source, litres) VALUES", "(^"));
        assertEquals(
                Set.of("code", "level_l", "Keeper", "capacity_l"),
                typed(state, file, "SET level_l = level_l - i WHERE code = p_code;", "SET le^"));
        Set<String> where = typed(state, file, "WHERE code = p_code;", "WHERE co^");
        assertTrue(
                where.containsAll(Set.of("code", "p_code", "i", "rest", "take", "note")),
                where::toString);
        assertFalse(where.contains("source"), where::toString);
        assertTrue(
                typed(state, file, "PERFORM note(p_code, much => 2);", "PERFORM ^")
                        .contains("note"));
        Set<String> from = typed(state, file, "INTO seen FROM vessel", "INTO seen FROM ^");
        assertTrue(from.containsAll(Set.of("vessel", "movement", "full_ones")), from::toString);
        assertFalse(from.contains("seen"), from::toString);
        Set<String> types = typed(state, file, "i      text;", "i ^");
        assertTrue(types.containsAll(Set.of("integer", "vessel")), types::toString);
        assertEquals(Set.of(), typed(state, file, "'% rest'", "'^"));
        assertEquals(Set.of(), typed(state, file, "EXIT rounds WHEN i > 2;", "-- ^"));
        // A body that has lost its end has its variables still.
        String cut = PG_ROUTINES.substring(0, PG_ROUTINES.indexOf("SELECT * INTO"));
        state.change(file, cut);
        Set<String> left = offers(asked(state, file), cut.length());
        assertTrue(left.contains("seen"), left::toString);
    }

    @Test
    void callsShowTheirHeads() throws Exception {
        OwnState state = pg();
        OwnAskedText text = asked(state, "routines/r.sql");
        AskedText.Call call = text.call(offset(text, "note(p_code, ^much")).orElseThrow();
        assertEquals(1, call.argument());
        assertEquals(2, call.signatures().size());
        assertEquals(List.of("who text", "much integer"), call.signatures().get(0).parameters());
        assertEquals(Optional.empty(), text.call(offset(text, "length(^rest)")));
        assertEquals(Optional.empty(), text.call(offset(text, "take (p_code^ varchar")));
    }

    @Test
    void theOutlineHasTablesRoutinesAndVariables() throws Exception {
        OwnState state = pg();
        List<String> names = new ArrayList<>();
        for (Outline one : asked(state, "routines/r.sql").outline()) {
            names.add(one.kind() + " " + one.name() + " " + one.inside().size());
        }
        assertEquals(
                List.of(
                        "FUNCTION take 4",
                        "FUNCTION note 0",
                        "FUNCTION note 0",
                        "FUNCTION guard 0",
                        "TRIGGER guards 0"),
                names);
        Outline vessel = asked(state, "tables/t.sql").outline().get(0);
        assertEquals("vessel", vessel.name());
        assertEquals(3, vessel.inside().size());
        List<AskedText.Callable> callables = asked(state, "routines/r.sql").callables();
        assertEquals(
                List.of("take", "note", "note"),
                callables.stream().map(AskedText.Callable::name).toList());
        assertEquals(List.of("p_code varchar", "p_litres numeric"), callables.get(0).parameters());
    }

    // ------------------------------------------------------------------ MariaDB

    @Test
    void namesOfMariaMeanWhatTheyMeanThere() throws Exception {
        OwnAskedText text = asked(maria(), "tables/t.sql");
        assertEquals("level_l DECIMAL(8,1)", hover(text, "SET level^_l = level_l + 1"));
        // A variable wins over a column of its name.
        assertEquals("code VARCHAR(8)", hover(text, "WHERE co^de = p_code"));
        assertEquals(
                "a variable",
                text.hover(offset(text, "WHERE co^de = p_code")).orElseThrow().described().text());
        assertEquals(
                "a column of vessel",
                text.hover(offset(text, "`vessel` (co^de")).orElseThrow().described().text());
        assertEquals(
                "a variable",
                text.hover(offset(text, "VALUES (co^de, 1)")).orElseThrow().described().text());
        assertEquals("level_l DECIMAL(8,1)", hover(text, "UPDATE level^_l = 2"));
        assertEquals("level_l DECIMAL(8,1)", hover(text, "SET NEW.lev^el_l"));
        assertEquals("OUT total DECIMAL(8,1)", hover(text, "SET to^tal = twice"));
        assertEquals(
                "FUNCTION twice(x DECIMAL(8,1)) RETURNS DECIMAL(8,1)",
                hover(text, "= tw^ice(total)").replace(" (x", "(x"));
        assertEquals("rounds", hover(text, "LEAVE rou^nds"));
        assertEquals("code VARCHAR(8)", hover(text, "v.co^de FROM"));
        assertEquals("kind ENUM('a','b')", hover(text, "by_kind (ki^nd)"));
        assertEquals(
                "TABLE vessel (\n  code VARCHAR(8),\n  level_l DECIMAL(8,1),\n  kind ENUM('a','b')\n)",
                hover(text, "`ves^sel`"));
    }

    @Test
    void whatMayBeTypedInMariaIsOffered() throws Exception {
        OwnState state = maria();
        String file = "tables/t.sql";
        Set<String> begin = typed(state, file, "IF total > 3 THEN LEAVE rounds; END IF;", "^");
        assertTrue(
                begin.containsAll(Set.of("SET", "SIGNAL SQLSTATE", "code", "other", "total")),
                begin::toString);
        assertEquals(
                Set.of("code", "level_l", "kind"),
                typed(state, file, "NEW.level_l = twice", "NEW.^ = twice"));
        assertEquals(
                Set.of("code", "level_l", "kind"), typed(state, file, "v.code FROM", "v.^ FROM"));
        assertTrue(typed(state, file, "code, other VARCHAR(8)", "n ^").contains("DECIMAL"));
        assertEquals(
                Set.of("fill"),
                typed(state, file, "SET total = twice(total), code = p_code;", "CALL ^"));
        // A quote without an end loses nothing of what was known.
        String before = state.text(file).orElseThrow();
        String now = before.replace("SET total = twice", "SET other = 'x, total = twice");
        state.change(file, now);
        OwnAskedText text = asked(state, file);
        assertEquals("OUT total DECIMAL(8,1)", hover(text, "IF to^tal > 3"));
        assertTrue(offers(text, now.indexOf("LEAVE rounds")).contains("total"));
    }

    @Test
    void casesKnowTheNamesOfTheServersRoutines() throws Exception {
        OwnState state = pg();
        String cases =
                "routine: take\ncases:\n  - case: one\n    pass: { p_code: T1,  }\n    data: { vessel: { changed: 1 } }\n";
        state.change("cases/c.yaml", cases);
        OwnAskedText text = asked(state, "cases/c.yaml");
        assertEquals(List.of("routines/r.sql:2 take"), definitions(text, "routine: ta^ke"));
        assertEquals(List.of("tables/t.sql:2 vessel"), definitions(text, "ves^sel: {"));
        assertTrue(offers(text, cases.indexOf(", ") + 2).contains("p_litres"));
        assertEquals(1, text.outline().size());
    }

    @Test
    void everyKeyOfADemoFileCanBeTyped() throws Exception {
        for (String demo : List.of("winery-postgresql", "winery-mariadb")) {
            Project project = ProjectReader.read(Path.of("../demo", demo));
            OwnState state = new OwnState(project);
            for (String file : List.copyOf(state.view().files().keySet())) {
                String whole = state.text(file).orElseThrow();
                for (int i = 0; i <= whole.length(); i += 7) {
                    state.change(file, whole.substring(0, i));
                    OwnAskedText text = asked(state, file);
                    text.completion(i);
                    text.hover(i);
                    text.call(i);
                    text.outline();
                    text.folds();
                    if (i % 5 == 0) {
                        text.names();
                    }
                }
                state.change(file, whole);
            }
        }
    }
}
