package dev.cantina.nativecode;

import dev.cantina.database.ServerPart;
import java.util.List;

/**
 * A routine or trigger of a project in a server's own language, as another server of that kind
 * takes it.
 *
 * @param kind {@code procedure}, {@code function} or {@code trigger}
 * @param name as people call it
 * @param file the project's file that it stands in
 * @param parts what makes it: one, but for triggers whose order counts
 */
public record OwnObject(String kind, String name, String file, List<ServerPart> parts) {}
