package dev.cantina.cli;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Optional;

/** What {@code help TOPIC} tells of, beside the commands. */
final class Topics {
    static final List<String> NAMES =
            List.of("values", "cases", "debugger", "limits", "exits", "environment");

    private Topics() {}

    /** The text of a topic; empty where there is none of the name. */
    static Optional<String> text(String name) {
        if (!NAMES.contains(name)) {
            return Optional.empty();
        }
        try (InputStream in = Topics.class.getResourceAsStream("/help/" + name + ".txt")) {
            return Optional.of(new String(in.readAllBytes(), StandardCharsets.UTF_8));
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
    }
}
