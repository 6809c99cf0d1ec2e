package dev.cantina.racing;

import dev.cantina.programs.ProgramSettings;
import dev.cantina.project.Invariant;
import dev.cantina.project.ProjectException;
import dev.cantina.racing.RaceReport.Difference;
import dev.cantina.racing.RaceReport.Finding;
import dev.cantina.racing.RaceReport.Kind;
import dev.cantina.runtime.Outcome;
import dev.cantina.types.Values;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.BooleanSupplier;

/**
 * Makes calls at the same time, in every order of their steps that matters: of two steps that touch
 * nothing in common only one order is made. What comes of each is compared with what comes of the
 * calls one after the other, in any order.
 */
public final class Race {
    private final Map<Integer, RaceCall> calls;
    private final RacePlace place;
    private final String level;
    private final BooleanSupplier isOver;

    /** What comes of some of the sessions one after the other, by their numbers. */
    private final Map<Set<Integer>, List<RaceRun>> serial = new HashMap<>();

    /** The one that was run last, and who could have been next at each of its steps. */
    private final List<Node> path = new ArrayList<>();

    /** A moment at which more than one could have been next. */
    private static final class Node {
        private final int chosen;
        private final List<Integer> standing;
        private final Set<Integer> todo = new LinkedHashSet<>();
        private final Set<Integer> done = new LinkedHashSet<>();

        Node(List<Integer> choices) {
            this.chosen = choices.get(0);
            this.standing = choices;
            done.add(chosen);
        }
    }

    /**
     * @param calls at least two
     * @param invariants that hold after all calls, in whatever order
     * @param isOver asked before each order
     */
    public Race(
            ProgramSettings settings,
            List<RaceCall> calls,
            IsolationLevel level,
            List<Invariant> invariants,
            BooleanSupplier isOver) {
        this.calls = new LinkedHashMap<>();
        for (RaceCall call : calls) {
            this.calls.put(this.calls.size() + 1, call);
        }
        this.place =
                new RacePlace(
                        settings.calling(
                                String.join(" ", calls.stream().map(RaceCall::text).toList())),
                        level,
                        invariants);
        this.level = level.words();
        this.isOver = isOver;
    }

    /**
     * Makes all that matter.
     *
     * @throws ProjectException where a call can't be made at all
     */
    public RaceReport run() throws ProjectException, SQLException {
        List<RaceRun> one = serial(calls.keySet());
        checkHeld(one);
        checkSteady(one.get(0));
        Map<Kind, Finding> found = new EnumMap<>(Kind.class);
        int tried = 0;
        boolean cut = false;
        double orders = orders(one.get(0));
        Optional<List<Integer>> next = Optional.of(List.of());
        while (next.isPresent()) {
            if (isOver.getAsBoolean()) {
                cut = true;
                break;
            }
            RaceRun run = place.run(calls, next.get());
            tried++;
            orders = Math.max(orders, orders(run));
            Optional<Finding> finding = finding(run);
            if (finding.isPresent()) {
                found.merge(
                        finding.get().kind(),
                        finding.get(),
                        (a, b) -> b.run().switches() < a.run().switches() ? b : a);
            }
            branch(run);
            next = next();
        }
        return new RaceReport(
                level, List.copyOf(found.values()), tried, Math.max(orders, tried), cut);
    }

    /** What is broken without anybody beside is no matter of the order. */
    private static void checkHeld(List<RaceRun> serial) throws ProjectException {
        for (RaceRun run : serial) {
            if (!run.broken().isEmpty()) {
                throw new ProjectException(
                        "'"
                                + run.broken().get(0)
                                + "' does not hold even when the calls come one after the other");
            }
        }
    }

    /** What is other each time by itself can't be compared. */
    private void checkSteady(RaceRun first) throws ProjectException, SQLException {
        RaceRun again = place.run(calls, List.of());
        boolean same = again.rows().equals(first.rows());
        for (int i = 0; i < first.outcomes().size(); i++) {
            RaceEnds.Other one =
                    new RaceEnds.Other(RaceEnds.parts(first.outcomes().get(i)), first.numbers());
            RaceEnds.Other other =
                    new RaceEnds.Other(RaceEnds.parts(again.outcomes().get(i)), again.numbers());
            same &= RaceEnds.isSame(one, other, List.of(one, other));
        }
        if (!same) {
            throw new ProjectException(
                    "the calls come to something else each time, without anybody beside them"
                            + String.join(
                                    "",
                                    differences(again.rows(), first.rows()).keySet().stream()
                                            .map(t -> ", in " + t)
                                            .toList())
                            + ": what their order changes can't be told from that");
        }
    }

    /**
     * Makes one order, and says what is wrong with it.
     *
     * @param order the sessions of its steps
     */
    public Optional<Finding> once(List<Integer> order) throws ProjectException, SQLException {
        checkHeld(serial(calls.keySet()));
        return finding(place.run(calls, order));
    }

    // ------------------------------------------------------------------ which orders

