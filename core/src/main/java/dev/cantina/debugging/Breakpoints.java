package dev.cantina.debugging;

import dev.cantina.binding.BoundExpression;
import dev.cantina.binding.BoundRoutine;
import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.Scope;
import dev.cantina.binding.Walker;
import dev.cantina.catalog.ModuleSymbol;
import dev.cantina.catalog.RoutineSymbol;
import dev.cantina.catalog.Table;
import dev.cantina.catalog.TriggerSymbol;
import dev.cantina.facts.Reach;
import dev.cantina.runtime.Frame;
import dev.cantina.runtime.ProbeCode;
import dev.cantina.runtime.Program;
import dev.cantina.syntax.Nearest;
import dev.cantina.syntax.Span;
import dev.cantina.syntax.SqlWords;
import dev.cantina.types.Condition;
import dev.cantina.types.SqlType;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Collections;
import java.util.Deque;
import java.util.EnumSet;
import java.util.IdentityHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;

/** The breakpoints of a debugger, and where they stand in the program that runs. */
final class Breakpoints {
    /** A breakpoint as it stands in a program, and how often it was reached. */
    static final class InstalledBreakpoint {
        Breakpoint breakpoint;

        /** From which statement of the run on it counts. */
        long since;

        /** What it stands in; null where that is not there, or it is about all routines. */
        BoundRoutine routine;

        int statement = -1;
        long reached;
        ProbeCode condition;

        /** For one on change: what it looks at, bound, and compiled when it is first looked at. */
        BoundExpression watched;

        ProbeCode value;

        private InstalledBreakpoint(Breakpoint breakpoint, long since) {
            this.breakpoint = breakpoint;
            this.since = since;
        }

        /** Whether it is enabled, kept here because it is asked for at every statement. */
        boolean live;

        /** Whether it has a condition; likewise. */
        boolean conditional;

        boolean isLive() {
            return live;
        }

        boolean is(Breakpoint.Kind kind) {
            return breakpoint.kind() == kind && breakpoint.enabled();
        }

        boolean isUnconditional() {
            return !conditional;
        }

        /** Whether it looks at a variable that all routines share. */
        boolean isShared() {
            return watched instanceof BoundExpression.ReadShared;
        }

        /** Counts, and says whether this time is one to stop at. */
        boolean counts(long moment) {
            if (moment < since) {
                return false;
            }
            long times = ++reached - breakpoint.after();
            return times > 0 && times % breakpoint.every() == 0;
        }
    }

    private final List<InstalledBreakpoint> all = new ArrayList<>();

    /** The kinds of those that are armed. */
    private final Set<Breakpoint.Kind> kinds = EnumSet.noneOf(Breakpoint.Kind.class);

    private Program program;
    private Optional<BoundRoutine> script = Optional.empty();
    private Collection<String> called = List.of();
    private int nextNumber = 1;

    /** Another run begins, of the same program or of one made anew from the same sources. */
    void begin(Program with, Optional<BoundRoutine> withScript) {
        boolean same = program == with;
        program = with;
        script = withScript;
        for (InstalledBreakpoint installed : all) {
            installed.reached = 0;
            if (!same) {
                installed.condition = null;
                installed.value = null;
                try {
                    stand(installed);
                } catch (DebugException e) {
                    installed.routine = null;
                }
            }
        }
    }

    /** A person has gone back to a moment: what was set later counts from there. */
    void wentBack(long moment) {
        for (InstalledBreakpoint installed : all) {
            installed.since = Math.min(installed.since, moment);
        }
    }

    List<InstalledBreakpoint> all() {
        return all;
    }

    List<Breakpoint> list() {
        return all.stream().map(a -> a.breakpoint).toList();
    }

    /** Whether one of a kind is armed. */
    boolean has(Breakpoint.Kind kind) {
        return kinds.contains(kind);
    }

    /** Whether one on change depends on how often it was reached. */
    boolean countsChanges() {
        return has(Breakpoint.Kind.CHANGE)
                && all.stream()
                        .anyMatch(a -> a.is(Breakpoint.Kind.CHANGE) && a.breakpoint.isCounted());
    }

