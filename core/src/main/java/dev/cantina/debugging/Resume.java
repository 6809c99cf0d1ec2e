package dev.cantina.debugging;

/**
 * How a run goes on after a stop.
 *
 * @param line for {@link Kind#TO} the line to run to
 */
public record Resume(Kind kind, int line) {
    /** The ways to go on. */
    public enum Kind {
        /** To the next statement, wherever it is. */
        INTO,
        /** To the next statement of this frame, or of one below it. */
        OVER,
        /** To the next statement after this frame has ended. */
        OUT,
        /** To a line of this routine, in this frame or one below it. */
        TO,
        /** To the next breakpoint. */
        CONTINUE,
        /** No further: the run is rolled back. */
        QUIT
    }

    public static Resume of(Kind kind) {
        return new Resume(kind, 0);
    }
}
