package dev.cantina.runtime;

import dev.cantina.types.Condition;
import java.util.List;

/** A condition on its way up, with the call stack of the place that raised it. */
public final class RaisedException extends RuntimeException {
    private static final long serialVersionUID = 1L;

    private final transient Condition condition;
    private final transient List<StackEntry> stack;

    RaisedException(Condition condition, List<StackEntry> stack) {
        super(condition.message(), null, false, false);
        this.condition = condition;
        this.stack = List.copyOf(stack);
    }

    public Condition condition() {
        return condition;
    }

    /** Innermost first. */
    public List<StackEntry> stack() {
        return stack;
    }
}
