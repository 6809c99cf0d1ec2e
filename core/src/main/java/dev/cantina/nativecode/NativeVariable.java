package dev.cantina.nativecode;

import dev.cantina.syntax.Span;
import java.util.Map;
import java.util.function.Function;
import java.util.function.UnaryOperator;

/**
 * A variable of a routine in a server's own language.
 *
 * @param name as it is written in the routine
 * @param type as the server writes it
 * @param kind what may be done with it
 * @param label by which it can be named where another has its name, as it is written; empty for
 *     none
 */
public record NativeVariable(String name, String type, Kind kind, Span span, String label) {
    /** One without a label. */
    public NativeVariable(String name, String type, Kind kind, Span span) {
        this(name, type, kind, span, "");
    }

    /** The same by its label, where that is what tells it from another. */
    public NativeVariable labelled() {
        return new NativeVariable(label + "." + name, type, kind, span, label);
    }

    /**
     * Puts a variable into a scope. One that it hides stays there by its label.
     *
     * @param scope by the variables' keys
     * @param declared what a variable of the scope is
     * @param hidden the same as it is named by its label
     * @param keys makes the key of a name
     */
    public static <T> void declare(
            Map<String, T> scope,
            T one,
            Function<T, NativeVariable> declared,
            UnaryOperator<T> hidden,
            Function<String, String> keys) {
        NativeVariable variable = declared.apply(one);
        T before = scope.put(keys.apply(variable.name()), one);
        if (before == null) {
            return;
        }
        NativeVariable other = declared.apply(before);
        String label = keys.apply(other.label);
        if (!label.isEmpty() && !label.equals(keys.apply(variable.label))) {
            scope.put(label + "." + keys.apply(other.name()), hidden.apply(before));
        }
    }

    /** Takes out of a scope what a label hides that is there once more. */
    public static void hide(Map<String, ?> scope, String label) {
        scope.keySet().removeIf(key -> key.startsWith(label + "."));
    }

    /** What kind of variable it is. */
    public enum Kind {
        PARAMETER,
        LOCAL,
        CONSTANT,
        CURSOR,
        LOOP,
        /** The row that a trigger is fired for. */
        ROW,
        /** What the language itself declares, such as {@code sqlerrm}. */
        SPECIAL
    }
}
