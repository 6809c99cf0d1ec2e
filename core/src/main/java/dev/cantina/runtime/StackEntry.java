package dev.cantina.runtime;

import dev.cantina.syntax.Span;

/** A line of a call stack: the routine, and the statement that it was at. */
public record StackEntry(String routine, Span place) {}
