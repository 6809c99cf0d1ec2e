package dev.cantina.nativecode;

import com.fasterxml.jackson.databind.JsonNode;
import dev.cantina.runtime.Frame;
import dev.cantina.runtime.RoutineCode;
import dev.cantina.runtime.ServerFrame;
import dev.cantina.types.SqlType;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.function.BiFunction;
import java.util.function.IntFunction;

/**
 * The frames of routines in a server's own language.
 *
 * @param bound a routine by its number
 * @param code the same as a frame has it
 * @param standing what can be done where one stands
 * @param held a value that is told, as it is held
 */
public record NativeFrames(
        IntFunction<BoundNative> bound,
        IntFunction<RoutineCode> code,
        ServerFrame.Standing standing,
        BiFunction<JsonNode, SqlType, Object> held)
        implements Followed {
    /** What a function gives is told by this name, which no variable has. */
    public static final String GIVEN = "";

    /** Stands for a value that no probe can tell, such as a row of a type that is not known. */
    public static final String NOT_SHOWN = "(not shown)";

    @Override
    public Frame frame(int routine) {
        ServerFrame frame = new ServerFrame(code.apply(routine), standing);
        BoundNative of = bound.apply(routine);
        // What the routine's own block hides from the start no probe can tell.
        if (!of.routine().places().isEmpty()) {
            of.routine().parameters().stream()
                    .filter(p -> of.told(0).values().stream().noneMatch(t -> t.variable() == p))
                    .forEach(p -> frame.set(p, NOT_SHOWN));
        }
        return frame;
    }

    @Override
    public boolean beginsHandler(int routine, int statement) {
        return bound.apply(routine).beginsHandler(statement);
    }

    @Override
    public void take(Frame frame, int routine, int statement, JsonNode values) {
        take(frame, bound.apply(routine).told(statement), values);
    }

    private void take(Frame frame, Map<String, BoundNative.Told> all, JsonNode values) {
        if (values == null || values.isNull()) {
            return;
        }
        all.forEach(
                (name, told) ->
                        frame.set(
                                told.variable(),
                                values.has(name) || !hasValue(told.declared())
                                        ? held.apply(values.get(name), told.variable().type())
                                        : NOT_SHOWN));
    }

    @Override
    public boolean saysItsEnd(int routine) {
        return true;
    }

    @Override
    public void gives(Frame frame, int routine, JsonNode values) {
        Map<String, BoundNative.Told> told =
                new LinkedHashMap<>(bound.apply(routine).toldAtTheEnd());
        // What a variable hides there has the value that was told last.
        told.keySet().removeIf(name -> values == null || !values.has(name));
        take(frame, told, values);
        Optional<SqlType> type = frame.routine().returns();
        boolean tells = values != null && values.isObject();
        if (type.isPresent() && tells && values.has(GIVEN)) {
            frame.result = held.apply(values.get(GIVEN), type.get());
        }
        if (tells && (type.isEmpty() || values.has(GIVEN))) {
            frame.given();
        }
    }

    private static boolean hasValue(NativeVariable variable) {
        return variable.kind() != NativeVariable.Kind.SPECIAL
                && variable.kind() != NativeVariable.Kind.CURSOR;
    }
}
