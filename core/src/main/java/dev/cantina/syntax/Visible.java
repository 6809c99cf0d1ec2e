package dev.cantina.syntax;

/**
 * Text from a project, a database or a file as a person is shown it: a character that would move
 * the cursor, change colours or turn the direction of writing is shown, and does nothing.
 */
public final class Visible {
    private static final char PICTURES = '\u2400';
    private static final char DELETE = '\u007f';

    private Visible() {}

    /** A text whose lines stay lines. */
    public static String lines(String text) {
        return of(text, "\n\t");
    }

    /** A text in one line. */
    public static String line(String text) {
        return of(text, "\t");
    }

    private static String of(String text, String kept) {
        StringBuilder shown = null;
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            boolean hidden = kept.indexOf(c) < 0 && (Character.isISOControl(c) || turns(c));
            if (hidden && shown == null) {
                shown = new StringBuilder(text.substring(0, i));
            }
            if (shown != null) {
                shown.append(hidden ? picture(c) : String.valueOf(c));
            }
        }
        return shown == null ? text : shown.toString();
    }

    /** What changes the direction in which text is written (Unicode, annex 9). */
    private static boolean turns(char c) {
        return c == '\u061c'
                || c >= '\u200e' && c <= '\u200f'
                || c >= '\u202a' && c <= '\u202e'
                || c >= '\u2066' && c <= '\u2069';
    }

    private static String picture(char c) {
        if (c < ' ') {
            return String.valueOf((char) (PICTURES + c));
        }
        return c == DELETE ? "\u2421" : String.format("\\u%04x", (int) c);
    }
}
