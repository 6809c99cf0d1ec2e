package dev.cantina.debugging;

import dev.cantina.types.SqlType;

/**
 * What an expression comes to.
 *
 * @param value held as {@link SqlType} says
 */
public record Evaluated(SqlType type, Object value) {}
