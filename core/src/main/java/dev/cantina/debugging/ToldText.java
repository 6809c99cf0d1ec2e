package dev.cantina.debugging;

import dev.cantina.types.Values;

/**
 * What a breakpoint tells instead of stopping: a text in which {@code {litres}} stands for the
 * value of an expression, and {@code {{} for a brace.
 */
final class ToldText {
    private ToldText() {}

    /** Works out an expression. */
    interface Eval {
        Object value(String expression) throws DebugException;
    }

    /**
     * Looks whether a text can be told.
     *
     * @throws DebugException where a brace is not closed, or nothing stands in it
     */
    static void check(String text) throws DebugException {
        told(text, e -> "");
    }

    /** The text with its values; what can't be worked out says why in its place. */
    static String of(String text, Eval eval) {
        try {
            return told(
                    text,
                    e -> {
                        try {
                            return eval.value(e);
                        } catch (DebugException why) {
                            return "{" + e + ": " + why.getMessage() + "}";
                        }
                    });
        } catch (DebugException e) {
            return text;
        }
    }

    private static String told(String text, Eval eval) throws DebugException {
        StringBuilder told = new StringBuilder();
        int at = 0;
        while (at < text.length()) {
            char c = text.charAt(at);
            if (c != '{') {
                told.append(c);
                at++;
            } else if (text.startsWith("{{", at)) {
                told.append(c);
                at += 2;
            } else {
                int end = end(text, at + 1);
                String expression = text.substring(at + 1, end).strip();
                if (expression.isEmpty()) {
                    throw new DebugException("an expression is wanted between { and }");
                }
                Object value = eval.value(expression);
                told.append(value == null ? "NULL" : Values.text(value));
                at = end + 1;
            }
        }
        return told.toString();
    }

    /** Where an expression ends: braces in its texts and names don't count. */
    private static int end(String text, int from) throws DebugException {
        char quote = 0;
        for (int i = from; i < text.length(); i++) {
            char c = text.charAt(i);
            if (quote != 0) {
                quote = c == quote ? 0 : quote;
            } else if (c == '\'' || c == '"') {
                quote = c;
            } else if (c == '}') {
                return i;
            }
        }
        throw new DebugException("a } is missing; {{ stands for a brace");
    }
}
