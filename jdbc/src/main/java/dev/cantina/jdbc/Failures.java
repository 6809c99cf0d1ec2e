package dev.cantina.jdbc;

import dev.cantina.project.ProjectException;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.Program;
import dev.cantina.runtime.StackEntry;
import dev.cantina.syntax.Problem;
import dev.cantina.types.Condition;
import java.sql.SQLDataException;
import java.sql.SQLException;
import java.sql.SQLFeatureNotSupportedException;
import java.sql.SQLIntegrityConstraintViolationException;
import java.sql.SQLInvalidAuthorizationSpecException;
import java.sql.SQLNonTransientConnectionException;
import java.sql.SQLSyntaxErrorException;
import java.sql.SQLTimeoutException;
import java.sql.SQLTransactionRollbackException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.Collectors;

/** What went wrong, as a program that speaks JDBC expects to be told. */
final class Failures {
    private Failures() {}

    /** Something that JDBC has no better class for. */
    static SQLException of(String state, String message) {
        return switch (state.substring(0, 2)) {
            case "08" -> new SQLNonTransientConnectionException(message, state);
            case "0A" -> new SQLFeatureNotSupportedException(message, state);
            case "22" -> new SQLDataException(message, state);
            case "23" -> new SQLIntegrityConstraintViolationException(message, state);
            case "28" -> new SQLInvalidAuthorizationSpecException(message, state);
            case "40" -> new SQLTransactionRollbackException(message, state);
            case "42" -> new SQLSyntaxErrorException(message, state);
            default ->
                    state.equals("UL002")
                            ? new SQLTimeoutException(message, state)
                            : new SQLException(message, state);
        };
    }

    /** The condition that a run has ended in; its stack trace begins with the routines. */
    static SQLException of(Outcome outcome) {
        Condition condition = outcome.condition().orElseThrow();
        // A program says its limits in its URL.
        String message = condition.message().replace("--limit ", "?limits=");
        SQLException failure = of(condition.sqlstate(), message);
        List<StackTraceElement> trace = new ArrayList<>();
        for (StackEntry entry : outcome.stack()) {
            trace.add(
                    new StackTraceElement(
                            "routine",
                            entry.routine(),
                            entry.place().source().name(),
                            entry.place().line()));
        }
        trace.addAll(Arrays.asList(failure.getStackTrace()));
        failure.setStackTrace(trace.toArray(StackTraceElement[]::new));
        for (Condition earlier : condition.earlier()) {
            failure.setNextException(of(earlier.sqlstate(), earlier.message()));
        }
        return failure;
    }

    /** Routines with errors, which are not run. */
    static SQLException of(Program.UnsoundException e) {
        return of("42000", e.getMessage() + ": " + places(e.problems()));
    }

    /** A project that can't be opened. */
    static SQLException of(ProjectException e) {
        SQLException failure =
                of("08001", e.problems().isEmpty() ? e.getMessage() : places(e.problems()));
        failure.initCause(e);
        return failure;
    }

    private static String places(List<Problem> problems) {
        return problems.stream()
                .filter(Problem::isError)
                .map(p -> p.span().place() + ": " + p.message())
                .distinct()
                .collect(Collectors.joining("; "));
    }
}
