package dev.cantina.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.dataformat.yaml.YAMLMapper;
import com.networknt.schema.JsonSchema;
import com.networknt.schema.JsonSchemaFactory;
import com.networknt.schema.SpecVersion;
import com.networknt.schema.ValidationMessage;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Set;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The JSON Schemas that ship, held against what they describe. */
class SchemasTest {
    private static final Path ROOT = Path.of("..");
    @TempDir Path temporary;
    private Cli cli;

    @BeforeEach
    void winery() throws IOException {
        cli = Cli.winery(temporary);
    }

    private static JsonSchema schema(String name) throws IOException {
        String text = Files.readString(ROOT.resolve("docs/schemas").resolve(name + ".schema.json"));
        return JsonSchemaFactory.getInstance(SpecVersion.VersionFlag.V202012).getSchema(text);
    }

    static Set<ValidationMessage> problems(String schema, JsonNode node) throws IOException {
        return schema(schema).validate(node);
    }

    private static JsonNode yaml(String text) throws IOException {
        return new YAMLMapper().readTree(text);
    }

    private JsonNode json(String... words) throws IOException {
        return new ObjectMapper().readTree(cli.run(words).out());
    }

    @Test
    void theDemosFilesFit() throws IOException {
        assertEquals(
                Set.of(), problems("project", yaml(Files.readString(cli.path("cantina.yaml")))));
        try (Stream<Path> files = Files.list(cli.path("cases"))) {
            for (Path file : files.toList()) {
                assertEquals(
                        Set.of(), problems("case", yaml(Files.readString(file))), file.toString());
            }
        }
    }

    @Test
    void everyExampleOfTheTestingPageFits() throws IOException {
        String page = Files.readString(ROOT.resolve("docs/testing.md"));
        List<String> blocks =
                Stream.of(page.split("```yaml\n")).skip(1).map(b -> b.split("```")[0]).toList();
        assertFalse(blocks.isEmpty());
        for (String block : blocks) {
            assertEquals(Set.of(), problems("case", yaml(block)), block);
        }
    }

    @Test
    void whatIsWrongDoesNotFit() throws IOException {
        assertFalse(problems("case", yaml("cases: [ { case: a, pas: {} } ]")).isEmpty());
        assertFalse(problems("case", yaml("routine: a")).isEmpty());
        assertFalse(problems("project", yaml("limits: { statements: 0 }")).isEmpty());
    }

    @Test
    void whatTheCommandsPrintFits() throws IOException {
        assertEquals(
                Set.of(),
                problems(
                        "call",
                        json("call", "move_wine", "source=T1", "target=C7", "litres=1", "--json")));
        assertEquals(
                Set.of(),
                problems(
                        "call",
                        json("call", "move_wine", "source=T1", "target=C7", "litres=0", "--json")));
        assertEquals(Set.of(), problems("call", json("call", "list_intakes", "--json")));
        assertEquals(Set.of(), problems("call", json("run", "scripts/october.sql", "--json")));
        assertEquals(Set.of(), problems("test", json("test", "--json")));
        assertEquals(
                Set.of(),
                problems("profile", json("profile", "settle_vintage", "year=2031", "--json")));
        for (String litres : List.of("1", "0")) {
            String trace =
                    cli.run(
                                    "trace",
                                    "move_wine",
                                    "source=T1",
                                    "target=C7",
                                    "litres=" + litres,
                                    "--json")
                            .out();
            for (String line : trace.lines().toList()) {
                assertEquals(Set.of(), problems("trace", new ObjectMapper().readTree(line)), line);
            }
        }
        cli.write("routines/bad.sql", "CREATE PROCEDURE bad () SET x = 1;");
        assertEquals(Set.of(), problems("check", json("check", "--json")));
    }

    @Test
    void mapsAndWhatIsFoundFit() throws IOException {
        assertEquals(Set.of(), problems("map", json("map", "--json")));
        assertEquals(Set.of(), problems("map", json("map", "vessel.level_l", "--json")));
        assertEquals(Set.of(), problems("find", json("find", "level", "--json")));
    }
}
