package dev.cantina.translate;

import dev.cantina.syntax.Span;

/** A construct that a server's language can't express with its meaning kept. */
public final class UnsupportedConstructException extends RuntimeException {
    private static final long serialVersionUID = 1L;
    private final transient Span span;

    public UnsupportedConstructException(Span span, String reason) {
        super(reason, null, false, false);
        this.span = span;
    }

    Span span() {
        return span;
    }
}
