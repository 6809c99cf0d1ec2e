package dev.cantina.debugging;

import java.util.List;

/**
 * How a run goes on after a stop.
 *
 * @param line for {@link Kind#TO} and {@link Kind#BACK_TO} the line of this routine; for {@link
 *     Kind#RESTART_FRAME} the number of the frame, from 0; for {@link Kind#INTO_CALL} which of the
 *     statement's calls of the routine, from 1
 * @param into for {@link Kind#INTO_CALL} the routine's name
 */
public record Resume(Kind kind, int line, String into) {
    /** The ways to go on. */
    public enum Kind {
        /** To the next statement, wherever it is. */
        INTO,
        /** Into one call of this statement; where it does not come to it, as {@link #OVER}. */
        INTO_CALL,
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
        /** Back to the breakpoint that was reached last before. */
        BACK_CONTINUE,
        /** Back to the first statement of a frame. */
        RESTART_FRAME,
        /** Back to the first statement. */
        RESTART,
        /** No further: the run is rolled back. */
        QUIT;

        /** Whether it leads to an earlier moment. */
        public boolean isBack() {
            return List.of(BACK, BACK_INTO, BACK_TO, BACK_CONTINUE, RESTART_FRAME, RESTART)
                    .contains(this);
        }
    }

    public Resume(Kind kind, int line) {
        this(kind, line, "");
    }

    public static Resume of(Kind kind) {
        return new Resume(kind, 0);
    }
}
