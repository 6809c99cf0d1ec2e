package dev.cantina.laboratory;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.drafting.ArgumentSearch;
import dev.cantina.drafting.SeenOutcome;
import dev.cantina.project.Invariants;
import dev.cantina.project.ProjectException;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.StackEntry;
import dev.cantina.syntax.SqlWords;
import dev.cantina.testing.CaseRunner;
import dev.cantina.testing.Difference;
import dev.cantina.types.Condition;
import dev.cantina.types.Values;
import dev.cantina.types.Words;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Looks for arguments with which a routine does what it was not meant to: ends in a condition that
 * nobody has signalled, breaks an invariant, gives another value the second time although it says
 * that it is deterministic, or comes to something else on another database.
 */
public final class Explorer {
    /**
     * Classes of conditions (ISO 9075-2, 24.1) that say what tables refuse, or that it is to be
     * tried again; of the others a routine ends in those only that it signals.
     */
    private static final Set<String> MEANT = Set.of("02", "23", "27", "40", "44", "45");

    /** Called off by the user; and what RAISE raises where it does not name a condition. */
    private static final Set<String> NOT_ITS_OWN = Set.of("UL000", "P0001");

    /** A message or another item of SIGNAL or RAISE is NULL. */
    private static final String NULL_ITEM = "22004";

    /** How many runs of a function are made a second time. */
    private static final int TWICE = 100;

    /** How many runs are made on the other database. */
    private static final int ELSEWHERE = 60;

    private final RoutineSymbol routine;
    private final ArgumentSearch search;
    private final CaseRunner second;
    private final Optional<CaseRunner> elsewhere;
    private final Optional<LocalDateTime> clock;

    /** What kind of finding it is. */
    public enum Kind {
        INVARIANT,
        DISAGREES,
        CHANGES,
        CONDITION
    }

    /**
     * Something that was found.
     *
     * @param what in words
     * @param where the statement that raised it, where one did
     * @param run with as few arguments other than the usual ones as show it
     */
    public record Finding(
            Kind kind, String what, Optional<StackEntry> where, ArgumentSearch.Run run) {}

    /**
     * What was found.
     *
     * @param base the usual arguments
     * @param runs how many were made
     * @param elsewhere how many of them on the other database too
     * @param unreached lines that none has reached
     * @param isOutOfTime whether time ran out before all was tried
     */
    public record Report(
            String routine,
            List<Finding> findings,
            Map<String, Object> base,
            int runs,
            int elsewhere,
            List<Integer> unreached,
            boolean isOutOfTime) {}

    /**
     * @param second makes runs once more, in a session of its own
     * @param elsewhere makes runs on another database, which is to come to the same
     * @param clock what the current time is in the runs; empty where it can't be set
     */
    public Explorer(
            RoutineSymbol routine,
            ArgumentSearch search,
            CaseRunner second,
            Optional<CaseRunner> elsewhere,
            Optional<LocalDateTime> clock) {
        this.routine = routine;
        this.search = search;
        this.second = second;
        this.elsewhere = elsewhere;
        this.clock = clock;
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
        List<Finding> all = new ArrayList<>();
        for (Finding finding : found.values()) {
            all.add(smaller(finding, base));
        }
        changing().ifPresent(all::add);
        List<ArgumentSearch.Run> there = elsewhere.isPresent() ? telling() : List.of();
        for (ArgumentSearch.Run run : there) {
            Optional<Finding> other = disagreeing(run);
            if (other.isPresent()) {
                all.add(other.get());
                break;
            }
        }
        all.sort((a, b) -> a.kind.compareTo(b.kind));
        return new Report(
                routine.name(),
                List.copyOf(all),
                base,
                search.runs().size(),
                there.size(),
                search.unreached(),
                search.isOutOfTime());
    }

