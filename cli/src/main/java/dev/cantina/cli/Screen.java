package dev.cantina.cli;

import dev.cantina.syntax.Visible;
import java.io.PrintStream;

/** Where a command writes, and how: with colour only where a person reads. */
final class Screen {
    /** What a stretch of text stands for; a terminal shows each in its own way. */
    enum Tone {
        PLAIN(""),
        STRONG("1"),
        FAINT("2"),
        GOOD("32"),
        BAD("31"),
        CAREFUL("33"),
        NEW("36");

        private final String code;

        Tone(String code) {
            this.code = code;
        }
    }

    private final PrintStream out;
    private final PrintStream err;
    private final boolean colour;
    private final boolean terminal;

    Screen(PrintStream out, PrintStream err, boolean colour, boolean terminal) {
        this.out = out;
        this.err = err;
        this.colour = colour;
        this.terminal = terminal;
    }

    /** The same without colour and drawing. */
    Screen plain() {
        return new Screen(out, err, false, false);
    }

    PrintStream out() {
        return out;
    }

    PrintStream err() {
        return err;
    }

    boolean isTerminal() {
        return terminal;
    }

    boolean hasColour() {
        return colour;
    }

    String tone(Tone tone, String text) {
        return colour && tone != Tone.PLAIN && !text.isEmpty()
                ? (char) (TONES + tone.ordinal()) + text + END
                : text;
    }

    /** Where tones begin and end in a text: characters that no text may hold (Unicode, 23.7). */
    private static final char TONES = '\ufdd1';

    private static final char END = '\ufdd0';

    /** What is printed of a text: of all that could steer a terminal only the tones do. */
    static String printed(String text) {
        String shown = Visible.lines(text);
        StringBuilder printed = new StringBuilder(shown.length());
        for (int i = 0; i < shown.length(); i++) {
            char c = shown.charAt(i);
            if (c == END) {
                printed.append("\033[0m");
            } else if (c > END && c < TONES + Tone.values().length) {
                printed.append("\033[").append(Tone.values()[c - TONES].code).append('m');
            } else {
                printed.append(c);
            }
        }
        return printed.toString();
    }

    void line(String text) {
        out.print(printed(text) + "\n");
    }

    void line() {
        out.print("\n");
    }

    /** A message for a person, beside the results. */
    void note(String text) {
        out.flush();
        err.print(printed(text) + "\n");
        err.flush();
    }

    /** A word as it must be typed in a shell for it to be just that. */
    static String typed(String word) {
        return word.matches("[\\p{L}\\p{N}_./:@%+=-]+")
                ? word
                : "'" + word.replace("'", "'\\''") + "'";
    }

    /** How many columns a text takes. */
    static int width(String text) {
        return text.codePointCount(0, text.length());
    }

    static String padded(String text, int width) {
        int missing = width - width(text);
        return missing > 0 ? text + " ".repeat(missing) : text;
    }
}
