package dev.cantina.nativecode;

import dev.cantina.syntax.Span;

/** A text in a server's own language that can't be read, with the place. */
public final class NativeSyntaxException extends Exception {
    private static final long serialVersionUID = 1L;
    private final transient Span span;

    public NativeSyntaxException(Span span, String message) {
        super(message);
        this.span = span;
    }

    public Span span() {
        return span;
    }
}
