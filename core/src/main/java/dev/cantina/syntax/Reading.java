package dev.cantina.syntax;

import java.util.Optional;

/**
 * How a project's files are read.
 *
 * @param backticks whether {@code `name`} is a name and {@code #} begins a comment, as MariaDB has
 *     it
 * @param schema the key of the schema whose routines they are; empty where the files say it
 */
public record Reading(boolean backticks, Optional<String> schema) {
    /** As the standard has it. */
    public static final Reading STANDARD = new Reading(false, Optional.empty());
}
