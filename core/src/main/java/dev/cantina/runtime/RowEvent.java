package dev.cantina.runtime;

import dev.cantina.catalog.Table;
import java.util.Optional;

/**
 * A row that is not as it was.
 *
 * @param before the row's values in the order of the table's columns; null for an added row
 * @param after likewise; null for a removed row
 * @param writer the statement that changed it last; empty where no routine was running
 */
public record RowEvent(Table table, Object[] before, Object[] after, Optional<StackEntry> writer) {}
