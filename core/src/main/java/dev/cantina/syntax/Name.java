package dev.cantina.syntax;

import java.util.Locale;
import java.util.Objects;

/**
 * An identifier as its author wrote it (ISO 9075-2, 5.4). An ordinary one is compared without
 * regard to case, a delimited one exactly.
 */
public final class Name {
    private final String text;
    private final boolean delimited;
    private final Span span;
    private final String key;

    public Name(String text, boolean delimited, Span span) {
        this(text, delimited, span, delimited ? text : text.toUpperCase(Locale.ROOT));
    }

    /**
     * @param key the text as it is compared, where that is known already
     */
    Name(String text, boolean delimited, Span span, String key) {
        this.text = text;
        this.delimited = delimited;
        this.span = span;
        this.key = key;
    }

    /** An ordinary name that stands nowhere in a text. */
    public static Name of(String text, Span span) {
        return new Name(text, false, span);
    }

    public String text() {
        return text;
    }

    public boolean delimited() {
        return delimited;
    }

    public Span span() {
        return span;
    }

    /** What two names are compared by. */
    public String key() {
        return key;
    }

    public boolean is(Name other) {
        return key.equals(other.key);
    }

    /**
     * A name as it must be written in a text to be found by a key.
     *
     * @param text as its author wrote it
     */
    public static String written(String text, String key) {
        boolean word =
                !key.isEmpty()
                        && !Character.isDigit(key.charAt(0))
                        && key.chars().allMatch(c -> c == '_' || Character.isLetterOrDigit(c));
        boolean ordinary =
                word && key.equals(text.toUpperCase(Locale.ROOT)) && !TokenReader.isReserved(key);
        return ordinary ? text : '"' + key.replace("\"", "\"\"") + '"';
    }

    /** The name as it must be written in a text: delimited ones with their quotes. */
    public String written() {
        return delimited ? '"' + text.replace("\"", "\"\"") + '"' : text;
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof Name name
                && text.equals(name.text)
                && delimited == name.delimited
                && span.equals(name.span);
    }

    @Override
    public int hashCode() {
        return Objects.hash(text, delimited);
    }

    @Override
    public String toString() {
        return text;
    }
}
