package dev.cantina.syntax;

import java.util.List;
import java.util.Optional;

/**
 * What a file turned out to hold; problems in the order of the text.
 *
 * @param faults the stretches of the file with an error in them
 * @param schema the key of the schema that its routines are created in, where they say one
 */
public record ParsedFile(
        Source source,
        List<Unit> units,
        List<Problem> problems,
        List<Fault> faults,
        Optional<String> schema) {
    /**
     * A stretch of a file with an error in it: from where a unit begins, or something that could
     * not be read as one, to where the next begins.
     *
     * @param unit what could be read of it
     * @param table the table of the trigger that it begins, where that much could be read
     * @param errors at least one
     */
    public record Fault(
            Span span, Optional<Unit> unit, Optional<Name> table, List<Problem> errors) {
        public Fault {
            errors = List.copyOf(errors);
        }
    }

    /** A file of which nothing could be read. */
    public static ParsedFile unreadable(List<Problem> problems) {
        Span place = problems.get(0).span();
        return new ParsedFile(
                place.source(),
                List.of(),
                problems,
                List.of(new Fault(place, Optional.empty(), Optional.empty(), problems)),
                Optional.empty());
    }
}
