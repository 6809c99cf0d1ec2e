package dev.cantina.translate;

import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.CountedAggregates;
import dev.cantina.syntax.Span;

/** The warning that an aggregate has left a NULL out, which no server gives. */
public final class DroppedNulls {
    private DroppedNulls() {}

    /**
     * @throws UnsupportedConstructException where a handler waits for it
     */
    public static void refuse(
            BoundStatement.SelectInto fill, Handlers around, Span span, String server) {
        if (around.completion("01003").isPresent()
                && CountedAggregates.of(fill.query().source().tree()).isPresent()) {
            throw new UnsupportedConstructException(
                    span,
                    server
                            + " gives no warning where an aggregate leaves a NULL out; say WHERE … IS NOT"
                            + " NULL, or handle no warnings here");
        }
    }
}
