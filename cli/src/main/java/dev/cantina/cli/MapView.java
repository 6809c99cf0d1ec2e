package dev.cantina.cli;

import dev.cantina.cli.Screen.Tone;
import dev.cantina.relations.ProjectMap;
import dev.cantina.relations.ProjectMap.CaseUse;
import dev.cantina.relations.ProjectMap.Kind;
import dev.cantina.relations.ProjectMap.Link;
import dev.cantina.relations.ProjectMap.Thing;
import dev.cantina.relations.ProjectMap.Way;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;

/** Shows who calls and touches what. */
final class MapView {
    private static final int WIDTH = 13;

    private final Screen screen;
    private final ProjectMap map;

    MapView(Screen screen, ProjectMap map) {
        this.screen = screen;
        this.map = map;
    }

    // ------------------------------------------------------------------ the whole

    void whole() {
        for (Thing thing : map.things()) {
            if (!thing.kind().isTable()) {
                head(thing);
                uses(thing, "  ");
                count(thing);
            }
        }
        for (Thing thing : map.things()) {
            if (thing.kind().isTable()) {
                head(thing);
                users(thing, Optional.empty());
            }
        }
        rounds(Set.of());
        List<Thing> unused = map.unused();
        if (!unused.isEmpty()) {
            screen.line();
            screen.line(
                    screen.tone(Tone.CAREFUL, "used by nothing of the project: ")
                            + String.join(", ", unused.stream().map(Thing::name).toList()));
        }
        unknown(map.unbounded());
    }

    private void head(Thing thing) {
        screen.line(
                screen.tone(Tone.STRONG, thing.name())
                        + screen.tone(
                                Tone.FAINT,
                                "  "
                                        + thing.kind().word()
                                        + thing.span().map(s -> ", " + place(thing)).orElse("")));
    }

    private static String place(Thing thing) {
        return thing.span()
                .map(s -> s.source().name() + (thing.kind() == Kind.SCRIPT ? "" : ":" + s.line()))
                .orElse("");
    }

    private void line(String indent, String word, String text) {
        screen.line(indent + screen.tone(Tone.FAINT, Screen.padded(word, WIDTH)) + text);
    }

    private void uses(Thing thing, String indent) {
        for (Way way : Way.values()) {
            List<String> parts = new ArrayList<>();
            for (Link link : map.from(thing)) {
                if (link.way() == way) {
                    parts.add(link.to().name() + columns(link) + setOff(link));
                }
            }
            if (!parts.isEmpty()) {
                line(indent, way.word(), String.join(", ", parts));
            }
        }
    }

    private static String columns(Link link) {
        return link.columns().isEmpty()
                ? ""
                : " ("
                        + (link.columns().contains("*") ? "*" : String.join(", ", link.columns()))
                        + ")";
    }

    private String setOff(Link link) {
        List<String> fired = map.setOff(link).stream().map(Thing::name).toList();
        return fired.isEmpty() ? "" : screen.tone(Tone.NEW, " → " + String.join(", ", fired));
    }

    private void count(Thing thing) {
        List<CaseUse> cases = map.casesOf(Set.of(thing));
        if (!cases.isEmpty()) {
            line("  ", "cases", cases(cases));
        }
    }

    private static String cases(List<CaseUse> cases) {
        Map<String, Integer> files = new TreeMap<>();
        cases.forEach(c -> files.merge(c.file(), 1, Integer::sum));
        List<String> parts = new ArrayList<>();
        files.forEach((file, count) -> parts.add(count + " in " + file));
        return String.join(", ", parts);
    }

    /** Who uses a table, or a column of it. */
    private void users(Thing table, Optional<String> column) {
        for (Way way : Way.values()) {
            List<String> parts = new ArrayList<>();
            for (Link link : map.to(table)) {
                boolean meant =
                        column.isEmpty()
                                || link.columns().contains("*")
                                || link.columns().stream().anyMatch(column.get()::equalsIgnoreCase);
                if (link.way() == way && meant) {
                    parts.add(link.from().name() + (column.isEmpty() ? columns(link) : ""));
                }
            }
            if (!parts.isEmpty()) {
                line("  ", passive(way), String.join(", ", parts));
            }
        }
        List<String> fired = new ArrayList<>();
        for (Link link : map.from(table)) {
            if (link.way() == Way.FIRES) {
                fired.add(
                        link.to().name()
                                + " ("
                                + String.join(
                                        ", ",
                                        map.firedOn(link.to()).stream()
                                                .map(w -> w.word().replaceAll("s$", ""))
                                                .toList())
                                + ")");
            } else if (link.way() == Way.READS) {
                line("  ", "reads", link.to().name());
            }
        }
        if (!fired.isEmpty() && column.isEmpty()) {
            line("  ", "fires", screen.tone(Tone.NEW, String.join(", ", fired)));
        }
    }

    private static String passive(Way way) {
        return switch (way) {
            case CALLS -> "called by";
            case READS -> "read by";
            case INSERTS -> "inserted by";
            case UPDATES -> "updated by";
            case DELETES -> "deleted by";
            case MERGES -> "merged by";
            case FIRES -> "fired by";
        };
    }

    /** The ways in which code comes round to itself. */
    private void rounds(Set<Thing> of) {
        for (List<Thing> round : map.cycles()) {
            if (of.isEmpty() || round.stream().anyMatch(of::contains)) {
                List<String> names = new ArrayList<>(round.stream().map(Thing::name).toList());
                names.add(names.get(0));
                screen.line();
                screen.line(
                        screen.tone(Tone.CAREFUL, "comes round to itself: ")
                                + String.join(" → ", names));
            }
        }
    }

