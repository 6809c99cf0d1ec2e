package dev.cantina.runtime;

import dev.cantina.binding.BoundRoutine;
import java.lang.invoke.MethodHandle;

/** A compiled routine, with probe points or without. */
public final class RoutineCode {
    private final BoundRoutine routine;
    private final MethodHandle creator;
    private final Class<?> type;
    private final int marks;

    RoutineCode(BoundRoutine routine, Class<?> type, MethodHandle creator, int marks) {
        this.routine = routine;
        this.type = type;
        this.creator = creator;
        this.marks = marks;
    }

    /** A routine that a server runs: there is nothing compiled of it. */
    public static RoutineCode onServer(BoundRoutine routine) {
        return new RoutineCode(routine, ServerFrame.class, null, 0);
    }

    public BoundRoutine routine() {
        return routine;
    }

    Class<?> type() {
        return type;
    }

    Frame newFrame() {
        try {
            Frame frame = (Frame) creator.invokeExact();
            frame.code = this;
            frame.marks = marks == 0 ? null : new Mark[marks];
            return frame;
        } catch (Throwable e) {
            throw new IllegalStateException(e);
        }
    }
}
