package dev.cantina.binding;

import dev.cantina.syntax.Span;
import dev.cantina.types.SqlType;
import java.util.Optional;

/**
 * A variable of a routine, at its slot in the frame.
 *
 * @param name as its author wrote it; empty for one that no author wrote
 * @param type what its values are held as
 * @param declared the type as its author wrote it, in a server's own language
 */
public record Variable(
        int slot, String name, SqlType type, Kind kind, Span span, Optional<String> declared) {
    /** What kind of variable it is, which says what may be done with it. */
    public enum Kind {
        IN,
        OUT,
        INOUT,
        LOCAL,
        CONSTANT,
        OLD_ROW,
        NEW_ROW,
        LOOP_ROW,
        HIDDEN;

        public boolean isParameter() {
            return this == IN || this == OUT || this == INOUT;
        }

        public boolean isAssignable() {
            return this == IN || this == OUT || this == INOUT || this == LOCAL || this == HIDDEN;
        }
    }

    public Variable(int slot, String name, SqlType type, Kind kind, Span span) {
        this(slot, name, type, kind, span, Optional.empty());
    }

    /** The type in a few words: as its author wrote it, else its standard name. */
    public String typeInWords() {
        return declared.orElseGet(() -> type instanceof SqlType.Row ? "ROW" : type.sql());
    }

    public boolean isHidden() {
        return kind == Kind.HIDDEN;
    }
}
