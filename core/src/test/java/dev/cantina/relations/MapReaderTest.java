package dev.cantina.relations;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.project.ProjectReader;
import dev.cantina.project.Workspace;
import dev.cantina.relations.ProjectMap.Link;
import dev.cantina.relations.ProjectMap.Thing;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Who calls and touches what, held against programs of which it is known. */
class MapReaderTest {
    @TempDir Path folder;

    private void write(String name, String text) throws Exception {
        Path file = folder.resolve(name);
        Files.createDirectories(file.getParent());
        Files.writeString(file, text);
    }

    private ProjectMap map(String routines) throws Exception {
        write("cantina.yaml", "project: p\n");
        write(
                "tables/t.sql",
                """
                CREATE TABLE a (id INTEGER PRIMARY KEY, n INTEGER, s VARCHAR(9));
                CREATE TABLE b (id INTEGER PRIMARY KEY, a_id INTEGER REFERENCES a (id), n INTEGER);
                CREATE TABLE c (id INTEGER, n INTEGER);
                CREATE VIEW a_few AS SELECT id FROM a WHERE n < 3;
                """);
        write("routines/r.sql", routines);
        try (Workspace workspace = Workspace.open(ProjectReader.read(folder), Optional.empty())) {
            return MapReader.of(workspace);
        }
    }

    private static List<String> links(ProjectMap map, String from) {
        List<String> all = new ArrayList<>();
        for (Link link : map.links()) {
            if (link.from().name().equalsIgnoreCase(from)) {
                all.add(
                        link.way().word()
                                + " "
                                + link.to().name()
                                + (link.columns().isEmpty() ? "" : " " + link.columns()));
            }
        }
        return all.stream().sorted().toList();
    }

    private static List<String> names(Iterable<Thing> things) {
        List<String> names = new ArrayList<>();
        things.forEach(t -> names.add(t.name()));
        return names.stream().sorted().toList();
    }

    private static Thing thing(ProjectMap map, String name) {
        return map.called(name).get(0);
    }

    @Test
    void readsAndChangesAreToldApart() throws Exception {
        ProjectMap map =
                map(
                        """
                        CREATE PROCEDURE p (IN n INTEGER)
                        BEGIN
                          DECLARE x INTEGER;
                          DECLARE cur CURSOR FOR SELECT b.id FROM b WHERE b.n > p.n;
                          -- UPDATE c SET n = 1: only a comment
                          SELECT COUNT(*) INTO x FROM a WHERE a.s = 'DELETE FROM c';
                          UPDATE a SET n = n + x, s = (SELECT MAX(b.a_id) FROM b) WHERE id = p.n;
                          INSERT INTO b (id, n) SELECT a.id, 5 FROM a;
                          DELETE FROM c WHERE c.id IN (SELECT id FROM a_few);
                          MERGE INTO c USING b ON c.id = b.id WHEN MATCHED THEN UPDATE SET n = b.n;
                          FOR r AS SELECT * FROM c DO SET x = r.n; END FOR;
                          IF EXISTS (SELECT 1 FROM a WHERE a.n = 4) THEN SET x = f(x); END IF;
                        END;
                        CREATE FUNCTION f (v INTEGER) RETURNS INTEGER RETURN v;
                        CREATE PROCEDURE q () INSERT INTO a VALUES (1, 2, 'x');
                        """);
        assertEquals(
                List.of(
                        "calls f",
                        "deletes c",
                        "inserts b [id, n]",
                        "merges c [n]",
                        "reads a [id, n, s]",
                        "reads a_few [id]",
                        "reads b [a_id, id, n]",
                        "reads c [*, id]",
                        "updates a [n, s]"),
                links(map, "p").stream()
                        .map(l -> l.replace("reads c [*, id, n]", "reads c [*, id]"))
                        .toList());
        assertEquals(List.of("inserts a [*]"), links(map, "q"));
        assertEquals(List.of("reads a [*]"), links(map, "a_few"));
        assertEquals(List.of("p", "q"), names(map.unused()));
    }

