package dev.cantina.runtime;

import dev.cantina.catalog.RoutineSymbol;
import java.util.function.Consumer;

/** Does the work of routines that are replaced for a session. */
public interface StandIn {
    /** Whether a routine is replaced. */
    boolean replaces(RoutineSymbol routine);

    /**
     * Does a routine's work.
     *
     * @param values a value for each parameter; null for one that only gives
     * @param results takes what the routine hands out
     * @return the values of all parameters afterwards, and the result last
     * @throws dev.cantina.types.ConditionException where it is to end in a condition
     */
    Object[] stand(RoutineSymbol routine, Object[] values, Consumer<ResultRows> results);
}
