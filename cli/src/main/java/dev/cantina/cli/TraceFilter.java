package dev.cantina.cli;

import dev.cantina.observe.TraceEvent;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.Locale;
import java.util.function.Consumer;

/**
 * Lets through what a person has asked for, and on the way to it the routines and statements that
 * it happened in.
 */
final class TraceFilter implements Consumer<TraceEvent> {
    private final List<String> routines;
    private final List<String> tables;
    private final double least;
    private final Consumer<TraceEvent> told;

    /** What was begun and not told yet, by depth. */
    private final Deque<TraceEvent> waiting = new ArrayDeque<>();

    /** For each frame that is open whether its beginning was told. */
    private final Deque<Boolean> shown = new ArrayDeque<>();

    private TraceFilter(
            List<String> routines, List<String> tables, double least, Consumer<TraceEvent> told) {
        this.routines = lower(routines);
        this.tables = lower(tables);
        this.least = least;
        this.told = told;
    }

    /** The filters of a command line; everything passes where there are none. */
    static Consumer<TraceEvent> of(Invocation call, Consumer<TraceEvent> told)
            throws UsageException {
        double least = 0;
        if (call.value("at-least").isPresent()) {
            try {
                least = Double.parseDouble(call.value("at-least").get());
            } catch (NumberFormatException e) {
                throw new UsageException("--at-least takes milliseconds: --at-least 1.5");
            }
        }
        List<String> routines = call.values("routine");
        List<String> tables = call.values("table");
        return routines.isEmpty() && tables.isEmpty() && least <= 0
                ? told
                : new TraceFilter(routines, tables, least, told);
    }

    private static List<String> lower(List<String> names) {
        return names.stream().map(n -> n.toLowerCase(Locale.ROOT)).toList();
    }

    @Override
    public void accept(TraceEvent event) {
        if (event instanceof TraceEvent.Entered) {
            shown.push(false);
            waiting.add(event);
        } else if (event instanceof TraceEvent.Opened) {
            waiting.add(event);
        } else if (event instanceof TraceEvent.Raised) {
            tell(event);
        } else if (event instanceof TraceEvent.Statement statement) {
            boolean opened = forget(statement);
            if (passes(statement)) {
                tell(
                        opened
                                ? new TraceEvent.Statement(
                                        statement.depth(),
                                        statement.routine(),
                                        statement.number(),
                                        statement.place(),
                                        false,
                                        statement.nanos(),
                                        statement.sent(),
                                        statement.rows(),
                                        statement.tables(),
                                        statement.variables(),
                                        statement.written(),
                                        statement.writes())
                                : statement);
            }
        } else if (event instanceof TraceEvent.Left left) {
            boolean told1 = !shown.isEmpty() && shown.pop();
            waiting.removeIf(w -> w.depth() >= left.depth());
            if (told1) {
                told.accept(event);
            }
        }
    }

    /** Whether the beginning of a statement was waiting; it need not be told any more. */
    private boolean forget(TraceEvent.Statement statement) {
        return waiting.removeIf(
                w -> w instanceof TraceEvent.Opened o && o.number() == statement.number());
    }

    private void tell(TraceEvent event) {
        for (TraceEvent before : List.copyOf(waiting)) {
            told.accept(before);
        }
        waiting.clear();
        List<Boolean> all = new ArrayList<>();
        shown.forEach(s -> all.add(true));
        shown.clear();
        shown.addAll(all);
        told.accept(event);
    }

    private boolean passes(TraceEvent.Statement statement) {
        return (routines.isEmpty()
                        || routines.contains(statement.routine().toLowerCase(Locale.ROOT)))
                && (tables.isEmpty()
                        || statement.tables().stream()
                                .anyMatch(t -> tables.contains(t.toLowerCase(Locale.ROOT))))
                && statement.nanos() >= least * 1e6;
    }
}
