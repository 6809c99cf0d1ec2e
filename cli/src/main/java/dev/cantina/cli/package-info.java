/**
 * The command line: one class a command, one renderer a thing rendered, and nothing that computes.
 *
 * <p>In: arguments and files. Out: text or JSON on standard output, problems and progress on
 * standard error, an exit code.
 */
package dev.cantina.cli;
