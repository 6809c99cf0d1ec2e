package dev.cantina.cli;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.cantina.observe.Profile;
import dev.cantina.project.ProjectException;
import dev.cantina.runtime.AccessPath;
import dev.cantina.runtime.Outcome;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * A profile as JSON: what {@code --json} prints, {@code --save} keeps and {@code --compare} reads.
 */
final class ProfileJson {
    /** A line of an earlier profile. */
    record Earlier(String routine, int line, String text, long runs, double ownMillis) {}

    private ProfileJson() {}

    static Map<String, Object> of(Profile profile, Outcome outcome) {
        Map<String, Object> object = new LinkedHashMap<>();
        object.put("routine", outcome.routine());
        object.put("outcome", outcome.kind().name().toLowerCase(java.util.Locale.ROOT));
        object.put("statements", outcome.statements());
        object.put("elapsed_ms", Json.millis(profile.flame().total() / 1e6));
        object.put("lines", profile.lines().stream().map(ProfileJson::line).toList());
        object.put("access", profile.accesses().stream().map(ProfileJson::access).toList());
        object.put("cut_short", profile.cutShort());
        return object;
    }

    private static Map<String, Object> line(Profile.Line line) {
        Map<String, Object> object = new LinkedHashMap<>();
        object.put("routine", line.routine());
        object.put("file", line.file());
        object.put("line", line.line());
        object.put("text", line.text().strip());
        object.put("runs", line.runs());
        object.put("own_ms", Json.millis(line.own() / 1e6));
        object.put("total_ms", Json.millis(line.total() / 1e6));
        object.put("rows_read", line.read());
        object.put("rows_written", line.written());
        return object;
    }

    private static Map<String, Object> access(Profile.Access access) {
        Map<String, Object> object = new LinkedHashMap<>();
        object.put("routine", access.routine());
        object.put("file", access.file());
        object.put("line", access.line());
        object.put("rows", access.rows() < 0 ? null : access.rows());
        List<Object> paths = new ArrayList<>();
        for (AccessPath path : access.paths()) {
            Map<String, Object> one = new LinkedHashMap<>();
            one.put("table", path.table());
            one.put("path", path.path());
            one.put("whole_table", path.wholeTable());
            one.put("scanned", path.scanned().isPresent() ? path.scanned().getAsLong() : null);
            paths.add(one);
        }
        object.put("tables", paths);
        return object;
    }

    /** The lines of a profile that was saved. */
    static List<Earlier> read(Path file) throws ProjectException {
        try {
            JsonNode lines = new ObjectMapper().readTree(Files.readString(file)).path("lines");
            if (!lines.isArray()) {
                throw new ProjectException(
                        file.getFileName() + " is no profile; profile --save FILE writes one");
            }
            List<Earlier> all = new ArrayList<>();
            for (JsonNode line : lines) {
                all.add(
                        new Earlier(
                                line.path("routine").asText(),
                                line.path("line").asInt(),
                                line.path("text").asText(),
                                line.path("runs").asLong(),
                                line.path("own_ms").asDouble()));
            }
            return all;
        } catch (com.fasterxml.jackson.core.JsonProcessingException e) {
            throw new ProjectException(
                    file.getFileName() + " is no profile; profile --save FILE writes one");
        } catch (IOException e) {
            throw new ProjectException(
                    file.getFileName() + " can't be read: " + FileTrouble.reading(e));
        }
    }

    /** The same line of an earlier profile: by its text, and the nearest of those alike. */
    static Optional<Earlier> same(Profile.Line line, List<Earlier> earlier) {
        return earlier.stream()
                .filter(e -> e.routine().equals(line.routine()))
                .filter(e -> e.text().equals(line.text().strip()))
                .min(java.util.Comparator.comparingInt(e -> Math.abs(e.line() - line.line())));
    }
}
