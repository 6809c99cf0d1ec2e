package dev.cantina.translate;

import dev.cantina.binding.BoundStatement.Handled;
import dev.cantina.binding.BoundStatement.Handler;
import dev.cantina.syntax.Declaration.HandledKind;
import dev.cantina.syntax.Declaration.HandlerAction;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * The handlers that guard a place, the innermost block's first (ISO 9075-4, 14.2). Never changes: a
 * block inside has one of its own that has the outer one behind it.
 *
 * @param label of the block that declares them
 * @param atomic whether that block is ATOMIC
 * @param caught whether the exceptions of this level and all outside it are caught by something
 *     around the place already
 * @param passed whose exceptions go to an error block that takes an ATOMIC block back
 */
public record Handlers(
        Optional<Handlers> outer,
        String label,
        List<Handler> handlers,
        boolean caught,
        boolean atomic,
        Passed passed) {
    public static final Handlers NONE =
            new Handlers(Optional.empty(), "", List.of(), false, false, Passed.NONE);

    /** The handlers of a level that an error block around an ATOMIC block runs. */
    public enum Passed {
        NONE,
        /** The UNDO handlers of the level, and whatever leaves it. */
        UNDO,
        /** All that leave a block, of the level and outside it. */
        EXIT
    }

    /**
     * A handler with a condition that leads to it, and where its block ends.
     *
     * @param leavesAtomic whether an ATOMIC block inside is left, and so taken back
     */
    public record HandlerMatch(
            Handled condition, Handler handler, Handlers level, boolean leavesAtomic) {
        HandlerMatch(Handled condition, Handler handler, Handlers level) {
            this(condition, handler, level, false);
        }

        public boolean isExit() {
            return handler.action() != HandlerAction.CONTINUE;
        }

        /** Whether exceptions of some classes can lead to it. */
        public boolean canBe(Set<String> classes) {
            return isState(condition)
                    ? Handlers.canBe(condition.sqlstate(), classes)
                    : condition.kind() == HandledKind.SQLEXCEPTION && canRaise(classes);
        }
    }

    public Handlers inside(String blockLabel, List<Handler> own, boolean isAtomic) {
        return new Handlers(Optional.of(this), blockLabel, own, false, isAtomic, Passed.NONE);
    }

    /** The same place inside something that catches the exceptions. */
    public Handlers caughtAround() {
        return new Handlers(outer, label, handlers, true, atomic, passed);
    }

    /** The same place in an error block that takes an ATOMIC block back. */
    public Handlers passing(Passed which) {
        return new Handlers(outer, label, handlers, caught, atomic, which);
    }

    /** Whether no block around this one handles exceptions. */
    public boolean isOutermost() {
        for (Handlers level = next(); level != null; level = level.next()) {
            for (Handler handler : level.handlers) {
                for (Handled condition : handler.conditions()) {
                    boolean exception =
                            condition.kind() == HandledKind.SQLEXCEPTION
                                    || isState(condition) && !isCompletion(condition.sqlstate());
                    if (exception) {
                        return false;
                    }
                }
            }
        }
        return true;
    }

    /** What guards the body of a handler that is declared here. */
    public Handlers beyond() {
        Handlers outside = outer.orElse(NONE);
        boolean passes = passed != Passed.NONE;
        Handlers kept = passes ? outside.passing(Passed.EXIT) : outside;
        return caught ? kept.caughtAround() : kept;
    }

    /**
     * The handlers that exceptions of some classes can meet here, in the order in which they are to
     * be tried.
     */
    public List<HandlerMatch> exceptions(Set<String> classes) {
        List<HandlerMatch> matches = new ArrayList<>();
        if (classes.isEmpty()) {
            return matches;
        }
        boolean passes = false;
        for (Handlers level = this; level != null && !level.caught; level = level.next()) {
            boolean all = false;
            passes |= level.passed == Passed.EXIT;
            for (Handler handler : level.handlers) {
                for (Handled condition : handler.conditions()) {
                    if (isState(condition) && canBe(condition.sqlstate(), classes)) {
                        matches.add(level.match(condition, handler, passes));
                    }
                }
            }
            for (Handler handler : level.handlers) {
                for (Handled condition : handler.conditions()) {
                    if (condition.kind() == HandledKind.SQLEXCEPTION && canRaise(classes)) {
                        matches.add(level.match(condition, handler, passes));
                        all = true;
                    }
                }
            }
            if (all) {
                break;
            }
            passes |= level.passed == Passed.UNDO;
        }
        // What nothing here takes goes there by itself.
        while (!matches.isEmpty() && matches.get(matches.size() - 1).leavesAtomic()) {
            matches.remove(matches.size() - 1);
        }
        return matches;
    }

    private HandlerMatch match(Handled condition, Handler handler, boolean passes) {
        boolean undone = passed == Passed.UNDO && handler.action() == HandlerAction.UNDO;
        boolean goesOn = handler.action() == HandlerAction.CONTINUE;
        return new HandlerMatch(condition, handler, this, !goesOn && passes || undone);
    }

    /** The handler that a completion condition meets, of class 01 or 02. */
    public Optional<HandlerMatch> completion(String sqlstate) {
        boolean notFound = sqlstate.startsWith("02");
        boolean left = false;
        for (Handlers level = this; level != null; level = level.next()) {
            Optional<HandlerMatch> general = Optional.empty();
            for (Handler handler : level.handlers) {
                for (Handled condition : handler.conditions()) {
                    if (isState(condition) && condition.sqlstate().equals(sqlstate)) {
                        return Optional.of(match(condition, handler, level, left));
                    }
                    HandledKind wanted = notFound ? HandledKind.NOT_FOUND : HandledKind.SQLWARNING;
                    if (condition.kind() == wanted && general.isEmpty()) {
                        general = Optional.of(match(condition, handler, level, left));
                    }
                }
            }
            if (general.isPresent()) {
                return general;
            }
            left |= level.atomic;
        }
        return Optional.empty();
    }

    private static HandlerMatch match(
            Handled condition, Handler handler, Handlers level, boolean left) {
        return new HandlerMatch(
                condition, handler, level, left && handler.action() != HandlerAction.CONTINUE);
    }

    private Handlers next() {
        return outer.orElse(null);
    }

    private static boolean isState(Handled condition) {
        return condition.kind() == HandledKind.SQLSTATE || condition.kind() == HandledKind.NAMED;
    }

    private static boolean isCompletion(String state) {
        return state.startsWith("00") || state.startsWith("01") || state.startsWith("02");
    }

    private static boolean canBe(String state, Set<String> classes) {
        return !state.isEmpty()
                && !isCompletion(state)
                && (classes.contains(Effects.ANY)
                        || classes.contains(state.substring(0, 2))
                        || classes.contains(state));
    }

    private static boolean canRaise(Set<String> classes) {
        return classes.stream().anyMatch(c -> !isCompletion(c));
    }
}
