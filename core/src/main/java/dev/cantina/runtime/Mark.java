package dev.cantina.runtime;

/** A moment of a transaction: the database's own mark, and how many row events there were. */
public record Mark(Object database, int events) {}
