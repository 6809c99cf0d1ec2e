/**
 * Runs routines: the compiler that writes a class for each, frames, conditions and handlers,
 * cursors, the session, the probe and the limits.
 *
 * <p>In: bound routines and a {@link dev.cantina.runtime.Database}. Out: an {@link
 * dev.cantina.runtime.Outcome}. Nothing above {@code check} is imported; the database is reached
 * only through the interface that this package owns.
 */
package dev.cantina.runtime;