    /** Notes where another order of steps could come to something else. */
    private void branch(RaceRun run) {
        for (int i = path.size(); i < run.steps().size(); i++) {
            path.add(new Node(run.choices().get(i)));
        }
        List<RaceStep> steps = run.steps();
        for (int i = 0; i < steps.size(); i++) {
            Node node = path.get(i);
            for (int j = i + 1; j < steps.size(); j++) {
                int other = steps.get(j).session();
                if (other == steps.get(i).session()
                        || !steps.get(i).footprint().meets(steps.get(j).footprint())) {
                    continue;
                }
                if (node.standing.contains(other)) {
                    node.todo.add(other);
                } else {
                    node.todo.addAll(node.standing);
                }
            }
        }
    }

    /** The beginning of the next order; empty where all that matter were made. */
    private Optional<List<Integer>> next() {
        while (!path.isEmpty()) {
            Node node = path.get(path.size() - 1);
            Optional<Integer> other =
                    node.todo.stream().filter(s -> !node.done.contains(s)).findFirst();
            if (other.isPresent()) {
                node.done.add(other.get());
                List<Integer> order = new ArrayList<>();
                path.subList(0, path.size() - 1).forEach(n -> order.add(n.chosen));
                order.add(other.get());
                Node again = new Node(reordered(node.standing, other.get()));
                again.todo.addAll(node.todo);
                again.done.addAll(node.done);
                path.set(path.size() - 1, again);
                return Optional.of(order);
            }
            path.remove(path.size() - 1);
        }
        return Optional.empty();
    }

    private static List<Integer> reordered(List<Integer> standing, int first) {
        List<Integer> all = new ArrayList<>(List.of(first));
        standing.stream().filter(s -> s != first).forEach(all::add);
        return all;
    }

    /** In how many orders the steps of a run could come, if none ever had to wait. */
    private static double orders(RaceRun run) {
        Map<Integer, Integer> counts = new HashMap<>();
        run.steps().forEach(s -> counts.merge(s.session(), 1, Integer::sum));
        double orders = 1;
        int all = 0;
        for (int count : counts.values()) {
            for (int i = 1; i <= count; i++) {
                all++;
                orders = orders * all / i;
            }
        }
        return Math.rint(orders);
    }

    // ------------------------------------------------------------------ one after the other

    private List<RaceRun> serial(Set<Integer> sessions) throws ProjectException, SQLException {
        List<RaceRun> known = serial.get(sessions);
        if (known == null) {
            known = new ArrayList<>();
            for (List<Integer> order : orders(new ArrayList<>(sessions))) {
                Map<Integer, RaceCall> some = new LinkedHashMap<>();
                order.forEach(s -> some.put(s, calls.get(s)));
                // The first goes on as long as it can, and then the next.
                known.add(place.run(some, List.of()));
            }
            serial.put(Set.copyOf(sessions), known);
        }
        return known;
    }

    private static List<List<Integer>> orders(List<Integer> sessions) {
        if (sessions.isEmpty()) {
            return List.of(List.of());
        }
        List<List<Integer>> all = new ArrayList<>();
        for (int first : sessions) {
            List<Integer> others = new ArrayList<>(sessions);
            others.remove(Integer.valueOf(first));
            for (List<Integer> rest : orders(others)) {
                List<Integer> order = new ArrayList<>(List.of(first));
                order.addAll(rest);
                all.add(order);
            }
        }
        return all;
    }

    // ------------------------------------------------------------------ what is wrong

    private Optional<Finding> finding(RaceRun run) throws ProjectException, SQLException {
        Map<Integer, Outcome> outcomes = outcomes(run, List.copyOf(calls.keySet()));
        Set<Integer> gone = new LinkedHashSet<>();
        outcomes.forEach(
                (session, outcome) -> {
                    if (isRefused(outcome)) {
                        gone.add(session);
                    }
                });
        Set<Integer> left = new LinkedHashSet<>(calls.keySet());
        left.removeAll(gone);
        List<RaceRun> orders = serial(left);
        boolean same = run.isHanging() || isSame(run, outcomes, left, orders);
        if (same
                && gone.isEmpty()
                && run.broken().isEmpty()
                && !run.isDeadlock()
                && !run.isHanging()) {
            return Optional.empty();
        }
        Kind kind =
                run.isHanging()
                        ? Kind.HANGING
                        : !run.broken().isEmpty()
                                ? Kind.INVARIANT
                                : !same
                                        ? kind(run, left)
                                        : run.isDeadlock() ? Kind.DEADLOCK : Kind.REFUSED;
        return Optional.of(
                new Finding(
                        kind,
                        run,
                        same ? Map.of() : differences(run, orders),
                        run.outcomes().stream().map(Race::end).toList()));
    }

    private Map<Integer, Outcome> outcomes(RaceRun run, List<Integer> sessions) {
        Map<Integer, Outcome> outcomes = new TreeMap<>();
        for (int i = 0; i < sessions.size(); i++) {
            outcomes.put(sessions.get(i), run.outcomes().get(i));
        }
        return outcomes;
    }

