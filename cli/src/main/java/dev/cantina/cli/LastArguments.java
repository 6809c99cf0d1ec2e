package dev.cantina.cli;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.project.JsonValues;
import dev.cantina.project.KeptFile;
import dev.cantina.project.Project;
import java.util.LinkedHashMap;
import java.util.Map;

/** The arguments that a routine was called with last, kept with the project. */
final class LastArguments {
    private static final ObjectMapper JSON = new ObjectMapper();

    private final KeptFile file;
    private final RoutineSymbol routine;

    LastArguments(Project project, RoutineSymbol routine) {
        this.file = new KeptFile(project, "arguments.json");
        this.routine = routine;
    }

    /** None where it was not called yet. */
    Map<String, Object> values() {
        JsonNode known = file.read().get(routine.name());
        if (known == null || !known.isObject()) {
            return Map.of();
        }
        try {
            return new LinkedHashMap<>(JsonValues.members(known.toString()));
        } catch (JsonProcessingException e) {
            return Map.of();
        }
    }

    /**
     * The same for a call that asks for them.
     *
     * @throws UsageException where there are none
     */
    Map<String, Object> again() throws UsageException {
        if (!file.read().has(routine.name())) {
            throw new UsageException(
                    routine.name()
                            + " was not called here yet: there are no arguments of last time");
        }
        Map<String, Object> values = values();
        // A parameter that is there no longer is no reason to refuse.
        values.keySet()
                .removeIf(
                        k ->
                                routine.parameters().stream()
                                        .noneMatch(p -> p.name().text().equalsIgnoreCase(k)));
        return values;
    }

    /** Keeps what it is called with now. */
    void keep(Map<String, Object> given) {
        try {
            ObjectNode all = file.read();
            JsonNode now = JSON.readTree(Json.text(given));
            if (!now.equals(all.get(routine.name()))) {
                all.set(routine.name(), now);
                file.write(all);
            }
        } catch (JsonProcessingException e) {
            // A value that JSON has not is not remembered.
            return;
        }
    }
}
