package dev.cantina.debugging;

/** What was asked of the debugger can't be done; the message says why, and what to do. */
public final class DebugException extends Exception {
    private static final long serialVersionUID = 1L;

    public DebugException(String message) {
        super(message);
    }
}