    /** Whether the database has ended its transaction, and all of it is taken back. */
    private static boolean isRefused(Outcome outcome) {
        return outcome.condition().filter(c -> c.sqlstate().startsWith("40")).isPresent();
    }

    private boolean isSame(
            RaceRun run, Map<Integer, Outcome> outcomes, Set<Integer> left, List<RaceRun> orders) {
        List<List<Integer>> numbers = orders(new ArrayList<>(left));
        for (int i = 0; i < orders.size(); i++) {
            if (!orders.get(i).rows().equals(run.rows())) {
                continue;
            }
            int at = i;
            boolean ends =
                    left.stream()
                            .allMatch(
                                    s -> {
                                        List<RaceEnds.Other> all = new ArrayList<>();
                                        for (int k = 0; k < orders.size(); k++) {
                                            all.add(end(s, orders.get(k), numbers.get(k)));
                                        }
                                        return RaceEnds.isSame(
                                                new RaceEnds.Other(
                                                        RaceEnds.parts(outcomes.get(s)),
                                                        run.numbers()),
                                                all.get(at),
                                                all);
                                    });
            if (ends) {
                return true;
            }
        }
        return false;
    }

    private RaceEnds.Other end(int session, RaceRun run, List<Integer> sessions) {
        return new RaceEnds.Other(
                RaceEnds.parts(outcomes(run, sessions).get(session)), run.numbers());
    }

    /** How a call ends, for a person. */
    private static String end(Outcome outcome) {
        if (outcome.condition().isPresent()) {
            return "ends in "
                    + outcome.condition().get().sqlstate()
                    + ": "
                    + outcome.condition().get().message();
        }
        StringBuilder text = new StringBuilder("completes");
        if (outcome.isFunction()) {
            text.append(" with ").append(Values.shortened(outcome.returned()));
        }
        outcome.out()
                .forEach(
                        (name, value) ->
                                text.append(", ")
                                        .append(name)
                                        .append(' ')
                                        .append(Values.shortened(value)));
        outcome.results()
                .forEach(
                        r -> {
                            text.append(", rows");
                            r.rows().forEach(row -> text.append(' ').append(Values.shortened(row)));
                        });
        outcome.messages().forEach(m -> text.append(", says ").append(m));
        return text.toString();
    }

    /** Which of the anomalies it is. */
    private Kind kind(RaceRun run, Set<Integer> left) throws ProjectException, SQLException {
        if (serial(left).stream().anyMatch(o -> o.rows().equals(run.rows()))) {
            // What there is is right, and what was seen of it is not.
            return Kind.ANOMALY;
        }
        List<Set<String>> changed = new ArrayList<>();
        for (int session : left) {
            Set<Integer> others = new LinkedHashSet<>(left);
            others.remove(session);
            Set<String> own = changed(session);
            if (!own.isEmpty()) {
                changed.add(own);
                for (RaceRun without : serial(others)) {
                    if (without.rows().equals(run.rows())) {
                        return Kind.LOST_UPDATE;
                    }
                }
            }
        }
        for (int i = 0; i < changed.size(); i++) {
            for (int j = i + 1; j < changed.size(); j++) {
                if (!Collections.disjoint(changed.get(i), changed.get(j))) {
                    return Kind.LOST_UPDATE;
                }
            }
        }
        return changed.size() > 1 ? Kind.WRITE_SKEW : Kind.ANOMALY;
    }

    /** The rows of the fixture that a session by itself changes or removes, and what it adds. */
    private Set<String> changed(int session) throws ProjectException, SQLException {
        Map<String, List<String>> before = serial(Set.of()).get(0).rows();
        Map<String, List<String>> after = serial(Set.of(session)).get(0).rows();
        Set<String> changed = new LinkedHashSet<>();
        differences(before, after)
                .forEach(
                        (table, rows) -> {
                            rows.here().forEach(r -> changed.add(table + ": " + r));
                            // What it adds is another row than what others add.
                            rows.serial().forEach(r -> changed.add(session + " " + r));
                        });
        return changed;
    }

    /** The rows that differ from those of the nearest order one after the other. */
    private static Map<String, Difference> differences(RaceRun run, List<RaceRun> orders) {
        return orders.stream()
                .map(o -> differences(run.rows(), o.rows()))
                .min(
                        Comparator.comparingInt(
                                d ->
                                        d.values().stream()
                                                .mapToInt(x -> x.here().size() + x.serial().size())
                                                .sum()))
                .orElse(Map.of());
    }

    private static Map<String, Difference> differences(
            Map<String, List<String>> here, Map<String, List<String>> serial) {
        Map<String, Difference> all = new LinkedHashMap<>();
        here.forEach(
                (table, rows) -> {
                    List<String> own = new ArrayList<>(rows);
                    List<String> other = new ArrayList<>(serial.getOrDefault(table, List.of()));
                    for (String row : rows) {
                        if (other.remove(row)) {
                            own.remove(row);
                        }
                    }
                    if (!own.isEmpty() || !other.isEmpty()) {
                        all.put(table, new Difference(own, other));
                    }
                });
        return all;
    }
}
