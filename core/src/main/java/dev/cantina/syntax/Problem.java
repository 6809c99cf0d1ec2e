package dev.cantina.syntax;

import java.util.Optional;

/**
 * Something wrong, or something that will disappoint, in a text.
 *
 * @param rule the short name of the rule, such as {@code syntax} or {@code unknown-name}
 * @param message one sentence for the person who wrote the text
 * @param mend what to write instead, when there is something to say
 */
public record Problem(
        Span span, Severity severity, String rule, String message, Optional<String> mend) {
    /** An error keeps the routine from running; advice does not. */
    public enum Severity {
        ERROR,
        ADVICE
    }

    public static Problem error(Span span, String rule, String message) {
        return new Problem(span, Severity.ERROR, rule, message, Optional.empty());
    }

    public static Problem error(Span span, String rule, String message, String mend) {
        return new Problem(span, Severity.ERROR, rule, message, Optional.of(mend));
    }

    public static Problem advice(Span span, String rule, String message, String mend) {
        return new Problem(span, Severity.ADVICE, rule, message, Optional.of(mend));
    }

    public boolean isError() {
        return severity == Severity.ERROR;
    }
}
