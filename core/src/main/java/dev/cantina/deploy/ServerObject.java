package dev.cantina.deploy;

import java.util.List;

/**
 * Something that stands on a server: a routine, a trigger, what a module needs.
 *
 * @param kind what it is, in words: {@code procedure}, {@code function}, {@code trigger}
 * @param name as people call it
 * @param identity what the server tells it by: two objects of one identity are the same one
 * @param file the project's file that it comes from; empty for what Cantina needs itself
 * @param create the statements that make it, in order
 * @param drop the statements that take it away, in order
 */
public record ServerObject(
        String kind,
        String name,
        String identity,
        String file,
        List<String> create,
        List<String> drop) {
    /** All that makes it, as one text. */
    public String text() {
        StringBuilder text = new StringBuilder();
        create.forEach(s -> text.append(s.stripTrailing()).append(";\n\n"));
        return text.toString().stripTrailing() + "\n";
    }
}
