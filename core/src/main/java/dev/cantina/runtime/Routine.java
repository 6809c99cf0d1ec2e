package dev.cantina.runtime;

import dev.cantina.binding.BoundRoutine;

/** A routine of a program, compiled when it is first run. Safe for use by several threads. */
public final class Routine {
    private final Program program;
    private final BoundRoutine bound;
    private final boolean outlivesFailures;
    private volatile RoutineCode plain;
    private volatile RoutineCode probed;

    Routine(Program program, BoundRoutine bound) {
        this.program = program;
        this.bound = bound;
        this.outlivesFailures = bound.outlivesFailures();
    }

    /** Whether it can go on after one of its statements has failed. */
    boolean outlivesFailures() {
        return outlivesFailures;
    }

    public BoundRoutine bound() {
        return bound;
    }

    RoutineCode code(boolean withProbe) {
        RoutineCode code = withProbe ? probed : plain;
        return code == null ? compile(withProbe) : code;
    }

    private synchronized RoutineCode compile(boolean withProbe) {
        RoutineCode code = withProbe ? probed : plain;
        if (code == null) {
            code = new RoutineCompiler(program, bound, withProbe).compile();
            if (withProbe) {
                probed = code;
            } else {
                plain = code;
            }
        }
        return code;
    }
}
