package dev.cantina.relations;

import dev.cantina.syntax.Span;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Deque;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;

/** The routines, triggers and tables of a project, and how they depend on each other. */
public final class ProjectMap {
    /** What something is. */
    public enum Kind {
        PROCEDURE,
        FUNCTION,
        TRIGGER,
        TABLE,
        VIEW,
        SCRIPT;

        public boolean isTable() {
            return this == TABLE || this == VIEW;
        }

        /** In a word. */
        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /**
     * Something of the project.
     *
     * @param span its name where it is made; empty for what is made elsewhere
     */
    public record Thing(Kind kind, String name, Optional<Span> span) {
        /** Its name without the types that tell it from others of that name. */
        String base() {
            int bracket = name.indexOf('(');
            return bracket < 0 || kind.isTable() ? name : name.substring(0, bracket);
        }

        /** By which it is told from all others. */
        String key() {
            String room = kind.isTable() ? "t " : kind == Kind.TRIGGER ? "f " : "r ";
            return room + name.toLowerCase(Locale.ROOT);
        }

        @Override
        public boolean equals(Object other) {
            return other instanceof Thing thing && thing.key().equals(key());
        }

        @Override
        public int hashCode() {
            return key().hashCode();
        }
    }

    /** How one depends on another. */
    public enum Way {
        CALLS,
        READS,
        INSERTS,
        UPDATES,
        DELETES,
        MERGES,
        /** A change of a table sets a trigger off. */
        FIRES;

        /** Whether rows of a table are changed. */
        public boolean isChange() {
            return this == INSERTS || this == UPDATES || this == DELETES || this == MERGES;
        }

        /** In a word. */
        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /**
     * One depends on another.
     *
     * @param columns those that are named; {@code *} for all of them
     */
    public record Link(Thing from, Thing to, Way way, TreeSet<String> columns) {}

    /**
     * A case and what it needs.
     *
     * @param routines that it calls itself
     * @param tables that it names
     */
    public record CaseUse(String file, String name, Set<String> routines, Set<String> tables) {}

    private final Map<String, Thing> things = new LinkedHashMap<>();
    private final Map<String, Link> links = new LinkedHashMap<>();
    private final Map<Thing, List<Link>> bySource = new HashMap<>();
    private final Map<Thing, List<Link>> byTarget = new HashMap<>();
    private final Map<String, List<Thing>> byName = new HashMap<>();
    private final List<CaseUse> cases = new ArrayList<>();
    private final Set<Thing> unbounded = new LinkedHashSet<>();

    /** On which changes a trigger fires. */
    private final Map<Thing, Set<Way>> fired = new HashMap<>();

    Thing add(Thing thing) {
        Thing known = things.putIfAbsent(thing.key(), thing);
        if (known == null) {
            for (String name : List.of(thing.name(), thing.base()).stream().distinct().toList()) {
                byName.computeIfAbsent(name.toLowerCase(Locale.ROOT), n -> new ArrayList<>())
                        .add(thing);
            }
        }
        return known == null ? thing : known;
    }

    void link(Thing from, Thing to, Way way, Collection<String> columns) {
        String key = from.key() + "|" + to.key() + "|" + way;
        Link link = links.get(key);
        if (link == null) {
            link = new Link(from, to, way, new TreeSet<>());
            links.put(key, link);
            bySource.computeIfAbsent(from, t -> new ArrayList<>()).add(link);
            byTarget.computeIfAbsent(to, t -> new ArrayList<>()).add(link);
        }
        link.columns().addAll(columns);
    }

    void fires(Thing table, Thing trigger, Way on) {
        fired.computeIfAbsent(trigger, t -> new LinkedHashSet<>()).add(on);
        link(table, trigger, Way.FIRES, List.of());
    }

    void unbounded(Thing thing) {
        unbounded.add(thing);
    }

    void use(CaseUse use) {
        cases.add(use);
    }

    public Collection<Thing> things() {
        return things.values();
    }

    public Collection<Link> links() {
        return links.values();
    }

    public List<CaseUse> cases() {
        return cases;
    }

    /** Those that run SQL which they put together themselves, so that more may be touched. */
    public Set<Thing> unbounded() {
        return unbounded;
    }

    /** The changes that a trigger fires on. */
    public Set<Way> firedOn(Thing trigger) {
        return fired.getOrDefault(trigger, Set.of());
    }