    private void count() {
        kinds.clear();
        for (InstalledBreakpoint installed : all) {
            installed.live = installed.breakpoint.enabled();
            installed.conditional = installed.breakpoint.condition().isPresent();
        }
        all.stream()
                .filter(InstalledBreakpoint::isLive)
                .forEach(installed -> kinds.add(installed.breakpoint.kind()));
        changes = kinds.contains(Breakpoint.Kind.CHANGE);
    }

    /** Whether it is wanted to stop where a condition ended the run. */
    boolean stopsForUnhandled() {
        return all.stream()
                .anyMatch(
                        a ->
                                a.is(Breakpoint.Kind.CONDITION)
                                        && a.breakpoint.on().equals(UNHANDLED));
    }

    /** What stands for the conditions that nothing in the run handles. */
    static final String UNHANDLED = "unhandled";

    private boolean changes;

    /** Whether one on change is armed; asked for at every statement. */
    boolean watchesChanges() {
        return changes;
    }

    /** Adds a breakpoint, in the place of one that stands there already. */
    Breakpoint add(Breakpoint wanted, long since) throws DebugException {
        InstalledBreakpoint added = new InstalledBreakpoint(wanted, since);
        stand(added);
        Breakpoint stood = added.breakpoint;
        for (int i = 0; i < all.size(); i++) {
            if (all.get(i).breakpoint.isAt(stood)) {
                added.breakpoint = stood.numbered(all.get(i).breakpoint.number());
                all.set(i, added);
                count();
                return added.breakpoint;
            }
        }
        added.breakpoint = stood.numbered(nextNumber++);
        all.add(added);
        count();
        return added.breakpoint;
    }

    /** Finds the statement or the variable that a breakpoint is about. */
    private void stand(InstalledBreakpoint installed) throws DebugException {
        Breakpoint wanted = installed.breakpoint;
        if (!wanted.routine().isEmpty()) {
            installed.routine = routine(wanted.routine(), wanted.asked());
            mustBeSeen(installed.routine);
        }
        switch (wanted.kind()) {
            case LINE -> standAtLine(installed);
            case CHANGE -> installed.watched = watched(installed.routine, wanted.on());
            case WRITE -> table(installed.routine, wanted.on());
            case END, CONDITION -> {
                return;
            }
        }
    }

    /**
     * What the run begins with.
     *
     * @param routines the names of the routines that are called from outside
     */
    void runs(Program with, Collection<String> routines, Optional<BoundRoutine> withScript) {
        program = with;
        called = routines;
        script = withScript;
    }

    /** What the server runs by itself nothing can stop in. */
    private void mustBeSeen(BoundRoutine routine) throws DebugException {
        if (!program.runsUnseen(routine)) {
            return;
        }
        boolean trigger = routine.kind() == BoundRoutine.Kind.TRIGGER;
        if (trigger || isCalledBySqlAlone(routine)) {
            throw new DebugException(
                    routine.name()
                            + (trigger ? " is a trigger" : " is called by SQL")
                            + ", and the server runs that by itself: nothing can stop in it; debug"
                            + " on the embedded database, without --on, to stop there");
        }
    }

    /**
     * Whether no statement on the way from what the run begins with calls it, and some SQL does.
     */
    private boolean isCalledBySqlAlone(BoundRoutine routine) {
        Set<BoundRoutine> seen = Collections.newSetFromMap(new IdentityHashMap<>());
        Deque<BoundRoutine> open = new ArrayDeque<>();
        script.ifPresent(open::add);
        for (String name : called) {
            for (RoutineSymbol symbol : program.catalog().routinesCalled(name)) {
                if (symbol.tree().body().isPresent()) {
                    open.add(program.routine(symbol).bound());
                }
            }
        }
        boolean[] inSql = {false};
        while (!open.isEmpty()) {
            BoundRoutine next = open.remove();
            if (!seen.add(next)) {
                continue;
            }
            if (next.span().equals(routine.span())) {
                return false;
            }
            Reach reach = Reach.of(next, program.catalog(), moduleOf(next));
            if (reach.isUnbounded()) {
                return false;
            }
            Set<RoutineSymbol> direct = called(next);
            inSql[0] |=
                    reach.routines().stream().anyMatch(r -> r.tree().span().equals(routine.span()));
            direct.stream()
                    .filter(r -> r.tree().body().isPresent())
                    .forEach(r -> open.add(program.routine(r).bound()));
        }
        return inSql[0];
    }

