package dev.cantina.runtime;

import dev.cantina.binding.BoundRoutine;

/** A routine of a program, compiled when it is first run. Safe for use by several threads. */
public final class Routine {
    private final Program program;
    private volatile BoundRoutine bound;
    private volatile boolean outlivesFailures;
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

    /** What it does until {@link Planted#close}; nobody runs it meanwhile. */
    Planted plant(BoundRoutine other, RoutineCode code) {
        BoundRoutine own = bound;
        boolean outlives = outlivesFailures;
        RoutineCode ownPlain = plain;
        RoutineCode ownProbed = probed;
        become(other, other.outlivesFailures(), code, null);
        return () -> become(own, outlives, ownPlain, ownProbed);
    }

    private void become(
            BoundRoutine what, boolean outlives, RoutineCode without, RoutineCode withProbe) {
        bound = what;
        outlivesFailures = outlives;
        plain = without;
        probed = withProbe;
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
