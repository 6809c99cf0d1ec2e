package dev.cantina.importing;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.database.ServerConnection;
import dev.cantina.hosting.HostingException;
import dev.cantina.hosting.PrivateServer;
import dev.cantina.importing.ImportedProject.Change;
import dev.cantina.importing.ImportedProject.State;
import dev.cantina.importing.ProjectImport.ImportException;
import dev.cantina.nativecode.ServerCode;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectReader;
import dev.cantina.project.Workspace;
import dev.cantina.syntax.Problem;
import dev.cantina.syntax.Source;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Imports of a database that has much in it, on both servers. */
class ProjectImportTest {
    private static final byte[] KEY = new byte[32];

    @TempDir Path folder;

    @AfterAll
    static void end() throws HostingException {
        PrivateServer.of("postgresql").stop();
        PrivateServer.of("mariadb").stop();
    }

    private static Connection connect(PrivateServer.Lease lease) throws SQLException {
        Connection connection = ServerConnection.open(lease.address(), Path.of("."));
        if (lease.address().url().startsWith("jdbc:mariadb:")) {
            try (Statement statement = connection.createStatement()) {
                statement.execute("SET sql_mode = @@GLOBAL.sql_mode");
            }
        }
        return connection;
    }

    /** Runs scripts, and lets what they make stay. */
    private static void load(
            String kind, PrivateServer.Lease lease, Connection connection, List<Source> scripts)
            throws SQLException {
        ServerCode code =
                ServerCode.KINDS
                        .get(kind)
                        .on(
                                connection,
                                new ServerCode.Connector() {
                                    @Override
                                    public Connection open() {
                                        throw new UnsupportedOperationException();
                                    }

                                    @Override
                                    public void role(String name, boolean inherits)
                                            throws SQLException {
                                        lease.role(name, inherits);
                                    }

                                    @Override
                                    public void member(String role, String of, boolean is)
                                            throws SQLException {
                                        lease.member(role, of, is);
                                    }
                                });
        code.load(scripts, ServerCode.Part.ALL);
        code.finish();
        assertEquals(
                List.of(),
                code.problems().stream().filter(Problem::isError).toList(),
                "what was imported is taken by the server");
        connection.commit();
    }

    private static String script(String kind) throws Exception {
        try (var in = ProjectImportTest.class.getResourceAsStream("/importing/" + kind + ".sql")) {
            return new String(in.readAllBytes(), java.nio.charset.StandardCharsets.UTF_8);
        }
    }

    private static Project.Imported wanted(
            int rows, Map<String, String> queries, Map<String, String> hide) {
        return new Project.Imported("live", List.of(), rows, queries, hide, "imported");
    }

    private static ProjectImport.Result read(
            String kind, Connection connection, Project.Imported wanted)
            throws SQLException, ImportException {
        return new ProjectImport(LiveServer.KINDS.get(kind).on(connection), wanted, KEY).run();
    }

    private static Map<String, String> texts(ProjectImport.Result result, String below) {
        Map<String, String> texts = new TreeMap<>();
        result.files().stream()
                .filter(f -> f.path().startsWith(below))
                .forEach(f -> texts.put(f.path(), f.text()));
        return texts;
    }

    /** What was imported and made again is imported as the very same. */
    @ParameterizedTest
    @ValueSource(strings = {"postgresql", "mariadb"})
    void whatIsMadeOfItIsTheSame(String kind) throws Exception {
        try (PrivateServer.Lease live = PrivateServer.of(kind).lease("live");
                PrivateServer.Lease copy = PrivateServer.of(kind).lease("copy");
                Connection there = connect(live);
                Connection here = connect(copy)) {
            load(kind, live, there, List.of(new Source("live.sql", script(kind))));
            ProjectImport.Result first = read(kind, there, wanted(0, Map.of(), Map.of()));
            Map<String, String> files = texts(first, "");
            assertTrue(files.keySet().stream().noneMatch(p -> p.startsWith("fixtures/")));
            load(
                    kind,
                    copy,
                    here,
                    files.entrySet().stream()
                            .map(e -> new Source(e.getKey(), e.getValue()))
                            .toList());
            ProjectImport.Result second = read(kind, here, wanted(0, Map.of(), Map.of()));
            String text = kind.equals("mariadb") ? "# the end" : "'quotes' and $$ in it";
            assertTrue(
                    files.values().stream().anyMatch(t -> t.contains(text)), "texts are untouched");
            assertEquals(files, texts(second, ""));

            ProjectImport.Result all = read(kind, there, wanted(1000, Map.of(), Map.of()));
            project(kind, all);
            Project project = ProjectReader.read(folder);
            try (Workspace workspace = Workspace.open(project, Optional.of("imported"))) {
                assertEquals(
                        List.of(), workspace.check().stream().filter(Problem::isError).toList());
                for (Map.Entry<String, Integer> table : all.rows().entrySet()) {
                    String name =
                            table.getKey()
                                    .replace(".Order", ".\"Order\"")
                                    .replace(".select", ".\"select\"");
                    String quoted = kind.equals("mariadb") ? "`" + name + "`" : name;
                    try (Statement statement = workspace.database().connection().createStatement();
                            var row =
                                    statement.executeQuery(
                                            "SELECT COUNT(*) FROM "
                                                    + (kind.equals("postgresql")
                                                                    && !name.equals("reading")
                                                            ? "ONLY "
                                                            : "")
                                                    + quoted)) {
                        row.next();
                        assertEquals(table.getValue(), row.getInt(1), name);
                    }
                }
            }
        }
    }

