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
    private final List<CaseUse> cases = new ArrayList<>();
    private final Set<Thing> unbounded = new LinkedHashSet<>();

    /** On which changes a trigger fires. */
    private final Map<Thing, Set<Way>> fired = new HashMap<>();

    Thing add(Thing thing) {
        Thing known = things.putIfAbsent(thing.key(), thing);
        return known == null ? thing : known;
    }

    void link(Thing from, Thing to, Way way, Collection<String> columns) {
        links.computeIfAbsent(
                        from.key() + "|" + to.key() + "|" + way,
                        k -> new Link(from, to, way, new TreeSet<>()))
                .columns()
                .addAll(columns);
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
        return things.values().stream()
                .filter(t -> t.name().equalsIgnoreCase(name) || t.base().equalsIgnoreCase(name))
                .toList();
    }

    public List<Link> from(Thing thing) {
        return links.values().stream().filter(l -> l.from().equals(thing)).toList();
    }

    public List<Link> to(Thing thing) {
        return links.values().stream().filter(l -> l.to().equals(thing)).toList();
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

    /** The ways in which code can come round to itself. */
    public List<List<Thing>> cycles() {
        List<List<Thing>> cycles = new ArrayList<>();
        Set<Set<Thing>> known = new LinkedHashSet<>();
        for (Thing start : things.values()) {
            List<Thing> round = round(start);
            if (!round.isEmpty() && known.add(new LinkedHashSet<>(round))) {
                cycles.add(round);
            }
        }
        return cycles;
    }

    /** The shortest way from something to itself; empty where there is none. */
    private List<Thing> round(Thing start) {
        Map<Thing, Thing> before = new HashMap<>();
        Deque<Thing> open = new ArrayDeque<>(List.of(start));
        while (!open.isEmpty()) {
            Thing at = open.poll();
            for (Thing next : runs(at)) {
                if (next.equals(start)) {
                    List<Thing> way = new ArrayList<>(List.of(at));
                    for (Thing back = at; !back.equals(start); back = before.get(back)) {
                        way.add(0, before.get(back));
                    }
                    return way;
                }
                if (before.putIfAbsent(next, at) == null) {
                    open.add(next);
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
