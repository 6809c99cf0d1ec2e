/**
 * The adapters to databases, behind {@link dev.cantina.runtime.Database}.
 *
 * <p>In: the texts that make tables, and a session to run triggers and functions in. Out: a
 * catalog's tables, a connection, and conditions in the standard's words. Nothing above {@code
 * runtime} is imported.
 */
package dev.cantina.database;
