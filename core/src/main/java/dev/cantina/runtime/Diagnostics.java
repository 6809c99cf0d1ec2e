package dev.cantina.runtime;

import dev.cantina.types.Condition;
import dev.cantina.types.ConditionException;
import dev.cantina.types.Values;
import java.nio.charset.StandardCharsets;
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
                condition = condition.resignalled(sqlstate);
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

    /**
     * A condition has the numbers from 1 to {@code NUMBER}; 35000 for another (ISO 9075-2, 23.1).
     */
    int conditionNumber(boolean stacked, Object number) {
        checkStacked(stacked);
        int last = 1 + area(stacked).condition().earlier().size();
        if (number == null || (Long) number < 1 || (Long) number > last) {
            throw new ConditionException(
                    "35000",
                    "there is no condition "
                            + Values.text(number)
                            + (last == 1 ? ", only condition 1" : ", only 1 to " + last));
        }
        return ((Long) number).intValue();
    }

    private Area area(boolean stacked) {
        return stacked ? stacked() : current();
    }

    /** An item of a diagnostics area, or of its condition of a number (ISO 9075-2, 23.1). */
    Object item(boolean stacked, int number, String item) {
        Diagnostics.Area area = area(stacked);
        Condition first = area.condition();
        Condition condition = number == 1 ? first : first.earlier().get(number - 2);
        return switch (item) {
            case "ROW_COUNT" -> area.rowCount();
            case "NUMBER" -> 1L + first.earlier().size();
            case "CONDITION_NUMBER" -> (long) number;
            case "MORE" -> "N";
            case "COMMAND_FUNCTION" -> area.command();
            case "RETURNED_SQLSTATE" -> condition.sqlstate();
            case "MESSAGE_TEXT" -> condition.message();
            case "MESSAGE_LENGTH" ->
                    (long) condition.message().codePointCount(0, condition.message().length());
            case "MESSAGE_OCTET_LENGTH" ->
                    (long) condition.message().getBytes(StandardCharsets.UTF_8).length;
            case "ROUTINE_NAME" -> condition.item(item).orElse(area.routine());
            default -> condition.item(item).orElse("");
        };
    }
}
