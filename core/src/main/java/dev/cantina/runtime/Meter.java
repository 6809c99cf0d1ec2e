package dev.cantina.runtime;

import dev.cantina.types.ConditionException;

/**
 * Counts what a run does, and ends it where a limit is passed or somebody interrupts. Compiled code
 * adds to {@link #statements} and calls {@link #poll} once {@link #next} is reached.
 */
public final class Meter {
    private static final long STRIDE = 4096;

    /** Statements executed so far. */
    public long statements;

    /** The count at which the next look at the limits is due. */
    public long next;

    /** From this count on a run that is watched tells its probe of each statement. */
    public long stop = Long.MAX_VALUE;

    private final Limits limits;
    private long started = System.nanoTime();
    private volatile boolean interrupted;
    private volatile boolean breakIn;
    private volatile boolean expired;
    private volatile boolean calledOff;

    Meter(Limits limits) {
        this.limits = limits;
        this.next = Math.min(STRIDE, limits.statements());
    }

    /** Counts from the beginning again: another run. */
    void restart() {
        statements = 0;
        next = Math.min(STRIDE, limits.statements());
        started = System.nanoTime();
        interrupted = false;
        expired = false;
        breakIn = false;
        calledOff = false;
    }

    /** Looks at the limits. */
    public void poll(Frame frame) {
        if (breakIn) {
            breakIn = false;
            stop = 0;
        }
        if (interrupted) {
            throw interruption(frame);
        }
        if (calledOff) {
            throw calledOff();
        }
        if (statements > limits.statements()) {
            throw limit(
                    "UL001",
                    "the limit of " + limits.statements() + " statements",
                    frame,
                    "statements=" + limits.statements() * 10);
        }
        if (elapsedSeconds() > limits.seconds()) {
            throw expiry(frame);
        }
        next = Math.min(statements + STRIDE, limits.statements() + 1);
        if (breakIn || interrupted || calledOff) {
            // Somebody has asked for it meanwhile.
            next = 0;
        }
    }

    ConditionException limit(String state, String what, Frame frame, String hint) {
        return new ConditionException(
                state,
                what
                        + " is passed"
                        + where(frame)
                        + ", after "
                        + statements
                        + " statements and "
                        + String.format(java.util.Locale.ROOT, "%.1f", elapsedSeconds())
                        + " s; raise it with --limit "
                        + hint);
    }

    private static String where(Frame frame) {
        if (frame == null) {
            return "";
        }
        StackEntry entry = frame.entry();
        return " in " + entry.routine() + ", line " + entry.place().line();
    }

    private double elapsedSeconds() {
        return (System.nanoTime() - started) / 1e9;
    }

    /** Notes that the time is up; may be called from any thread. */
    void expire() {
        expired = true;
    }

    /** Ends what a person has asked for, and not the run; may be called from any thread. */
    void callOff() {
        calledOff = true;
        next = 0;
    }

    boolean isCalledOff() {
        return calledOff;
    }

    /** What somebody who calls a question off gets for an answer. */
    static ConditionException calledOff() {
        return new ConditionException("UL000", "called off");
    }

    /** A question is over: what ended it does not end the run. */
    void answered() {
        calledOff = false;
        expired = false;
    }

    boolean isExpired() {
        return expired;
    }

    /** What passing the limit of seconds raises. */
    ConditionException expiry(Frame frame) {
        return limit(
                "UL002",
                "the limit of " + limits.seconds() + " seconds",
                frame,
                "seconds=" + limits.seconds() * 10);
    }

    boolean isInterrupted() {
        return interrupted;
    }

    /** What an interrupt raises; a statement that it cut off must not look like an error. */
    ConditionException interruption(Frame frame) {
        return new ConditionException("UL000", "interrupted" + where(frame));
    }

    /** How long the run may still take, in whole seconds, at least 1. */
    int secondsLeft() {
        return (int) Math.max(1, Math.ceil(limits.seconds() - elapsedSeconds()));
    }

    /** How many seconds are left. */
    double left() {
        return limits.seconds() - elapsedSeconds();
    }

    /** When the run began, by {@link System#nanoTime}, what it waited since then left out. */
    long begun() {
        return started;
    }

    /** Moves the beginning: what lies between was nobody's work. */
    void begin(long nanos) {
        started = nanos;
    }

    double elapsedMillis() {
        return (System.nanoTime() - started) / 1e6;
    }

    /** Makes the probe be told of the next statement; may be called from any thread. */
    void breakIn() {
        breakIn = true;
        next = 0;
    }

    /** Ends the run at the next look; may be called from any thread. */
    void interrupt() {
        interrupted = true;
        next = 0;
    }
}
