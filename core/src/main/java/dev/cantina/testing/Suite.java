package dev.cantina.testing;

import dev.cantina.project.OwnFiles;
import dev.cantina.project.Project;
import dev.cantina.runtime.Limits;
import dev.cantina.runtime.Probe;
import dev.cantina.syntax.Problem;
import dev.cantina.testing.CaseResult.Verdict;
import java.time.Clock;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.Consumer;
import java.util.function.Supplier;

/**
 * Runs many cases, on several threads where that is asked for. Each thread has a database of its
 * own, so that the verdicts do not depend on the order.
 */
public final class Suite {
    /**
     * How to run.
     *
     * @param jobs how many threads
     * @param seed mixes the order; empty for the order of the files
     * @param first whether the first case that does not pass is the last to be run
     */
    public record Order(int jobs, Optional<Long> seed, boolean first) {}

    private static final long STACK = 64L << 20;

    private final Project project;
    private final Optional<String> fixture;
    private final Limits limits;
    private final Clock clock;
    private final CaseRunner.Opener opener;
    private final Supplier<Optional<Probe>> probes;
    private final List<CaseRunner> runners = Collections.synchronizedList(new ArrayList<>());
    private volatile boolean interrupted;

    /**
     * @param fixture the fixture for all cases; empty for each case's own
     * @param clock for cases that say nothing of the time
     * @param probes gives each case the probe that watches it
     */
    public Suite(
            Project project,
            Optional<String> fixture,
            Limits limits,
            Clock clock,
            Supplier<Optional<Probe>> probes) {
        this(
                project,
                fixture,
                limits,
                clock,
                probes,
                (p, name) -> dev.cantina.project.Workspace.open(p, Optional.of(name)));
    }

    /** The same on a database that is opened in a way of its own. */
    public Suite(
            Project project,
            Optional<String> fixture,
            Limits limits,
            Clock clock,
            Supplier<Optional<Probe>> probes,
            CaseRunner.Opener opener) {
        this.opener = opener;
        this.project = project;
        this.fixture = fixture;
        this.limits = limits;
        this.clock = clock;
        this.probes = probes;
    }

    /** Ends the case that runs, and begins no other; may be called from any thread. */
    public void interrupt() {
        interrupted = true;
        synchronized (runners) {
            runners.forEach(CaseRunner::interrupt);
        }
    }

    public boolean isInterrupted() {
        return interrupted;
    }

    /**
     * Runs cases.
     *
     * @param told of each as it ends, one at a time
     * @return those that were run, in no particular order
     */
    public List<CaseResult> run(List<TestCase> cases, Order order, Consumer<CaseResult> told) {
        List<TestCase> row = new ArrayList<>(cases);
        order.seed().ifPresent(seed -> Collections.shuffle(row, new Random(seed)));
        List<CaseResult> results = new ArrayList<>();
        AtomicInteger next = new AtomicInteger();
        Runnable work =
                () -> {
                    try (CaseRunner runner =
                            new CaseRunner(project, fixture, limits, clock, opener)) {
                        runners.add(runner);
                        int i = next.getAndIncrement();
                        while (i < row.size() && !interrupted) {
                            CaseResult result = result(runner, row.get(i));
                            synchronized (results) {
                                results.add(result);
                                told.accept(result);
                            }
                            boolean bad =
                                    result.verdict() == Verdict.FAILED
                                            || result.verdict() == Verdict.BROKEN;
                            if (order.first() && bad) {
                                next.set(row.size());
                            }
                            i = next.getAndIncrement();
                        }
                        runners.remove(runner);
                    }
                };
        List<Thread> threads = new ArrayList<>();
        int jobs = OwnFiles.haveState(project) ? 1 : order.jobs();
        for (int i = 1; i < Math.min(jobs, row.size()); i++) {
            Thread thread = new Thread(null, work, "cases-" + i, STACK);
            thread.setDaemon(true);
            thread.start();
            threads.add(thread);
        }
        work.run();
        for (Thread thread : threads) {
            try {
                thread.join();
            } catch (InterruptedException e) {
                interrupt();
                Thread.currentThread().interrupt();
            }
        }
        return results;
    }

    /** A case whose run ends in a defect of Cantina's own is broken, and no other is lost by it. */
    private CaseResult result(CaseRunner runner, TestCase testCase) {
        try {
            return runner.run(testCase, probes.get()).withoutOutcome();
        } catch (RuntimeException | StackOverflowError | AssertionError e) {
            return CaseFiles.broken(
                    testCase,
                    Problem.error(
                            testCase.place(),
                            "defect",
                            "a defect of Cantina's own keeps this case from being run: " + e,
                            "please report it, with this case"));
        }
    }
}