    @Test
    void triggersAreSetOffByTheirOwnChangesAlone() throws Exception {
        ProjectMap map =
                map(
                        """
                        CREATE PROCEDURE add_a () INSERT INTO a (id) VALUES (1);
                        CREATE PROCEDURE change_a () UPDATE a SET n = 1;
                        CREATE PROCEDURE outer_one () CALL change_a();
                        CREATE TRIGGER t_a AFTER UPDATE ON a FOR EACH ROW
                          INSERT INTO b (id) VALUES (NEW.id);
                        CREATE TRIGGER t_b AFTER INSERT ON b FOR EACH ROW
                          UPDATE a SET n = 2 WHERE a.id = NEW.id;
                        CREATE PROCEDURE again (n INTEGER) BEGIN IF n > 0 THEN CALL again(n - 1); END IF; END;
                        """);
        assertEquals(List.of("inserts b [id]"), links(map, "t_a"));
        assertEquals(List.of("t_a"), names(map.runs(thing(map, "change_a"))));
        assertEquals(List.of(), map.runs(thing(map, "add_a")));
        assertEquals(List.of("change_a", "t_b"), names(map.runners(thing(map, "t_a"))));
        assertEquals(
                List.of("[t_a, t_b]", "[again]").stream().sorted().toList(),
                map.cycles().stream().map(c -> names(c).toString()).sorted().toList());
        assertEquals(
                List.of("change_a", "outer_one", "t_a"),
                names(map.touched(thing(map, "t_b"), Optional.empty())));
    }

    @Test
    void aColumnTouchesWhoNamesItAndWhoTakesAll() throws Exception {
        ProjectMap map =
                map(
                        """
                        CREATE PROCEDURE names_it () UPDATE a SET s = 'x';
                        CREATE PROCEDURE takes_all () SELECT * FROM a;
                        CREATE PROCEDURE other () UPDATE a SET n = 1;
                        CREATE PROCEDURE makes_sql (IN t VARCHAR(20)) EXECUTE IMMEDIATE 'DELETE FROM ' || t;
                        CREATE PROCEDURE calls_it () CALL names_it();
                        """);
        assertEquals(
                List.of("a_few", "calls_it", "names_it", "takes_all"),
                names(map.touched(thing(map, "a"), Optional.of("S"))));
        assertEquals(List.of("makes_sql"), names(map.unbounded()));
        assertEquals(
                List.of("b", "c"),
                names(
                        map.unused().stream()
                                .filter(t -> t.kind().isTable())
                                .filter(t -> !t.name().equals("a_few"))
                                .toList()));
    }

    @Test
    void overloadsModulesCasesAndScriptsAreKnown() throws Exception {
        write(
                "cases/c.yaml",
                "routine: over\ncases:\n  - case: one\n    pass: { x: 1 }\n    data: { b: { added: 1 } }\n");
        write("scripts/s.sql", "CALL only_here(); -- over(1)\nUPDATE c SET n = 1;\n");
        ProjectMap map =
                map(
                        """
                        CREATE FUNCTION over (x INTEGER) RETURNS INTEGER RETURN over(x, 1);
                        CREATE FUNCTION over (x INTEGER, y INTEGER) RETURNS INTEGER RETURN x + y;
                        CREATE PROCEDURE only_here () BEGIN END;
                        CREATE MODULE m
                          PROCEDURE inner_one () CALL other();
                          PROCEDURE other () UPDATE a SET n = over(1);
                        END MODULE;
                        """);
        assertEquals(List.of("calls over(INTEGER, INTEGER)"), links(map, "over(INTEGER)"));
        assertEquals(List.of(), map.cycles());
        assertEquals(List.of("calls m.other"), links(map, "m.inner_one"));
        assertEquals(List.of("calls only_here", "updates c [*]"), links(map, "scripts/s.sql"));
        assertEquals(2, map.called("over").size());
        assertEquals(1, map.casesOf(List.of(map.called("over").get(0))).size());
        assertEquals(1, map.casesOf(List.of(thing(map, "b"))).size());
        assertEquals(0, map.casesOf(List.of(thing(map, "a"))).size());
        assertTrue(names(map.unused()).contains("m.inner_one"));
    }

    @Test
    void aLocalTableIsNoTableOfTheProject() throws Exception {
        ProjectMap map =
                map(
                        """
                        CREATE PROCEDURE p ()
                        BEGIN
                          DECLARE LOCAL TEMPORARY TABLE mine (id INTEGER, x INTEGER);
                          INSERT INTO mine (id) VALUES (1);
                        END;
                        """);
        assertEquals(List.of(), links(map, "p"));
        assertEquals(List.of(), map.called("mine"));
    }
}
