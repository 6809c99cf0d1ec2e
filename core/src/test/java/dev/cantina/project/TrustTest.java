package dev.cantina.project;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What reaches outside works only where the user has said yes to just that. */
class TrustTest {
    private static final String YAML =
            "project: press\n"
                    + "databases:\n"
                    + "  far: { url: \"jdbc:postgresql://far.example/x\", user: pat,"
                    + " password: \"env:PW\" }\n";

    @TempDir Path temporary;

    private Path root;
    private Trust trust;

    @BeforeEach
    void write() throws IOException {
        root = Files.createDirectories(temporary.resolve("project"));
        Files.writeString(root.resolve("cantina.yaml"), YAML);
        Files.createDirectories(root.resolve("lib"));
        Files.writeString(root.resolve("lib/a.jar"), "one");
        trust = new Trust(Map.of("XDG_CONFIG_HOME", temporary.resolve("config").toString()));
    }

    private List<Boolean> trusted(Path folder) throws ProjectException {
        return trust.of(ProjectReader.read(folder)).stream().map(trust::isTrusted).toList();
    }

    @Test
    void nothingIsTrustedBeforeItsUserSaysSo() throws Exception {
        List<Trust.Reach> all = trust.of(ProjectReader.read(root));
        assertEquals(List.of("lib/a.jar", "far"), all.stream().map(Trust.Reach::name).toList());
        assertTrue(all.get(1).does().contains("the password from env:PW"), all.get(1).does());
        assertTrue(all.get(1).does().contains("far.example"), all.get(1).does());
        assertEquals(List.of(false, false), trusted(root));
        trust.trust(all);
        assertEquals(List.of(true, true), trusted(root));
        trust.forget(all);
        assertEquals(List.of(false, false), trusted(root));
    }

    @Test
    void whatIsChangedIsAskedForAgain() throws Exception {
        trust.trust(trust.of(ProjectReader.read(root)));
        Files.writeString(root.resolve("lib/a.jar"), "two");
        assertEquals(List.of(false, true), trusted(root));
        Files.writeString(root.resolve("lib/a.jar"), "one");
        for (String change :
                List.of(
                        YAML.replace("far.example", "near.example"),
                        YAML.replace("user: pat", "user: kim"),
                        YAML.replace("env:PW", "env:OTHER"),
                        YAML.replace("env:PW", "file:/etc/hostname"),
                        YAML.replace("/x\"", "/x?socketFactory=a.B\""))) {
            Files.writeString(root.resolve("cantina.yaml"), change);
            assertEquals(List.of(true, false), trusted(root), change);
        }
    }

    @Test
    void anotherFolderWithTheSameContentIsAnotherProject() throws Exception {
        trust.trust(trust.of(ProjectReader.read(root)));
        Path copy = Files.createDirectories(temporary.resolve("copy/lib")).getParent();
        Files.copy(root.resolve("cantina.yaml"), copy.resolve("cantina.yaml"));
        Files.copy(root.resolve("lib/a.jar"), copy.resolve("lib/a.jar"));
        assertEquals(List.of(false, false), trusted(copy));
        Path link = Files.createSymbolicLink(temporary.resolve("link"), root);
        assertEquals(List.of(true, true), trusted(link));
    }

    @Test
    void aVariableTrustsAllForOneProcess() throws Exception {
        trust = new Trust(Map.of(Trust.VARIABLE, "yes"));
        assertEquals(List.of(true, true), trusted(root));
        trust = new Trust(Map.of(Trust.VARIABLE, "no"));
        assertEquals(List.of(false, false), trusted(root));
    }

    @Test
    void whereNothingCanBeKeptNothingIsTrusted() throws Exception {
        trust = new Trust(Map.of());
        List<Trust.Reach> all = trust.of(ProjectReader.read(root));
        ProjectException none = assertThrows(ProjectException.class, () -> trust.trust(all));
        assertTrue(none.getMessage().contains("no home folder"), none.getMessage());
        assertEquals(List.of(false, false), trusted(root));
        Path file = Files.writeString(temporary.resolve("file"), "");
        trust = new Trust(Map.of("XDG_CONFIG_HOME", file.toString()));
        assertThrows(ProjectException.class, () -> trust.trust(all));
        assertEquals(List.of(false, false), trusted(root));
    }

