package dev.cantina.runtime;

import dev.cantina.types.SqlType;
import java.util.List;

/** A result set, read to its end. */
public record ResultRows(List<SqlType.Field> columns, List<Object[]> rows) {}
