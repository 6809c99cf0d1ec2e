package dev.cantina.ship;

import dev.cantina.syntax.Problem;
import dev.cantina.translate.ServerObject;
import java.util.List;

/**
 * What is to be done on a server so that it has what the project has.
 *
 * @param steps in the order in which they are shown
 * @param refused what can't be said in the server's language
 */
public record Plan(List<Step> steps, List<Problem> refused) {
    /** What is done with an object. */
    public enum Action {
        CREATE,
        REPLACE,
        LEAVE,
        DROP,
        /** Nothing, because somebody else made it what it is; or what taking over does. */
        HOLD
    }

    /**
     * A step.
     *
     * @param why in words, for a person
     * @param takenOver what a HOLD becomes where the taking over was allowed
     * @param standing what the server has, where somebody changed it; otherwise empty
     */
    public record Step(
            Action action, ServerObject object, String why, Action takenOver, String standing) {}

    /** Whether something stands in the way that only the person can decide. */
    public boolean isHeld() {
        return steps.stream().anyMatch(s -> s.action() == Action.HOLD);
    }

    public long count(Action action) {
        return steps.stream().filter(s -> s.action() == action).count();
    }

    /** The same where the person has said that what others made may be replaced. */
    public Plan takenOver() {
        return new Plan(
                steps.stream()
                        .map(
                                s ->
                                        s.action() == Action.HOLD
                                                ? new Step(
                                                        s.takenOver(),
                                                        s.object(),
                                                        s.why() + ", and is taken over",
                                                        s.takenOver(),
                                                        s.standing())
                                                : s)
                        .toList(),
                refused);
    }
}
