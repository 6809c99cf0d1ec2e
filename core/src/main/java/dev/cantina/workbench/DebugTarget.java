package dev.cantina.workbench;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.syntax.Source;
import dev.cantina.testing.TestCase;
import java.util.List;
import java.util.Optional;

/** What is run under the debugger. */
public sealed interface DebugTarget {
    /** The arguments of a call, once it is known what is called. */
    interface Given {
        /**
         * @return a value for each parameter, as a session takes them
         * @throws ProjectException where they don't fit
         */
        List<Optional<Object>> match(RoutineSymbol routine, Workspace workspace)
                throws ProjectException;
    }

    /**
     * A routine.
     *
     * @param names those of its arguments, by which one of several routines is chosen
     */
    record Routine(String name, List<String> names, Given given) implements DebugTarget {}

    /**
     * A case.
     *
     * @param atDifference whether it stops at the statement that the case's first difference comes
     *     from
     */
    record Case(TestCase testCase, boolean atDifference) implements DebugTarget {}

    /** A script, in the standard language or in that of the project's server. */
    record Script(Source source) implements DebugTarget {}
}
