package dev.cantina.types;

/**
 * Carries a condition up to whoever handles it. It is part of how routines run and is thrown often,
 * so it holds no Java stack.
 */
public final class ConditionException extends RuntimeException {
    private static final long serialVersionUID = 1L;

    private final transient Condition condition;

    public ConditionException(Condition condition) {
        super(condition.message(), null, false, false);
        this.condition = condition;
    }

    public ConditionException(String sqlstate, String message) {
        this(new Condition(sqlstate, message));
    }

    public Condition condition() {
        return condition;
    }
}
