package dev.cantina.translate;

import dev.cantina.database.ServerPart;
import java.util.List;

/**
 * Something that stands on a server: a routine, a trigger, what a module needs.
 *
 * @param kind what it is, in words: {@code procedure}, {@code function}, {@code trigger}
 * @param name as people call it
 * @param file the project's file that it comes from; empty for what Cantina needs itself
 * @param parts in the order of creation
 */
public record ServerObject(String kind, String name, String file, List<ServerPart> parts) {
    /** All that makes it, as one text. */
    public String text() {
        StringBuilder text = new StringBuilder();
        parts.forEach(p -> text.append(p.create().stripTrailing()).append(";\n\n"));
        return text.toString().stripTrailing() + "\n";
    }
}
