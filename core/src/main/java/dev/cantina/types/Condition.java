package dev.cantina.types;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * A condition (ISO 9075-2, 23.1): its SQLSTATE, its message and what else the diagnostics area
 * keeps of it, by the standard's item names ({@code CONSTRAINT_NAME}, {@code TABLE_NAME}, …).
 *
 * @param earlier the conditions that RESIGNAL put it before (ISO 9075-4, 22.2), the latest first
 */
public record Condition(
        String sqlstate, String message, Map<String, String> items, List<Condition> earlier) {
    private static final String STANDARD = "ISO 9075";

    public Condition {
        items = Map.copyOf(items);
        earlier = List.copyOf(earlier);
    }

    public Condition(String sqlstate, String message, Map<String, String> items) {
        this(sqlstate, message, items, List.of());
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
        return Optional.ofNullable(items.get(name)).or(() -> origin(name));
    }

    /** Who defined its class or subclass: the standard, for those that it reserves (24.1). */
    private Optional<String> origin(String name) {
        boolean reserved = isReserved(sqlstate.charAt(0));
        return switch (name) {
            case "CLASS_ORIGIN" -> Optional.of(reserved ? STANDARD : "");
            case "SUBCLASS_ORIGIN" ->
                    Optional.of(reserved && isReserved(sqlstate.charAt(2)) ? STANDARD : "");
            default -> Optional.empty();
        };
    }

    private static boolean isReserved(char first) {
        return first >= '0' && first <= '4' || first >= 'A' && first <= 'H';
    }

    /** The same with an item more. */
    public Condition with(String name, String value) {
        Map<String, String> more = new LinkedHashMap<>(items);
        more.put(name, value);
        return new Condition(sqlstate, message, more, earlier);
    }

    /** The same with another message. */
    public Condition saying(String text) {
        return new Condition(sqlstate, text, items, earlier);
    }

    /** The same items and message under another SQLSTATE, put before this one. */
    public Condition resignalled(String state) {
        List<Condition> all = new ArrayList<>(List.of(new Condition(sqlstate, message, items)));
        all.addAll(earlier);
        return new Condition(state, message, items, all);
    }
}
