package dev.cantina.laboratory;

import dev.cantina.runtime.Probe;
import java.util.List;
import java.util.Optional;

/** What is to go wrong in each of some runs, in its order, and what came of it in the last one. */
public final class FaultPlan {
    private final List<Fault> faults;
    private FaultProbe last;

    public FaultPlan(List<Fault> faults) {
        this.faults = List.copyOf(faults);
    }

    /** What watches the next run, and makes things go wrong in it. */
    public Optional<Probe> watched(Optional<Probe> probe) {
        if (faults.isEmpty()) {
            return probe;
        }
        last = new FaultProbe(faults, probe);
        return Optional.of(last);
    }

    /** Why one of them has not come in the last run; empty where all have, or nothing was run. */
    public Optional<String> notCome() {
        return Optional.ofNullable(last).flatMap(FaultProbe::notCome);
    }
}
