package dev.cantina.drafting;

import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.observe.Coverage;
import dev.cantina.project.Invariant;
import dev.cantina.project.Invariants;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.project.YamlNode;
import dev.cantina.runtime.Outcome;
import dev.cantina.runtime.RowEvent;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlWords;
import dev.cantina.testing.CaseResult;
import dev.cantina.testing.CaseRunner;
import dev.cantina.testing.Difference;
import dev.cantina.testing.TestCase;
import dev.cantina.types.Values;
import java.math.BigDecimal;
import java.sql.SQLException;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;

/**
 * Runs a routine with many arguments: those that its tables, its text and its types speak of, one
 * changed at a time and then several, guided by what has shown something new. The same routine on
 * the same rows is tried with the same arguments, unless time runs out.
 */
public final class ArgumentSearch {
    private static final int MOST_RUNS = 1500;
    private static final int BRIEF = 12;
    private static final int MOST_WORDS = 8;

    /** The names of so many tables are tried where a routine takes names. */
    private static final int NAMED = 6;

    /** Around so many runs that show something new each value is tried. */
    private static final int TELLING = 16;

    /** After so many runs that show nothing new, no more are made. */
    private static final int IDLE = 300;

    private final CaseRunner runner;
    private final RoutineSymbol routine;
    private final Candidates candidates;
    private final boolean thorough;
    private final Optional<LocalDateTime> clock;
    private final Optional<String> fixture;
    private final List<Invariant> invariants;
    private final long deadline;
    private final Map<String, Run> runs = new LinkedHashMap<>();
    private final List<Run> inOrder = new ArrayList<>();
    private final Set<Integer> lines = new TreeSet<>();
    private final Set<Integer> reached = new HashSet<>();
    private final Set<String> shown = new HashSet<>();

    /** The short texts that came back. */
    private final Set<String> words = new HashSet<>();

    private int idle;
    private volatile boolean late;

    /**
     * A run, and what it has shown.
     *
     * @param items what tells it from others: lines, branches, how it ends, kinds of values
     * @param broken the invariants that do not hold after it
     */
    public record Run(
            Map<String, Object> arguments,
            Outcome outcome,
            Set<String> items,
            List<Difference> broken) {}

    /**
     * @param clock what the current time is in the runs; empty where it can't be set
     * @param fixture empty for the project's own
     * @param invariants that are looked at after each run
     * @param thorough whether the ends of each type are tried too, and each value in every run that
     *     has shown something new
     * @param seconds how long to try at most
     */
    public ArgumentSearch(
            CaseRunner runner,
            Workspace workspace,
            RoutineSymbol routine,
            Optional<LocalDateTime> clock,
            Optional<String> fixture,
            List<Invariant> invariants,
            boolean thorough,
            int seconds)
            throws SQLException {
        this(runner, workspace, routine, clock, fixture, invariants, thorough, seconds, "");
    }

    /**
     * The same where the routine sets something off.
     *
     * @param setOff the text of that, whose literals are tried first
     */
    public ArgumentSearch(
            CaseRunner runner,
            Workspace workspace,
            RoutineSymbol routine,
            Optional<LocalDateTime> clock,
            Optional<String> fixture,
            List<Invariant> invariants,
            boolean thorough,
            int seconds,
            String setOff)
            throws SQLException {
        this.runner = runner;
        this.routine = routine;
        this.candidates =
                new Candidates(
                        routine,
                        new ParameterValues(workspace, routine),
                        others(workspace, routine, setOff),
                        thorough);
        this.thorough = thorough;
        this.clock = clock;
        this.fixture = fixture;
        this.invariants = invariants;
        this.deadline = System.nanoTime() + seconds * 1_000_000_000L;
    }

    /**
     * The literals of what it sets off, and the names of some tables and columns, where it makes
     * statements of text.
     */
    private static List<Object> others(Workspace workspace, RoutineSymbol routine, String setOff) {
        boolean isDynamic =
                SqlWords.of(routine.span().text()).all().stream()
                        .anyMatch(w -> w.is("PREPARE") || w.is("EXECUTE"));
        List<Object> names = new ArrayList<>(Candidates.literals(setOff));
        if (isDynamic) {
            workspace.catalog().tables().stream()
                    .limit(NAMED)
                    .forEach(
                            t -> {
                                names.add(t.name());
                                t.columns().stream().limit(2).forEach(c -> names.add(c.name()));
                            });
        }
        return names.stream().distinct().toList();
    }

