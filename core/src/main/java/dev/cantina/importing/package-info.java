/**
 * A project from a live server: its tables and routines in its own words, its rows as a fixture.
 *
 * <p>In: a connection that only reads. Out: {@link dev.cantina.importing.ImportedFile}s, and how
 * they differ from those that a project has. Nothing is ever written to the server.
 */
package dev.cantina.importing;
