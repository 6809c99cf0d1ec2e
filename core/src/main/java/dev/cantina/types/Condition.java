package dev.cantina.types;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/**
 * A condition (ISO 9075-2, 23.1): its SQLSTATE, its message and what else the diagnostics area
 * keeps of it, by the standard's item names ({@code CONSTRAINT_NAME}, {@code TABLE_NAME}, …).
 */
public record Condition(String sqlstate, String message, Map<String, String> items) {
    public Condition {
        items = Map.copyOf(items);
    }

    public Condition(String sqlstate, String message) {
        this(sqlstate, message, Map.of());
    }

    /** The first two characters: what kind of condition it is. */
    public String category() {
        return sqlstate.substring(0, 2);
    }

    public boolean isSuccess() {
        return category().equals("00");
    }

    public boolean isWarning() {
        return category().equals("01");
    }

    public boolean isNotFound() {
        return category().equals("02");
    }

    public boolean isException() {
        return !isSuccess() && !isWarning() && !isNotFound();
    }

    /**
     * Cantina's own class: a limit was passed or the run was interrupted; no routine handles it.
     */
    public boolean isLimit() {
        return category().equals("UL");
    }

    /** The value of an item such as {@code TABLE_NAME}. */
    public Optional<String> item(String name) {
        return Optional.ofNullable(items.get(name));
    }

    /** The same with an item more. */
    public Condition with(String name, String value) {
        Map<String, String> more = new LinkedHashMap<>(items);
        more.put(name, value);
        return new Condition(sqlstate, message, more);
    }

    /** The same with another message. */
    public Condition saying(String text) {
        return new Condition(sqlstate, text, items);
    }
}
