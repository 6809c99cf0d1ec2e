package dev.cantina.cli;

/** The command line is wrong; the message says what to write instead. */
final class UsageException extends Exception {
    private static final long serialVersionUID = 1L;

    UsageException(String message) {
        super(message);
    }
}
