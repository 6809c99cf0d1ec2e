package dev.cantina.laboratory;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.drafting.ArgumentSearch;
import dev.cantina.drafting.SeenOutcome;
import dev.cantina.laboratory.MutantReport.Draft;
import dev.cantina.laboratory.MutantReport.Result;
import dev.cantina.laboratory.MutantReport.Verdict;
import dev.cantina.observe.Executables;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.Planted;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.Unit;
import dev.cantina.testing.CaseResult;
import dev.cantina.testing.TestCase;
import dev.cantina.types.Condition;
import java.sql.SQLException;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.BooleanSupplier;

/** Tries the mistakes of one routine. */
final class MutantTrial {
    /** How long calls are looked for that would notice. */
    private static final int SEARCH_SECONDS = 3;

    /** So many calls are tried with a mistake that no case notices. */
    private static final int CALLS = 120;

    /**
     * A case that passes.
     *
     * @param millis how long it took
     * @param reached the statements of this routine that it runs through, by their numbers
     */
    record Passing(TestCase testCase, double millis, BitSet reached) {}

    private final MutantUnit unit;
    private final List<Passing> through;
    private final MutantPlace place;
    private final MutantLab.Settings settings;
    private final BooleanSupplier isOver;
    private final BoundRoutine bound;
    private final Indistinct indistinct;
    private final Set<Integer> executables;
    private final List<Result> results = new ArrayList<>();
    private int untried;
    private long runs;

    /** What is planted now, and where. */
    private final Map<Workspace, Planted> planted = new LinkedHashMap<>();

    /**
     * @param unit of the place's own workspace
     * @param through the cases that run through it, the shortest first
     * @param isOver asked between two runs
     */
    MutantTrial(
            MutantUnit unit,
            List<Passing> through,
            MutantPlace place,
            MutantLab.Settings settings,
            BooleanSupplier isOver) {
        this.unit = unit;
        this.through = through;
        this.place = place;
        this.settings = settings;
        this.isOver = isOver;
        this.bound = unit.bound(place.workspace().program());
        this.indistinct = new Indistinct(bound);
        this.executables = Executables.of(bound).statements();
    }

    List<Result> results() {
        return results;
    }

    /** How many mistakes there was no time for. */
    int untried() {
        return untried;
    }

    /** How many runs were made with mistakes. */
    long runs() {
        return runs;
    }

    MutantUnit unit() {
        return unit;
    }

    void run() throws ProjectException, SQLException {
        for (Mutation mutation : unit.mutations()) {
            if (isOver.getAsBoolean()) {
                untried++;
                continue;
            }
            Optional<Unit> tree = unit.read(mutation, place.workspace().project());
            if (tree.isPresent()) {
                tried(mutation, tree.get()).ifPresent(results::add);
            }
            // What is no program is noticed by whoever checks it.
        }
    }

    private Result result(
            Mutation mutation,
            Verdict verdict,
            int cases,
            Optional<String> by,
            Optional<String> why,
            Draft draft) {
        return new Result(
                mutation, unit.name(), verdict, cases, by, why, Optional.ofNullable(draft));
    }

    /** Plants one; empty where it is no program. */
    private Optional<Result> tried(Mutation mutation, Unit tree)
            throws ProjectException, SQLException {
        int at = innermost(mutation);
        List<Passing> passing = through(at);
        Workspace first =
                passing.isEmpty()
                        ? place.workspace()
                        : place.cases().workspace(passing.get(0).testCase());
        try {
            if (!plant(first, tree)) {
                return Optional.empty();
            }
            Optional<String> why = indistinct.why(mutation);
            if (why.isPresent()) {
                return Optional.of(
                        result(mutation, Verdict.INDISTINCT, 0, Optional.empty(), why, null));
            }
            for (Passing one : passing) {
                plant(place.cases().workspace(one.testCase()), tree);
                runs++;
                CaseResult result = place.cases().run(one.testCase());
                if (result.verdict() != CaseResult.Verdict.PASSED) {
                    return Optional.of(
                            result(
                                    mutation,
                                    Verdict.NOTICED,
                                    passing.size(),
                                    Optional.of(one.testCase().name()),
                                    Optional.empty(),
                                    null));
                }
            }
            return Optional.of(
                    result(
                            mutation,
                            passing.isEmpty() ? Verdict.UNREACHED : Verdict.UNNOTICED,
                            passing.size(),
                            Optional.empty(),
                            Optional.empty(),
                            settings.drafts() ? draft(tree, at) : null));
        } finally {
            planted.values().forEach(Planted::close);
            planted.clear();
        }
    }

    /** Whether it could be. */
    private boolean plant(Workspace in, Unit tree) {
        if (planted.containsKey(in)) {
            return true;
        }
        MutantUnit own = unit.in(in).orElseThrow();
        Optional<BoundRoutine> other = own.bound(in.program(), tree);
        other.ifPresent(o -> planted.put(in, own.plant(in.program(), o)));
        return other.isPresent();
    }

