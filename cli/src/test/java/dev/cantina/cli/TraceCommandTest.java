package dev.cantina.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.io.StringReader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import javax.xml.parsers.DocumentBuilderFactory;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.xml.sax.InputSource;

/** {@code trace} and {@code profile} on the winery. */
class TraceCommandTest {
    private static final ObjectMapper JSON = new ObjectMapper();

    @TempDir Path folder;
    private Cli cli;

    @BeforeEach
    void winery() throws IOException {
        cli = Cli.winery(folder);
    }

    private Cli.Result move(String command, String litres, String... options) {
        List<String> line =
                new ArrayList<>(
                        List.of(
                                command,
                                "move_wine",
                                "source=T1",
                                "target=C7",
                                "litres=" + litres));
        line.addAll(List.of(options));
        return cli.run(line.toArray(String[]::new));
    }

    @Test
    void aTraceIsIndentedByDepth() {
        Cli.Result result = move("trace", "120");
        assertEquals(0, result.code());
        assertTrue(
                result.out().startsWith("move_wine(source 'T1', target 'C7', litres 120.0)\n"),
                result.out());
        assertTrue(
                result.out()
                        .contains(
                                "    trigger vessel_journal(was.code 'T1', was.level_l 500.0,"
                                        + " now.level_l 380.0)\n        7  INSERT INTO journal"),
                result.out());
        assertTrue(result.out().contains("vessel 'T1'  level_l 500.0 → 380.0"), result.out());
        assertTrue(result.out().contains("move_wine gives moved 120.0"), result.out());
    }

    @Test
    void anErrorIsTracedWithItsStack() {
        Cli.Result result = move("trace", "99999");
        assertEquals(3, result.code());
        assertTrue(
                result.out()
                        .contains(
                                "raised 45000  T1 does not hold 99999.0 litres\n         in  "
                                        + " move_wine(source 'T1', target 'C7', litres 99999.0)"),
                result.out());
        assertTrue(result.out().contains("move_wine ended by 45000"), result.out());
    }

    @Test
    void filtersKeepTheWayToWhatTheyLetThrough() {
        String out = move("trace", "120", "--table", "journal").out();
        assertTrue(out.contains("move_wine(source"), out);
        assertTrue(out.contains("24  UPDATE vessel"), out);
        assertTrue(out.contains("7  INSERT INTO journal"), out);
        assertFalse(out.contains("START TRANSACTION"), out);
        assertFalse(move("trace", "120", "--routine", "vessel_journal").out().contains("COMMIT"));
        String none = move("trace", "120", "--at-least", "100000").out();
        assertFalse(none.contains("move_wine(source"), none);
        assertEquals(2, move("trace", "120", "--at-least", "long").code());
    }

    @Test
    void jsonLinesHaveOneObjectEachAndTheOutcomeLast() throws IOException {
        Cli.Result result = move("trace", "120", "--to", "t.jsonl");
        assertEquals(0, result.code());
        List<String> lines = Files.readAllLines(cli.path("t.jsonl"));
        List<String> events = new ArrayList<>();
        for (String line : lines) {
            events.add(JSON.readTree(line).path("event").asText());
        }
        assertEquals("enter", events.get(0));
        assertEquals("outcome", events.get(events.size() - 1));
        JsonNode update = JSON.readTree(lines.get(6));
        assertEquals(24, update.path("line").asInt());
        assertEquals(380.0, update.at("/written/0/after/level_l").asDouble());
        assertEquals(120.0, update.at("/sent/litres").asDouble());
        assertTrue(result.out().contains("moved = 120.0"), result.out());
        Cli.Result printed = move("trace", "120", "--json");
        assertEquals(lines.size(), printed.out().lines().count());
        assertEquals(2, move("trace", "120", "--to", "no/t.jsonl").code());
    }

    @Test
    void aProfileShowsTheHottestLinesTheSourceAndHowRowsWereFound() throws Exception {
        Cli.Result result =
                cli.run(
                        "profile",
                        "settle_vintage",
                        "year=2031",
                        "--save",
                        "p.json",
                        "--flame",
                        "f.svg");
        assertEquals(0, result.code(), result.err());
        assertTrue(result.out().contains("The hottest lines"), result.out());
        assertTrue(result.out().contains("whole table  grower"), result.out());
        assertTrue(
                result.out().contains("settle_vintage  routines/settle_vintage.sql"), result.out());
        JsonNode saved = JSON.readTree(Files.readString(cli.path("p.json")));
        assertEquals("settle_vintage", saved.path("routine").asText());
        assertTrue(saved.path("lines").size() > 5);
        DocumentBuilderFactory factory = DocumentBuilderFactory.newInstance();
        factory.setNamespaceAware(true);
        var svg =
                factory.newDocumentBuilder()
                        .parse(
                                new InputSource(
                                        new StringReader(Files.readString(cli.path("f.svg")))));
        assertEquals("svg", svg.getDocumentElement().getLocalName());
        assertFalse(Files.readString(cli.path("f.svg")).contains("href"));
    }

    @Test
    void aProfileStandsBesideAnEarlierOne() throws IOException {
        cli.run("profile", "settle_vintage", "year=2031", "--save", "p.json");
        Path file = cli.path("routines/settle_vintage.sql");
        Files.writeString(
                file,
                "-- moved\n"
                        + Files.readString(file)
                                .replace("SET left_over = 0", "SET left_over = 1 - 1"));
        String out = cli.run("profile", "settle_vintage", "year=2031", "--compare", "p.json").out();
        assertTrue(out.contains("own before"), out);
        assertEquals(
                2,
                cli.run("profile", "settle_vintage", "year=2031", "--compare", "cantina.yaml")
                        .code());
        assertEquals(
                2, cli.run("profile", "settle_vintage", "year=2031", "--compare", "none").code());
    }

    @Test
    void casesAndScriptsAreTracedAndProfiledToo() {
        String script =
                cli.run("trace", "--run", "scripts/october.sql", "--routine", "bottle_vessel")
                        .out();
        assertTrue(
                script.startsWith("script scripts/october.sql\n    3  CALL bottle_vessel"), script);
        String testCase = cli.run("profile", "--case", "two months*").out();
        assertTrue(testCase.contains("topping_loss:20"), testCase);
        assertEquals(2, cli.run("trace").code());
        assertEquals(2, cli.run("profile", "--case", "nothing like it").code());
    }
}
