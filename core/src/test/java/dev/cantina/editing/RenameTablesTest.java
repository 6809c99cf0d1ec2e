package dev.cantina.editing;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import dev.cantina.project.Workspace;
import dev.cantina.syntax.Parser;
import dev.cantina.syntax.Problem;
import dev.cantina.testing.CaseFiles;
import dev.cantina.testing.CaseResult;
import dev.cantina.testing.Suite;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/**
 * Tables, columns and routines get other names in all that names them. Each change is made on disk;
 * then the project is checked, its scripts are bound, and its cases are run.
 */
class RenameTablesTest {
    private static final Map<String, String> FILES = new TreeMap<>();

    static {
        FILES.put(
                "cantina.yaml",
                """
                project: press
                fixture: some
                invariants:
                  no must is lost: { same: SELECT SUM(litres) FROM vat }
                  all are sound:
                    none: |
                      SELECT code
                        FROM vat AS v -- litres of a vat
                       WHERE v.litres < 0 OR doubled(v.litres) < 0
                """);
        FILES.put(
                "tables/1.sql",
                """
                -- A vat holds litres.
                CREATE TABLE vat (
                  code   VARCHAR(4) PRIMARY KEY,
                  litres INTEGER NOT NULL CHECK (litres >= 0),
                  most   INTEGER DEFAULT 99, CONSTRAINT fits CHECK (Litres <= most AND vat.most > 0)
                );
                CREATE TABLE pour (id INTEGER PRIMARY KEY, vat VARCHAR(4) REFERENCES vat (code), litres INTEGER,
                  other VARCHAR(4), FOREIGN KEY (other) REFERENCES Vat(CODE), UNIQUE (vat, litres));
                CREATE INDEX by_litres ON vat (litres, code);
                """);
        FILES.put("fixtures/some/vat.csv", "code,\"litres\",most\nA,10,90\nB,20,90\n");
        FILES.put("fixtures/some/pour.csv", "id,vat,litres\n1,A,3\n");
        FILES.put("fixtures/some/z.sql", "UPDATE vat SET litres = litres + 0 WHERE code = 'A';\n");
        FILES.put(
                "scripts/evening.sql",
                """
                CALL move('A', 'B', 1);
                SELECT v.litres FROM vat v WHERE doubled(litres) > 3;
                BEGIN
                  DECLARE total INTEGER DEFAULT 0;
                  FOR one AS SELECT code, litres FROM vat DO
                    SET total = total + one.litres + litres;
                  END FOR;
                  REPORT total;
                END;
                """);
        FILES.put(
                "routines/all.sql",
                """
                CREATE FUNCTION doubled (n INTEGER) RETURNS INTEGER RETURN 2 * n;

                CREATE PROCEDURE move (IN source VARCHAR(4), IN target VARCHAR(4), IN n INTEGER)
                BEGIN
                  DECLARE held INTEGER;
                  SELECT litres INTO held FROM vat WHERE code = source;
                  FOR one AS SELECT vat.litres, v2.litres AS level FROM vat, vat AS v2 WHERE vat.code = v2.code DO
                    SET held = held + one.litres - one.level;
                  END FOR;
                  UPDATE vat SET litres = litres - n WHERE code = source;
                  UPDATE Vat v SET v.Litres = v.litres + n WHERE code = target;
                  INSERT INTO pour (id, vat, litres) VALUES (held, target, n);
                END;

                CREATE TRIGGER looked AFTER UPDATE OF litres ON vat
                REFERENCING OLD ROW AS was NEW ROW AS now FOR EACH ROW
                WHEN (now.litres > 60)
                UPDATE pour SET litres = litres - was.litres WHERE vat = now.code;

                CREATE PROCEDURE listed ()
                BEGIN
                  DECLARE c CURSOR WITH RETURN FOR SELECT code, litres, doubled(litres) AS d FROM vat ORDER BY code;
                  OPEN c;
                END;
                """);
        FILES.put(
                "cases/all.yaml",
                """
                routine: move
                cases:
                  - case: litres of a vat
                    before: |
                      UPDATE vat SET litres = 30
                       WHERE code = 'A';
                    pass: { source: A, target: B, n: { ask: "SELECT MAX(litres) / 5 FROM vat" } }
                    data:
                      vat: { changed: { A: { litres: 24 }, B: { litres: 26 } } }
                      pour: { added: [ { vat: B, litres: 6 } ] }
                    ask:
                      - query: SELECT code, litres FROM vat ORDER BY code
                        rows: [ { code: A, litres: 24 }, { code: B, litres: 26 } ]
                      - query: >-
                          SELECT SUM(v.litres) AS n FROM vat v
                          WHERE doubled(v.litres) > 0
                        rows: [ [ 50 ] ]
                  - case: all are listed
                    routine: listed
                    results: [ { code: A, litres: 10, d: 20 }, { code: B, litres: 20, d: 40 } ]
                """);
    }

