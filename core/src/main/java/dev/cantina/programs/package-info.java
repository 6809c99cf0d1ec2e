/**
 * A project's tables, rows and routines, open for programs: any number of connections, each with
 * real transactions of its own.
 */
package dev.cantina.programs;