    @Test
    void aServerOnThisMachineThatWantsNoPasswordHearsNothingNew() {
        for (String url :
                List.of(
                        "jdbc:postgresql://localhost:5432/x?user=a&currentSchema=b",
                        "jdbc:mariadb://127.0.0.1/x",
                        "jdbc:postgresql://[::1]:1/x?sslmode=disable")) {
            assertTrue(Trust.isHarmless(new Project.DatabaseEntry(url, "pat", "")), url);
            assertFalse(Trust.isHarmless(new Project.DatabaseEntry(url, "pat", "env:PW")), url);
        }
        for (String url :
                List.of(
                        "jdbc:postgresql://127.0.0.1.evil.example/x",
                        "jdbc:postgresql://localhost,evil.example/x",
                        "jdbc:postgresql://localhost/x?socketFactory=a.B",
                        "jdbc:postgresql://localhost/x?SocketFactory=a.B&user=c",
                        "jdbc:postgresql://localhost/x?loggerFile=/tmp/a",
                        "jdbc:mariadb://localhost/x?allowLocalInfile=true",
                        "jdbc:mariadb://localhost/x;initSql=DROP",
                        "jdbc:postgresql:x")) {
            assertFalse(Trust.isHarmless(new Project.DatabaseEntry(url, "pat", "")), url);
        }
    }

    @Test
    void theJarOfTheDemoIsOurs() throws Exception {
        trust = new Trust(Map.of());
        Path winery = Path.of("../demo/winery");
        assertEquals(List.of(true), trusted(winery));
    }

    @Test
    void aUrlWithAPasswordIsRefusedAndNotRepeated() throws Exception {
        for (String url :
                List.of(
                        "jdbc:postgresql://pat:open-sesame@h/d",
                        "jdbc:mariadb://h/d?password=open-sesame",
                        "jdbc:mariadb://h/d?user=x&PASSWORD=open-sesame",
                        "jdbc:mariadb://h/d;password=open-sesame",
                        "jdbc:postgresql://h/d?sslpassword=open-sesame")) {
            Files.writeString(
                    root.resolve("cantina.yaml"),
                    "project: x\ndatabases:\n  far: { url: \"" + url + "\" }\n");
            ProjectException refused =
                    assertThrows(ProjectException.class, () -> ProjectReader.read(root), url);
            assertTrue(refused.getMessage().contains("the database far"), refused.getMessage());
            assertFalse(refused.getMessage().contains("sesame"), refused.getMessage());
            assertTrue(refused.problems().isEmpty(), "a problem would show its line");
        }
    }

    @Test
    void linksDoNotLeadOutOfTheProject() throws Exception {
        Path outside = Files.createDirectories(temporary.resolve("outside"));
        Files.writeString(outside.resolve("a.sql"), "x");
        Path routines = Files.createDirectories(root.resolve("routines"));
        Path inside = Files.createDirectories(root.resolve("shared"));
        Files.writeString(inside.resolve("b.sql"), "x");
        Files.createSymbolicLink(routines.resolve("shared"), inside);
        assertEquals(1, ProjectReader.files(routines, ".sql").size());
        Path file = Files.createSymbolicLink(routines.resolve("a.sql"), outside.resolve("a.sql"));
        assertThrows(ProjectException.class, () -> ProjectReader.files(routines, ".sql"));
        Files.delete(file);
        Path folder = Files.createSymbolicLink(routines.resolve("out"), outside);
        assertThrows(ProjectException.class, () -> ProjectReader.files(routines, ".sql"));
        Files.delete(folder);
        Files.createSymbolicLink(root.resolve(".cantina"), outside);
        KeptFile kept = new KeptFile(ProjectReader.read(root), "x.json");
        assertFalse(kept.write(kept.read()));
        assertEquals(1, Files.list(outside).count());
        Files.createSymbolicLink(root.resolve("link.csv"), outside.resolve("a.sql"));
        Project project = ProjectReader.read(root);
        for (String path :
                List.of(
                        "../outside",
                        "../../outside",
                        outside.toString(),
                        "a/../../b",
                        "link.csv")) {
            assertThrows(ProjectException.class, () -> FixtureLoader.plan(project, path), path);
            assertThrows(ProjectException.class, () -> ProjectReader.inside(project, path), path);
        }
        assertEquals("cantina.yaml", project.shown(ProjectReader.inside(project, "cantina.yaml")));
    }
}
