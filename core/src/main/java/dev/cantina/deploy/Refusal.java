package dev.cantina.deploy;

import dev.cantina.syntax.Span;

/** A construct that a server's language can't express with its meaning kept. */
final class Refusal extends RuntimeException {
    private static final long serialVersionUID = 1L;
    private final transient Span span;

    Refusal(Span span, String reason) {
        super(reason, null, false, false);
        this.span = span;
    }

    Span span() {
        return span;
    }
}
