package dev.cantina.runtime;

import dev.cantina.catalog.Table;

/**
 * What became of a row since a moment of the transaction.
 *
 * @param before the row's values in the order of the table's columns; null where it was not there
 * @param after likewise; null where it is there no more
 * @param position where in the transaction's log it was last changed
 */
public record RowChange(Table table, Object[] before, Object[] after, long position) {}
