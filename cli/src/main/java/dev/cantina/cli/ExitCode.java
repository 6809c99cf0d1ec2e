package dev.cantina.cli;

/** What the process ends with. */
final class ExitCode {
    static final int WELL = 0;
    static final int FAILED = 1;
    static final int USAGE = 2;
    static final int RAISED = 3;
    static final int DATABASE = 4;
    static final int LIMITED = 5;
    static final int INTERRUPTED = 130;

    private ExitCode() {}
}
