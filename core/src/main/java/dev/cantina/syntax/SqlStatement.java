package dev.cantina.syntax;

import java.util.Optional;

/**
 * A statement that goes to the database, as a tree. What its reader does not know is kept as it
 * stands, and nothing may be concluded from a part that holds such a stretch.
 */
public sealed interface SqlStatement extends Node
        permits Query, Change, SqlStatement.Schema, SqlStatement.Unread {
    /**
     * A statement that makes, changes or drops what the database holds, or sets how it works.
     *
     * @param made the table or view that it makes, without its schema
     * @param value what can be read in it
     */
    record Schema(Span span, String verb, Optional<Name> made, SqlValue value)
            implements SqlStatement {}

    /**
     * A statement of a kind that is not known, or with something in it that is not.
     *
     * @param value what can be read in it
     */
    record Unread(Span span, SqlValue value) implements SqlStatement {}

    /** Whether it is a query or a change, brackets around it left out. */
    default boolean isData() {
        if (this instanceof Query.Ordered ordered) {
            return ordered.inner().isData();
        }
        return this instanceof Query.Bracketed bracketed
                ? bracketed.inner().isData()
                : this instanceof Query || this instanceof Change;
    }

    /** The query that it is; empty where it is none. */
    default Optional<Query> query() {
        return this instanceof Query query ? Optional.of(query) : Optional.empty();
    }
}
