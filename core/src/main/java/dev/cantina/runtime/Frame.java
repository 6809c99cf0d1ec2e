package dev.cantina.runtime;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.Variable;
import dev.cantina.types.Logic;
import dev.cantina.types.SqlType;
import java.lang.reflect.Field;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;

/**
 * One activation of a routine. The compiler writes a subclass for each routine, whose fields are
 * its variables: {@code v3} for slot 3, and {@code p3} for whether it holds a value, where the
 * carrier is no reference. The public fields here are for compiled code alone.
 *
 * <p>A frame may be used only on the thread of its session, and, by others than compiled code, only
 * while it is on the session's stack.
 */
public abstract class Frame {
    /** The number of the statement that runs. */
    public int at;

    public Session session;
    public Meter meter;

    /** In a run that is watched: at which count of statements the one at {@link #at} began. */
    public long moment;

    /** The same of the statement before it in this frame; 0 where it is the first. */
    public long earlier;

    /** For each statement whether anybody wants to know that it is reached. */
    public byte[] watch;

    /** What a function returns. */
    public Object result;

    /** Where the ATOMIC blocks that are open began, by number. */
    public Mark[] marks;

    /** The mark of the outermost ATOMIC block that each running handler stands outside of. */
    private Map<Integer, Integer> open = Map.of();

    /** Says what a handler that goes on leaves open; -1 for nothing. */
    void runs(int handler, int mark) {
        if (mark >= 0 && open.isEmpty()) {
            open = new HashMap<>();
        }
        if (mark >= 0 || !open.isEmpty()) {
            open.put(handler, mark);
        }
    }

    int open(int handler) {
        return open.getOrDefault(handler, -1);
    }

    private boolean elsewhere;

    Cursor[] cursors;
    RoutineCode code;
    Frame caller;
    int depth;

    /** Puts the arguments into the parameters; called once, before {@link #run}. */
    public abstract void take(Object[] arguments);

    /** The values of the parameters, after the run. */
    public abstract Object[] give();

    /** Runs the body; the number that it gives means nothing to others than compiled code. */
    public abstract int run();

    /** Whether a server runs it, in a copy of the routine, and tells of it. */
    public final boolean isElsewhere() {
        return elsewhere;
    }

    /** Whether what it gives is still to be told. */
    protected boolean untold;

    /** What it gives has been told by the server that runs it. */
    public final void given() {
        untold = false;
    }

    /** Whether what it gives is known when it ends. */
    public final boolean knowsWhatItGives() {
        return !untold;
    }

    public final Frame caller() {
        return caller;
    }

    /** The cursor at a slot, where it is open. */
    public final Optional<Cursor> cursor(int slot) {
        return cursors == null ? Optional.empty() : Optional.ofNullable(cursors[slot]);
    }

    /** A frame of a routine whose copy a server runs. */
    public static Frame elsewhere(Routine routine) {
        Frame frame = routine.code(true).newFrame();
        frame.elsewhere = true;
        frame.untold = true;
        return frame;
    }

    /** How many frames stand on each other, this one included. */
    public final int depth() {
        return depth;
    }

    public final BoundRoutine routine() {
        return code.routine();
    }

    public final RoutineCode code() {
        return code;
    }

    public final BoundRoutine.Place place() {
        return routine().places().get(at);
    }

    public final StackEntry entry() {
        BoundRoutine routine = routine();
        boolean known = at < routine.places().size();
        return new StackEntry(
                routine.name(), known ? routine.places().get(at).span() : routine.span());
    }

    /** For compiled code: tells the probe that the statement at {@link #at} is reached. */
    public final void reached() {
        session.reached(this);
    }

    /** The value of a variable, as {@link SqlType} says values are held. */
    public Object get(Variable variable) {
        try {
            Object value = field("v", variable).get(this);
            return switch (variable.type().carrier()) {
                case LONG, APPROXIMATE -> field("p", variable).getBoolean(this) ? value : null;
                case TRI_STATE -> Logic.value((Integer) value);
                case OBJECT -> value;
            };
        } catch (ReflectiveOperationException e) {
            throw new IllegalStateException(e);
        }
    }

    /** Gives a variable a value, which must be one of its type. */
    public void set(Variable variable, Object value) {
        try {
            Field field = field("v", variable);
            switch (variable.type().carrier()) {
                case LONG -> {
                    field.setLong(this, value == null ? 0 : (Long) value);
                    field("p", variable).setBoolean(this, value != null);
                }
                case APPROXIMATE -> {
                    field.setDouble(this, value == null ? 0 : (Double) value);
                    field("p", variable).setBoolean(this, value != null);
                }
                case TRI_STATE -> field.setInt(this, Logic.of(value));
                case OBJECT -> field.set(this, value);
            }
        } catch (ReflectiveOperationException e) {
            throw new IllegalStateException(e);
        }
    }

    private Field field(String prefix, Variable variable) throws NoSuchFieldException {
        return getClass().getField(prefix + variable.slot());
    }
}
