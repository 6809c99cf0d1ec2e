package dev.cantina.observe;

import dev.cantina.binding.BoundRoutine;
import dev.cantina.runtime.AccessPath;
import dev.cantina.runtime.Frame;
import dev.cantina.runtime.Performed;
import dev.cantina.runtime.Probe;
import dev.cantina.runtime.Session;
import dev.cantina.types.Condition;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;

/**
 * Counts a run: for each statement how often it ran, how long, and how many rows it read and wrote;
 * for each data statement how the database found its rows, asked the first time it is reached. The
 * time that the counting takes is left out.
 */
public final class Profile implements Probe {
    /** A statement of a routine, by its number; -1 stands for the routine's own beginning. */
    private record Site(BoundRoutine routine, int at) {}

    /**
     * What a run of a statement is taken for at least, in nanoseconds: what servers tell is no
     * finer.
     */
    private static final long SHORTEST = 1000;

    private static final int SAMPLES = 16;

    private static final class Counted {
        /** How long it has taken when it was told by itself, the first times. */
        final long[] samples = new long[SAMPLES];

        int sampled;

        long runs;
        long read;
        long written;
        long own;
    }

    /** A place in the tree of calls, with the time spent there and nowhere deeper. */
    private static final class Branch {
        final Site site;
        final Branch parent;
        final Map<Site, Branch> children = new LinkedHashMap<>();
        long nanos;

        Branch(Site site, Branch parent) {
            this.site = site;
            this.parent = parent;
        }

        Branch child(Site wanted) {
            Branch child = children.get(wanted);
            if (child == null) {
                child = new Branch(wanted, this);
                children.put(wanted, child);
            }
            return child;
        }
    }

    /**
     * A line of a routine.
     *
     * @param runs how often it was reached: where it holds several statements, the one that ran
     *     most
     * @param own nanoseconds in it, without what it called or set off
     * @param total with that; a line inside itself is counted once
     */
    public record Line(
            String routine,
            String file,
            int line,
            String text,
            long runs,
            long own,
            long total,
            long read,
            long written) {}

    /**
     * How the rows of a data statement were found.
     *
     * @param rows how many rows the statement gave or changed, the first time
     */
    public record Access(
            String routine, String file, int line, String text, long rows, List<AccessPath> paths) {
        public boolean wholeTable() {
            return paths.stream().anyMatch(AccessPath::wholeTable);
        }
    }

    /**
     * A box of a flame graph.
     *
     * @param total nanoseconds, with the children
     */
    public record Flame(String name, long total, List<Flame> children) {}

    private final Map<Site, Counted> counted = new LinkedHashMap<>();
    private final List<Access> accesses = new ArrayList<>();
    private final Set<Object> asked = new HashSet<>();
    private final Branch root = new Branch(null, null);
    private Session session;
    private Branch here = root;
    private long since;
    private boolean aside;

    private long now() {
        return session == null ? System.nanoTime() : session.nanos();
    }

    private void charge() {
        long now = now();
        if (here != root) {
            Counted one = counted(here.site);
            here.nanos += now - since;
            one.own += now - since;
            if (here.site.at() >= 0 && !isShared) {
                if (one.sampled < SAMPLES) {
                    one.samples[one.sampled++] = now - since;
                }
            }
        }
        isShared = false;
        since = now;
    }

    /** Whether the time up to now has been shared out already. */
    private boolean isShared;

    private static long median(Counted one) {
        long[] sorted = java.util.Arrays.copyOf(one.samples, one.sampled);
        java.util.Arrays.sort(sorted);
        return sorted.length == 0 ? 0 : sorted[sorted.length / 2];
    }

    /**
     * What one run of a statement costs, as far as that is known: what it takes to tell of it,
     * which is what the shortest of all takes, is none of it.
     */
    private long cost(Site site, long telling) {
        return Math.max(SHORTEST, median(counted(site)) - telling);
    }

    /**
     * The time between two things that were told is shared among the statements that ran in it, by
     * what each costs when it is told by itself, and how often it ran.
     */
    @Override
    public void passed(Frame frame, long[] times) {
        if (aside || here == root) {
            return;
        }
        long now = now();
        Branch routine = here.site.at() < 0 ? here : here.parent;
        long telling =
                counted.values().stream()
                        .filter(c -> c.sampled > 0)
                        .mapToLong(Profile::median)
                        .min()
                        .orElse(0);
        Map<Branch, Long> weights = new LinkedHashMap<>();
        weights.put(here, here.site.at() < 0 ? 0 : cost(here.site, telling));
        for (int i = 0; i < times.length; i++) {
            if (times[i] > 0) {
                Site site = new Site(frame.routine(), i);
                counted(site).runs += times[i];
                weights.merge(routine.child(site), cost(site, telling) * times[i], Long::sum);
            }
        }
        double all = weights.values().stream().mapToLong(w -> w).sum();
        weights.forEach(
                (branch, weight) -> {
                    long share = Math.round((now - since) * (weight / all));
                    branch.nanos += share;
                    counted(branch.site).own += share;
                });
        since = now;
        isShared = true;
    }

    @Override
    public void cutShort(Frame frame) {
        cutShort.add(frame.routine().name());
    }

    private final Set<String> cutShort = new java.util.LinkedHashSet<>();

    /**
     * The routines that a condition has ended, and of whose last statements some runs may be
     * missing, because they were not told yet.
     */
    public List<String> cutShort() {
        return List.copyOf(cutShort);
    }

    private Counted counted(Site site) {
        return counted.computeIfAbsent(site, s -> new Counted());
    }

    @Override
    public Detail detail() {
        return Detail.ORDER;
    }

