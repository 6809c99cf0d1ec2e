package dev.cantina.laboratory;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.cantina.laboratory.MutantReport.Kept;
import dev.cantina.project.KeptFile;
import dev.cantina.project.Project;
import java.util.Optional;

/**
 * What is kept of mistakes that were tried, in {@code .cantina/mutants.json}, routine by routine.
 */
public final class MutantMemory implements MutantLab.Memory {
    private final KeptFile file;
    private final ObjectNode routines;

    private MutantMemory(KeptFile file) {
        this.file = file;
        this.routines = file.read();
    }

    /** What is known of a project's routines. */
    public static MutantMemory of(Project project) {
        return new MutantMemory(new KeptFile(project, "mutants.json"));
    }

    @Override
    public Optional<Kept> known(String routine, String fingerprint) {
        JsonNode one = routines.path(routine);
        return one.path("of").asText("").equals(fingerprint)
                ? Optional.of(
                        new Kept(routine, one.path("noticed").asInt(), one.path("all").asInt()))
                : Optional.empty();
    }

    @Override
    public void tried(String routine, String fingerprint, int noticed, int all) {
        ObjectNode one = routines.withObjectProperty(routine);
        one.put("of", fingerprint);
        one.put("noticed", noticed);
        one.put("all", all);
    }

    /** Writes what is known; a folder that can't be written to is passed over. */
    public void keep() {
        file.write(routines);
    }
}
