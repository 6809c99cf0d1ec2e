package dev.cantina.racing;

import dev.cantina.runtime.Outcome;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * What one order of steps came to.
 *
 * @param steps in the order in which they were begun
 * @param choices before each step the sessions that could have been next, the one chosen first
 * @param calls what is called, by session
 * @param outcomes of the calls, by session
 * @param rows of each table at the end, each row as a text by its columns; numbers that the
 *     database gives are left out
 * @param numbers that the database has given to rows
 * @param broken the invariants that do not hold at the end
 * @param isDeadlock whether sessions waited for each other, and one was ended for that
 * @param isHanging whether they waited without end, and were ended from here
 */
public record RaceRun(
        List<RaceStep> steps,
        List<List<Integer>> choices,
        List<RaceCall.Found> calls,
        List<Outcome> outcomes,
        Map<String, List<String>> rows,
        Set<String> numbers,
        List<String> broken,
        boolean isDeadlock,
        boolean isHanging) {
    /** How often another session is next. */
    public int switches() {
        int switches = 0;
        for (int i = 1; i < steps.size(); i++) {
            switches += steps.get(i).session() == steps.get(i - 1).session() ? 0 : 1;
        }
        return switches;
    }

    /** The sessions of the steps, by which the order can be made again. */
    public List<Integer> order() {
        return steps.stream().map(RaceStep::session).toList();
    }
}
