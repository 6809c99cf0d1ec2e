package dev.cantina.binding;

import dev.cantina.syntax.Span;
import dev.cantina.types.SqlType;

/**
 * A variable of a routine, at its slot in the frame.
 *
 * @param name as its author wrote it; empty for one that no author wrote
 */
public record Variable(int slot, String name, SqlType type, Kind kind, Span span) {
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

    public boolean isHidden() {
        return kind == Kind.HIDDEN;
    }
}