    /**
     * Makes all runs.
     *
     * @return the likeliest, and one for each parameter that is NULL
     * @throws ProjectException where not even one run can be made
     */
    public List<Run> search() throws ProjectException {
        Map<String, Object> base = base();
        List<Run> first = new ArrayList<>();
        first.add(run(base));
        for (String parameter : candidates.parameters()) {
            Map<String, Object> with = new LinkedHashMap<>(base);
            with.put(parameter, null);
            first.add(run(with));
        }
        around(base);
        if (thorough) {
            // Each of those that show something new, and those that come of them.
            Set<String> known = new HashSet<>();
            int telling = 0;
            for (int i = 0; i < runs.size() && !isLate(); i++) {
                Run run = inOrder.get(i);
                if (known.addAll(run.items) && i > 0 && telling++ < TELLING) {
                    around(run.arguments);
                }
            }
        }
        mixed(base);
        return first;
    }

    /** Each value of each parameter in turn. */
    private void around(Map<String, Object> arguments) {
        for (String parameter : candidates.parameters()) {
            for (Object value : candidates.of(parameter)) {
                Map<String, Object> with = new LinkedHashMap<>(arguments);
                with.put(parameter, value);
                if (runs.size() < MOST_RUNS) {
                    tried(with);
                }
            }
        }
    }

    /** All runs, in the order in which they were made. */
    public List<Run> runs() {
        return List.copyOf(inOrder);
    }

    /** One run more, or one of those that were made; empty where it can't be made. */
    public Optional<Run> with(Map<String, Object> arguments) {
        return Optional.ofNullable(tried(arguments));
    }

    /** The routine's lines that no run has reached. */
    public List<Integer> unreached() {
        return lines.stream().filter(l -> !reached.contains(l)).toList();
    }

    /** No more runs are begun; from another thread, too. */
    public void stop() {
        late = true;
    }

    /** Whether it was stopped, or time ran out, before all was tried. */
    public boolean isOutOfTime() {
        return late;
    }

    /** The likeliest arguments with which it completes. */
    private Map<String, Object> base() throws ProjectException {
        Map<String, Object> first = new LinkedHashMap<>();
        for (String parameter : candidates.parameters()) {
            List<Object> values = candidates.of(parameter);
            first.put(parameter, values.isEmpty() ? null : values.get(0));
        }
        Run likeliest = tried(first);
        if (completes(likeliest)) {
            return first;
        }
        // What is there already may be the trouble: something new in its place.
        for (String parameter : candidates.parameters()) {
            Map<String, Object> with = new LinkedHashMap<>(first);
            with.put(parameter, candidates.plain(parameter));
            if (completes(tried(with))) {
                return with;
            }
        }
        Random random = new Random(routine.name().hashCode());
        for (int i = 0; i < MOST_RUNS / 4 && !isLate(); i++) {
            Map<String, Object> with = new LinkedHashMap<>();
            for (String parameter : candidates.parameters()) {
                with.put(parameter, pick(candidates.of(parameter), random));
            }
            if (completes(tried(with))) {
                return with;
            }
        }
        if (likeliest == null && runs.isEmpty()) {
            first.replaceAll((name, value) -> null);
        }
        return runs.isEmpty() || likeliest != null
                ? first
                : runs.values().iterator().next().arguments;
    }

    private static boolean completes(Run run) {
        return run != null && run.outcome.kind() == Outcome.Kind.COMPLETED;
    }

    private static Object pick(List<Object> values, Random random) {
        return values.isEmpty() ? null : values.get(random.nextInt(values.size()));
    }

    /** Arguments that differ from the base in more than one. */
    private void mixed(Map<String, Object> base) {
        if (candidates.parameters().size() < 2) {
            return;
        }
        Random random = new Random(routine.name().hashCode() + 1L);
        idle = 0;
        while (runs.size() < MOST_RUNS && idle < IDLE && !isLate()) {
            Map<String, Object> with = new LinkedHashMap<>(base);
            for (String parameter : candidates.parameters()) {
                if (random.nextInt(3) > 0) {
                    with.put(parameter, pick(candidates.of(parameter), random));
                }
            }
            int before = shown.size();
            tried(with);
            idle = shown.size() > before ? 0 : idle + 1;
        }
    }

    private boolean isLate() {
        late |= System.nanoTime() > deadline;
        return late;
    }

    /** Runs once more, or not where that is known already; null where it could not be run. */
    private Run tried(Map<String, Object> arguments) {
        if (isLate()) {
            return null;
        }
        try {
            return run(arguments);
        } catch (ProjectException e) {
            // A value that does not fit its parameter shows nothing about the routine.
            idle++;
            return null;
        }
    }

    private Run run(Map<String, Object> arguments) throws ProjectException {
        String key = YamlText.of(arguments);
        Run known = runs.get(key);
        if (known != null) {
            return known;
        }
        Coverage coverage = new Coverage();
        CaseResult result = result(runner, testCase(arguments, clock), Optional.of(coverage));
        Outcome outcome = result.outcome().orElseThrow();
        List<Difference> broken =
                result.differences().stream()
                        .filter(d -> d.at().startsWith(Invariants.AT))
                        .toList();
        Run run = new Run(arguments, outcome, items(outcome, coverage), broken);
        shown.addAll(run.items);
        runs.put(key, run);
        inOrder.add(run);
        return run;
    }

