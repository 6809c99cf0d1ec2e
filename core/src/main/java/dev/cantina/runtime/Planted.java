package dev.cantina.runtime;

/** Another body that a routine of a program has for a time. */
@FunctionalInterface
public interface Planted extends AutoCloseable {
    /** The routine is again what it was. */
    @Override
    void close();
}
