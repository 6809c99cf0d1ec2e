package dev.cantina.deploy;

import dev.cantina.check.BoundStatement;
import dev.cantina.check.QueryFacts;
import dev.cantina.syntax.Span;

/** The warning that an aggregate has left a NULL out, which no server gives. */
final class DroppedNulls {
    private DroppedNulls() {}

    /**
     * @throws Refusal where a handler waits for it
     */
    static void refuse(BoundStatement.Fill fill, Handlers around, Span span, String server) {
        if (around.completion("01003").isPresent() && QueryFacts.mayDropNulls(fill.query())) {
            throw new Refusal(
                    span,
                    server
                            + " gives no warning where an aggregate leaves a NULL out; say WHERE … IS NOT"
                            + " NULL, or handle no warnings here");
        }
    }
}
