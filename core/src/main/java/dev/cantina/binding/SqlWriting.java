package dev.cantina.binding;

import dev.cantina.syntax.Span;
import java.util.ArrayList;
import java.util.Collections;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** The text of a statement as it is put together, with the values in it. */
final class SqlWriting {
    /** A stretch of the text that is sent as something else. */
    sealed interface Place {
        Span span();
    }

    /** A stretch of the text that values take the place of. */
    record Replacement(Span span, List<BoundExpression> values, String text, String before)
            implements Place {
        Replacement(Span span, List<BoundExpression> values) {
            this(span, values, "");
        }

        Replacement(Span span, List<BoundExpression> values, String text) {
            this(span, values, text, "");
        }
    }

    /**
     * A call whose arguments are sent in the order of the parameters, as the database takes them.
     */
    record Arranged(Span span, List<Argument> arguments) implements Place {}

    /** An argument where it is written, or the value of one that is not. */
    record Argument(Span span, Optional<BoundExpression> initial) {}

    private final String source;
    private final List<String> pieces;
    private final List<BoundExpression> parameters;
    private final List<Place> places;
    private StringBuilder piece;

    /** What has been put in between, which takes up no room by which that could be seen. */
    private final Set<Place> inserted = Collections.newSetFromMap(new IdentityHashMap<>());

    SqlWriting(
            String source, List<String> before, List<BoundExpression> values, List<Place> places) {
        this.source = source;
        this.pieces = new ArrayList<>(before);
        this.parameters = new ArrayList<>(values);
        this.places = places;
        this.piece = new StringBuilder(pieces.remove(pieces.size() - 1));
    }

    void write(int from, int to) {
        write(from, to, Optional.empty());
    }

    /**
     * @param around the call that an argument is in, which may be all that stands there
     */
    private void write(int from, int to, Optional<Arranged> around) {
        int at = from;
        for (Place place : places) {
            boolean outside = place.span().start() < at || place.span().end() > to;
            boolean inserts = place.span().start() == place.span().end();
            if (outside
                    || inserts && !inserted.add(place)
                    || around.filter(a -> a == place).isPresent()) {
                continue;
            }
            piece.append(source, at, place.span().start());
            if (place instanceof Replacement replacement) {
                write(replacement);
            } else if (place instanceof Arranged call) {
                write(call);
            }
            at = place.span().end();
        }
        piece.append(source, at, to);
    }

    private void write(Replacement replacement) {
        piece.append(replacement.before());
        String separator = "";
        for (BoundExpression value : replacement.values()) {
            piece.append(separator);
            write(value);
            separator = ", ";
        }
        piece.append(replacement.text());
    }

    private void write(Arranged call) {
        String separator = "";
        for (Argument argument : call.arguments()) {
            piece.append(separator);
            if (argument.initial().isPresent()) {
                write(argument.initial().get());
            } else {
                write(argument.span().start(), argument.span().end(), Optional.of(call));
            }
            separator = ", ";
        }
    }

    private void write(BoundExpression value) {
        pieces.add(piece.toString());
        piece = new StringBuilder();
        parameters.add(value);
    }

    List<String> end(String suffix) {
        pieces.add(piece + suffix);
        return pieces;
    }

    List<BoundExpression> parameters() {
        return parameters;
    }
}