    @TempDir Path folder;
    private ProjectState state;

    private void write(String name, String text) throws IOException {
        Files.createDirectories(folder.resolve(name).getParent());
        Files.writeString(folder.resolve(name), text);
    }

    private void project(Map<String, String> files) throws IOException, ProjectException {
        for (Map.Entry<String, String> file : files.entrySet()) {
            write(file.getKey(), file.getValue());
        }
        state = new ProjectState(ProjectReader.read(folder), (file, found) -> {});
        while (!state.check()) {
            continue;
        }
    }

    @AfterEach
    void close() {
        if (state != null) {
            state.close();
        }
    }

    private Rename.Change change(Map<String, String> files, String file, String at, String name)
            throws IOException, ProjectException {
        project(files);
        int offset = files.get(file).indexOf(at) + at.length() - 1;
        NameFinder.Found found =
                new NameFinder(state.view().orElseThrow())
                        .at(state, file, offset)
                        .orElseThrow(() -> new IllegalStateException("nothing at " + at));
        return Rename.of(state, found, name);
    }

    /** Verdicts of all cases as the project is on disk. */
    private List<String> verdicts() throws ProjectException {
        Project project = ProjectReader.read(folder);
        CaseFiles.Found found = CaseFiles.read(project);
        assertEquals(List.of(), found.broken());
        Suite suite =
                new Suite(
                        project,
                        Optional.empty(),
                        project.limits(),
                        Clock.systemDefaultZone(),
                        Optional::empty);
        return suite
                .run(found.cases(), new Suite.Order(1, Optional.empty(), false), r -> {})
                .stream()
                .filter(r -> r.verdict() != CaseResult.Verdict.PASSED)
                .map(r -> r.testCase().name() + " " + r.differences() + r.problem())
                .toList();
    }

    /** How many places there are in each file; the project is made so, checked and tested. */
    private Map<String, Integer> renamed(String file, String at, String name) throws Exception {
        Rename.Change change = change(FILES, file, at, name);
        Map<String, Integer> counts = new TreeMap<>();
        for (String one : change.places().keySet()) {
            counts.put(one, change.places().get(one).size());
            write(one, Rename.renamed(FILES.get(one), change.places().get(one), name));
        }
        for (Map.Entry<String, String> move : change.moves().entrySet()) {
            Files.move(folder.resolve(move.getKey()), folder.resolve(move.getValue()));
        }
        try (Workspace then = Workspace.open(ProjectReader.read(folder), Optional.empty())) {
            assertEquals(List.of(), then.check().stream().filter(Problem::isError).toList(), at);
            Path script = folder.resolve("scripts/evening.sql");
            then.script(Parser.parse(ProjectReader.source(script, "scripts/evening.sql")));
        }
        assertEquals(List.of(), verdicts());
        return counts;
    }

