package dev.cantina.database.mariadb;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.Locale;
import java.util.Set;

/**
 * The functions that MariaDB has of its own, which it calls whatever else has their names: those of
 * information_schema.SQL_FUNCTIONS of version 11.4, of its grammar, and of geometry.
 */
public final class MariaFunctions {
    private static final Set<String> NAMES = read();

    private MariaFunctions() {}

    /** Whether the server has a function of a name, in any case. */
    public static boolean has(String name) {
        return NAMES.contains(name.toUpperCase(Locale.ROOT));
    }

    private static Set<String> read() {
        try (InputStream names = MariaFunctions.class.getResourceAsStream("functions.txt")) {
            String all = new String(names.readAllBytes(), StandardCharsets.UTF_8);
            return Set.of(all.strip().split("\\s+"));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
