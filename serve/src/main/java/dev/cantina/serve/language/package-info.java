/** The Language Server Protocol, on {@link dev.cantina.editing.ProjectState}. */
package dev.cantina.serve.language;
