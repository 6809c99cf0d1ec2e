package dev.cantina.debugging;

/**
 * How a run goes on after a stop.
 *
 * @param line for {@link Kind#TO} and {@link Kind#BACK_TO} the line of this routine
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
        /** Back to the statement before, of this frame or the one that called it. */
        BACK,
        /** Back to the statement that was run last, wherever it is. */
        BACK_INTO,
        /** Back to when this frame last stood at a line. */
        BACK_TO,
        /** Back to the first statement. */
        RESTART,
        /** No further: the run is rolled back. */
        QUIT
    }

    public static Resume of(Kind kind) {
        return new Resume(kind, 0);
    }
}
