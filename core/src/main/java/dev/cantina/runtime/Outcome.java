package dev.cantina.runtime;

import dev.cantina.types.Condition;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What a run came to.
 *
 * @param out the OUT and INOUT values by name, in order; empty where the routine did not complete
 * @param returned a function's value
 * @param changes the rows that changed and stayed changed
 * @param stack of the condition, innermost first
 * @param statements executed
 * @param elapsedMillis in milliseconds
 */
public record Outcome(
        String routine,
        boolean isFunction,
        Kind kind,
        Map<String, Object> out,
        Object returned,
        List<ResultRows> results,
        List<String> messages,
        List<String> warnings,
        Changes changes,
        Optional<Condition> condition,
        List<StackEntry> stack,
        long statements,
        double elapsedMillis) {
    /** The rows that changed and stayed changed, in the order of their first change. */
    public List<RowEvent> events() {
        return changes.events();
    }

    /** How it ended. */
    public enum Kind {
        COMPLETED,
        RAISED,
        LIMITED
    }
}