    private static Optional<Finding> finding(ArgumentSearch.Run run) {
        if (!run.broken().isEmpty()) {
            Difference broken = run.broken().get(0);
            return Optional.of(
                    new Finding(
                            Kind.INVARIANT,
                            "breaks '"
                                    + broken.at().substring(Invariants.AT.length())
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
        return isMeant(condition, where)
                ? Optional.empty()
                : Optional.of(
                        new Finding(
                                Kind.CONDITION,
                                condition.sqlstate() + "  " + lasting(condition.message()),
                                Optional.of(where),
                                run));
    }

    /** Without how long it took to run into a limit, which is other each time. */
    private static String lasting(String message) {
        return message.replaceFirst(", after [0-9]+ statements.*", "");
    }

    private static String shown(Object value) {
        return value instanceof Words words ? words.text() : Values.shortened(value);
    }

    /** Whether its author, or the tables, wanted it. */
    static boolean isMeant(Condition condition, StackEntry where) {
        if (MEANT.contains(condition.category())
                || NOT_ITS_OWN.contains(condition.sqlstate())
                || !condition.earlier().isEmpty()
                || condition.items().containsKey("CONDITION_IDENTIFIER")) {
            // One that RESIGNAL has given another SQLSTATE has earlier ones.
            return true;
        }
        String text = where.place().text();
        List<SqlWords.Word> words = SqlWords.of(text).all();
        if (words.size() < 2
                || !words.get(0).is("SIGNAL")
                        && !words.get(0).is("RESIGNAL")
                        && !words.get(0).is("RAISE")) {
            return false;
        }
        // It may itself fail, in its message: that is another SQLSTATE than it names.
        boolean isNamed = !words.get(0).is("RESIGNAL") && !words.get(1).is("SQLSTATE");
        return text.contains("'" + condition.sqlstate() + "'")
                || isNamed && !condition.sqlstate().equals(NULL_ITEM);
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
            smallest =
                    search.with(usual)
                            .flatMap(Explorer::finding)
                            .filter(f -> key(f).equals(key(finding)))
                            .orElse(smallest);
        }
        return smallest;
    }

    /** Another day, month and year, and another time of the day. */
    static Optional<LocalDateTime> later(Optional<LocalDateTime> clock) {
        return clock.map(c -> c.plusDays(430).plusMinutes(317));
    }

    /** A function that says that it is deterministic, and is not. */
    private Optional<Finding> changing() throws ProjectException {
        if (!routine.isFunction()
                || !routine.tree().characteristics().deterministic().orElse(false)) {
            return Optional.empty();
        }
        int made = 0;
        for (ArgumentSearch.Run run : search.runs()) {
            if (run.outcome().kind() != Outcome.Kind.COMPLETED || made++ >= TWICE) {
                continue;
            }
            Outcome other = search.again(second, run.arguments(), later(clock));
            if (other.condition().isPresent()
                    || !Values.same(other.returned(), run.outcome().returned())) {
                return Optional.of(
                        new Finding(
                                Kind.CHANGES,
                                "says DETERMINISTIC, and comes to "
                                        + Values.shortened(run.outcome().returned())
                                        + " and at another time to "
                                        + other.condition()
                                                .map(Condition::sqlstate)
                                                .orElseGet(
                                                        () -> Values.shortened(other.returned())),
                                Optional.empty(),
                                run));
            }
        }
        return Optional.empty();
    }

    // ------------------------------------------------------------------ another database

    /** Runs that each show something that those before did not. */
    private List<ArgumentSearch.Run> telling() {
        Set<String> known = new HashSet<>();
        List<ArgumentSearch.Run> telling = new ArrayList<>();
        for (ArgumentSearch.Run run : search.runs()) {
            boolean limited = run.outcome().kind() == Outcome.Kind.LIMITED;
            if (!limited && telling.size() < ELSEWHERE && known.addAll(run.items())) {
                telling.add(run);
            }
        }
        return telling;
    }

    private Optional<Finding> disagreeing(ArgumentSearch.Run run) throws ProjectException {
        // What is other in each run, a random value or the time, is no disagreement.
        Object here =
                SeenOutcome.common(
                        SeenOutcome.of(run.outcome()),
                        SeenOutcome.of(search.again(second, run.arguments(), later(clock))));
        Object there = SeenOutcome.of(search.again(elsewhere.orElseThrow(), run.arguments()));
        return SeenOutcome.firstOther(here, there)
                .map(
                        other ->
                                new Finding(
                                        Kind.DISAGREES,
                                        "comes to another end there: " + other,
                                        Optional.empty(),
                                        run));
    }
}