    /** The things of a name: a routine and a table may share one. */
    public List<Thing> called(String name) {
        return List.copyOf(byName.getOrDefault(name.toLowerCase(Locale.ROOT), List.of()));
    }

    public List<Link> from(Thing thing) {
        return bySource.getOrDefault(thing, List.of());
    }

    public List<Link> to(Thing thing) {
        return byTarget.getOrDefault(thing, List.of());
    }

    /** The triggers that a change by somebody sets off. */
    public List<Thing> setOff(Link change) {
        if (!change.way().isChange()) {
            return List.of();
        }
        return from(change.to()).stream()
                .filter(l -> l.way() == Way.FIRES)
                .map(Link::to)
                .filter(t -> fits(firedOn(t), change.way()))
                .toList();
    }

    private static boolean fits(Set<Way> on, Way change) {
        return on.contains(change) || change == Way.MERGES;
    }

    /** What something depends on directly: what it calls, and the triggers that it sets off. */
    public List<Thing> runs(Thing thing) {
        Set<Thing> all = new LinkedHashSet<>();
        for (Link link : from(thing)) {
            if (link.way() == Way.CALLS) {
                all.add(link.to());
            }
            all.addAll(setOff(link));
        }
        return List.copyOf(all);
    }

    /** Who runs something directly: who calls it, or sets it off. */
    public List<Thing> runners(Thing thing) {
        Set<Thing> all = new LinkedHashSet<>();
        for (Link link : to(thing)) {
            if (link.way() == Way.CALLS) {
                all.add(link.from());
            } else if (link.way() == Way.FIRES) {
                to(link.from()).stream()
                        .filter(l -> l.way().isChange() && fits(firedOn(thing), l.way()))
                        .forEach(l -> all.add(l.from()));
            }
        }
        return List.copyOf(all);
    }

    /** Of each group that comes round to itself so many ways are told. */
    private static final int MOST_ROUNDS = 20;

    /** The ways in which code can come round to itself. */
    public List<List<Thing>> cycles() {
        Map<Thing, List<Thing>> next = new HashMap<>();
        things.values().forEach(t -> next.put(t, runs(t)));
        List<List<Thing>> cycles = new ArrayList<>();
        for (Set<Thing> group : new Rounds(next).groups()) {
            Set<Set<Thing>> known = new LinkedHashSet<>();
            for (Thing start : group) {
                List<Thing> round = round(start, next, group);
                if (!round.isEmpty()
                        && known.size() < MOST_ROUNDS
                        && known.add(new LinkedHashSet<>(round))) {
                    cycles.add(round);
                }
            }
        }
        return cycles;
    }

    /** The groups of things that can all come to each other (Tarjan's way), without recursion. */
    private static final class Rounds {
        private final Map<Thing, List<Thing>> next;
        private final Map<Thing, Integer> number = new HashMap<>();
        private final Map<Thing, Integer> lowest = new HashMap<>();
        private final Deque<Thing> stack = new ArrayDeque<>();
        private final Set<Thing> stacked = new LinkedHashSet<>();
        private final List<Set<Thing>> groups = new ArrayList<>();

        Rounds(Map<Thing, List<Thing>> next) {
            this.next = next;
            next.keySet().stream().filter(t -> !number.containsKey(t)).forEach(this::visit);
        }

        List<Set<Thing>> groups() {
            return groups;
        }

        /** A thing on the way, and how many of those behind it were gone to. */
        private static final class Step {
            final Thing thing;
            int gone;

            Step(Thing thing) {
                this.thing = thing;
            }
        }

        private void visit(Thing start) {
            Deque<Step> way = new ArrayDeque<>();
            enter(start, way);
            while (!way.isEmpty()) {
                Step step = way.peek();
                List<Thing> behind = next.getOrDefault(step.thing, List.of());
                if (step.gone < behind.size()) {
                    Thing to = behind.get(step.gone++);
                    if (!number.containsKey(to)) {
                        enter(to, way);
                    } else if (stacked.contains(to)) {
                        lowest.merge(step.thing, number.get(to), Math::min);
                    }
                    continue;
                }
                way.pop();
                if (!way.isEmpty()) {
                    lowest.merge(way.peek().thing, lowest.get(step.thing), Math::min);
                }
                if (lowest.get(step.thing).equals(number.get(step.thing))) {
                    group(step.thing);
                }
            }
        }