    private void unknown(Set<Thing> of) {
        if (!of.isEmpty()) {
            screen.line();
            screen.line(
                    screen.tone(
                                    Tone.CAREFUL,
                                    "puts SQL together as it runs, so it may touch more: ")
                            + String.join(", ", of.stream().map(Thing::name).toList()));
        }
    }

    // ------------------------------------------------------------------ one thing

    void about(MapCommand.Asked asked) {
        Thing thing = asked.thing();
        if (asked.column().isPresent()) {
            screen.line(
                    screen.tone(Tone.STRONG, thing.name() + "." + asked.column().get())
                            + screen.tone(Tone.FAINT, "  column of a " + thing.kind().word()));
        } else {
            head(thing);
        }
        if (thing.kind().isTable()) {
            users(thing, asked.column());
        } else {
            uses(thing, "  ");
            List<String> runners = map.runners(thing).stream().map(Thing::name).toList();
            if (!runners.isEmpty()) {
                line(
                        "  ",
                        thing.kind() == Kind.TRIGGER ? "fired by" : "called by",
                        String.join(", ", runners));
            }
            tree(thing);
        }
        touched(asked);
        rounds(Set.of(thing));
        Set<Thing> doubted = new HashSet<>(map.unbounded());
        if (!thing.kind().isTable()) {
            doubted.retainAll(Set.of(thing));
        }
        unknown(doubted);
    }

    /** What it runs, and what these run. */
    private void tree(Thing thing) {
        if (map.runs(thing).stream().anyMatch(t -> !map.runs(t).isEmpty())) {
            screen.line();
            screen.line("  " + screen.tone(Tone.FAINT, "runs"));
            tree(thing, "    ", new HashSet<>(Set.of(thing)));
        }
    }

    private void tree(Thing thing, String indent, Set<Thing> above) {
        for (Thing next : map.runs(thing)) {
            boolean again = !above.add(next);
            screen.line(
                    indent
                            + next.name()
                            + (next.kind() == Kind.TRIGGER
                                    ? screen.tone(Tone.NEW, "  trigger")
                                    : "")
                            + (again && !map.runs(next).isEmpty()
                                    ? screen.tone(Tone.FAINT, "  as above")
                                    : ""));
            if (!again) {
                tree(next, indent + "  ", above);
            }
        }
    }

    private void touched(MapCommand.Asked asked) {
        List<Thing> touched = map.touched(asked.thing(), asked.column());
        Set<Thing> all = new HashSet<>(touched);
        if (asked.column().isEmpty() || !asked.thing().kind().isTable()) {
            all.add(asked.thing());
        }
        List<CaseUse> cases = map.casesOf(all);
        screen.line();
        if (touched.isEmpty() && cases.isEmpty()) {
            screen.line("  a change of it touches nothing else of the project");
            return;
        }
        screen.line("  " + screen.tone(Tone.FAINT, "a change of it may touch"));
        int width = touched.stream().mapToInt(t -> Screen.width(t.name())).max().orElse(0);
        touched.forEach(
                t ->
                        screen.line(
                                "    "
                                        + Screen.padded(t.name(), width)
                                        + screen.tone(
                                                Tone.FAINT,
                                                "  "
                                                        + Screen.padded(t.kind().word(), 9)
                                                        + "  "
                                                        + place(t))));
        Map<String, Integer> files = new TreeMap<>();
        cases.forEach(c -> files.merge(c.file(), 1, Integer::sum));
        files.forEach(
                (file, count) ->
                        screen.line(
                                "    "
                                        + count
                                        + (count == 1 ? " case" : " cases")
                                        + " in "
                                        + file));
        if (!files.isEmpty()) {
            screen.line(
                    screen.tone(Tone.FAINT, "  again: ")
                            + "cantina test "
                            + String.join(
                                    " ", files.keySet().stream().map(Screen::typed).toList()));
        }
    }

    // ------------------------------------------------------------------ JSON

    Map<String, Object> json(List<MapCommand.Asked> asked) {
        Map<String, Object> object = new LinkedHashMap<>();
        List<Object> things = new ArrayList<>();
        for (Thing thing : map.things()) {
            Map<String, Object> one = new LinkedHashMap<>();
            one.put("kind", thing.kind().word());
            one.put("name", thing.name());
            one.put("file", thing.span().map(s -> s.source().name()).orElse(null));
            one.put("line", thing.span().map(s -> s.line()).orElse(null));
            things.add(one);
        }
        object.put("things", things);
        List<Object> links = new ArrayList<>();
        for (Link link : map.links()) {
            Map<String, Object> one = new LinkedHashMap<>();
            one.put("from", link.from().name());
            one.put("to", link.to().name());
            one.put("way", link.way().word());
            one.put("columns", List.copyOf(link.columns()));
            links.add(one);
        }
        object.put("links", links);
        List<Object> cases = new ArrayList<>();
        for (CaseUse use : map.cases()) {
            Map<String, Object> one = new LinkedHashMap<>();
            one.put("file", use.file());
            one.put("case", use.name());
            one.put("routines", List.copyOf(use.routines()));
            one.put("tables", List.copyOf(use.tables()));
            cases.add(one);
        }
        object.put("cases", cases);
        object.put(
                "cycles",
                map.cycles().stream().map(c -> c.stream().map(Thing::name).toList()).toList());
        object.put("unused", map.unused().stream().map(Thing::name).toList());
        object.put("unknown", map.unbounded().stream().map(Thing::name).toList());
        if (!asked.isEmpty()) {
            List<Object> touched = new ArrayList<>();
            for (MapCommand.Asked one : asked) {
                map.touched(one.thing(), one.column()).forEach(t -> touched.add(t.name()));
            }
            object.put("touched", touched);
        }
        return object;
    }
}
