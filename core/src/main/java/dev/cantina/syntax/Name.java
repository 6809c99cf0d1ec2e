package dev.cantina.syntax;

import java.util.Locale;

/**
 * An identifier as its author wrote it (ISO 9075-2, 5.4). An ordinary one is compared without
 * regard to case, a delimited one exactly.
 */
public record Name(String text, boolean delimited, Span span) {
    /** What two names are compared by. */
    public String key() {
        return delimited ? text : text.toUpperCase(Locale.ROOT);
    }

    public boolean is(Name other) {
        return key().equals(other.key());
    }

    /** The name as it must be written in a text: delimited ones with their quotes. */
    public String written() {
        return delimited ? '"' + text.replace("\"", "\"\"") + '"' : text;
    }

    /** An ordinary name that stands nowhere in a text. */
    public static Name of(String text, Span span) {
        return new Name(text, false, span);
    }

    @Override
    public String toString() {
        return text;
    }
}
