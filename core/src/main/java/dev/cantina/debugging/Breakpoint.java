package dev.cantina.debugging;

import java.util.Optional;

/**
 * A breakpoint.
 *
 * @param number by which it is called
 * @param kind what it stops for
 * @param routine whose statement, end or variable it is about; empty for one about all routines
 * @param line where it stands; 0 where it stands on no line
 * @param asked the line that was asked for, which may have no statement
 * @param on what it stops for, where it stands on no line: {@code exception}, {@code not found} or
 *     an SQLSTATE; a variable; a table
 * @param condition as written
 * @param after how many times it is passed over first
 * @param every of the times after those, it stops at every Nth: with 2 the second, the fourth; 1
 *     for each
 */
public record Breakpoint(
        int number,
        Kind kind,
        String routine,
        int line,
        int asked,
        String on,
        Optional<String> condition,
        int after,
        int every,
        boolean enabled) {
    /** What a breakpoint stops for. */
    public enum Kind {
        LINE,
        END,
        CONDITION,
        CHANGE,
        WRITE
    }

    Breakpoint enabled(boolean now) {
        return new Breakpoint(number, kind, routine, line, asked, on, condition, after, every, now);
    }

    Breakpoint numbered(int other) {
        return new Breakpoint(
                other, kind, routine, line, asked, on, condition, after, every, enabled);
    }

    /** Whether it was moved to the next line that has a statement. */
    public boolean isMoved() {
        return line != asked;
    }

    /** Whether both stand at one place, and only one of them is wanted. */
    boolean isAt(Breakpoint other) {
        return kind == other.kind
                && line == other.line
                && routine.equalsIgnoreCase(other.routine)
                && on.equalsIgnoreCase(other.on);
    }

    /** Whether it depends on how often it was reached. */
    boolean isCounted() {
        return after > 0 || every > 1;
    }
}
