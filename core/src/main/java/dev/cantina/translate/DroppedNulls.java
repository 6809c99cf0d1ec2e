package dev.cantina.translate;

import dev.cantina.binding.BoundStatement;
import dev.cantina.binding.CountedAggregates;
import dev.cantina.syntax.Span;

/** The warning that an aggregate has left a NULL out, which no server gives. */
public final class DroppedNulls {
    private DroppedNulls() {}

    /**
     * @throws Refusal where a handler waits for it
     */
    public static void refuse(BoundStatement.Fill fill, Handlers around, Span span, String server) {
        if (around.completion("01003").isPresent()
                && CountedAggregates.of(fill.query().source().tree()).isPresent()) {
            throw new Refusal(
                    span,
                    server
                            + " gives no warning where an aggregate leaves a NULL out; say WHERE … IS NOT"
                            + " NULL, or handle no warnings here");
        }
    }
}
