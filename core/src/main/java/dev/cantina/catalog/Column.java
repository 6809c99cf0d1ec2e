package dev.cantina.catalog;

import dev.cantina.types.SqlType;
import java.util.Optional;

/**
 * A column of a table.
 *
 * @param name as its author wrote it
 * @param key as it is looked up
 * @param initial the default, as SQL
 * @param identity whether the database numbers it
 * @param generated whether the database works it out from other columns
 */
public record Column(
        String name,
        String key,
        SqlType type,
        boolean nullable,
        Optional<String> initial,
        boolean identity,
        boolean generated) {}
