package dev.cantina.racing;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import java.util.List;
import java.util.Optional;

/**
 * A call of one session.
 *
 * @param text as a person wrote it
 */
public record RaceCall(String text, Finding finding) {
    /** A routine, and its arguments as a session takes them. */
    public record Found(RoutineSymbol routine, List<Optional<Object>> arguments) {}

    /** Finds what is called in a workspace. */
    @FunctionalInterface
    public interface Finding {
        Found in(Workspace workspace) throws ProjectException;
    }
}
