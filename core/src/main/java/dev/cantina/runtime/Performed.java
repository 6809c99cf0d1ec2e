package dev.cantina.runtime;

import java.util.Optional;

/**
 * What a statement did in the database.
 *
 * @param site the place in the code; empty for a statement given as text
 * @param text what was sent, where that was given as text; else {@link Session#text} knows it
 * @param values what was sent for the markers; not to be changed
 * @param rows how many rows it changed, or gave; -1 before it is done
 * @param changes whether it may have changed rows
 * @param from how far the log of changes had got before it, where it may change rows; else -1
 */
public record Performed(
        Optional<DataSite> site,
        Optional<String> text,
        Object[] values,
        long rows,
        boolean changes,
        long from) {}
