package dev.cantina.runtime;

/**
 * How far a run may go.
 *
 * @param statements executed
 * @param seconds of wall time
 * @param depth of calls
 * @param rows held
 */
public record Limits(long statements, double seconds, int depth, long rows) {
    public static final Limits DEFAULT = new Limits(10_000_000, 60, 200, 1_000_000);
}