    private Optional<ModuleSymbol> moduleOf(BoundRoutine routine) {
        return program.catalog().moduleOf(routine.span());
    }

    /** What a routine's own statements call, and not the SQL in them. */
    private static Set<RoutineSymbol> called(BoundRoutine routine) {
        Set<RoutineSymbol> called = Collections.newSetFromMap(new IdentityHashMap<>());
        Walker.statements(
                routine.body(),
                s -> {
                    if (s instanceof BoundStatement.Call call) {
                        called.add(call.routine());
                    }
                    Walker.expressions(
                            s,
                            e -> {
                                if (e instanceof BoundExpression.Invoke invoke) {
                                    called.add(invoke.routine());
                                }
                            });
                });
        return called;
    }

    private void standAtLine(InstalledBreakpoint installed) throws DebugException {
        Breakpoint wanted = installed.breakpoint;
        BoundRoutine routine = installed.routine;
        installed.statement = -1;
        if (isBehindAll(routine, wanted.asked())) {
            // The line of END, or what stands before it: it stops before the routine ends.
            installed.breakpoint = wanted.atEnd(routine.name(), endLine(routine));
            return;
        }
        installed.statement = statementOf(routine, wanted.asked());
        BoundRoutine.Place place = routine.places().get(installed.statement);
        installed.breakpoint = wanted.standing(routine.name(), place.span().line());
        if (wanted.condition().isPresent() && !program.serverRoutines().contains(routine)) {
            String condition = wanted.condition().get();
            SqlType type =
                    FrameInspector.bind(
                                    program, routine, place.scope(), condition, Optional.empty())
                            .expression()
                            .type();
            if (!type.equals(SqlType.BOOLEAN) && !(type instanceof SqlType.Unknown)) {
                throw new DebugException(
                        "'"
                                + condition
                                + "' is "
                                + type.sql()
                                + ", and has no truth value; compare it with something");
            }
        }
    }

    /**
     * The statement that a line is in: one that begins there, or goes on there; else the next.
     *
     * @throws DebugException where the routine has none from there on
     */
    private static int statementOf(BoundRoutine routine, int line) throws DebugException {
        List<BoundRoutine.Place> places = routine.places();
        int found = -1;
        for (int i = 0; i < places.size(); i++) {
            Span span = places.get(i).span();
            boolean innermost = found < 0 || span.start() > places.get(found).span().start();
            if (isStop(places.get(i)) && span.line() == line) {
                return statementAt(routine, line);
            }
            if (isStop(places.get(i)) && goesOn(span, line) && innermost) {
                found = i;
            }
        }
        return found >= 0 && isOfIt(routine, found, line) ? found : statementAt(routine, line);
    }

    /** Whether no statement begins at a line of a routine, or after it, nor goes on there. */
    private static boolean isBehindAll(BoundRoutine routine, int line) {
        List<Span> stops =
                routine.places().stream()
                        .filter(Breakpoints::isStop)
                        .map(BoundRoutine.Place::span)
                        .toList();
        Span last = stops.isEmpty() ? null : stops.get(stops.size() - 1);
        return last != null
                && line <= routine.span().endLine()
                && stops.stream().allMatch(s -> s.line() < line)
                && last.endLine() < line;
    }

    /** The line with the last END of a routine's body; where it has none, its last line. */
    static int endLine(BoundRoutine routine) {
        Span whole = routine.span();
        int last = routine.places().stream().mapToInt(p -> p.span().line()).max().orElse(0);
        for (int line = whole.endLine(); line > last; line--) {
            if (SqlWords.of(whole.source().line(line)).all().stream().anyMatch(w -> w.is("END"))) {
                return line;
            }
        }
        return whole.endLine();
    }

    private static boolean goesOn(Span span, int line) {
        return span.line() < line && line <= span.endLine();
    }

    /** Whether a line is a statement's own, and not that of others inside it. */
    private static boolean isOfIt(BoundRoutine routine, int statement, int line) {
        Span whole = routine.places().get(statement).span();
        int inside =
                routine.places().stream()
                        .filter(Breakpoints::isStop)
                        .map(BoundRoutine.Place::span)
                        .filter(s -> s.start() > whole.start() && s.end() <= whole.end())
                        .mapToInt(Span::line)
                        .min()
                        .orElse(Integer.MAX_VALUE);
        boolean words = !SqlWords.of(whole.source().line(line)).all().isEmpty();
        return inside == Integer.MAX_VALUE || line < inside && words;
    }

