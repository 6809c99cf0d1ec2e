package dev.cantina.cli;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;

/** Arguments kept in a file: one JSON object, a member for each parameter. */
final class SavedArguments {
    private static final ObjectMapper MAPPER =
            new ObjectMapper().enable(DeserializationFeature.USE_BIG_DECIMAL_FOR_FLOATS);

    private SavedArguments() {}

    static Map<String, Object> read(Path file) throws ProjectException {
        String text = ProjectReader.source(file, file.toString()).text();
        try {
            JsonNode top = MAPPER.readTree(text);
            if (top == null || !top.isObject()) {
                throw new ProjectException(file + ": saved arguments are one JSON object");
            }
            Map<String, Object> values = new LinkedHashMap<>();
            top.properties().forEach(e -> values.put(e.getKey(), value(e.getValue())));
            return values;
        } catch (JsonProcessingException e) {
            throw new ProjectException(
                    file
                            + ":"
                            + e.getLocation().getLineNr()
                            + ": this is not JSON: "
                            + e.getOriginalMessage());
        }
    }

    private static Object value(JsonNode node) {
        if (node.isNull()) {
            return null;
        }
        if (node.isArray()) {
            Object[] elements = new Object[node.size()];
            for (int i = 0; i < elements.length; i++) {
                elements[i] = value(node.get(i));
            }
            return elements;
        }
        if (node.isNumber()) {
            return node.decimalValue();
        }
        return node.isBoolean() ? (Object) node.booleanValue() : node.asText();
    }

    static void write(Path file, Map<String, Object> values) throws ProjectException {
        try {
            if (file.getParent() != null) {
                Files.createDirectories(file.getParent());
            }
            Files.writeString(file, Json.text(values) + "\n", StandardCharsets.UTF_8);
        } catch (IOException e) {
            throw new ProjectException(
                    file + " can't be written (" + ProjectReader.reason(e) + ")");
        }
    }
}
