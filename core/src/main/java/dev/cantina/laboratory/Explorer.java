package dev.cantina.laboratory;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.drafting.ArgumentSearch;
import dev.cantina.project.ProjectException;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.StackEntry;
import dev.cantina.syntax.SqlWords;
import dev.cantina.testing.CaseRunner;
import dev.cantina.testing.Difference;
import dev.cantina.types.Condition;
import dev.cantina.types.Values;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Looks for arguments with which a routine does what it was not meant to: ends in a condition that
 * nobody has signalled, breaks an invariant, or gives another value the second time although it
 * says that it is deterministic.
 */
public final class Explorer {
    /** Classes of conditions that a routine does not mean to raise (ISO 9075-2, 24.1). */
    private static final Set<String> UNMEANT = Set.of("20", "21", "22", "2F", "42", "54", "UL");

    /** How many runs of a function are made a second time. */
    private static final int TWICE = 100;

    private final RoutineSymbol routine;
    private final ArgumentSearch search;
    private final CaseRunner later;

    /**
     * Something that was found.
     *
     * @param what in words
     * @param where the statement that raised it, where one did
     * @param run with as few arguments other than the usual ones as show it
     */
    public record Finding(String what, Optional<StackEntry> where, ArgumentSearch.Run run) {}

    /**
     * What was found.
     *
     * @param base the usual arguments
     * @param runs how many were made
     * @param unreached lines that none has reached
     * @param isOutOfTime whether time ran out before all was tried
     */
    public record Report(
            List<Finding> findings,
            Map<String, Object> base,
            int runs,
            List<Integer> unreached,
            boolean isOutOfTime) {}

    /**
     * @param later makes runs at another time and in a session of its own
     */
    public Explorer(RoutineSymbol routine, ArgumentSearch search, CaseRunner later) {
        this.routine = routine;
        this.search = search;
        this.later = later;
    }

    /**
     * Looks.
     *
     * @throws ProjectException where not even one run can be made
     */
    public Report explore() throws ProjectException {
        Map<String, Object> base = search.search().get(0).arguments();
        Map<String, Finding> found = new LinkedHashMap<>();
        for (ArgumentSearch.Run run : search.runs()) {
            finding(run).ifPresent(f -> keep(found, f, base));
        }
        changing().ifPresent(f -> found.put("deterministic", f));
        List<Finding> smallest = new ArrayList<>();
        for (Finding finding : found.values()) {
            smallest.add(smaller(finding, base));
        }
        return new Report(
                smallest, base, search.runs().size(), search.unreached(), search.isOutOfTime());
    }

    private static Optional<Finding> finding(ArgumentSearch.Run run) {
        if (!run.broken().isEmpty()) {
            Difference broken = run.broken().get(0);
            return Optional.of(
                    new Finding(
                            "breaks '"
                                    + broken.at().substring(broken.at().indexOf('.') + 1)
                                    + "': expected "
                                    + shown(broken.expected())
                                    + ", it is "
                                    + shown(broken.actual()),
                            Optional.empty(),
                            run));
        }
        Outcome outcome = run.outcome();
        if (outcome.condition().isEmpty() || outcome.stack().isEmpty()) {
            // Without a stack the arguments did not fit, and the routine was not begun.
            return Optional.empty();
        }
        Condition condition = outcome.condition().get();
        StackEntry where = outcome.stack().get(0);
        return UNMEANT.contains(condition.category()) && !isMeant(where)
                ? Optional.of(
                        new Finding(
                                condition.sqlstate() + "  " + condition.message(),
                                Optional.of(where),
                                run))
                : Optional.empty();
    }

    private static String shown(Object value) {
        return value instanceof Difference.Words words ? words.text() : Values.shortened(value);
    }

    /** Whether a statement raises it because its author wanted that. */
    private static boolean isMeant(StackEntry where) {
        List<SqlWords.Word> words = SqlWords.of(where.place().text()).all();
        return !words.isEmpty() && (words.get(0).is("SIGNAL") || words.get(0).is("RESIGNAL"));
    }

    /** Of several of one kind and place the one with the fewest unusual arguments. */
    private static void keep(Map<String, Finding> found, Finding one, Map<String, Object> base) {
        found.merge(key(one), one, (a, b) -> unusual(b.run, base) < unusual(a.run, base) ? b : a);
    }

    private static String key(Finding finding) {
        return finding.where
                .map(w -> finding.what.substring(0, 5) + " " + w.place().place())
                .orElse(finding.what.split(": expected")[0]);
    }

    private static long unusual(ArgumentSearch.Run run, Map<String, Object> base) {
        return run.arguments().entrySet().stream()
                .filter(e -> !Values.same(e.getValue(), base.get(e.getKey())))
                .count();
    }

    /** With each argument as it usually is, where that shows the same. */
    private Finding smaller(Finding finding, Map<String, Object> base) {
        Finding smallest = finding;
        for (String parameter : base.keySet()) {
            Map<String, Object> usual = new LinkedHashMap<>(smallest.run.arguments());
            if (Values.same(usual.put(parameter, base.get(parameter)), base.get(parameter))) {
                continue;
            }
            Optional<Finding> same =
                    search.with(usual)
                            .flatMap(Explorer::finding)
                            .filter(f -> key(f).equals(key(finding)));
            smallest = same.orElse(smallest);
        }
        return smallest;
    }

    /** A function that says that it is deterministic, and is not. */
    private Optional<Finding> changing() throws ProjectException {
        if (!routine.isFunction()
                || !routine.tree().characteristics().deterministic().orElse(false)) {
            return Optional.empty();
        }
        int made = 0;
        for (ArgumentSearch.Run run : search.runs()) {
            if (run.outcome().kind() != Outcome.Kind.COMPLETED || made++ == TWICE) {
                continue;
            }
            Outcome other = search.again(later, run.arguments());
            if (!Values.same(other.returned(), run.outcome().returned())) {
                return Optional.of(
                        new Finding(
                                "says DETERMINISTIC, and gives "
                                        + Values.shortened(run.outcome().returned())
                                        + " now and "
                                        + Values.shortened(other.returned())
                                        + " at another time",
                                Optional.empty(),
                                run));
            }
        }
        return Optional.empty();
    }
}
