package dev.cantina.nativecode;

import dev.cantina.syntax.Source;
import dev.cantina.syntax.Span;
import java.util.List;
import java.util.Optional;

/**
 * What a file in a server's own words makes, as far as its text says it; no server is asked.
 *
 * @param tokens all of them, those of bodies too, in their order
 */
public record OwnText(
        Source source, List<Unit> units, List<Table> tables, List<? extends NativeToken> tokens) {
    /** What a unit is. */
    public enum Kind {
        PROCEDURE,
        FUNCTION,
        TRIGGER,
        PACKAGE
    }

    /**
     * A routine, a trigger, or a package with routines.
     *
     * @param of the package that it is in
     * @param whole its statement
     * @param at its name
     * @param head what stands between its name and its body, in the author's words
     * @param block its body; empty where there is none, or none that can be read
     * @param body where its body stands
     * @param calls of a trigger on PostgreSQL: the function that it fires
     * @param unread what keeps the body from being read
     */
    public record Unit(
            Kind kind,
            String name,
            Optional<String> of,
            Span whole,
            Span at,
            List<Parameter> parameters,
            String head,
            Optional<String> table,
            Optional<String> calls,
            Optional<Span> body,
            Optional<NativeStatement> block,
            Optional<NativeSyntaxException> unread) {}

    /**
     * A parameter as it is written.
     *
     * @param mode IN, OUT, INOUT or VARIADIC
     * @param name empty where it has none
     */
    public record Parameter(
            String mode, String name, String type, Optional<String> initial, Span span) {
        /** Whether a call hands something in. */
        public boolean isInput() {
            return !mode.equals("OUT");
        }
    }

    /**
     * A table or view.
     *
     * @param columns none where they are not written out
     */
    public record Table(String name, Span at, Span whole, List<Column> columns) {}

    /** A column where it is made. */
    public record Column(String name, String type, Span span) {}
}
