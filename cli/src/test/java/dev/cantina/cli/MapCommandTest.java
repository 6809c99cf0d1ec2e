package dev.cantina.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import javax.xml.parsers.DocumentBuilderFactory;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The map of the winery, and what is found in it. */
class MapCommandTest {
    @TempDir Path folder;
    private Cli cli;

    @BeforeEach
    void winery() throws IOException {
        cli = Cli.winery(folder);
    }

    @Test
    void aTableAColumnAndARoutine() {
        String vessel = cli.run("map", "vessel").out();
        assertTrue(vessel.contains("fires        vessel_journal (update)"), vessel);
        assertTrue(
                vessel.contains("updated by   bottle_vessel (level_l), move_wine (level_l)"),
                vessel);
        String column = cli.run("map", "vessel.lot_id").out();
        assertTrue(column.contains("read by      cellar_report"), column);
        assertFalse(column.contains("move_wine  "), column);
        String routine = cli.run("map", "record_intake").out();
        assertTrue(routine.contains("→ intake_is_sound"), routine);
        assertTrue(routine.contains("calls        grade_for"), routine);
        assertTrue(routine.contains("    intake_is_sound  trigger\n      grade_for"), routine);
        String whole = cli.run("map").out();
        assertTrue(whole.contains("used by nothing of the project: list_intakes"), whole);
        assertTrue(whole.contains("it may touch more: count_of"), whole);
    }

    @Test
    void thePageIsOneFileOfXml() throws Exception {
        assertEquals(ExitCode.WELL, cli.run("map", "--page", "map.svg").code());
        String page = Files.readString(cli.path("map.svg"));
        DocumentBuilderFactory.newInstance()
                .newDocumentBuilder()
                .parse(cli.path("map.svg").toFile());
        assertTrue(page.contains(">move_wine</text>"), page);
        assertTrue(page.contains("move_wine updates vessel (level_l)"), page);
        assertFalse(page.contains("href"), page);
        // It may be made again, but takes the place of no other file.
        assertEquals(ExitCode.WELL, cli.run("map", "vessel", "--page", "map.svg").code());
        assertFalse(Files.readString(cli.path("map.svg")).contains(">register_grower</text>"));
        cli.write("mine.svg", "<svg/>");
        assertEquals(ExitCode.USAGE, cli.run("map", "--page", "mine.svg").code());
        cli.write("tables/9.sql", "CREATE TABLE \"a<b>&\" (id INTEGER);\n");
        assertEquals(ExitCode.WELL, cli.run("map", "--page", "map.svg").code());
        assertTrue(Files.readString(cli.path("map.svg")).contains("a&lt;b&gt;&amp;"));
    }

    @Test
    void aProjectWithNothingInItHasAMapToo() throws IOException {
        Cli empty = new Cli(folder.resolve("empty"));
        empty.write("cantina.yaml", "project: none\n");
        assertEquals(ExitCode.WELL, empty.run("map").code());
        assertEquals(ExitCode.WELL, empty.run("map", "--page", "map.svg").code());
        assertEquals(ExitCode.FAILED, empty.run("find", "it").code());
    }

    @Test
    void badInputGetsAClearWord() {
        assertTrue(cli.run("map", "vesel").err().contains("did you mean vessel?"));
        assertTrue(cli.run("map", "vessel.levle_l").err().contains("did you mean level_l?"));
        assertTrue(cli.run("map", "Vessel.x").err().contains("vessel has no column x; it has "));
        assertEquals(ExitCode.WELL, cli.run("map", "Vessel.LEVEL_L").code());
        assertTrue(cli.run("map", "a", "b").err().contains("map takes one name"));
        assertTrue(cli.run("find").err().contains("find takes words"));
        assertTrue(cli.run("find", "xyzzy").err().contains("nothing is called like that"));
        assertTrue(cli.run("find", "level").out().contains("vessel.level_l"));
    }
}