    /** The innermost statement around a mistake; -1 where there is none. */
    private int innermost(Mutation mutation) {
        int innermost = -1;
        int size = Integer.MAX_VALUE;
        for (int i : executables) {
            Span span = bound.places().get(i).span();
            boolean holds =
                    span.start() <= mutation.span().start() && mutation.span().end() <= span.end();
            if (holds && span.end() - span.start() < size) {
                innermost = i;
                size = span.end() - span.start();
            }
        }
        return innermost;
    }

    /** The cases that run through a statement. */
    private List<Passing> through(int at) {
        // A trigger's condition is in no statement.
        return at < 0 ? through : through.stream().filter(t -> t.reached().get(at)).toList();
    }

    // -------------------------------------------------------------- calls that would notice

    private final Map<String, ArgumentSearch> searches = new LinkedHashMap<>();
    private final Map<ArgumentSearch, List<ArgumentSearch.Run>> telling = new HashMap<>();

    /** The routine itself; for what can't be called, those that the cases call. */
    private Set<String> callable() {
        Set<String> names = new LinkedHashSet<>();
        if (unit instanceof MutantUnit.OfRoutine routine && routine.symbol().isPublic()) {
            names.add(unit.name());
        } else {
            through.forEach(t -> t.testCase().calls().forEach(c -> names.add(c.routine())));
        }
        return names;
    }

    /**
     * @param at the statement with the mistake
     */
    private Draft draft(Unit tree, int at) throws ProjectException, SQLException {
        for (String name : callable()) {
            Optional<ArgumentSearch> search = search(name);
            if (search.isEmpty()) {
                continue;
            }
            Workspace in = search.get().workspace(place.other());
            plant(in, tree);
            boolean own = name.equals(unit.name()) && at >= 0;
            String line = own ? "line " + bound.places().get(at).span().line() : "";
            int made = 0;
            for (ArgumentSearch.Run run : telling.get(search.get())) {
                if (own && !run.items().contains(line)) {
                    continue;
                }
                if (made++ == CALLS || isOver.getAsBoolean()) {
                    return null;
                }
                runs++;
                Map<String, Object> right = SeenOutcome.of(run.outcome());
                Optional<String> other =
                        other(right, search.get().again(place.other(), run.arguments()));
                if (other.isPresent() && isSteady(search.get(), run, right, in, tree)) {
                    return new Draft(name, run.arguments(), right, other.get());
                }
            }
        }
        return null;
    }

    /** How a run differs, in words. */
    private Optional<String> other(Map<String, Object> right, Outcome outcome) {
        if (outcome.condition().isPresent() && !right.containsKey("raises")) {
            Condition condition = outcome.condition().get();
            return Optional.of(
                    outcome.kind() == Outcome.Kind.LIMITED
                            ? "it does not end"
                            : "it ends in " + condition.sqlstate());
        }
        if (outcome.condition().isEmpty() && right.containsKey("raises")) {
            return Optional.of("it completes");
        }
        return SeenOutcome.firstOther(right, SeenOutcome.of(outcome));
    }

    /** Whether the call comes to the same once more where nothing is planted. */
    private boolean isSteady(
            ArgumentSearch search,
            ArgumentSearch.Run run,
            Map<String, Object> right,
            Workspace in,
            Unit tree)
            throws ProjectException {
        planted.remove(in).close();
        runs++;
        Map<String, Object> again = SeenOutcome.of(search.again(place.other(), run.arguments()));
        plant(in, tree);
        return SeenOutcome.firstOther(right, again).isEmpty();
    }

    /** Calls of a routine as it is; those first that have shown something new. */
    private Optional<ArgumentSearch> search(String name) throws SQLException {
        if (searches.containsKey(name)) {
            return Optional.ofNullable(searches.get(name));
        }
        searches.put(name, null);
        try {
            ArgumentSearch search =
                    new ArgumentSearch(
                            place.calls(),
                            place.workspace(),
                            place.workspace().routine(name, List.of()),
                            place.workspace().database().hasClock()
                                    ? Optional.of(LocalDateTime.now(settings.clock()))
                                    : Optional.empty(),
                            settings.fixture(),
                            List.of(),
                            false,
                            SEARCH_SECONDS,
                            name.equals(unit.name()) ? "" : unit.span().text());
            search.search();
            Set<String> known = new LinkedHashSet<>();
            List<ArgumentSearch.Run> first = new ArrayList<>();
            List<ArgumentSearch.Run> rest = new ArrayList<>();
            for (ArgumentSearch.Run run : search.runs()) {
                if (run.outcome().kind() != Outcome.Kind.LIMITED) {
                    (known.addAll(run.items()) ? first : rest).add(run);
                }
            }
            first.addAll(rest);
            telling.put(search, first);
            searches.put(name, search);
            return Optional.of(search);
        } catch (ProjectException e) {
            // A routine that can't be called tells nothing.
            return Optional.empty();
        }
    }
}
