package dev.cantina.binding;

import dev.cantina.catalog.Table;

/**
 * A table that belongs to a block, or to a trigger: there while that runs, and empty when it
 * begins.
 *
 * @param number counts the tables of a routine from 0
 * @param sqlName how a statement names it
 * @param preserve whether COMMIT leaves its rows
 * @param readOnly whether it is a transition table
 */
public record DeclaredTable(
        int number, Table table, String sqlName, boolean preserve, boolean readOnly) {}
