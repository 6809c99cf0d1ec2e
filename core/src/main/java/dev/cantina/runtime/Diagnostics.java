package dev.cantina.runtime;

import dev.cantina.types.Condition;
import java.util.ArrayDeque;
import java.util.Deque;

/**
 * The stack of diagnostics areas (ISO 9075-2, 23.1): the one of the last statement, and under it,
 * while handlers run, those of the conditions that set them off.
 */
final class Diagnostics {
    private static final Condition SUCCESS = new Condition("00000", "");

    /** What a statement left. */
    record Area(Condition condition, long rowCount, String command, String routine) {
        static final Area CLEAR = new Area(SUCCESS, 0, "", "");
    }

    /** A handler that runs, and what set it off. */
    private record Activation(Area area, RaisedException cause) {}

    private Area current = Area.CLEAR;
    private final Deque<Activation> activations = new ArrayDeque<>();

    Area current() {
        return current;
    }

    void set(Area area) {
        current = area;
    }

    void clear() {
        current = Area.CLEAR;
    }

    /** A handler begins: it sees the area of its condition, and has it under its own too. */
    void push(RaisedException cause, String routine) {
        Area area = new Area(cause.condition(), 0, current.command(), routine);
        activations.push(new Activation(area, cause));
        current = area;
    }

    void pop() {
        current = activations.pop().area();
    }

    boolean isHandling() {
        return !activations.isEmpty();
    }

    /** What set off the innermost handler that runs. */
    RaisedException cause() {
        return activations.peek().cause();
    }

    Area stacked() {
        return activations.peek().area();
    }

    int depth() {
        return activations.size();
    }
}