    /** Where another makes its runs. */
    public Workspace workspace(CaseRunner by) throws ProjectException, SQLException {
        return by.workspace(testCase(Map.of(), clock));
    }

    /** Makes a run by another, and keeps nothing of it. */
    public Outcome again(CaseRunner by, Map<String, Object> arguments) throws ProjectException {
        return again(by, arguments, clock);
    }

    /** The same at another time. */
    public Outcome again(CaseRunner by, Map<String, Object> arguments, Optional<LocalDateTime> at)
            throws ProjectException {
        return result(by, testCase(arguments, at), Optional.empty()).outcome().orElseThrow();
    }

    private static CaseResult result(CaseRunner by, TestCase made, Optional<Coverage> coverage)
            throws ProjectException {
        CaseResult result = by.run(made, coverage.map(Coverage::probe));
        if (result.outcome().isEmpty()) {
            throw result.problem()
                    .map(ProjectException::new)
                    .orElseGet(() -> new ProjectException("the routine can't be run"));
        }
        return result;
    }

    private TestCase testCase(Map<String, Object> arguments, Optional<LocalDateTime> at) {
        Span place = routine.span();
        Map<String, YamlNode> pass = new LinkedHashMap<>();
        arguments.forEach((name, value) -> pass.put(name, node(place, value)));
        return TestCase.of(place, "a draft", fixture, routine.name(), pass, at).holding(invariants);
    }

    /** A value as a case file would hold it. */
    private static YamlNode node(Span place, Object value) {
        if (value instanceof Object[] array) {
            List<YamlNode> items = new ArrayList<>();
            for (Object item : array) {
                items.add(node(place, item));
            }
            return new YamlNode.Sequence(place, items);
        }
        Object held =
                value == null || value instanceof Boolean || value instanceof BigDecimal
                        ? value
                        : value instanceof Integer
                                        || value instanceof Long
                                        || value instanceof Short
                                ? new BigDecimal(value.toString())
                                : value instanceof String ? value : Values.text(value);
        return new YamlNode.Scalar(place, held, String.valueOf(held));
    }

    // ------------------------------------------------------------------ what a run shows

    private Set<String> items(Outcome outcome, Coverage coverage) {
        Set<String> items = new LinkedHashSet<>();
        Span own = routine.span();
        for (Coverage.OfFile file : coverage.files()) {
            if (!file.name().equals(own.source().name())) {
                continue;
            }
            file.lines()
                    .forEach(
                            (line, times) -> {
                                if (line < own.line() || line > own.endLine()) {
                                    return;
                                }
                                lines.add(line);
                                if (times > 0) {
                                    reached.add(line);
                                    items.add("line " + line);
                                    items.add("line " + line + (times > 1 ? " often" : " once"));
                                }
                            });
            for (Coverage.OfBranch branch : file.branches()) {
                boolean inside = branch.line() >= own.line() && branch.line() <= own.endLine();
                if (inside && branch.taken() > 0) {
                    items.add("branch " + branch.line() + " " + branch.number());
                }
            }
        }
        items.add(
                "ends "
                        + outcome.condition()
                                .map(
                                        c ->
                                                c.sqlstate()
                                                        + outcome.stack().stream()
                                                                .findFirst()
                                                                .map(s -> " " + s.place().place())
                                                                .orElse(""))
                                .orElse("well"));
        outcome.results().forEach(r -> items.add("gives " + many(r.rows().size())));
        if (outcome.isFunction() && outcome.condition().isEmpty()) {
            items.add("returns " + kind(outcome.returned()));
        }
        outcome.out().forEach((name, value) -> items.add("gives " + name + " " + kind(value)));
        Map<String, Integer> changed = new LinkedHashMap<>();
        for (RowEvent event : outcome.events()) {
            changed.merge(event.table().name(), 1, Integer::sum);
        }
        changed.forEach((table, count) -> items.add("changes " + table + " " + many(count)));
        return items;
    }

    /** Values of which there are few are told apart: those of a grade, or a colour. */
    private String kind(Object value) {
        boolean brief = value instanceof String text && text.length() <= BRIEF;
        boolean few =
                brief
                        && (words.contains(value.toString())
                                || words.size() < MOST_WORDS && words.add(value.toString()));
        return value == null || value instanceof Boolean || few ? String.valueOf(value) : "a value";
    }

    private static String many(int count) {
        return count > 1 ? "many" : String.valueOf(count);
    }
}
