package dev.cantina.debugging;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.Optional;

/**
 * What a person has changed in a run, and when: it is done again when the run is repeated up to a
 * later moment.
 */
final class ReplayLog {
    /** What was done. */
    enum UserAction {
        SET,
        SQL,
        EVAL
    }

    /**
     * Something that was done while the run stood still.
     *
     * @param frame in which frame, counted from the innermost
     * @param name the variable, for {@link UserAction#SET}
     */
    record Step(ExecutionPoint moment, UserAction deed, int frame, String name, String text) {}

    private final List<Step> steps = new ArrayList<>();

    void add(Step step) {
        steps.add(step);
    }

    /** What is to be done again on the way to a moment, in order. */
    Deque<Step> until(ExecutionPoint moment) {
        Deque<Step> todo = new ArrayDeque<>();
        steps.stream().filter(s -> !s.moment().isAfter(moment)).forEach(todo::add);
        return todo;
    }

    /**
     * What was done after a moment has not been done.
     *
     * @return how much that was
     */
    int forgetAfter(ExecutionPoint moment) {
        int before = steps.size();
        steps.removeIf(s -> s.moment().isAfter(moment));
        return before - steps.size();
    }

    /** The moment of the next step, if there is one. */
    static Optional<ExecutionPoint> next(Deque<Step> todo) {
        return Optional.ofNullable(todo.peek()).map(Step::moment);
    }
}