    private void project(String kind, ProjectImport.Result result) throws Exception {
        Files.writeString(
                folder.resolve("cantina.yaml"), "dialect: " + kind + "\ndatabase: private\n");
        Project project = ProjectReader.read(folder);
        ImportedProject imported = new ImportedProject(project);
        List<Change> changes = imported.compare(result.files());
        assertTrue(changes.stream().allMatch(c -> c.state() == State.NEW));
        imported.take(changes);
        assertTrue(
                imported.compare(result.files()).stream().allMatch(c -> c.state() == State.SAME));
    }

    @ParameterizedTest
    @ValueSource(strings = {"postgresql", "mariadb"})
    void rowsAreWholeAndHidden(String kind) throws Exception {
        try (PrivateServer.Lease live = PrivateServer.of(kind).lease("rows");
                Connection there = connect(live)) {
            load(kind, live, there, List.of(new Source("live.sql", script(kind))));
            String order = kind.equals("postgresql") ? "sales.Order" : "Order";
            String sql = kind.equals("postgresql") ? "sales.\"Order\"" : "`Order`";
            String customer = kind.equals("postgresql") ? "sales.customer" : "customer";
            Map<String, String> queries = new LinkedHashMap<>();
            queries.put(order, "SELECT * FROM " + sql + " WHERE id > 7;");
            ProjectImport.Result result =
                    read(kind, there, wanted(0, queries, Map.of(customer + ".email", "made-up")));
            assertEquals(Map.of(order, 2, customer, 2), result.rows());
            assertEquals(List.of(order + ".email"), result.hidden());
            Map<String, String> files = texts(result, "fixtures/");
            assertFalse(files.toString().contains("example.org"), files.toString());
            for (String line :
                    files.get("fixtures/imported/" + order + ".csv").lines().skip(1).toList()) {
                String email = line.split(",")[2];
                assertTrue(
                        files.get("fixtures/imported/" + customer + ".csv")
                                .contains("," + email + ","),
                        email);
            }

            for (String query :
                    List.of(
                            "SELECT id FROM " + sql,
                            "DELETE FROM " + sql,
                            "SELECT * FROM nowhere",
                            "SELECT")) {
                String message =
                        assertThrows(
                                        ImportException.class,
                                        () ->
                                                read(
                                                        kind,
                                                        there,
                                                        wanted(0, Map.of(order, query), Map.of())))
                                .getMessage();
                assertTrue(
                        message.startsWith("the query for the rows of " + order + " is refused: "),
                        message);
            }
            ImportException unknown =
                    assertThrows(
                            ImportException.class,
                            () ->
                                    read(
                                            kind,
                                            there,
                                            wanted(1, Map.of("nowhere", "SELECT 1"), Map.of())));
            assertEquals("there is no table nowhere to take rows of", unknown.getMessage());
            Project.Imported schema =
                    new Project.Imported("live", List.of("nowhere"), 0, Map.of(), Map.of(), "f");
            assertTrue(
                    assertThrows(ImportException.class, () -> read(kind, there, schema))
                            .getMessage()
                            .contains("nowhere; there are"));
        }
    }

    @Test
    void changesOnBothSidesAreTold() throws Exception {
        ImportedFile a = new ImportedFile("tables/a.sql", "CREATE TABLE a (id int);\n");
        ImportedFile b = new ImportedFile("tables/b.sql", "CREATE TABLE b (id int);\n");
        ImportedFile c = new ImportedFile("routines/c.sql", "SELECT 1;\n");
        Files.writeString(
                folder.resolve("cantina.yaml"), "dialect: postgresql\ndatabase: private\n");
        Files.createDirectories(folder.resolve("routines"));
        Files.writeString(folder.resolve("routines/c.sql"), "SELECT 'mine';\n");
        ImportedProject imported = new ImportedProject(ProjectReader.read(folder));
        List<Change> first = imported.compare(List.of(a, b, c));
        assertEquals(
                List.of(State.CHANGED_BOTH, State.NEW, State.NEW),
                first.stream().map(Change::state).toList());
        imported.take(first.subList(1, 3));
        ImportedFile changed = new ImportedFile("tables/a.sql", "CREATE TABLE a (id bigint);\n");
        assertEquals(
                List.of(State.CHANGED_BOTH, State.CHANGED_THERE, State.GONE),
                imported.compare(List.of(changed, c)).stream().map(Change::state).toList());
        Files.writeString(folder.resolve("tables/a.sql"), "CREATE TABLE a (id text);\n");
        assertEquals(
                List.of(State.CHANGED_HERE, State.SAME),
                imported.compare(List.of(a, b)).stream().map(Change::state).toList());
        List<Change> both = imported.compare(List.of(changed));
        assertEquals(
                List.of(State.CHANGED_BOTH, State.GONE), both.stream().map(Change::state).toList());
        imported.take(both);
        assertEquals(
                "CREATE TABLE a (id bigint);\n", Files.readString(folder.resolve("tables/a.sql")));
        assertFalse(Files.exists(folder.resolve("tables/b.sql")));
        assertEquals("SELECT 'mine';\n", Files.readString(folder.resolve("routines/c.sql")));
    }
}
