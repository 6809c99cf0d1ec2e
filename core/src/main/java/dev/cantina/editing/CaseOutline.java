package dev.cantina.editing;

import dev.cantina.advice.Advice;
import dev.cantina.project.ProjectReader;
import dev.cantina.syntax.Source;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/** The cases of a file, and what may be typed in it. */
public final class CaseOutline {
    static final List<String> KEYS =
            List.of(
                    "case",
                    "routine",
                    "fixture",
                    "before",
                    "pass",
                    "calls",
                    "each",
                    "returns",
                    "results",
                    "raises",
                    "says",
                    "data",
                    "ask",
                    "stand_in",
                    "asked",
                    "limits",
                    "skip",
                    "tags",
                    "clock",
                    "as",
                    "invariants");

    private CaseOutline() {}

    /** Its cases, by their names. */
    public static List<Outline> of(Source source) {
        if (!source.name().endsWith(".yaml") && !source.name().endsWith(".yml")) {
            return List.of();
        }
        return CaseNames.of(source).stream()
                .filter(u -> u.kind() == CaseNames.Kind.CASE)
                .map(
                        u ->
                                new Outline(
                                        u.name(),
                                        Outline.Kind.CASE,
                                        u.routine(),
                                        u.span(),
                                        u.span(),
                                        List.of()))
                .toList();
    }

    /**
     * What may stand at an offset: names of routines behind {@code routine:}, parameters inside
     * {@code pass} and {@code returns}, tables inside {@code data}, else the keys of a case. What
     * stands around is seen by how far lines are indented, so that a text that is half typed is
     * understood too.
     */
    public static List<Completion.Offer> offers(
            CaseWords words, String file, String text, int offset) {
        List<Completion.Offer> offers = new ArrayList<>();
        int start = text.lastIndexOf('\n', Math.max(0, offset - 1)) + 1;
        String line = text.substring(start, offset);
        if (file.equals("cantina.yaml")) {
            settings(around(text, start, line), line, offers);
            return offers;
        }
        if (line.strip().startsWith("routine:") || line.strip().startsWith("- routine:")) {
            offers.addAll(words.routines());
            return offers;
        }
        List<String> path = path(text, start, line);
        Optional<List<Completion.Offer>> inData = inData(words, path);
        if (inData.isPresent()) {
            return inData.get();
        }
        String around = around(text, start, line);
        switch (around) {
            case "pass", "returns" -> parameters(words, text, start, offers);
            case "stand_in", "asked" -> offers.addAll(words.routines());
            case "data" -> offers.addAll(words.tables());
            default -> {
                if (!line.contains(":")) {
                    KEYS.forEach(
                            k -> offers.add(new Completion.Offer(k, Completion.Kind.KEYWORD, "")));
                }
            }
        }
        return offers;
    }

    /** What may stand inside {@code data}: how a table changes, or columns; empty elsewhere. */
    private static Optional<List<Completion.Offer>> inData(CaseWords words, List<String> path) {
        int data = path.lastIndexOf("data");
        if (data < 0 || data + 1 >= path.size()) {
            return Optional.empty();
        }
        if (data + 2 == path.size()) {
            return Optional.of(
                    Stream.of("added", "removed", "changed")
                            .map(k -> new Completion.Offer(k, Completion.Kind.KEYWORD, ""))
                            .toList());
        }
        boolean rows = !path.get(data + 2).equals("changed") || data + 3 < path.size();
        return Optional.of(rows ? words.columns(path.get(data + 1)) : List.of());
    }

    /**
     * The keys that stand around an offset, the outermost first: of the lines above by how far they
     * are indented, then those of the line's own braces.
     */
    private static List<String> path(String text, int start, String line) {
        Deque<String> path = new ArrayDeque<>();
        int least = indent(line);
        for (int at = start; at > 0 && least > 0; ) {
            int previous = text.lastIndexOf('\n', at - 2) + 1;
            String above = text.substring(previous, at - 1);
            if (!above.isBlank() && indent(above) < least) {
                least = indent(above);
                String key = above.strip().replaceFirst("^(-\\s*)+", "");
                if (key.endsWith(":")) {
                    path.addFirst(key.substring(0, key.length() - 1));
                }
            }
            at = previous;
        }
        List<String> all = new ArrayList<>(path);
        Deque<Integer> open = new ArrayDeque<>();
        for (int i = 0; i < line.length(); i++) {
            char c = line.charAt(i);
            if (c == '{' || c == '[') {
                open.push(all.size());
                Matcher key = KEY_BEFORE.matcher(line.substring(0, i));
                if (key.find()) {
                    all.add(key.group(1));
                }
            } else if ((c == '}' || c == ']') && !open.isEmpty()) {
                int kept = open.pop();
                all.subList(kept, all.size()).clear();
            }
        }
        return all;
    }

    private static final Pattern KEY_BEFORE = Pattern.compile("([^\\s{\\[,:]+)\\s*:\\s*$");

    /** What may stand in a project's settings. */
    private static void settings(String around, String line, List<Completion.Offer> offers) {
        boolean key = !line.contains(":") || line.contains("{");
        Iterable<String> names =
                switch (around) {
                    case "" -> key ? ProjectReader.keys() : List.of();
                    case "limits" -> ProjectReader.limitNames();
                    case "advice" -> List.of("silence");
                    case "silence" -> Advice.names();
                    default -> List.of();
                };
        for (String name : names) {
            offers.add(new Completion.Offer(name, Completion.Kind.KEYWORD, ""));
        }
    }

    /** The key inside of which a line stands: on the line itself, or the nearest outer one. */
    private static String around(String text, int start, String line) {
        int brace = line.lastIndexOf('{');
        if (brace >= 0 && line.indexOf('}', brace) < 0) {
            String before = line.substring(0, brace).strip();
            int colon = before.lastIndexOf(':');
            String key = colon < 0 ? "" : before.substring(0, colon).strip();
            return key.replaceFirst("^.*[\\s{,-]", "");
        }
        int indent = indent(line);
        int at = start;
        while (at > 0) {
            int previous = text.lastIndexOf('\n', at - 2) + 1;
            String above = text.substring(previous, at - 1);
            if (!above.isBlank() && indent(above) < indent) {
                String key = above.strip().replaceFirst("^-\\s*", "");
                return key.endsWith(":") ? key.substring(0, key.length() - 1) : "";
            }
            at = previous;
        }
        return "";
    }

    private static int indent(String line) {
        int indent = 0;
        while (indent < line.length() && line.charAt(indent) == ' ') {
            indent++;
        }
        return indent;
    }

    private static void parameters(
            CaseWords words, String text, int start, List<Completion.Offer> offers) {
        Optional<String> routine = Optional.empty();
        for (String line : text.substring(0, start).lines().toList()) {
            String key = line.strip().replaceFirst("^-\\s*", "");
            if (key.startsWith("routine:")) {
                routine = Optional.of(key.substring("routine:".length()).strip());
            }
        }
        routine.ifPresent(name -> offers.addAll(words.parameters(name)));
    }
}
