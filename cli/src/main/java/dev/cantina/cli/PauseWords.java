package dev.cantina.cli;

import dev.cantina.debugging.Breakpoint;
import dev.cantina.debugging.DebugException;
import dev.cantina.debugging.Debugger;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Reads what stands after {@code pause}, and tells breakpoints in the same words. */
final class PauseWords {
    private static final Pattern COUNTS =
            Pattern.compile(
                    "^(.*?)(?:\\s+after\\s+(\\S+))?(?:\\s+every\\s+(\\S+))?(?:\\s+tell\\s+(.+))?$");
    private static final String AT = "pause at takes a line or end: pause at move_wine:24";

    private final Debugger debugger;
    private int after;
    private int every = 1;
    private Optional<String> tells = Optional.empty();

    PauseWords(Debugger debugger) {
        this.debugger = debugger;
    }

    /**
     * Sets the breakpoint that a person asks for.
     *
     * @param here the routine that the run stands in
     */
    Breakpoint read(String text, String here) throws DebugException {
        Matcher counts = COUNTS.matcher(DebugWord.need(text, AT + ", or pause on exception"));
        counts.matches();
        if (counts.group(2) != null) {
            after = number(counts.group(2), "after takes a number: after 3");
        }
        if (counts.group(3) != null) {
            every = number(counts.group(3), "every takes a number: every 10");
        }
        tells = Optional.ofNullable(counts.group(4)).map(String::strip);
        String rest = counts.group(1).strip();
        if (startsWith(rest, "on ")) {
            if (tells.isPresent()) {
                throw new DebugException(
                        "tell goes with a line: pause at move_wine:24 tell " + tells.get());
            }
            return on(rest.substring(3).strip(), here);
        }
        return at(startsWith(rest, "at ") ? rest.substring(3).strip() : rest, here);
    }

    private static int number(String text, String otherwise) throws DebugException {
        int number = DebugWord.number(text, otherwise);
        if (number < 0) {
            throw new DebugException(otherwise);
        }
        return number;
    }

    private static boolean startsWith(String text, String words) {
        return text.toLowerCase(Locale.ROOT).startsWith(words);
    }

    private Breakpoint on(String what, String here) throws DebugException {
        if (startsWith(what, "change of ")) {
            return debugger.pauseOnChange(here, what.substring(10).strip(), after, every);
        }
        if (startsWith(what, "write to ")) {
            return debugger.pauseOnWrite(here, what.substring(9).strip(), after, every);
        }
        return debugger.pauseOn(what, after, every);
    }

    private Breakpoint at(String text, String here) throws DebugException {
        String[] place = DebugWord.need(text, AT).split("\\s+", 2);
        Optional<String> condition = Optional.empty();
        if (place.length > 1) {
            if (!startsWith(place[1], "when ")) {
                throw new DebugException(
                        "'"
                                + place[1]
                                + "' is not understood; write when CONDITION, after N, every N or tell TEXT");
            }
            condition = Optional.of(place[1].substring(5).strip());
        }
        int colon = place[0].lastIndexOf(':');
        String routine = colon < 0 ? here : place[0].substring(0, colon);
        String line = place[0].substring(colon + 1);
        if (line.equalsIgnoreCase("end")) {
            return debugger.pauseAtEnd(routine, after, every);
        }
        return debugger.pauseAt(
                routine, DebugWord.number(line, AT), condition, after, every, tells);
    }

    /** A breakpoint in the words that set it. */
    static String describe(Breakpoint breakpoint) {
        String where =
                switch (breakpoint.kind()) {
                    case LINE -> "at " + breakpoint.routine() + ":" + breakpoint.line();
                    case END -> "at " + breakpoint.routine() + ":end";
                    case CONDITION -> "on " + breakpoint.on();
                    case CHANGE ->
                            "on change of " + breakpoint.on() + " of " + breakpoint.routine();
                    case WRITE -> "on write to " + breakpoint.on();
                };
        return "breakpoint "
                + breakpoint.number()
                + " "
                + where
                + breakpoint.condition().map(c -> " when " + c).orElse("")
                + (breakpoint.after() > 0 ? " after " + breakpoint.after() : "")
                + (breakpoint.every() > 1 ? " every " + breakpoint.every() : "")
                + breakpoint.tells().map(t -> " tell " + t).orElse("")
                + (breakpoint.enabled() ? "" : " (disabled)");
    }
}
