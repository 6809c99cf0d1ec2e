package dev.cantina.syntax;

import java.util.Locale;
import java.util.Optional;

/**
 * An error in a text, or a warning about it.
 *
 * @param rule the short name of the rule, such as {@code syntax} or {@code unknown-name}
 * @param message one sentence for the person who wrote the text
 * @param hint what to write instead, when there is something to say
 * @param edit the same as a change of the text, where it is one
 */
public record Problem(
        Span span,
        Severity severity,
        String rule,
        String message,
        Optional<String> hint,
        Optional<Edit> edit) {
    /** An error keeps the routine from running; advice does not. */
    public enum Severity {
        ERROR,
        ADVICE
    }

    /** A change of a text: what takes the place of a stretch. */
    public record Edit(Span range, String text) {}

    public static Problem error(Span span, String rule, String message) {
        return of(span, Severity.ERROR, rule, message, Optional.empty());
    }

    public static Problem error(Span span, String rule, String message, String hint) {
        return of(span, Severity.ERROR, rule, message, Optional.of(hint));
    }

    public static Problem advice(Span span, String rule, String message, String hint) {
        return of(span, Severity.ADVICE, rule, message, Optional.of(hint));
    }

    /**
     * An error about a name that does not exist.
     *
     * @param nearest the one that may be meant
     * @param otherwise the hint where there is none; empty for no hint
     */
    public static Problem unknown(
            Span span, String rule, String message, Optional<String> nearest, String otherwise) {
        if (nearest.isEmpty()) {
            return otherwise.isEmpty()
                    ? error(span, rule, message)
                    : error(span, rule, message, otherwise);
        }
        return new Problem(
                span,
                Severity.ERROR,
                rule,
                message,
                Optional.of("did you mean " + nearest.get() + "?"),
                isOneWord(span.text()) && isPlain(nearest.get())
                        ? Optional.of(new Edit(span, nearest.get()))
                        : Optional.empty());
    }

    /** Whether a name can be written as it is: one in both cases may have to stand in quotes. */
    private static boolean isPlain(String name) {
        String upper = name.toUpperCase(Locale.ROOT);
        return isOneWord(name)
                && !Character.isDigit(name.charAt(0))
                && (name.equals(upper) || name.equals(name.toLowerCase(Locale.ROOT)))
                && !TokenReader.isReserved(upper);
    }

    private static boolean isOneWord(String text) {
        return !text.isEmpty()
                && text.chars().allMatch(c -> c == '_' || Character.isLetterOrDigit(c));
    }

    private static Problem of(
            Span span, Severity severity, String rule, String message, Optional<String> hint) {
        return new Problem(span, severity, rule, message, hint, Optional.empty());
    }

    /** The same with the change of the text that its hint speaks of. */
    public Problem with(Span range, String text) {
        return new Problem(span, severity, rule, message, hint, Optional.of(new Edit(range, text)));
    }

    /** The same with a change where there is a place for it. */
    public Problem with(Optional<Span> range, String text) {
        return range.map(r -> with(r, text)).orElse(this);
    }

    public boolean isError() {
        return severity == Severity.ERROR;
    }
}
