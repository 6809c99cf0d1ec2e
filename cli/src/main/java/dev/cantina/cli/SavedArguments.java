package dev.cantina.cli;

import com.fasterxml.jackson.core.JsonProcessingException;
import dev.cantina.project.JsonValues;
import dev.cantina.project.ProjectException;
import dev.cantina.project.ProjectReader;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;

/** Arguments kept in a file: one JSON object, a member for each parameter. */
final class SavedArguments {
    private SavedArguments() {}

    static Map<String, Object> read(Path file) throws ProjectException {
        String text = ProjectReader.source(file, file.toString()).text();
        try {
            return JsonValues.members(text);
        } catch (JsonProcessingException e) {
            throw new ProjectException(
                    file + ": saved arguments are one JSON object: " + e.getOriginalMessage());
        }
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
