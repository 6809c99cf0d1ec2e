package dev.cantina.database;

import java.sql.SQLException;

/** A server can't be reached, or refuses; the message says which, why, and what to do. */
public final class UnreachableException extends SQLException {
    private static final long serialVersionUID = 1L;

    public UnreachableException(String message) {
        super(message, "08001");
    }
}