    @Override
    public void entered(Frame frame) {
        if (aside) {
            return;
        }
        if (session != frame.session) {
            session = frame.session;
            session.watchAll(true);
            here = root;
        }
        java.util.Arrays.fill(frame.watch, (byte) 1);
        charge();
        here = here.child(new Site(frame.routine(), -1));
        counted(here.site).runs++;
        since = now();
    }

    @Override
    public void reached(Frame frame) {
        if (aside) {
            return;
        }
        charge();
        Branch routine = here.site.at() < 0 ? here : here.parent;
        here = routine.child(new Site(frame.routine(), frame.at));
        counted(here.site).runs++;
        since = now();
    }

    @Override
    public void left(Frame frame, Condition condition) {
        if (aside || here == root) {
            return;
        }
        charge();
        Branch routine = here.site.at() < 0 ? here : here.parent;
        here = routine.parent;
        since = now();
    }

    @Override
    public void performing(Frame frame, Performed performed) {
        if (aside
                || !asked.add(
                        performed.site().isPresent() ? performed.site().get() : performed.text())) {
            return;
        }
        charge();
        aside = true;
        try {
            List<AccessPath> paths =
                    session.questions().aside(() -> session.questions().accessPaths(performed));
            if (!paths.isEmpty()) {
                BoundRoutine.Place place = frame.place();
                accesses.add(
                        new Access(
                                frame.routine().name(),
                                place.span().source().name(),
                                place.span().line(),
                                place.span().text(),
                                -1,
                                paths));
            }
        } catch (SQLException e) {
            // Not every statement can be explained; the rest of the profile is as good without.
            return;
        } finally {
            aside = false;
            since = now();
        }
    }

    @Override
    public void performed(Frame frame, Performed performed) {
        if (aside) {
            return;
        }
        Counted own = counted(new Site(frame.routine(), frame.at));
        if (performed.changes()) {
            own.written += performed.rows();
        } else {
            own.read += performed.rows();
        }
        int last = accesses.size() - 1;
        while (last >= 0 && !isOf(accesses.get(last), frame)) {
            last--;
        }
        if (last >= 0 && accesses.get(last).rows() < 0) {
            Access access = accesses.get(last);
            accesses.set(
                    last,
                    new Access(
                            access.routine(),
                            access.file(),
                            access.line(),
                            access.text(),
                            performed.rows(),
                            access.paths()));
        }
    }

    private static boolean isOf(Access access, Frame frame) {
        return access.line() == frame.place().span().line()
                && access.routine().equals(frame.routine().name());
    }

    /** All lines that were reached, by file and line. */
    public List<Line> lines() {
        Map<String, TreeMap<Integer, Line>> files = new TreeMap<>();
        Map<String, Long> totals = new LinkedHashMap<>();
        totals(root, new HashSet<>(), totals);
        counted.forEach(
                (site, one) -> {
                    if (site.at() < 0) {
                        return;
                    }
                    BoundRoutine.Place place = site.routine().places().get(site.at());
                    String file = place.span().source().name();
                    int line = place.span().line();
                    Line line1 =
                            new Line(
                                    site.routine().name(),
                                    file,
                                    line,
                                    place.span().source().line(line),
                                    one.runs,
                                    one.own,
                                    totals.getOrDefault(file + ":" + line, 0L),
                                    one.read,
                                    one.written);
                    files.computeIfAbsent(file, f -> new TreeMap<>())
                            .merge(line, line1, Profile::both);
                });
        return files.values().stream().flatMap(f -> f.values().stream()).toList();
    }

    private static Line both(Line one, Line other) {
        return new Line(
                one.routine(),
                one.file(),
                one.line(),
                one.text(),
                Math.max(one.runs(), other.runs()),
                one.own() + other.own(),
                one.total(),
                one.read() + other.read(),
                one.written() + other.written());
    }

    /** Adds up the time of each line with all below it; gives that of the branch. */
    private static long totals(Branch branch, Set<String> above, Map<String, Long> totals) {
        String line = null;
        if (branch.site != null && branch.site.at() >= 0) {
            BoundRoutine.Place place = branch.site.routine().places().get(branch.site.at());
            line = place.span().source().name() + ":" + place.span().line();
        }
        boolean first = line != null && above.add(line);
        long nanos = branch.nanos;
        for (Branch child : branch.children.values()) {
            nanos += totals(child, above, totals);
        }
        if (first) {
            totals.merge(line, nanos, Long::sum);
            above.remove(line);
        }
        return nanos;
    }

    /** How the data statements found their rows, in the order in which they were first run. */
    public List<Access> accesses() {
        return List.copyOf(accesses);
    }

    /** The tree of calls: routines, and in them the lines that took time. */
    public Flame flame() {
        return flame("all", root);
    }

    private static Flame flame(String name, Branch branch) {
        List<Flame> children = new ArrayList<>();
        Map<String, List<Branch>> lines = new LinkedHashMap<>();
        for (Branch child : branch.children.values()) {
            BoundRoutine routine = child.site.routine();
            String label =
                    child.site.at() < 0
                            ? routine.name()
                            : routine.name()
                                    + ":"
                                    + routine.places().get(child.site.at()).span().line();
            lines.computeIfAbsent(label, l -> new ArrayList<>()).add(child);
        }
        lines.forEach(
                (label, branches) -> {
                    List<Flame> below = new ArrayList<>();
                    long total = 0;
                    for (Branch one : branches) {
                        Flame flame = flame(label, one);
                        total += flame.total();
                        below.addAll(flame.children());
                    }
                    children.add(new Flame(label, total, below));
                });
        long total = branch.nanos;
        for (Flame child : children) {
            total += child.total();
        }
        return new Flame(name, total, children);
    }
}
