package dev.cantina.hosting;

/** A private server can't be had; the message says why, and what to do. */
public final class HostingException extends Exception {
    private static final long serialVersionUID = 1L;

    HostingException(String message) {
        super(message);
    }
}
