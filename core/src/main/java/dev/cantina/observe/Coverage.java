package dev.cantina.observe;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.runtime.Frame;
import dev.cantina.runtime.Probe;
import dev.cantina.syntax.Span;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/**
 * Counts what was reached: statements, branches, handlers, and whether each routine ran at all. One
 * object may watch many runs, on several threads, one probe each.
 */
public final class Coverage {
    /** What is known of a routine. */
    private static final class Counted {
        final BoundRoutine routine;
        final Executables executables;
        final long[] reached;
        long entered;

        Counted(BoundRoutine routine) {
            this.routine = routine;
            this.executables = Executables.of(routine);
            this.reached = new long[routine.places().size()];
        }
    }

    /**
     * A routine or trigger and how much of it was reached.
     *
     * @param statements how many there are
     * @param reached how many of them were reached
     * @param branches how many of IF and CASE there are
     * @param taken how many of them were
     * @param handled how many of the handlers ran
     */
    public record OfRoutine(
            String name,
            BoundRoutine.Kind kind,
            Span span,
            long entered,
            int statements,
            int reached,
            int branches,
            int taken,
            int handlers,
            int handled) {}

    /** A branch at a line, and how often it was taken. */
    public record OfBranch(int line, int number, long taken) {}

    /**
     * A source file.
     *
     * @param lines how often each line with a statement was reached, by line
     */
    public record OfFile(
            String name,
            String text,
            List<OfRoutine> routines,
            TreeMap<Integer, Long> lines,
            List<OfBranch> branches) {}

    private final Map<String, Counted> counted = new LinkedHashMap<>();

    private static String key(BoundRoutine routine) {
        return routine.span().source().name() + ":" + routine.span().start() + routine.kind();
    }

    /** A routine that could be reached. */
    public synchronized void expect(BoundRoutine routine) {
        counted.computeIfAbsent(key(routine), k -> new Counted(routine));
    }

    /** A probe for one run at a time. */
    public Probe probe() {
        return new Probe() {
            private final Map<BoundRoutine, long[]> reached = new HashMap<>();
            private final Map<BoundRoutine, Long> entered = new HashMap<>();
            private BoundRoutine last;
            private long[] lastReached;

            @Override
            public Detail detail() {
                return Detail.COUNTS;
            }

            @Override
            public void entered(Frame frame) {
                if (frame.depth() == 1) {
                    frame.session.watchAll(true);
                    java.util.Arrays.fill(frame.watch, (byte) 1);
                }
                entered.merge(frame.routine(), 1L, Long::sum);
            }

            @Override
            public void reached(Frame frame) {
                BoundRoutine routine = frame.routine();
                if (routine != last) {
                    last = routine;
                    lastReached =
                            reached.computeIfAbsent(routine, r -> new long[r.places().size()]);
                }
                lastReached[frame.at]++;
            }

            @Override
            public void counted(Frame frame, int statement, long times) {
                reached.computeIfAbsent(frame.routine(), r -> new long[r.places().size()])[
                                statement] +=
                        times;
            }

            @Override
            public void left(Frame frame, dev.cantina.types.Condition condition) {
                if (frame.depth() == 1) {
                    add(reached, entered);
                    reached.clear();
                    entered.clear();
                    last = null;
                }
            }
        };
    }

    private synchronized void add(
            Map<BoundRoutine, long[]> reached, Map<BoundRoutine, Long> entered) {
        entered.forEach(
                (routine, times) -> {
                    if (routine.kind() != BoundRoutine.Kind.SCRIPT) {
                        expect(routine);
                        counted.get(key(routine)).entered += times;
                    }
                });
        reached.forEach(
                (routine, times) -> {
                    Counted one = counted.get(key(routine));
                    for (int i = 0; one != null && i < times.length; i++) {
                        one.reached[i] += times[i];
                    }
                });
    }

    /** All that is known, file by file in name order. */
    public synchronized List<OfFile> files() {
        Map<String, List<Counted>> files = new TreeMap<>();
        for (Counted one : counted.values()) {
            files.computeIfAbsent(one.routine.span().source().name(), f -> new ArrayList<>())
                    .add(one);
        }
        List<OfFile> all = new ArrayList<>();
        files.forEach((name, list) -> all.add(file(name, list)));
        return all;
    }

    private static OfFile file(String name, List<Counted> list) {
        TreeMap<Integer, Long> lines = new TreeMap<>();
        List<OfRoutine> routines = new ArrayList<>();
        List<OfBranch> branches = new ArrayList<>();
        for (Counted one : list) {
            for (int at : one.executables.statements()) {
                int line = one.routine.places().get(at).span().line();
                lines.merge(line, one.reached[at], Math::max);
            }
            int number = 0;
            int taken = 0;
            for (Executables.Branch branch : one.executables.branches()) {
                int line = one.routine.places().get(branch.choice()).span().line();
                long times = branch.taken(one.reached);
                branches.add(new OfBranch(line, number++, times));
                taken += times > 0 ? 1 : 0;
            }
            long reached =
                    one.executables.statements().stream().filter(i -> one.reached[i] > 0).count();
            long handled =
                    one.executables.handlers().stream()
                            .filter(
                                    h ->
                                            h.first().isPresent()
                                                    && one.reached[h.first().getAsInt()] > 0)
                            .count();
            routines.add(
                    new OfRoutine(
                            one.routine.name(),
                            one.routine.kind(),
                            one.routine.span(),
                            one.entered,
                            one.executables.statements().size(),
                            (int) reached,
                            one.executables.branches().size(),
                            taken,
                            one.executables.handlers().size(),
                            (int) handled));
        }
        routines.sort((a, b) -> Integer.compare(a.span().start(), b.span().start()));
        branches.sort(
                (a, b) ->
                        a.line() != b.line()
                                ? Integer.compare(a.line(), b.line())
                                : Integer.compare(a.number(), b.number()));
        return new OfFile(
                name, list.get(0).routine.span().source().written(), routines, lines, branches);
    }

    /** The statements that were reached, by their numbers, of each routine that was entered. */
    public synchronized Map<BoundRoutine, BitSet> reached() {
        Map<BoundRoutine, BitSet> all = new LinkedHashMap<>();
        for (Counted one : counted.values()) {
            if (one.entered > 0) {
                BitSet statements = new BitSet();
                for (int i = 0; i < one.reached.length; i++) {
                    statements.set(i, one.reached[i] > 0);
                }
                all.put(one.routine, statements);
            }
        }
        return all;
    }

    /** How many in a hundred of all statements were reached. */
    public double percent() {
        long all = 0;
        long reached = 0;
        for (OfFile file : files()) {
            for (OfRoutine routine : file.routines()) {
                all += routine.statements();
                reached += routine.reached();
            }
        }
        return all == 0 ? 100 : 100.0 * reached / all;
    }
}