    /**
     * The statement at a line, or else the next one.
     *
     * @throws DebugException where the routine has none from there on
     */
    static int statementAt(BoundRoutine routine, int line) throws DebugException {
        int found = -1;
        int foundLine = Integer.MAX_VALUE;
        List<BoundRoutine.Place> places = routine.places();
        for (int i = 0; i < places.size(); i++) {
            int at = places.get(i).span().line();
            if (isStop(places.get(i)) && at >= line && at < foundLine) {
                found = i;
                foundLine = at;
            }
        }
        int first = routine.span().line();
        if (line < first) {
            throw new DebugException(
                    "line "
                            + line
                            + " stands before "
                            + routine.name()
                            + ", which begins at "
                            + first);
        }
        if (found < 0) {
            throw new DebugException(
                    routine.name()
                            + " has no statement at line "
                            + line
                            + " or after it; its last begins at line "
                            + places.stream()
                                    .filter(Breakpoints::isStop)
                                    .mapToInt(p -> p.span().line())
                                    .max()
                                    .orElse(first));
        }
        return found;
    }

    private static boolean isStop(BoundRoutine.Place place) {
        if (place.what().equals("BEGIN") || place.what().equals("LOOP")) {
            return false;
        }
        return !place.what().equals("DECLARE")
                || SqlWords.of(place.span().text()).all().stream()
                        .anyMatch(word -> word.is("DEFAULT"));
    }

    /** What a breakpoint on change looks at, wherever in the routine it can be named. */
    private BoundExpression watched(BoundRoutine routine, String text) throws DebugException {
        DebugException reason = new DebugException("the routine has no statement");
        for (int i = routine.places().size() - 1; i >= 0; i--) {
            Scope scope = routine.places().get(i).scope();
            try {
                return FrameInspector.bind(program, routine, scope, text, Optional.empty())
                        .expression();
            } catch (DebugException e) {
                reason = e;
            }
        }
        throw reason;
    }

    /** Whether a routine declares a table of its own by this name. */
    boolean declares(String routine, String table) throws DebugException {
        return declares(routine(routine, 0), table);
    }

    private static boolean declares(BoundRoutine routine, String table) {
        String key = table.toUpperCase(Locale.ROOT);
        return routine.places().stream()
                .anyMatch(
                        p ->
                                p.scope().table(key).isPresent()
                                        || p.scope().table(table).isPresent());
    }

    private void table(BoundRoutine within, String name) throws DebugException {
        if (within != null && declares(within, name)) {
            return;
        }
        List<String> known = program.catalog().tables().stream().map(Table::name).toList();
        if (known.stream().noneMatch(name::equalsIgnoreCase)) {
            throw new DebugException(
                    "there is no table "
                            + name
                            + Nearest.to(name, known)
                                    .map(n -> "; did you mean " + n + "?")
                                    .orElse(""));
        }
    }

    /**
     * The routine, trigger or script of a name; of several overloads the one that holds the line.
     * The path of a file stands for the routine of it that holds the line.
     *
     * @throws DebugException where there is none, or it has errors
     */
    BoundRoutine routine(String name, int line) throws DebugException {
        List<BoundRoutine> found = new ArrayList<>();
        Set<String> known = new LinkedHashSet<>();
        try {
            for (RoutineSymbol symbol : program.catalog().routines()) {
                boolean written = symbol.tree().body().isPresent();
                known.add(symbol.name());
                if (written && isNamed(name, symbol.name(), symbol.tree().span().source().name())) {
                    found.add(program.routine(symbol).bound());
                }
            }
            for (BoundRoutine own : program.serverRoutines()) {
                known.add(own.name());
                if (isNamed(name, own.name(), own.span().source().name())) {
                    found.add(own);
                }
            }
            for (TriggerSymbol symbol : program.catalog().triggers()) {
                known.add(symbol.name());
                if (isNamed(name, symbol.name(), symbol.tree().span().source().name())) {
                    found.add(program.routine(symbol).bound());
                }
            }
        } catch (Program.UnsoundException e) {
            throw new DebugException(e.getMessage() + "; run cantina check");
        }
        script.filter(s -> isNamed(name, s.name(), s.span().source().name())).ifPresent(found::add);
        if (found.isEmpty()) {
            throw new DebugException(
                    "there is no routine "
                            + name
                            + Nearest.to(name, known)
                                    .map(n -> "; did you mean " + n + "?")
                                    .orElse(""));
        }
        BoundRoutine next = null;
        for (BoundRoutine routine : found) {
            int first = routine.span().line();
            if (first <= line && line <= routine.span().endLine()) {
                return routine;
            }
            boolean nearer = next == null || first < next.span().line();
            next = first > line && nearer ? routine : next;
        }
        return next != null ? next : found.get(0);
    }