        private void enter(Thing thing, Deque<Step> way) {
            number.put(thing, number.size());
            lowest.put(thing, number.get(thing));
            stack.push(thing);
            stacked.add(thing);
            way.push(new Step(thing));
        }

        private void group(Thing root) {
            Set<Thing> group = new LinkedHashSet<>();
            Thing last;
            do {
                last = stack.pop();
                stacked.remove(last);
                group.add(last);
            } while (!last.equals(root));
            boolean round = group.size() > 1 || next.getOrDefault(root, List.of()).contains(root);
            if (round) {
                groups.add(group);
            }
        }
    }

    /** The shortest way from something to itself; empty where there is none. */
    private static List<Thing> round(Thing start, Map<Thing, List<Thing>> next, Set<Thing> group) {
        Map<Thing, Thing> before = new HashMap<>();
        Deque<Thing> open = new ArrayDeque<>(List.of(start));
        while (!open.isEmpty()) {
            Thing at = open.poll();
            for (Thing to : next.getOrDefault(at, List.of())) {
                if (to.equals(start)) {
                    List<Thing> way = new ArrayList<>(List.of(at));
                    for (Thing back = at; !back.equals(start); back = before.get(back)) {
                        way.add(0, before.get(back));
                    }
                    return way;
                }
                if (group.contains(to) && before.putIfAbsent(to, at) == null) {
                    open.add(to);
                }
            }
        }
        return List.of();
    }

    /**
     * What nothing of the project uses: routines that nothing calls and no case tests, tables that
     * nothing reads or changes. Whoever calls from outside can't be seen.
     */
    public List<Thing> unused() {
        List<Thing> all = new ArrayList<>();
        for (Thing thing : things.values()) {
            boolean routine = thing.kind() == Kind.PROCEDURE || thing.kind() == Kind.FUNCTION;
            boolean used =
                    thing.kind().isTable()
                            ? to(thing).stream().anyMatch(l -> !l.from().equals(thing))
                            : routine
                                    && (runners(thing).stream().anyMatch(r -> !r.equals(thing))
                                            || !casesOf(Set.of(thing)).isEmpty());
            if (!used && (routine || thing.kind().isTable())) {
                all.add(thing);
            }
        }
        return all;
    }

    /** The cases that call one of some routines, or name one of some tables, themselves. */
    public List<CaseUse> casesOf(Collection<Thing> of) {
        Set<String> routines = new LinkedHashSet<>();
        Set<String> tables = new LinkedHashSet<>();
        of.forEach(
                t ->
                        (t.kind().isTable() ? tables : routines)
                                .add(t.base().toLowerCase(Locale.ROOT)));
        return cases.stream()
                .filter(
                        c ->
                                c.routines().stream().anyMatch(routines::contains)
                                        || c.tables().stream().anyMatch(tables::contains))
                .toList();
    }

    /**
     * What may have to change with something, itself left out: who uses it, and who runs these.
     *
     * @param column of a table, where only that changes
     */
    public List<Thing> touched(Thing thing, Optional<String> column) {
        Set<Thing> all = new LinkedHashSet<>();
        Deque<Thing> open = new ArrayDeque<>();
        if (thing.kind().isTable()) {
            for (Link link : to(thing)) {
                boolean meant =
                        column.isEmpty()
                                || link.columns().contains("*")
                                || link.columns().stream().anyMatch(column.get()::equalsIgnoreCase);
                if (meant && all.add(link.from())) {
                    open.add(link.from());
                }
            }
            from(thing).stream()
                    .filter(l -> l.way() == Way.FIRES)
                    .map(Link::to)
                    .filter(t -> column.isEmpty())
                    .filter(all::add)
                    .forEach(open::add);
        } else {
            open.add(thing);
        }
        while (!open.isEmpty()) {
            Thing at = open.poll();
            List<Thing> users = new ArrayList<>(runners(at));
            if (at.kind() == Kind.VIEW) {
                to(at).forEach(l -> users.add(l.from()));
            }
            for (Thing user : users) {
                if (!user.equals(thing) && all.add(user)) {
                    open.add(user);
                }
            }
        }
        return List.copyOf(all);
    }
}
