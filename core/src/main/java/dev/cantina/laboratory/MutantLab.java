package dev.cantina.laboratory;

import dev.cantina.laboratory.MutantReport.Kept;
import dev.cantina.laboratory.MutantReport.Result;
import dev.cantina.observe.Coverage;
import dev.cantina.project.OwnFiles;
import dev.cantina.project.Project;
import dev.cantina.project.ProjectException;
import dev.cantina.project.Workspace;
import dev.cantina.runtime.Limits;
import dev.cantina.syntax.Nearest;
import dev.cantina.syntax.Span;
import dev.cantina.testing.CaseResult;
import dev.cantina.testing.CaseRunner;
import dev.cantina.testing.Fingerprints;
import dev.cantina.testing.TestCase;
import java.sql.SQLException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.FutureTask;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.BooleanSupplier;

/**
 * Plants small mistakes in routines and triggers, one at a time, and runs the cases that run
 * through the place: does one of them notice? For a mistake that none notices it looks for a call
 * that would.
 */
public final class MutantLab {
    /** What a run with a mistake may take, next to what the longest one takes without. */
    private static final int TIMES = 10;

    private static final long STATEMENTS = 30_000;
    private static final double SECONDS = 5;
    private static final int MOST_THREADS = 4;
    private static final long STACK = 64L << 20;

    private final Project project;
    private final Settings settings;
    private final BooleanSupplier isCalledOff;
    private final long deadline;

    /**
     * How to run.
     *
     * @param fixture for all cases; empty for each case's own
     * @param clock for cases that say nothing of the time; it stands still
     * @param seconds after which no mistake is planted any more
     * @param drafts whether to look for calls that would notice
     * @param jobs how many threads at most
     */
    public record Settings(
            Optional<String> fixture,
            Limits limits,
            Clock clock,
            double seconds,
            boolean drafts,
            int jobs) {}

    /** What was found out about routines before. */
    public interface Memory {
        /**
         * What came of a routine; empty where that is not known of what it is now.
         *
         * @param routine as it is called, with its parameters
         * @param fingerprint of it, and of the cases that run through it
         */
        Optional<Kept> known(String routine, String fingerprint);

        /** All mistakes of a routine have been tried. */
        void tried(String routine, String fingerprint, int noticed, int all);
    }

    /** A case that passes, and what it reaches, by where each routine begins. */
    private record Passed(TestCase testCase, double millis, Map<String, BitSet> reached) {}

    /**
     * @param isCalledOff whether the user wants no more; asked between two runs, by any thread
     */
    public MutantLab(Project project, Settings settings, BooleanSupplier isCalledOff) {
        this.project = project;
        this.settings = settings;
        this.isCalledOff = isCalledOff;
        this.deadline = System.nanoTime() + (long) (settings.seconds() * 1e9);
    }

    private boolean isOver() {
        return System.nanoTime() > deadline || isCalledOff.getAsBoolean();
    }

    /**
     * Plants and runs.
     *
     * @param cases that are to notice
     * @param names of routines, modules and triggers; all where there are none
     * @param fingerprints of the cases, by their identity
     * @param memory of what was tried before
     * @param isChangedOnly whether routines are left out that it knows
     * @throws ProjectException where a name means nothing, or nothing can be run
     */
    public MutantReport run(
            List<TestCase> cases,
            List<String> names,
            Map<String, String> fingerprints,
            Memory memory,
            boolean isChangedOnly)
            throws ProjectException, SQLException {
        List<Kept> kept = new ArrayList<>();
        List<String> leftOut = new ArrayList<>();
        long[] longest = {0};
        List<Passed> passed;
        List<MutantUnit> units = new ArrayList<>();
        try (MutantPlace place = place(settings.limits())) {
            List<MutantUnit> all = chosen(MutantUnit.of(place.workspace()), names);
            passed = passed(cases, place.cases(), leftOut, longest);
            for (MutantUnit unit : all) {
                Optional<Kept> known =
                        memory.known(unit.id(), fingerprint(unit, passed, fingerprints));
                if (isChangedOnly && known.isPresent()) {
                    kept.add(new Kept(unit.name(), known.get().noticed(), known.get().all()));
                } else {
                    units.add(unit);
                }
            }
        }
        List<MutantTrial> trials = trials(units, passed, limited(longest[0]));
        List<Result> results = new ArrayList<>();
        int untried = 0;
        long runs = 0;
        for (MutantTrial trial : trials) {
            results.addAll(trial.results());
            untried += trial.untried();
            runs += trial.runs();
            if (trial.untried() == 0) {
                MutantReport own = new MutantReport(trial.results(), 0, List.of(), List.of(), 0, 0);
                memory.tried(
                        trial.unit().id(),
                        fingerprint(trial.unit(), passed, fingerprints),
                        (int) own.noticed(),
                        (int) own.all());
            }
        }
        return new MutantReport(
                List.copyOf(results),
                passed.size(),
                List.copyOf(leftOut),
                List.copyOf(kept),
                untried,
                runs);
    }

    /** What of a routine, and of the cases that run through it, its mistakes depend on. */
    private static String fingerprint(
            MutantUnit unit, List<Passed> passed, Map<String, String> fingerprints) {
        StringBuilder text = new StringBuilder(unit.span().text());
        passed.stream()
                .filter(p -> p.reached().containsKey(key(unit.span())))
                .map(p -> p.testCase().id() + " " + fingerprints.get(p.testCase().id()))
                .sorted()
                .forEach(c -> text.append('\0').append(c));
        return Fingerprints.hash(text.toString());
    }

