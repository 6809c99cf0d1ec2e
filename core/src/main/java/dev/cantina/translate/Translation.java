package dev.cantina.translate;

import dev.cantina.syntax.Problem;
import java.util.List;

/**
 * A project in a server's language.
 *
 * @param support what the translations need beside themselves, in the order of creation
 * @param objects the project's own, in the order of creation
 * @param refused what can't be said in the server's language, each at its line
 */
public record Translation(
        List<ServerObject> support, List<ServerObject> objects, List<Problem> refused) {
    /** What a file of it begins with, by which the next one knows that it may take its place. */
    public static final String MADE = "-- Made by cantina ship --to: the next one replaces it.\n\n";
}
