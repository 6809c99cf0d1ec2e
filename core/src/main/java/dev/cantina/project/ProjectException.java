package dev.cantina.project;

import dev.cantina.syntax.Problem;
import java.util.List;

/** A file of the project is wrong, or is not there. */
public final class ProjectException extends Exception {
    private static final long serialVersionUID = 1L;

    private final transient List<Problem> problems;

    /** Something wrong that has no place in a file. */
    public ProjectException(String message) {
        super(message);
        this.problems = List.of();
    }

    public ProjectException(Problem problem) {
        super(problem.message());
        this.problems = List.of(problem);
    }

    /** Several things wrong, at least one. */
    public ProjectException(List<Problem> problems) {
        super(problems.get(0).message());
        this.problems = List.copyOf(problems);
    }

    /** What is wrong, with its place; empty where the message says it all. */
    public List<Problem> problems() {
        return problems;
    }
}