    /** The lines of a file at which a run can stop. */
    List<Integer> stopLines(String file, int from, int to) {
        Set<Integer> lines = new TreeSet<>();
        for (BoundRoutine routine : written(file)) {
            routine.places().stream()
                    .filter(Breakpoints::isStop)
                    .map(p -> p.span().line())
                    .forEach(lines::add);
            lines.add(endLine(routine));
        }
        return lines.stream().filter(l -> from <= l && l <= to).toList();
    }

    /** What a file has that can be stopped in. */
    private List<BoundRoutine> written(String file) {
        List<BoundRoutine> all = new ArrayList<>(program.serverRoutines());
        script.ifPresent(all::add);
        for (RoutineSymbol symbol : program.catalog().routines()) {
            if (symbol.tree().body().isPresent() && isOf(symbol.tree().span(), file)) {
                all.add(program.routine(symbol).bound());
            }
        }
        for (TriggerSymbol symbol : program.catalog().triggers()) {
            if (isOf(symbol.tree().span(), file)) {
                all.add(program.routine(symbol).bound());
            }
        }
        all.removeIf(r -> !isOf(r.span(), file));
        return all;
    }

    private static boolean isOf(Span span, String file) {
        return span.source().name().equals(file);
    }

    /** The names of all that has statements. */
    List<String> routineNames() {
        List<String> names = new ArrayList<>();
        program.catalog().routines().forEach(r -> names.add(r.name()));
        program.serverRoutines().forEach(r -> names.add(r.name()));
        return names;
    }

    private static boolean isNamed(String wanted, String name, String file) {
        return name.equalsIgnoreCase(wanted)
                || file.equals(wanted)
                || wanted.endsWith(".sql") && file.endsWith("/" + wanted);
    }

    /** Switches breakpoints on or off, or removes them; {@code 0} stands for all. */
    int change(int number, Debugger.Change change) throws DebugException {
        int touched = 0;
        for (InstalledBreakpoint installed : List.copyOf(all)) {
            if (number != 0 && installed.breakpoint.number() != number) {
                continue;
            }
            touched++;
            switch (change) {
                case DISABLE -> installed.breakpoint = installed.breakpoint.enabled(false);
                case ENABLE -> installed.breakpoint = installed.breakpoint.enabled(true);
                case REMOVE -> all.remove(installed);
            }
        }
        count();
        if (touched == 0 && number != 0) {
            throw new DebugException("there is no breakpoint " + number + "; pauses lists them");
        }
        return touched;
    }

    /** Marks the statements of a frame's routine that somebody waits for. */
    void mark(Frame frame, boolean countedOnly) {
        for (InstalledBreakpoint installed : all) {
            if (!installed.isLive() || countedOnly && !installed.breakpoint.isCounted()) {
                continue;
            }
            if (installed.routine == frame.routine() && installed.statement >= 0) {
                frame.watch[installed.statement] = 1;
            } else if (installed.is(Breakpoint.Kind.CHANGE)
                    && (installed.isShared() || installed.routine == frame.routine())) {
                java.util.Arrays.fill(frame.watch, (byte) 1);
            }
        }
    }

    static boolean concerns(Breakpoint breakpoint, Condition condition) {
        return switch (breakpoint.on()) {
            case "exception" -> condition.isException();
            case "not found" -> condition.isNotFound();
            case UNHANDLED -> false;
            default -> condition.sqlstate().equals(breakpoint.on());
        };
    }
}
