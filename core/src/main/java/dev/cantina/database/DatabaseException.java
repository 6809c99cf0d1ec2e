package dev.cantina.database;

import dev.cantina.syntax.Problem;

/** A database could not be prepared as the project says; the problem says where and why. */
public final class DatabaseException extends Exception {
    private static final long serialVersionUID = 1L;

    private final transient Problem problem;

    public DatabaseException(Problem problem) {
        super(problem.message());
        this.problem = problem;
    }

    public Problem problem() {
        return problem;
    }
}
