package dev.cantina.programs;

import dev.cantina.project.Project;
import dev.cantina.runtime.Limits;
import java.time.Clock;
import java.util.Optional;

/**
 * What is opened for a program, and how its calls run.
 *
 * @param server of cantina.yaml; empty for the embedded database
 * @param fixture empty for the project's own
 * @param calls a text that names all that it calls; empty where that is not known
 */
public record ProgramSettings(
        Project project,
        Optional<String> server,
        Optional<String> fixture,
        Limits limits,
        Clock clock,
        Optional<String> calls) {
    public ProgramSettings(
            Project project,
            Optional<String> server,
            Optional<String> fixture,
            Limits limits,
            Clock clock) {
        this(project, server, fixture, limits, clock, Optional.empty());
    }

    /** The same for one that calls nothing but routines that are named in a text. */
    public ProgramSettings calling(String text) {
        return new ProgramSettings(project, server, fixture, limits, clock, Optional.of(text));
    }

    /** The rows at first. */
    String rows() {
        return fixture.orElse(project.fixture());
    }
}
