package dev.cantina.serve.debug;

import dev.cantina.debugging.Breakpoint;
import dev.cantina.debugging.DebugException;
import dev.cantina.debugging.Debugger;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * The breakpoints that an editor has set. It tells all of a kind each time: those that were there
 * already stay, so that what they have counted does.
 */
final class BreakpointBook {
    private static final Pattern HITS =
            Pattern.compile(
                    "\\s*(?:(>=|>|%)?\\s*(\\d{1,9})|after\\s+(\\d{1,9})(?:\\s+every\\s+(\\d{1,9}))?|every\\s+(\\d{1,9}))\\s*");

    /** What is wanted of one, whatever its kind. */
    record Wanted(String what, int line, String condition, String hits, String tells) {}

    /** What came of it: a breakpoint, or why there is none. */
    record Set(Wanted wanted, Optional<Breakpoint> breakpoint, String why) {}

    /** Sets one in the debugger. */
    interface Setter {
        Breakpoint set(Wanted wanted, Hits hits) throws DebugException;
    }

    /** After how many times it stops, and then at every how many. */
    record Hits(int after, int every) {}

    private final Debugger debugger;
    private final Map<String, List<Set>> kinds = new HashMap<>();

    BreakpointBook(Debugger debugger) {
        this.debugger = debugger;
    }

    /**
     * Makes those of a kind the ones that are wanted.
     *
     * @param kind a file, or another group that an editor tells as a whole
     * @return one for each that is wanted, in their order
     */
    List<Set> replace(String kind, List<Wanted> wanted, Setter setter) {
        List<Set> before = kinds.getOrDefault(kind, List.of());
        for (Set old : before) {
            if (!wanted.contains(old.wanted())) {
                remove(old, before, wanted);
            }
        }
        List<Set> after = new ArrayList<>();
        for (Wanted one : wanted) {
            after.add(
                    before.stream()
                            .filter(s -> s.wanted().equals(one) && s.breakpoint().isPresent())
                            .findFirst()
                            .orElseGet(() -> made(one, setter)));
        }
        kinds.put(kind, after);
        return after;
    }

    /** Takes one away, unless another that stays stands at the same place. */
    private void remove(Set old, List<Set> before, List<Wanted> wanted) {
        if (old.breakpoint().isEmpty()) {
            return;
        }
        int number = old.breakpoint().get().number();
        boolean shared =
                before.stream()
                        .filter(s -> wanted.contains(s.wanted()))
                        .flatMap(s -> s.breakpoint().stream())
                        .anyMatch(b -> b.number() == number);
        if (!shared) {
            try {
                debugger.change(number, Debugger.Change.REMOVE);
            } catch (DebugException e) {
                // It is gone already: another at the same place was removed.
                return;
            }
        }
    }

    private static Set made(Wanted wanted, Setter setter) {
        try {
            return new Set(wanted, Optional.of(setter.set(wanted, hits(wanted.hits()))), "");
        } catch (DebugException e) {
            return new Set(wanted, Optional.empty(), e.getMessage());
        }
    }

    private static Hits hits(String text) throws DebugException {
        if (text == null || text.isBlank()) {
            return new Hits(0, 1);
        }
        Matcher matcher = HITS.matcher(text);
        if (!matcher.matches()) {
            throw new DebugException(
                    "'"
                            + text
                            + "' is not understood; write 3 for from the third time on, % 10 for each"
                            + " tenth, or after 3 every 10");
        }
        if (matcher.group(2) == null) {
            return new Hits(number(matcher.group(3), 0), number(either(matcher, 4, 5), 1));
        }
        int number = number(matcher.group(2), 0);
        String sign = Objects.requireNonNullElse(matcher.group(1), "");
        return switch (sign) {
            case ">" -> new Hits(number, 1);
            case "%" -> new Hits(0, Math.max(1, number));
            default -> new Hits(Math.max(0, number - 1), 1);
        };
    }

    private static String either(Matcher matcher, int one, int other) {
        return matcher.group(one) != null ? matcher.group(one) : matcher.group(other);
    }

    private static int number(String text, int otherwise) {
        return text == null ? otherwise : Integer.parseInt(text);
    }
}