    private static String key(Span span) {
        return span.source().name() + ":" + span.start();
    }

    // ------------------------------------------------------------------ before any mistake

    private MutantPlace place(Limits limits) throws ProjectException, SQLException {
        return new MutantPlace(
                Workspace.open(project, Optional.of(settings.fixture().orElse(project.fixture()))),
                runner(limits),
                runner(limits),
                runner(limits));
    }

    private CaseRunner runner(Limits limits) {
        return new CaseRunner(project, settings.fixture(), limits, settings.clock());
    }

    /** A mistake may make a loop endless, which is to end soon. */
    private Limits limited(long longest) {
        Limits limits = settings.limits();
        return new Limits(
                Math.min(limits.statements(), Math.max(STATEMENTS, longest * TIMES)),
                Math.min(limits.seconds(), SECONDS),
                limits.depth(),
                limits.rows());
    }

    private static List<MutantUnit> chosen(List<MutantUnit> all, List<String> names)
            throws ProjectException {
        Set<MutantUnit> chosen = new LinkedHashSet<>();
        for (String name : names) {
            List<MutantUnit> found = all.stream().filter(u -> isCalled(u, name)).toList();
            if (found.isEmpty()) {
                throw new ProjectException(
                        "there is no routine, module or trigger "
                                + name
                                + " with a body in the standard language"
                                + Nearest.to(name, all.stream().map(MutantUnit::name).toList())
                                        .map(n -> "; did you mean " + n + "?")
                                        .orElse(""));
            }
            chosen.addAll(found);
        }
        return names.isEmpty() ? all : List.copyOf(chosen);
    }

    private static boolean isCalled(MutantUnit unit, String name) {
        String own = unit.name().toUpperCase(Locale.ROOT);
        String wanted = name.toUpperCase(Locale.ROOT);
        return own.equals(wanted) || own.startsWith(wanted + ".");
    }

    /** Runs all cases as they are: those that pass can notice something, the shortest first. */
    private List<Passed> passed(
            List<TestCase> cases, CaseRunner runner, List<String> leftOut, long[] longest) {
        List<Passed> passed = new ArrayList<>();
        for (TestCase testCase : cases) {
            if (testCase.skip().isPresent() || isCalledOff.getAsBoolean()) {
                continue;
            }
            Coverage coverage = new Coverage();
            CaseResult result = runner.run(testCase, Optional.of(coverage.probe()));
            if (result.verdict() != CaseResult.Verdict.PASSED) {
                leftOut.add(testCase.name());
                continue;
            }
            result.outcome().ifPresent(o -> longest[0] = Math.max(longest[0], o.statements()));
            Map<String, BitSet> reached = new HashMap<>();
            coverage.reached().forEach((r, statements) -> reached.put(key(r.span()), statements));
            passed.add(new Passed(testCase, result.elapsedMillis(), reached));
        }
        passed.sort(Comparator.comparingDouble(Passed::millis));
        return passed;
    }

    // ------------------------------------------------------------------ the mistakes

    /** Tries the mistakes of all, on several threads; in their order. */
    private List<MutantTrial> trials(List<MutantUnit> units, List<Passed> passed, Limits limits)
            throws ProjectException, SQLException {
        MutantTrial[] trials = new MutantTrial[units.size()];
        AtomicInteger next = new AtomicInteger();
        Callable<Void> work =
                () -> {
                    try (MutantPlace place = place(limits)) {
                        for (int i = next.getAndIncrement();
                                i < trials.length;
                                i = next.getAndIncrement()) {
                            trials[i] = trial(units.get(i), passed, place);
                            trials[i].run();
                        }
                    }
                    return null;
                };
        int jobs = OwnFiles.haveState(project) ? 1 : Math.min(settings.jobs(), MOST_THREADS);
        List<FutureTask<Void>> tasks = new ArrayList<>();
        for (int i = 0; i < Math.min(jobs, units.size()); i++) {
            FutureTask<Void> task = new FutureTask<>(work);
            Thread thread = new Thread(null, task, "mutants-" + i, STACK);
            thread.setDaemon(true);
            thread.start();
            tasks.add(task);
        }
        for (FutureTask<Void> task : tasks) {
            await(task);
        }
        return List.of(trials);
    }

    private MutantTrial trial(MutantUnit unit, List<Passed> passed, MutantPlace place) {
        List<MutantTrial.Passing> through = new ArrayList<>();
        for (Passed one : passed) {
            BitSet reached = one.reached().get(key(unit.span()));
            if (reached != null) {
                through.add(new MutantTrial.Passing(one.testCase(), one.millis(), reached));
            }
        }
        return new MutantTrial(
                unit.in(place.workspace()).orElseThrow(), through, place, settings, this::isOver);
    }

    private static void await(FutureTask<Void> task) throws ProjectException, SQLException {
        try {
            task.get();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IllegalStateException("interrupted", e);
        } catch (ExecutionException e) {
            if (e.getCause() instanceof ProjectException known) {
                throw known;
            }
            if (e.getCause() instanceof SQLException known) {
                throw known;
            }
            throw new IllegalStateException(e.getCause());
        }
    }
}
