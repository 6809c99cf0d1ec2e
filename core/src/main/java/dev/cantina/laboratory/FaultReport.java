package dev.cantina.laboratory;

import java.util.List;

/**
 * What trying a run's faults has shown.
 *
 * @param title what was run
 * @param replay the command that debugs it, but for the fault
 * @param findings the worst first; those with nothing to find at the end
 * @param statements how often a statement touched data in the run without a fault
 * @param left how many of those were not tried, since the same statement was tried often enough
 * @param isCut whether the time was up before all was tried
 * @param elapsedMillis in milliseconds
 */
public record FaultReport(
        String title,
        String replay,
        List<FaultFinding> findings,
        int statements,
        int left,
        boolean isCut,
        double elapsedMillis) {
    /** Those with something to find. */
    public List<FaultFinding> bad() {
        return findings.stream().filter(f -> f.weight() > 0).toList();
    }
}
