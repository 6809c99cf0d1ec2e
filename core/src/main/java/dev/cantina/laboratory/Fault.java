package dev.cantina.laboratory;

import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Something that goes wrong when a statement is about to touch data.
 *
 * @param sqlstate of the condition that is raised in the statement's place; {@link #LOST} for a
 *     connection that is lost, which no routine handles
 * @param routine whose statement it is, and the line at which that begins
 * @param time which of the times that the statement is run, from 1
 */
public record Fault(String sqlstate, String routine, int line, int time) {
    /** Connection exception, connection failure (ISO 9075-2, 24.1). */
    public static final String LOST = "08006";

    private static final Pattern FORM =
            Pattern.compile("([0-9A-Za-z]{5})@(.+):(\\d{1,9})(?:#(\\d{1,9}))?");

    /**
     * Reads {@code 23505@move_wine:40} or {@code 23505@move_wine:40#2}.
     *
     * @throws IllegalArgumentException where it is neither; the message says what is wanted
     */
    public static Fault of(String text) {
        Matcher form = FORM.matcher(text.strip());
        if (!form.matches()) {
            throw new IllegalArgumentException(
                    "'"
                            + text
                            + "' is no fault: it says SQLSTATE@ROUTINE:LINE, with #N for the Nth"
                            + " time: 23505@move_wine:40#2");
        }
        int time = form.group(4) == null ? 1 : Integer.parseInt(form.group(4));
        if (time < 1) {
            throw new IllegalArgumentException("the times are counted from 1: " + text);
        }
        return new Fault(
                form.group(1).toUpperCase(Locale.ROOT),
                form.group(2),
                Integer.parseInt(form.group(3)),
                time);
    }

    /** The form that {@link #of} reads. */
    @Override
    public String toString() {
        return sqlstate + "@" + routine + ":" + line + (time > 1 ? "#" + time : "");
    }

    /** What happens, for a person. */
    public String what() {
        return switch (sqlstate) {
            case LOST -> "connection lost";
            case "40001" -> "serialization failure";
            case "57014" -> "cancelled";
            case "53100" -> "disk full";
            case "23505" -> "duplicate key";
            case "23503" -> "foreign key";
            case "23502" -> "NULL in a column";
            case "23514" -> "check constraint";
            default -> "condition " + sqlstate;
        };
    }
}
