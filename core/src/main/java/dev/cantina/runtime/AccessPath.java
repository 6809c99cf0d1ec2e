package dev.cantina.runtime;

import java.util.OptionalLong;

/**
 * How a database finds the rows of a table for a statement.
 *
 * @param table as its author wrote it
 * @param path what it goes by: an index and its condition, or the table itself
 * @param wholeTable whether every row is looked at
 * @param scanned how many rows were looked at, where that is known
 */
public record AccessPath(String table, String path, boolean wholeTable, OptionalLong scanned) {}
