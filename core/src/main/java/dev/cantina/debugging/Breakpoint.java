package dev.cantina.debugging;

import java.util.Optional;

/**
 * A breakpoint.
 *
 * @param number by which it is called
 * @param routine whose statement it stands on; empty for one on conditions
 * @param line where it stands
 * @param asked the line that was asked for, which may have no statement
 * @param condition as written
 * @param after how many times it is passed over first
 * @param every it stops each so many times after that; 1 for each time
 * @param on what it stops for, where it stands on no line: exception, not found, or an SQLSTATE
 */
public record Breakpoint(
        int number,
        String routine,
        int line,
        int asked,
        Optional<String> condition,
        int after,
        int every,
        Optional<String> on,
        boolean enabled) {
    Breakpoint enabled(boolean now) {
        return new Breakpoint(number, routine, line, asked, condition, after, every, on, now);
    }

    /** Whether it was moved to the next line that has a statement. */
    public boolean isMoved() {
        return line != asked;
    }
}
