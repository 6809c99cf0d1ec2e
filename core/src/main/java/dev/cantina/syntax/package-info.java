/**
 * Text in, tree out: source files, spans, the lexer, the parser and the tree of records.
 *
 * <p>In: the text of a file. Out: a {@link dev.cantina.syntax.ParsedFile} with its units and its
 * problems. Nothing of Cantina may be imported here: every other package stands on this one.
 */
package dev.cantina.syntax;
