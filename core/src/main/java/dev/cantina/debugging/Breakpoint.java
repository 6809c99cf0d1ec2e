package dev.cantina.debugging;

import java.util.Optional;

/**
 * A breakpoint.
 *
 * @param number by which it is called
 * @param kind what it stops for
 * @param routine whose statement, end or variable it is about; empty for one about all routines
 * @param line where it stands; 0 where it stands on no line, as at the end of a routine, unless the
 *     line of its END was asked for
 * @param asked the line that was asked for, which may have no statement
 * @param on what it stops for, where it stands on no line: {@code exception}, {@code not found} or
 *     an SQLSTATE; a variable; a table
 * @param condition as written
 * @param after how many times it is passed over first
 * @param every of the times after those, it stops at every Nth: with 2 the second, the fourth; 1
 *     for each
 * @param tells what is told where it is reached, which does not stop the run then: a text in which
 *     {@code {litres}} stands for the value of an expression
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
        Optional<String> tells,
        boolean enabled) {
    /** What a breakpoint stops for. */
    public enum Kind {
        LINE,
        END,
        CONDITION,
        CHANGE,
        WRITE
    }

    /** One that has no number yet, and stops each time. */
    static Breakpoint of(Kind kind, String routine, int line, String on) {
        return new Breakpoint(
                0, kind, routine, line, line, on, Optional.empty(), 0, 1, Optional.empty(), true);
    }

    Breakpoint when(Optional<String> holds) {
        return new Breakpoint(
                number, kind, routine, line, asked, on, holds, after, every, tells, enabled);
    }

    Breakpoint counted(int first, int then) {
        return new Breakpoint(
                number,
                kind,
                routine,
                line,
                asked,
                on,
                condition,
                first,
                Math.max(1, then),
                tells,
                enabled);
    }

    Breakpoint telling(Optional<String> text) {
        return new Breakpoint(
                number, kind, routine, line, asked, on, condition, after, every, text, enabled);
    }

    Breakpoint enabled(boolean now) {
        return new Breakpoint(
                number, kind, routine, line, asked, on, condition, after, every, tells, now);
    }

    Breakpoint numbered(int other) {
        return new Breakpoint(
                other, kind, routine, line, asked, on, condition, after, every, tells, enabled);
    }

    /** The same before the end of a routine. */
    Breakpoint atEnd(String in, int at) {
        return new Breakpoint(
                number, Kind.END, in, at, asked, on, condition, after, every, tells, enabled);
    }

    /** The same where it stands in a program. */
    Breakpoint standing(String in, int at) {
        return new Breakpoint(
                number, kind, in, at, asked, on, condition, after, every, tells, enabled);
    }

    /** Whether it was moved to the next line that has a statement. */
    public boolean isMoved() {
        return line != asked;
    }

    /** Whether both stand at one place, and only one of them is wanted. */
    boolean isAt(Breakpoint other) {
        return kind == other.kind
                && (line == other.line || kind == Kind.END)
                && routine.equalsIgnoreCase(other.routine)
                && on.equalsIgnoreCase(other.on);
    }

    /** Whether it depends on how often it was reached. */
    boolean isCounted() {
        return after > 0 || every > 1;
    }
}
