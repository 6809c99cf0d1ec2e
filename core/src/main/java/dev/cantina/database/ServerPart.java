package dev.cantina.database;

/**
 * What one statement makes on a server.
 *
 * @param identity what the server tells it by: its kind and its name, with the types of the
 *     parameters where it has some
 */
public record ServerPart(String identity, String create, String drop) {}
