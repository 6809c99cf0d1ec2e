package dev.cantina.nativecode;

import dev.cantina.database.ServerPart;
import dev.cantina.runtime.PlacedCode;
import dev.cantina.runtime.Program;
import java.sql.Connection;
import java.util.List;
import java.util.Optional;

/**
 * What of a project's routines was made to stand on a server for a run.
 *
 * @param key tells the marks in it; see {@link Mark}
 */
public record PlacedParts(String key, List<ServerPart> parts) {
    /** Nothing. */
    public static final PlacedParts NONE = new PlacedParts("", List.of());

    /** Makes it tell of itself. */
    public interface Opening {
        PlacedCode on(
                Connection connection, ServerCode.Connector connector, PlacedRoutines routines);
    }

    /** Its copies, which can tell of themselves; empty where nothing was placed. */
    public Optional<PlacedCode> code(
            String kind, Connection connection, ServerCode.Connector connector, Program program) {
        if (parts.isEmpty() || !ServerCode.PLACED.containsKey(kind)) {
            return Optional.empty();
        }
        PlacedRoutines routines = new PlacedRoutines(program, parts, key);
        return routines.copies().isEmpty()
                ? Optional.empty()
                : Optional.of(ServerCode.PLACED.get(kind).on(connection, connector, routines));
    }
}
