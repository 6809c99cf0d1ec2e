package dev.cantina.database;

import java.util.Optional;

/**
 * What one statement makes on a server.
 *
 * @param identity what the server tells it by: its kind and its name, with the types of the
 *     parameters where it has some
 * @param modes the settings of a session in which the statement means what it says; empty for those
 *     that Cantina's own words are written for
 */
public record ServerPart(String identity, String create, String drop, Optional<String> modes) {
    /** One in Cantina's own words. */
    public ServerPart(String identity, String create, String drop) {
        this(identity, create, drop, Optional.empty());
    }
}
