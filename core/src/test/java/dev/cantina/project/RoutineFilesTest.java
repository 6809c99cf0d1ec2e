package dev.cantina.project;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.cantina.syntax.ParsedFile;
import dev.cantina.syntax.Problem;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.IntStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The files of a project's routines, read by several threads. */
class RoutineFilesTest {
    @TempDir Path folder;

    @BeforeEach
    void project() throws Exception {
        Files.writeString(folder.resolve("cantina.yaml"), "project: lab\n");
        Files.createDirectory(folder.resolve("routines"));
    }

    private void write(String name, String text) throws Exception {
        write(name, text.getBytes(StandardCharsets.UTF_8));
    }

    private void write(String name, byte[] bytes) throws Exception {
        Files.write(folder.resolve("routines").resolve(name), bytes);
    }

    private static String function(int number) {
        return "CREATE FUNCTION f" + number + " () RETURNS INTEGER RETURN " + number + ";\n";
    }

    private List<ParsedFile> read() throws Exception {
        return RoutineFiles.begin(ProjectReader.read(folder)).get();
    }

    @Test
    void manyFilesComeInTheOrderOfTheirNames() throws Exception {
        for (int i = 0; i < 200; i++) {
            write(String.format("r%03d.sql", i), function(i));
        }
        List<ParsedFile> files = read();
        assertEquals(
                IntStream.range(0, 200)
                        .mapToObj(i -> String.format("routines/r%03d.sql", i))
                        .toList(),
                files.stream().map(f -> f.source().name()).toList());
        assertTrue(files.stream().allMatch(f -> f.units().size() == 1 && f.problems().isEmpty()));
    }

    @Test
    void noFilesAreNoProblem() throws Exception {
        assertEquals(List.of(), read());
        Files.delete(folder.resolve("routines"));
        assertEquals(List.of(), read());
    }

    @Test
    void aFileInAnotherEncodingIsAProblemAtItsPlaceAndTheOthersAreRead() throws Exception {
        write("a.sql", function(1));
        write("b.sql", ("\n-- Größe\n" + function(2)).getBytes(StandardCharsets.ISO_8859_1));
        write("c.sql", function(3));
        List<ParsedFile> files = read();
        assertEquals(List.of(1, 0, 1), files.stream().map(f -> f.units().size()).toList());
        List<Problem> problems = files.get(1).problems();
        assertEquals(1, problems.size());
        assertEquals("this file is not in UTF-8", problems.get(0).message());
        assertEquals("routines/b.sql:2:6", problems.get(0).span().place());
    }

    @Test
    void theReplacementCharacterItselfMayStandInAFile() throws Exception {
        write("a.sql", "-- \uFFFD and \uD83C\uDF47\n" + function(1));
        assertEquals(1, read().size());
    }

    @Test
    void aWordKeepsItsSpellingEvenWhereThereAreThousands() throws Exception {
        StringBuilder text = new StringBuilder();
        for (int i = 0; i < 2_000; i++) {
            text.append("CREATE FUNCTION Fn_").append(i).append(" (wOrd INTEGER, WORD_").append(i);
            text.append(" INTEGER) RETURNS INTEGER RETURN wOrd;\n");
        }
        write("a.sql", text.toString());
        List<ParsedFile> files = read();
        assertEquals(List.of(), files.get(0).problems());
        for (int i = 0; i < 2_000; i += 37) {
            var routine = (dev.cantina.syntax.Unit.Routine) files.get(0).units().get(i);
            assertEquals("Fn_" + i, routine.name().text());
            assertEquals("FN_" + i, routine.name().key());
            assertEquals("wOrd", routine.parameters().get(0).name().text());
            assertEquals("WORD_" + i, routine.parameters().get(1).name().text());
        }
    }
}
