package dev.cantina.nativecode;

import dev.cantina.syntax.Span;

/**
 * A variable of a routine in a server's own language.
 *
 * @param name as it is written in the routine
 * @param type as the server writes it
 * @param kind what may be done with it
 */
public record NativeVariable(String name, String type, Kind kind, Span span) {
    /** What kind of variable it is. */
    public enum Kind {
        PARAMETER,
        LOCAL,
        CONSTANT,
        CURSOR,
        LOOP,
        /** The row that a trigger is fired for. */
        ROW,
        /** What the language itself declares, such as {@code sqlerrm}. */
        SPECIAL
    }
}
