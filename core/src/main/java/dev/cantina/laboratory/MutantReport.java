package dev.cantina.laboratory;

import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What became of the mistakes.
 *
 * @param results of those that were tried, in the order of the files
 * @param cases how many cases were run
 * @param leftOut cases that do not pass as it is, and tell nothing
 * @param kept routines that are as they were when they were tried last, with what came of that
 * @param untried how many mistakes there was no time for
 * @param runs how many cases were run with mistakes
 */
public record MutantReport(
        List<Result> results,
        int cases,
        List<String> leftOut,
        List<Kept> kept,
        int untried,
        long runs) {
    /** What became of one. */
    public enum Verdict {
        /** A case does not pass any longer. */
        NOTICED,
        /** Cases run through it, and all pass. */
        UNNOTICED,
        /** No case runs through it. */
        UNREACHED,
        /** No run can tell it from what is right. */
        INDISTINCT
    }

    /**
     * A mistake, and what became of it.
     *
     * @param routine in which it was planted
     * @param cases how many run through it
     * @param by the case that noticed it
     * @param why no run can tell it, where that is shown
     * @param draft a call that would notice it
     */
    public record Result(
            Mutation mutation,
            String routine,
            Verdict verdict,
            int cases,
            Optional<String> by,
            Optional<String> why,
            Optional<Draft> draft) {}

    /**
     * A call that comes to something else with the mistake.
     *
     * @param arguments of the call
     * @param seen what it comes to without
     * @param other how it differs with the mistake, in words
     */
    public record Draft(
            String routine,
            Map<String, Object> arguments,
            Map<String, Object> seen,
            String other) {}

    /** A routine that was not tried again. */
    public record Kept(String routine, int noticed, int all) {}

    public long count(Verdict verdict) {
        return results.stream().filter(r -> r.verdict() == verdict).count();
    }

    /** How many mistakes were noticed, those of kept routines too. */
    public long noticed() {
        return count(Verdict.NOTICED) + kept.stream().mapToInt(Kept::noticed).sum();
    }

    /** How many could be told from what is right, or nobody knows that they can't. */
    public long all() {
        return results.size() - count(Verdict.INDISTINCT) + kept.stream().mapToInt(Kept::all).sum();
    }

    /** How many in a hundred were noticed; 100 where there are none. */
    public double percent() {
        return all() == 0 ? 100 : 100.0 * noticed() / all();
    }
}
