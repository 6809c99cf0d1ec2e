package dev.cantina.nativecode;

import dev.cantina.syntax.Span;
import java.util.List;

/**
 * A statement of a routine in a server's own language. What is inside of it stays text.
 *
 * @param at its number in the routine, from 0 in the order of the text; -1 for what is no place to
 *     stop at: a block without a first statement of its own
 * @param kind what it is
 * @param what its kind in words, such as {@code IF}
 * @param begins where something could stand before it: before its label, where it has one
 * @param span the whole of it, without the label
 * @param parts the lists of statements inside it, in their order
 * @param declared the variables that it declares for what is inside
 */
public record NativeStatement(
        int at,
        Kind kind,
        String what,
        int begins,
        Span span,
        List<Part> parts,
        List<NativeVariable> declared) {
    /** How a statement is built. */
    public enum Kind {
        SIMPLE,
        BLOCK,
        CHOICE,
        LOOP
    }

    /** What a list of statements is for. */
    public enum Role {
        /** The statements of a block or a loop, or a branch with a condition. */
        BODY,
        /** What is done where no branch fits. */
        OTHERWISE,
        /** What is done where a condition is raised. */
        HANDLER
    }

    /**
     * Statements inside another.
     *
     * @param head what stands before them: {@code ELSIF … THEN}, {@code WHEN … THEN}
     */
    public record Part(Role role, Span head, List<NativeStatement> statements) {}
}
