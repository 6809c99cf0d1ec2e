package dev.cantina.runtime;

/** A moment of a transaction: the database's own mark, and how far its log of changes had got. */
public record Mark(Object database, long position) {}
