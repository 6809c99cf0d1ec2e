package dev.cantina.syntax;

import java.util.List;
import java.util.Optional;

/** A type as written. */
public sealed interface TypeSyntax extends Node {
    /**
     * A predefined type.
     *
     * @param name its words in upper case, one blank between, such as {@code DOUBLE PRECISION} or
     *     {@code TIMESTAMP WITH TIME ZONE}; an interval's fields stand in it too
     * @param arguments length, or precision and scale; empty where not written
     */
    record Predefined(Span span, String name, List<Integer> arguments) implements TypeSyntax {
        public Predefined {
            arguments = List.copyOf(arguments);
        }
    }

    /** {@code element ARRAY[n]}. */
    record Array(Span span, TypeSyntax element, Optional<Integer> maximum) implements TypeSyntax {}

    /** {@code ROW(name type, …)}. */
    record Row(Span span, List<Field> fields) implements TypeSyntax {}

    /** {@code TABLE (column type, …)}: what a function gives that gives rows. */
    record Table(Span span, List<Field> columns) implements TypeSyntax {}

    /** A field of a row type. */
    record Field(Span span, Name name, TypeSyntax type) implements Node {}

    /** {@code LIKE table.column}, or {@code LIKE table} for the row of all its columns. */
    record Like(Span span, Name table, Optional<Name> column) implements TypeSyntax {}
}
