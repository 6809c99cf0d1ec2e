package dev.cantina.runtime;

import dev.cantina.types.Condition;
import dev.cantina.types.ConditionException;
import dev.cantina.types.Values;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;

/**
 * The stack of diagnostics areas (ISO 9075-2, 23.1): the one of the last statement, and under it,
 * while handlers run, those of the conditions that set them off.
 */
final class Diagnostics {
    private static final Condition SUCCESS = new Condition("00000", "");

    /** What a statement left. */
    record Area(Condition condition, long rowCount, String command, String routine) {
        static final Area CLEAR = new Area(SUCCESS, 0, "", "");
    }

    /** A handler that runs, and what set it off. */
    private record Activation(Area area, RaisedException cause) {}

    private Area current = Area.CLEAR;
    private final Deque<Activation> activations = new ArrayDeque<>();

    Area current() {
        return current;
    }

    void set(Area area) {
        current = area;
    }

    /** A statement begins. */
    void clear(String command) {
        current = new Area(SUCCESS, 0, command, "");
    }

    /** A handler begins: it sees the area of its condition, and has it under its own too. */
    void push(RaisedException cause, Frame frame) {
        Area area = new Area(cause.condition(), 0, frame.place().command(), frame.routine().name());
        activations.push(new Activation(area, cause));
        current = area;
    }

    void pop() {
        current = activations.pop().area();
    }

    boolean isHandling() {
        return !activations.isEmpty();
    }

    /** What set off the innermost handler that runs. */
    RaisedException cause() {
        return activations.peek().cause();
    }

    Area stacked() {
        return activations.peek().area();
    }

    /** The area of the last statement, then those of the handlers that run, innermost first. */
    List<Area> all() {
        List<Area> areas = new ArrayList<>();
        areas.add(current);
        activations.forEach(a -> areas.add(a.area()));
        return areas;
    }

    /** The condition that SIGNAL or RESIGNAL makes (ISO 9075-4, 22.1 and 22.2). */
    Condition signalled(
            boolean resignal, String sqlstate, String name, String[] items, Object[] values) {
        Condition condition;
        if (resignal) {
            if (!isHandling()) {
                throw new ConditionException("0K000", "RESIGNAL stands outside a handler");
            }
            condition = cause().condition();
            if (sqlstate != null) {
                condition = new Condition(sqlstate, condition.message(), condition.items());
            }
        } else {
            condition = new Condition(sqlstate, "condition " + (name == null ? sqlstate : name));
        }
        if (name != null) {
            condition = condition.with("CONDITION_IDENTIFIER", name);
        }
        for (int i = 0; i < items.length; i++) {
            if (values[i] == null) {
                throw new ConditionException("22004", items[i] + " of SIGNAL can't be NULL");
            }
            String text = values[i].toString();
            condition =
                    items[i].equals("MESSAGE_TEXT")
                            ? condition.saying(text)
                            : condition.with(items[i], text);
        }
        return condition;
    }

    /** GET STACKED DIAGNOSTICS stands only in a handler. */
    void checkStacked(boolean stacked) {
        if (stacked && !isHandling()) {
            throw new ConditionException(
                    "0Z002", "GET STACKED DIAGNOSTICS stands outside a handler");
        }
    }

    /** There is one condition, with the number 1. */
    void checkConditionNumber(boolean stacked, Object number) {
        checkStacked(stacked);
        if (number == null || (Long) number != 1) {
            throw new ConditionException(
                    "35000", "there is no condition " + Values.text(number) + ", only condition 1");
        }
    }

    /** An item of a diagnostics area (ISO 9075-2, 23.1). */
    Object item(boolean stacked, String item) {
        Diagnostics.Area area = stacked ? stacked() : current();
        Condition condition = area.condition();
        return switch (item) {
            case "ROW_COUNT" -> area.rowCount();
            case "NUMBER", "CONDITION_NUMBER" -> 1L;
            case "MORE" -> "N";
            case "COMMAND_FUNCTION" -> area.command();
            case "RETURNED_SQLSTATE" -> condition.sqlstate();
            case "MESSAGE_TEXT" -> condition.message();
            case "MESSAGE_LENGTH" ->
                    (long) condition.message().codePointCount(0, condition.message().length());
            case "ROUTINE_NAME" -> area.routine();
            default -> condition.item(item).orElse("");
        };
    }
}
