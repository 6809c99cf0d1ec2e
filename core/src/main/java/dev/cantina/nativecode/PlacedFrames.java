package dev.cantina.nativecode;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.cantina.binding.Variable;
import dev.cantina.runtime.Frame;
import dev.cantina.types.SqlType;
import java.util.Arrays;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;

/**
 * The frames of routines whose copies a server runs, whatever server it is: what is told becomes
 * the values of their variables, and what somebody has changed in them goes back.
 */
public final class PlacedFrames implements Followed {
    /** What a function gives is told by this name, and variables by the numbers of their slots. */
    public static final String GIVEN = "v";

    /** How a server tells values. */
    public interface Values {
        /** A value that is told, as it is held. */
        Object held(JsonNode told, SqlType type);

        /** A value as the server reads it; null for NULL. */
        String text(Object value);
    }

    private static final ObjectMapper JSON = new ObjectMapper();

    private final PlacedRoutines routines;
    private final Values values;

    /** What frames were told at the statement where they stand, by slot. */
    private final Map<Frame, Map<Integer, Object>> told = new IdentityHashMap<>();

    private final ExecutorService worker =
            Executors.newSingleThreadExecutor(
                    task -> {
                        Thread thread = new Thread(task, "server");
                        thread.setDaemon(true);
                        return thread;
                    });

    public PlacedFrames(PlacedRoutines routines, Values values) {
        this.routines = routines;
        this.values = values;
    }

    @Override
    public Frame frame(int routine) {
        return routines.frame(routine);
    }

    /** A handler says itself that it begins. */
    @Override
    public boolean beginsHandler(int routine, int statement) {
        return false;
    }

    @Override
    public boolean isSetOff() {
        return true;
    }

    @Override
    public void take(Frame frame, int routine, int statement, JsonNode all) {
        take(frame, routine, all);
    }

    @Override
    public void start(Runnable task) {
        worker.execute(task);
    }

    /** Lets go of the thread. */
    public void close() {
        worker.shutdown();
    }

    /** A statement has ended, and all frames with it. */
    public void clear() {
        told.clear();
    }

    private void take(Frame frame, int routine, JsonNode all) {
        Map<Integer, Object> known = new HashMap<>();
        told.put(frame, known);
        if (all == null || all.isNull()) {
            return;
        }
        for (Map.Entry<String, JsonNode> one : all.properties()) {
            if (Character.isDigit(one.getKey().charAt(0))) {
                int slot = Integer.parseInt(one.getKey());
                Object value = take(frame, routines.variable(routine, slot), one.getValue());
                // A row is changed where it is.
                known.put(slot, value instanceof Object[] parts ? parts.clone() : value);
            }
        }
    }

    private Object take(Frame frame, Variable variable, JsonNode node) {
        Object value = values.held(node, variable.type());
        if (variable.kind().isAssignable()
                && variable.type() instanceof SqlType.Row
                && value instanceof Object[] fields
                && Arrays.stream(fields).allMatch(Objects::isNull)) {
            // The server knows no row that is not there.
            value = null;
        }
        try {
            frame.set(variable, value);
            return value;
        } catch (ClassCastException | IllegalArgumentException e) {
            // The server has values that the type here has not.
            frame.set(variable, null);
            return null;
        }
    }

    @Override
    public void gives(Frame frame, int routine, JsonNode all) {
        take(frame, routine, all);
        frame.given();
        Optional<SqlType> type = frame.routine().returns();
        if (type.isPresent()) {
            boolean isTold = all != null && all.has(GIVEN);
            frame.result =
                    isTold ? values.held(all.get(GIVEN), type.get()) : NativeFrames.NOT_SHOWN;
        }
    }

    @Override
    public Optional<String> answer(Frame frame) {
        ObjectNode all = JSON.createObjectNode();
        told.getOrDefault(frame, Map.of())
                .forEach(
                        (slot, before) -> {
                            Variable variable = frame.routine().variables().get(slot);
                            Object now = frame.get(variable);
                            if (!Objects.deepEquals(before, now)) {
                                all.set(String.valueOf(slot), json(now, variable.type()));
                            }
                        });
        return Optional.of(all.isEmpty() ? "" : all.toString());
    }

    private JsonNode json(Object value, SqlType type) {
        boolean several = type instanceof SqlType.Row || type instanceof SqlType.Array;
        if (several && value instanceof Object[] parts) {
            ArrayNode all = JSON.createArrayNode();
            for (Object part : parts) {
                all.add(values.text(part));
            }
            return all;
        }
        String text = values.text(value);
        return text == null ? JSON.nullNode() : JSON.getNodeFactory().textNode(text);
    }
}
