package dev.cantina.agree;

import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.ResultRows;
import dev.cantina.types.Condition;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What a caller can see of a call, wherever it ran.
 *
 * @param out the OUT and INOUT values by name, in order; empty where it ended in a condition
 * @param returned a function's value
 * @param says the lines reported
 */
public record Behaviour(
        Map<String, Object> out,
        Object returned,
        List<ResultRows> results,
        List<String> says,
        Optional<Condition> condition) {
    public static Behaviour of(Outcome outcome) {
        return new Behaviour(
                outcome.out(),
                outcome.returned(),
                outcome.results(),
                outcome.messages(),
                outcome.condition());
    }
}
