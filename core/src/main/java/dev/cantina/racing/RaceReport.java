package dev.cantina.racing;

import java.util.List;
import java.util.Map;

/**
 * What racing calls at one isolation level has shown.
 *
 * @param level in words; empty for the database's own
 * @param findings each kind once, the worst first, by the shortest order that shows it
 * @param tried how many orders were made
 * @param orders how many there are, with those that differ only in steps that touch nothing in
 *     common
 * @param isCutShort whether time ran out before all that matter were made
 */
public record RaceReport(
        String level, List<Finding> findings, int tried, double orders, boolean isCutShort) {
    /** What kind of finding it is, the worst first. */
    public enum Kind {
        /** An invariant does not hold at the end. */
        INVARIANT("an invariant is broken"),
        /** What one has changed is as if it had never been. */
        LOST_UPDATE("an update is lost"),
        /** Each has changed something on the strength of what the other was changing. */
        WRITE_SKEW("each goes by what the other changes"),
        /** Another end that no order one after the other comes to. */
        ANOMALY("no order one after the other comes to this"),
        HANGING("they wait without end"),
        DEADLOCK("they wait for each other, and one is ended"),
        REFUSED("one is told to try again");

        private final String words;

        Kind(String words) {
            this.words = words;
        }

        public String words() {
            return words;
        }
    }

    /**
     * Something that was found.
     *
     * @param run the order that shows it
     * @param differences from what comes of the calls one after the other, table by table
     * @param ends how each session ends, in words
     */
    public record Finding(
            Kind kind, RaceRun run, Map<String, Difference> differences, List<String> ends) {}

    /**
     * Rows that differ.
     *
     * @param here rows that are there alone in this order
     * @param serial rows that are there instead when the calls come one after the other, by the
     *     nearest order of these
     */
    public record Difference(List<String> here, List<String> serial) {}

    /** Whether something was found that loses or spoils data, or never ends. */
    public boolean isBad() {
        return findings.stream().anyMatch(f -> f.kind().compareTo(Kind.HANGING) <= 0);
    }
}