    @Test
    void theProjectIsSoundAsItIs() throws Exception {
        project(FILES);
        assertEquals(List.of(), verdicts());
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "tables/1.sql | CREATE TABLE va",
                "routines/all.sql | held FROM va",
                "cases/all.yaml | data:~      vat"
            })
    void aTableWithItsFixturesFiles(String file, String at) throws Exception {
        assertEquals(
                "{cantina.yaml=2, cases/all.yaml=5, fixtures/some/z.sql=1, routines/all.sql=9,"
                        + " scripts/evening.sql=2, tables/1.sql=5}",
                renamed(file, at.replace('~', '\n'), "tank").toString());
        assertTrue(Files.exists(folder.resolve("fixtures/some/tank.csv")));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "tables/1.sql | code   VARCHAR(4) PRIMARY KEY,~  litr",
                "routines/all.sql | UPDATE OF litr",
                "cases/all.yaml | changed: { A: { litr"
            })
    void aColumnWithItsRowsAndFields(String file, String at) throws Exception {
        assertEquals(
                "{cantina.yaml=3, cases/all.yaml=11, fixtures/some/vat.csv=1, fixtures/some/z.sql=2,"
                        + " routines/all.sql=13, scripts/evening.sql=5, tables/1.sql=4}",
                renamed(file, at.replace('~', '\n'), "held_now").toString());
    }

    @Test
    void aColumnThatOthersReferTo() throws Exception {
        assertEquals(
                4 + 0, renamed("tables/1.sql", "(\n  co", "name").get("tables/1.sql").intValue());
    }

    @Test
    void aFunctionThatScriptsCasesAndInvariantsCall() throws Exception {
        assertEquals(
                "{cantina.yaml=1, cases/all.yaml=1, routines/all.sql=2, scripts/evening.sql=1}",
                renamed("routines/all.sql", "FUNCTION doub", "twice").toString());
    }

    @Test
    void aProcedureThatScriptsAndCasesCall() throws Exception {
        assertEquals(
                "{cases/all.yaml=1, routines/all.sql=1, scripts/evening.sql=1}",
                renamed("routines/all.sql", "PROCEDURE mo", "shift").toString());
    }

    private Map<String, String> demo() throws IOException {
        Path demo = Path.of("../demo/winery");
        Map<String, String> files = new TreeMap<>();
        try (Stream<Path> all = Files.walk(demo)) {
            for (Path one : all.filter(Files::isRegularFile).toList()) {
                String shown = demo.relativize(one).toString();
                if (shown.startsWith("lib") || shown.startsWith(".cantina")) {
                    Files.createDirectories(folder.resolve(shown).getParent());
                    Files.copy(one, folder.resolve(shown));
                } else {
                    files.put(shown, Files.readString(one));
                }
            }
        }
        return files;
    }

    /** The demo's busiest table and column: all of its own cases pass as they did. */
    @ParameterizedTest
    @CsvSource({
        "tables/2_cellar.sql, CREATE TABLE move, transfer",
        "tables/2_cellar.sql, level_, holds_l",
        "tables/1_growers.sql, kilog, weight",
        "routines/amount_owed.sql, FUNCTION amou, still_owed"
    })
    void theDemo(String file, String at, String name) throws Exception {
        Map<String, String> files = demo();
        Rename.Change change = change(files, file, at, name);
        List<String> before = verdicts();
        for (String one : change.places().keySet()) {
            write(one, Rename.renamed(files.get(one), change.places().get(one), name));
        }
        for (Map.Entry<String, String> move : change.moves().entrySet()) {
            Files.move(folder.resolve(move.getKey()), folder.resolve(move.getValue()));
        }
        assertEquals(
                before.stream().map(v -> v.replaceAll(" \\[.*", "")).toList(),
                verdicts().stream().map(v -> v.replaceAll(" \\[.*", "")).toList());
    }

    @Test
    void aNameThatACasePassesAsAValueIsSeenByRunningIt() throws Exception {
        Map<String, String> files = demo();
        String why =
                assertThrows(
                                ProjectException.class,
                                () ->
                                        change(
                                                files,
                                                "tables/2_cellar.sql",
                                                "CREATE TABLE ves",
                                                "cask"))
                        .getMessage();
        assertTrue(why.contains("the case 'counts by a column"), why);
    }

    private String refused(Map<String, String> more, String file, String at, String name) {
        Map<String, String> files = new TreeMap<>(FILES);
        files.putAll(more);
        return assertThrows(ProjectException.class, () -> change(files, file, at, name))
                .getMessage();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "CREATE TABLE va | pour | there is a table of this name",
                "PRIMARY KEY,~  litr | most | vat has a column of this name",
                "PRIMARY KEY,~  litr | n | can't be called n: a name in move would mean something else",
                "PRIMARY KEY,~  litr | level | level: a name in move would mean something else",
                "PRIMARY KEY,~  litr | source | source: a name in move would mean something else",
                "CREATE TABLE va | select | can't be a name without quotes"
            })
    void whatIsTakenIsRefused(String at, String name, String says) {
        String why = refused(Map.of(), "tables/1.sql", at.replace('~', '\n'), name);
        assertTrue(why.contains(says), why);
    }

    /** What is not understood is no reason to go on. */
    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "tables/2.sql | CREATE VIEW full AS SELECT code, litres FROM vat; | tables/2.sql:1:46 may name it",
                "scripts/odd.sql | SELECT litres FROM vat WHERE nosuch(1); | scripts/odd.sql:1:20 may name it",
                "cases/b.yaml | routine: listed~cases:~  - case: x~    before: \"DELETE FROM vat\\tWHERE FALSE\" | cases/b.yaml may name it"
            })
    void whatIsNotReadIsSaid(String file, String text, String says) {
        String written = text.replace('~', '\n');
        String why = refused(Map.of(file, written), "tables/1.sql", "CREATE TABLE va", "tank");
        assertTrue(why.contains(says), why);
    }

    @Test
    void nothingIsLeftOfTheTrial() throws Exception {
        Path temporary = Path.of(System.getProperty("java.io.tmpdir"));
        renamed("tables/1.sql", "CREATE TABLE va", "tank");
        try (Stream<Path> left = Files.list(temporary)) {
            assertEquals(
                    List.of(),
                    left.filter(p -> p.getFileName().toString().startsWith("cantina-rename"))
                            .toList());
        }
    }
}
