package dev.cantina.project;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.syntax.Problem;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.ResultSet;
import java.sql.Statement;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Rows from CSV files. */
class FixtureLoaderTest {
    @TempDir Path folder;

    @BeforeEach
    void tables() throws Exception {
        write("cantina.yaml", "project: lab\nfixture: some\n");
        write(
                "tables/all.sql",
                "CREATE TABLE t (id INTEGER PRIMARY KEY, \"Größe\" VARCHAR(10), at DATE);");
    }

    private void write(String file, String text) throws Exception {
        Path path = folder.resolve(file);
        Files.createDirectories(path.getParent());
        Files.writeString(path, text);
    }

    private String rows(String csv) throws Exception {
        write("fixtures/some/t.csv", csv);
        Project project = ProjectReader.read(folder);
        try (Workspace workspace = Workspace.open(project, Optional.of("some"));
                Statement statement = workspace.database().connection().createStatement();
                ResultSet row = statement.executeQuery("SELECT * FROM t ORDER BY id")) {
            StringBuilder rows = new StringBuilder();
            while (row.next()) {
                rows.append(row.getString(1) + " " + row.getString(2) + " " + row.getString(3));
                rows.append('|');
            }
            return rows.toString();
        }
    }

    private List<Problem> problems(String csv) {
        return assertThrows(ProjectException.class, () -> rows(csv)).problems();
    }

    @Test
    void aDelimitedNameIsFoundAsItIsAndOthersInAnyCase() throws Exception {
        assertEquals(
                "1 groß null|2 null 2031-10-04|", rows("ID,Größe,At\n1,groß,\n2,,2031-10-04\n"));
    }

    @Test
    void whatIsWrongIsSaidAtItsField() {
        assertTrue(problems("id,Große\n1,x\n").get(0).hint().orElse("").contains("Größe"));
        assertEquals("wrong-value", problems("id,at\n1,soon\n").get(0).rule());
        assertEquals(2, problems("id,at\n1,soon\n").get(0).span().line());
        assertEquals("wrong-row", problems("id,at\n1\n").get(0).rule());
        assertEquals("duplicate-column", problems("id,id\n1,2\n").get(0).rule());
        assertEquals("refused-row", problems("id\n1\n1\n").get(0).rule());
    }
}
